import { errorFunction } from 'simple-statistics';

/** A joint normal belief over a few quantities: `mean[i]`, `covariance[i][j]`. Value object; every operation returns a new one. */
export type Gaussian = { readonly mean: readonly number[]; readonly covariance: readonly (readonly number[])[] };

/** P(Z ≤ z) of the standard normal, through the error function (absolute error below 1.5e-7, enough for the 1 % limits it serves). */
export function normalCdf(z: number): number {
  return 0.5 * (1 + errorFunction(z / Math.SQRT2));
}

/** P(low ≤ X ≤ high) for X normal with `mean` and `sd`. A point (sd 0) is handled as a step. */
export function normalBetween(low: number, high: number, mean: number, sd: number): number {
  if (!(sd > 0)) return mean >= low && mean <= high ? 1 : 0;
  return Math.max(0, normalCdf((high - mean) / sd) - normalCdf((low - mean) / sd));
}

/**
 * Mean and standard deviation of a normal of which only what lies between two bounds can be (truncated normal; Johnson, Kotz and Balakrishnan,
 * Continuous Univariate Distributions, §10.1). Bounds more than six `sd` from the mean are out of its reach: the mean then is the nearer bound.
 */
export function cutOffNormal(mean: number, sd: number, low: number, high: number): { mean: number; sd: number } {
  if (!(sd > 0) || mean > high + 5 * sd || mean < low - 5 * sd)
    return { mean: Math.min(high, Math.max(low, mean)), sd: 0 };
  const [a, b] = [(low - mean) / sd, (high - mean) / sd];
  const share = normalCdf(b) - normalCdf(a);
  const density = (z: number) => Math.exp(-(z ** 2) / 2) / Math.sqrt(2 * Math.PI);
  const shift = (density(a) - density(b)) / share;
  const shrink = 1 + (a * density(a) - b * density(b)) / share - shift ** 2;
  return { mean: mean + sd * shift, sd: sd * Math.sqrt(Math.max(0, shrink)) };
}

/** Multiplier of the standard deviation that bounds a central 90 % range. */
export const Z90 = 1.6448536269514722;

/**
 * Linear step x → F·x + noise of covariance Q: mean F·m, covariance F·P·Fᵀ + Q.
 * @param f n×n transition
 * @param q diagonal of Q (independent noise per quantity)
 */
export function propagate(state: Gaussian, f: readonly (readonly number[])[], q: readonly number[]): Gaussian {
  const n = state.mean.length;
  const mean = f.map((row) => dot(row, state.mean));
  // Plain loops: a year of batches is replayed at every look at the bench.
  const fp: number[][] = [];
  for (let i = 0; i < n; i++) {
    const row = new Array<number>(n).fill(0);
    for (let k = 0; k < n; k++) {
      const factor = f[i]![k]!;
      if (factor === 0) continue;
      const source = state.covariance[k]!;
      for (let j = 0; j < n; j++) row[j]! += factor * source[j]!;
    }
    fp.push(row);
  }
  const covariance: number[][] = [];
  for (let i = 0; i < n; i++) {
    const row = new Array<number>(n).fill(0);
    for (let k = 0; k < n; k++) {
      const value = fp[i]![k]!;
      if (value === 0) continue;
      for (let j = 0; j < n; j++) row[j]! += value * f[j]![k]!;
    }
    row[i]! += q[i] ?? 0;
    covariance.push(row);
  }
  return { mean, covariance };
}

/**
 * Conditions the belief on a measurement y = h·x + e, e normal with `variance` (the Kalman update; Kalman 1960).
 * @returns the posterior, and the innovation with its standard deviation before the update
 */
export function observe(
  state: Gaussian,
  h: readonly number[],
  y: number,
  variance: number,
): { state: Gaussian; innovation: number; innovationSd: number } {
  const n = state.mean.length;
  const ph = Array.from({ length: n }, (_, i) => dot(state.covariance[i] ?? [], h));
  const s = dot(h, ph) + variance;
  const innovation = y - dot(h, state.mean);
  const gain = ph.map((v) => v / s);
  const mean = state.mean.map((m, i) => m + at(gain, i) * innovation);
  // Joseph form would cost more and the states here are short-lived; symmetry is kept by construction (gain·phᵀ is symmetric).
  const covariance = state.covariance.map((row, i) => row.map((v, j) => v - at(gain, i) * at(ph, j)));
  return { state: { mean, covariance }, innovation, innovationSd: Math.sqrt(s) };
}

/** Standard deviation of a weighted sum h·x under the belief. */
export function sdOf(state: Gaussian, h: readonly number[]): number {
  return Math.sqrt(
    Math.max(
      0,
      dot(
        h,
        state.covariance.map((row) => dot(row, h)),
      ),
    ),
  );
}

/** The n×n identity. */
export function identity(n: number): number[][] {
  return Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => (i === j ? 1 : 0)));
}

function dot(a: readonly number[], b: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += at(a, i) * at(b, i);
  return sum;
}
function at(v: readonly number[], i: number): number {
  return v[i] ?? 0;
}
