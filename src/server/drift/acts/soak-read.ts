import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import { readingWords } from '../../act/words.ts';

/** A soak test, read. */
export const soakRead = act({
  kind: 'soakRead',
  payload: carePayloads.soakRead,
  group: 'Drift',
  words: (p) => p.words,
  undone: "Took a soak test's reading back",
  figures: ({ ppm, ph }) => ({ ppm, ph }),
  correct: {
    fixed: ['soakId', 'opened', 'phMeterId', 'ppmMeterId', 'words'],
    figures: (p) => [readingWords(p.ppm, 'ppm'), readingWords(p.ph, 'pH'), `after ${p.afterMinutes} min`],
  },
});
