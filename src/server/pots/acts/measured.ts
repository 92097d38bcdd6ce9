import { carePayloads } from '../../../contract/care.ts';
import { measuredWords } from '../../../contract/growth.ts';
import { act } from '../../act/definition.ts';

/** Measured of the plant. */
export const measured = act({
  kind: 'potMeasured',
  payload: carePayloads.potMeasured,
  group: 'Round',
  words: (p) => p.words,
  undone: 'Took a measure back',
  correct: {
    fixed: ['from', 'words'],
    figures: ({ figures }) => [measuredWords(figures)],
  },
});
