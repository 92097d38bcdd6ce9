import type { Gaussian } from '../statistics/index.ts';
import { POTS_AT_LARGE, type PotBelief } from './pot-belief.ts';

/** How far pots in one clay lie apart, 1 SD: µeq per 100 mL at once, and a day. House rule, from simulated collections. */
const APART: readonly [number, number] = [1.5, 0.6];
/** Fewer pots than this say little of their clay. */
const FEWEST_POTS = 3;

/**
 * What a clay batch says of a pot in it before that pot was read: the pots in it that were, each weighed by how well it is known (empirical Bayes).
 * @param beliefs of the pots in that clay, each learned from pots at large
 */
export function clayPrior(beliefs: readonly PotBelief[]): PotBelief {
  const read = beliefs.filter((b) => b.seen.alkali.intervals > 0);
  if (read.length < FEWEST_POTS) return POTS_AT_LARGE;
  const large = POTS_AT_LARGE.alkali;
  const mean: number[] = [];
  const covariance: number[][] = [];
  for (const i of [0, 1] as const) {
    // Pots at large count as one pot of their own spread.
    let [precision, sum] = [1 / large.covariance[i]![i]!, large.mean[i]! / large.covariance[i]![i]!];
    for (const { alkali } of read) {
      const weight = 1 / (alkali.covariance[i]![i]! + APART[i] ** 2);
      precision += weight;
      sum += weight * alkali.mean[i]!;
    }
    mean.push(sum / precision);
    covariance.push([0, 1].map((j) => (i === j ? APART[i] ** 2 + 1 / precision : 0)));
  }
  const alkali: Gaussian = { mean, covariance };
  return { ...POTS_AT_LARGE, alkali };
}
