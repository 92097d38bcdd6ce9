import { carePayloads, type CarePayload } from '../../../contract/care.ts';
import { countWords, doseWords } from '../../../core/quantity/index.ts';
import { readingWords } from '../../act/words.ts';
import { step } from './step.ts';

/** Acid or alkali stirred in, and the pH it came to. */
export const batchCorrection = step({
  kind: 'batchCorrection',
  payload: carePayloads.batchCorrection,
  group: 'Mix',
  words: (p, { toolKind, product }) =>
    `pH correction, ${amountWords(p, toolKind === 'dropper')}${product ? ` of ${product}` : ''}`,
  undone: 'Took a pH correction back',
  figures: ({ reading }) => ({ ph: reading }),
  correct: {
    fixed: ['productId'],
    figures: (p) => [amountWords(p, p.dose.doseMl / p.dose.steps > SMALLEST_DROP_ML), readingWords(p.reading, 'pH')],
  },
});

/** A step smaller than any drop is a syringe's. */
const SMALLEST_DROP_ML = 0.021;

/** "12 drops thinned 1 in 20". */
function amountWords({ dose, ratio }: CarePayload<'batchCorrection'>, inDrops: boolean): string {
  const amount = inDrops ? countWords(dose.steps, 'drop') : doseWords(dose.doseMl);
  return ratio > 1 ? `${amount} thinned 1 in ${ratio}` : amount;
}
