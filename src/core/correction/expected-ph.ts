import { solve } from '../solution/index.ts';
import { normalCdf } from '../statistics/index.ts';
import { penPhSd, hypothesesOf, hypothesesWith, type PhBatch, type Stirred } from './response.ts';

/** One way a batch may stand, as the pH it then has, with 1 SD of what is read of it. */
export type PhWay = { readonly ph: number; readonly weight: number; readonly sd: number };
export type PhExpectation = { readonly low: number; readonly high: number };

/** pH that the reading stays under so often: the ways a batch may answer lie far to one side where nothing buffers. */
export function quantileOf(ways: readonly PhWay[], share: number): number {
  let [low, high] = [0, 14];
  for (let i = 0; i < 24; i++) {
    const middle = (low + high) / 2;
    const below = ways.reduce((sum, { ph, weight, sd }) => sum + weight * normalCdf((middle - ph) / sd), 0);
    if (below < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/**
 * Between what the next reading should lie, nine times in ten, by the chemistry and every reading so far.
 * @param batch as {@link hypothesesOf} takes it, with all that was stirred in by now
 * @returns undefined where the chemistry has no answer
 */
export function expectPh(batch: PhBatch & { readonly stirred: readonly Stirred[] }): PhExpectation | undefined {
  const { total, stirred } = batch;
  const bare = solve(total);
  const sd = penPhSd(bare.ok ? bare.ecUsCm : 1000);
  const ways: PhWay[] = [];
  for (const standing of hypothesesOf(batch)) {
    const solved = solve(hypothesesWith(total, standing, stirred));
    if (solved.ok) ways.push({ ph: solved.ph, weight: standing.weight, sd });
    else if (solved.why === 'tooAcid' || solved.why === 'tooAlkaline')
      ways.push({ ph: solved.why === 'tooAcid' ? 2 : 12, weight: standing.weight, sd });
    else return undefined;
  }
  return { low: quantileOf(ways, 0.05), high: quantileOf(ways, 0.95) };
}

/** Beyond the range by more than this a pH reading is questioned once: a slip of hand or pen is likelier than such chemistry. House rule. */
const ODD_BY = 0.5;

/** Whether a reading lies so far from what it should be that the grower is asked to look again. */
export function isOddPh(ph: number, expected: PhExpectation): boolean {
  return ph < expected.low - ODD_BY || ph > expected.high + ODD_BY;
}
