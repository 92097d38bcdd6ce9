import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';

/** A line of the grower's own. */
export const noteWritten = act({
  kind: 'noteWritten',
  payload: carePayloads.noteWritten,
  group: 'Own',
  words: (p) => p.words,
  where: ({ code }) => code ?? '',
  picture: ({ payload }) => payload.photoId,
  undone: 'Took a line of your own away',
  correct: { fixed: ['potIds', 'photoId'], figures: ({ words, lasts }) => [words, lasts ? 'among the turns' : ''] },
});
