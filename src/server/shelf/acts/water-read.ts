import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import { readingWords } from '../../act/words.ts';

/** A water read by itself, between mixes. */
export const waterRead = act({
  kind: 'waterRead',
  payload: carePayloads.waterRead,
  group: 'Check',
  words: (_p, { water }) => `Read ${water ?? 'a water'}`,
  undone: "Took a water's reading back",
  figures: ({ ppm, ph }) => ({ ppm, ph }),
  correct: {
    fixed: ['waterId', 'ppmMeterId', 'phMeterId'],
    figures: (p) => [readingWords(p.ppm, 'ppm'), readingWords(p.ph, 'pH')],
  },
});
