import { carePayloads } from '../../../contract/care.ts';
import { inSentence } from '../../../core/quantity/index.ts';
import { requireStillRead } from '../../act/common.ts';
import { readingWords } from '../../act/words.ts';
import { step } from './step.ts';

/** The plain water, read before anything is in it. */
export const batchBase = step({
  kind: 'batchBase',
  payload: carePayloads.batchBase,
  group: 'Mix',
  words: (_p, { water }) => `Read the plain ${water ? inSentence(water) : 'water'}`,
  undone: "Took the water's reading back",
  figures: ({ reading }) => ({ ppm: reading }),
  correct: {
    fixed: ['thoughtEcUsCm', 'thoughtSd', 'confirmedOdd'],
    figures: (p) => [readingWords(p.reading, 'ppm')],
    before: (_manager, _target, payload) => requireStillRead(payload),
  },
});
