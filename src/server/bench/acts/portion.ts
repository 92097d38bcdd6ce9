import { carePayloads } from '../../../contract/care.ts';
import { doseWords } from '../../../core/quantity/index.ts';
import { readingWords } from '../../act/words.ts';
import { step } from './step.ts';

/** A portion of a part stirred in, and what the mix read then. */
export const batchPortion = step({
  kind: 'batchPortion',
  payload: carePayloads.batchPortion,
  group: 'Mix',
  words: (p, { product }) => `Added ${doseWords(p.dose.doseMl)} of ${product ?? 'feed'}`,
  undone: 'Took a portion back',
  figures: ({ reading }) => ({ ppm: reading }),
  correct: {
    fixed: ['part', 'byRecipe', 'confirmedOdd'],
    figures: (p) => [doseWords(p.dose.doseMl), readingWords(p.reading, 'ppm')],
  },
});
