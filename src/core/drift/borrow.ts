import { inverse, Matrix } from 'ml-matrix';
import type { Crowd, Gaussian } from '../statistics/index.ts';
import type { PotBelief } from './pot-belief.ts';
import { AT } from './pot-quantities.ts';

/** What pots in one clay have in common: what it gives a day, and what it gives at once. In units of what was not known of them at first. */
const COMMON = [AT.clay, AT.atOnce] as const;
/** Clay of a pot of which nothing was read: the middle, and all that is not known. */
export const CLAY_OF_POTS_AT_LARGE: Gaussian = Object.freeze({
  mean: [0, 0],
  covariance: [
    [1, 0],
    [0, 1],
  ],
});
/** How far pots in one clay lie apart, 1 SD, of what pots at large lie apart. House rule. */
const APART = 0.66;
/** Fewer pots than this say little of their clay. */
const FEWEST_POTS = 3;

/** Mean and spread of a pot's clay. */
export function clayOf({ crowd }: PotBelief): Gaussian {
  const of = COMMON.map((c) => columnOf(crowd, c));
  const mean = of.map((values) => values.reduce((sum, v) => sum + v, 0) / values.length);
  const covariance = of.map((a, i) =>
    of.map((b, j) => a.reduce((sum, v, m) => sum + (v - mean[i]!) * (b[m]! - mean[j]!), 0) / a.length),
  );
  return { mean, covariance };
}

const columnOf = ({ members, columns, at }: Crowd, column: number) =>
  Array.from({ length: members }, (_, m) => at[m * columns + column]!);

/**
 * What a clay batch says of a pot in it before that pot was read: the pots in it that were, each weighed by how well it is known (empirical Bayes).
 * @param read of the pots in that clay whose pH was read, each learned from pots at large: as {@link clayOf} has it
 */
export function clayPrior(read: readonly Gaussian[]): Gaussian {
  if (read.length < FEWEST_POTS) return CLAY_OF_POTS_AT_LARGE;
  const mean: number[] = [];
  const covariance: number[][] = [];
  for (const i of [0, 1] as const) {
    // Pots at large count as one pot of their own spread.
    let [precision, sum] = [1, 0];
    for (const clay of read) {
      const weight = 1 / (clay.covariance[i]![i]! + APART ** 2);
      precision += weight;
      sum += weight * clay.mean[i]!;
    }
    mean.push(sum / precision);
    covariance.push([0, 1].map((j) => (i === j ? APART ** 2 + 1 / precision : 0)));
  }
  return { mean, covariance };
}

/**
 * A pot learned from pots at large, as if it had been learned from what its clay says: what was read of it counts the same, only where it began
 * is another. For joint normals that is exact; its members are moved so that their clay has the mean and the spread that follow.
 * @param prior as {@link clayPrior} gives it
 */
export function borrow(belief: PotBelief, prior: Gaussian): PotBelief {
  if (prior === CLAY_OF_POTS_AT_LARGE) return belief;
  const { crowd } = belief;
  const own = clayOf(belief);
  const to = otherPrior(own, CLAY_OF_POTS_AT_LARGE, prior);
  const from = rootOf(own.covariance);
  const root = rootOf(to.covariance);
  const at = Float64Array.from(crowd.at);
  for (let m = 0; m < crowd.members; m++) {
    const [a, b] = COMMON.map((c, i) => at[m * crowd.columns + c]! - own.mean[i]!) as [number, number];
    // Standard deviates of this member, and where they lie in the other belief.
    const u = a / from[0];
    const v = (b - from[1] * u) / from[2];
    at[m * crowd.columns + COMMON[0]] = to.mean[0]! + root[0] * u;
    at[m * crowd.columns + COMMON[1]] = to.mean[1]! + root[1] * u + root[2] * v;
  }
  return { ...belief, crowd: { ...crowd, at } };
}

/** Lower root of a covariance of two: its three figures. */
function rootOf(covariance: Gaussian['covariance']): readonly [number, number, number] {
  const a = Math.sqrt(Math.max(1e-9, covariance[0]![0]!));
  const b = covariance[0]![1]! / a;
  return [a, b, Math.sqrt(Math.max(1e-9, covariance[1]![1]! - b * b))];
}

function otherPrior(posterior: Gaussian, from: Gaussian, to: Gaussian): Gaussian {
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
  // A crowd may by chance be wider than where it began: then it knows nothing, and the clay speaks alone.
  for (const [i, row] of precision.entries()) row[i] = Math.max(row[i]!, 1e-3);
  const covariance = invert(precision);
  return { mean: covariance.map((row) => row.reduce((sum, value, j) => sum + value * weighted[j]!, 0)), covariance };
}

const invert = (rows: readonly (readonly number[])[]): number[][] =>
  inverse(new Matrix(rows.map((row) => [...row]))).to2DArray();
