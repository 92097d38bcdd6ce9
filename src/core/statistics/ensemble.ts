import { normal, seededRandom } from './random.ts';

/**
 * A belief as a crowd of members: `columns` figures each, row after row. The spread of the members is the belief's own.
 * Value object outside of a learner: what changes it, copies it first.
 */
export type Crowd = { readonly members: number; readonly columns: number; readonly at: Float64Array };

/** Members whose every column has a mean of 0 and an SD of 1. The same seed is the same crowd. */
export function standardCrowd(members: number, columns: number, seed: number): Crowd {
  const random = seededRandom(seed);
  const at = Float64Array.from({ length: members * columns }, () => normal(random));
  for (let c = 0; c < columns; c++) {
    const column = Array.from({ length: members }, (_, m) => at[m * columns + c]!);
    const { mean, sd } = spreadOf(column);
    for (let m = 0; m < members; m++) at[m * columns + c] = (column[m]! - mean) / sd;
  }
  return { members, columns, at };
}

/** Mean and SD over the members. */
export function spreadOf(values: ArrayLike<number>): { readonly mean: number; readonly sd: number } {
  const n = values.length;
  let [sum, squares] = [0, 0];
  for (let i = 0; i < n; i++) sum += values[i]!;
  const mean = sum / n;
  for (let i = 0; i < n; i++) squares += (values[i]! - mean) ** 2;
  return { mean, sd: Math.sqrt(squares / n) };
}

/**
 * Conditions crowds on one reading: the square-root form of the ensemble Kalman filter (Whitaker & Hamill 2002), which needs no random
 * numbers. The crowds have the same members; each column is moved by its regression on what the members foretold.
 * @param foretold what each member foretold of the reading @param variance of the reading
 */
export function conditioned(
  crowds: readonly Crowd[],
  foretold: ArrayLike<number>,
  read: number,
  variance: number,
): void {
  const { mean, sd } = spreadOf(foretold);
  const own = sd * sd;
  if (!(own > 0)) return;
  const innovation = read - mean;
  const shrink = 1 / (1 + Math.sqrt(variance / (own + variance)));
  for (const { members, columns, at } of crowds)
    for (let c = 0; c < columns; c++) {
      let covariance = 0;
      for (let m = 0; m < members; m++) covariance += at[m * columns + c]! * (foretold[m]! - mean);
      const gain = covariance / members / (own + variance);
      if (gain === 0) continue;
      for (let m = 0; m < members; m++) at[m * columns + c]! += gain * (innovation - shrink * (foretold[m]! - mean));
    }
}
