import { carePayloads } from '../../../contract/care.ts';
import { readingWords } from '../../act/words.ts';
import { step } from './step.ts';

/** The mix read by itself. */
export const batchReading = step({
  kind: 'batchReading',
  payload: carePayloads.batchReading,
  group: 'Mix',
  words: () => 'Read the mix',
  undone: 'Took a reading back',
  figures: ({ reading }) => ({ ppm: reading }),
  correct: { fixed: ['confirmedOdd'], figures: (p) => [readingWords(p.reading, 'ppm')] },
});
