import { carePayloads } from '../../../contract/care.ts';
import { requireStillRead } from '../../act/common.ts';
import { readingWords } from '../../act/words.ts';
import { step } from './step.ts';

/** The pH of a mix, read. */
export const batchPh = step({
  kind: 'batchPh',
  payload: carePayloads.batchPh,
  group: 'Mix',
  words: () => 'Read the pH',
  undone: 'Took a pH reading back',
  figures: ({ reading }) => ({ ph: reading }),
  correct: {
    fixed: [],
    figures: (p) => [readingWords(p.reading, 'pH')],
    before: (_manager, _target, payload) => requireStillRead(payload),
  },
});
