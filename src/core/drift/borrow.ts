import { inverse, Matrix } from 'ml-matrix';
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

/**
 * A pot learned from pots at large, as if it had been learned from what its clay says: what was read of it counts the same, only where it began
 * is another. For joint normals that is exact, and it costs a handful of sums where learning anew replays every visit.
 * @param prior as {@link clayPrior} gives it
 */
export function borrow(belief: PotBelief, prior: PotBelief): PotBelief {
  if (prior === POTS_AT_LARGE) return belief;
  return { ...belief, alkali: otherPrior(belief.alkali, POTS_AT_LARGE.alkali, prior.alkali) };
}

/** Quantities past the prior's own, such as a pen's offset, keep what was known of them. */
function otherPrior(posterior: Gaussian, from: Gaussian, to: Gaussian): Gaussian {
  const n = posterior.mean.length;
  const precision = invert(posterior.covariance);
  const weighted = precision.map((row) => row.reduce((sum, value, j) => sum + value * posterior.mean[j]!, 0));
  for (const [prior, sign] of [
    [from, -1],
    [to, 1],
  ] as const) {
    const p = invert(prior.covariance);
    p.forEach((row, i) =>
      row.forEach((value, j) => {
        precision[i]![j]! += sign * value;
        weighted[i]! += sign * value * prior.mean[j]!;
      }),
    );
  }
  const covariance = invert(precision);
  return {
    mean: Array.from({ length: n }, (_, i) => covariance[i]!.reduce((sum, value, j) => sum + value * weighted[j]!, 0)),
    covariance,
  };
}

const invert = (rows: readonly (readonly number[])[]): number[][] =>
  inverse(new Matrix(rows.map((row) => [...row]))).to2DArray();
