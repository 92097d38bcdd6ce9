import { inverse, Matrix, solve } from 'ml-matrix';
import { playLeach, type LeachHistory } from './history.ts';
import type { ClayParameters } from './pools.ts';

/** Parameters as the fit turns them: logarithms, so that none falls below zero, and the retained share as a logit. */
const NAMES = ['fastCapacity', 'slowCapacity', 'fastHours', 'slowHours', 'fastPpm', 'slowPpm', 'retained'] as const;
const SIZE = NAMES.length;

/** A belief about a bag before its first reading: normal over the turned parameters. */
export type ClayPrior = { readonly mean: readonly number[]; readonly covariance: readonly (readonly number[])[] };
export type ClayFit = ClayPrior & {
  readonly clay: ClayParameters;
  readonly rounds: number;
  readonly converged: boolean;
};

export function toParameters(u: readonly number[]): ClayParameters {
  const e = (i: number) => Math.exp(u[i]!);
  return {
    fastCapacity: e(0),
    slowCapacity: e(1),
    fastHours: e(2),
    slowHours: e(3),
    fastPpm: e(4),
    slowPpm: e(5),
    retained: 1 / (1 + Math.exp(-u[6]!)),
  };
}

/** 1 SD of a reading against the model: the pen's digit, its offset and what two pools cannot follow, as a share. */
export type ReadingError = { readonly ppm: number; readonly share: number };
export const USUAL_ERROR: ReadingError = Object.freeze({ ppm: 1.5, share: 0.03 });

const MOST_ROUNDS = 40;
const STEP = 1e-5;

/**
 * Fits a batch by its readings and what is known of clay at large: the most probable parameters (Gauss and Newton's steps, damped after
 * Levenberg and Marquardt), and their spread by the curvature there (Laplace). From no reading on: then the prior comes back.
 */
export function fitClay(prior: ClayPrior, history: LeachHistory, error: ReadingError = USUAL_ERROR): ClayFit {
  const readings = history.acts.filter((act) => act.kind === 'reading');
  const weights = readings.map((r) => 1 / (error.ppm ** 2 + (error.share * r.netPpm) ** 2));
  const precision = inverse(new Matrix(prior.covariance.map((row) => [...row])));
  const expect = (u: readonly number[]) => playLeach(toParameters(u), history).expected;
  const cost = (u: readonly number[], f: readonly number[]) => {
    const off = Matrix.columnVector(u.map((v, i) => v - prior.mean[i]!));
    const far = off.transpose().mmul(precision).mmul(off).get(0, 0);
    return readings.reduce((sum, r, j) => sum + weights[j]! * (r.netPpm - f[j]!) ** 2, far);
  };
  let u = [...prior.mean];
  let f = expect(u);
  let now = cost(u, f);
  let damping = 1e-3;
  let converged = readings.length === 0;
  let rounds = 0;
  let curvature = precision;
  while (!converged && rounds < MOST_ROUNDS) {
    rounds++;
    const jacobian = jacobianOf(expect, u, f);
    curvature = precision.clone();
    const pull = precision.mmul(Matrix.columnVector(u.map((v, i) => prior.mean[i]! - v))).to1DArray();
    for (const [j, row] of jacobian.entries()) {
      const left = (readings[j]!.netPpm - f[j]!) * weights[j]!;
      for (let a = 0; a < SIZE; a++) {
        pull[a]! += row[a]! * left;
        for (let b = 0; b < SIZE; b++) curvature.set(a, b, curvature.get(a, b) + row[a]! * row[b]! * weights[j]!);
      }
    }
    for (;;) {
      const damped = curvature.clone();
      for (let a = 0; a < SIZE; a++) damped.set(a, a, damped.get(a, a) * (1 + damping));
      const step = solve(damped, Matrix.columnVector(pull)).to1DArray();
      const next = u.map((v, i) => v + step[i]!);
      const fNext = expect(next);
      const then = cost(next, fNext);
      if (then <= now) {
        converged = now - then < 1e-7 * (1 + now);
        [u, f, now] = [next, fNext, then];
        damping = Math.max(1e-9, damping / 10);
        break;
      }
      damping *= 10;
      // No step lowers it any more: this is the bottom.
      if (damping > 1e9) {
        converged = true;
        break;
      }
    }
  }
  return { mean: u, covariance: inverse(curvature).to2DArray(), clay: toParameters(u), rounds, converged };
}

/** Row per reading, column per parameter. */
function jacobianOf(
  expect: (u: readonly number[]) => readonly number[],
  u: readonly number[],
  f: readonly number[],
): number[][] {
  const rows = f.map(() => new Array<number>(SIZE).fill(0));
  for (let a = 0; a < SIZE; a++) {
    const moved = [...u];
    moved[a]! += STEP;
    for (const [j, value] of expect(moved).entries()) rows[j]![a] = (value - f[j]!) / STEP;
  }
  return rows;
}

export type Spread = { readonly mean: number; readonly low: number; readonly high: number };
const Z90 = 1.645;

/**
 * Anything that follows from the clay, with its central 90 %: by the slope of its logarithm over the parameters (none falls below zero).
 * @param of the quantity, > 0, from the parameters @param share what the model itself leaves open, 1 SD
 */
export function spreadOf(fit: ClayPrior, of: (clay: ClayParameters) => number, share = USUAL_ERROR.share): Spread {
  return spreadsOf(fit, (clay) => [of(clay)], share)[0]!;
}

/** Many quantities at once, such as the points of a path: the parameters are moved once for all of them. */
export function spreadsOf(
  fit: ClayPrior,
  of: (clay: ClayParameters) => readonly number[],
  share = USUAL_ERROR.share,
): Spread[] {
  const logs = (u: readonly number[]) => of(toParameters(u)).map((v) => Math.log(Math.max(1e-9, v)));
  const middle = logs(fit.mean);
  const slopes = fit.mean.map((_, a) => {
    const moved = [...fit.mean];
    moved[a]! += 1e-4;
    return logs(moved).map((v, j) => (v - middle[j]!) / 1e-4);
  });
  return middle.map((log, j) => {
    const variance = fit.covariance.reduce(
      (sum, row, a) => sum + row.reduce((inner, c, b) => inner + slopes[a]![j]! * c * slopes[b]![j]!, 0),
      share ** 2,
    );
    const sd = Math.sqrt(Math.max(0, variance));
    return { mean: Math.exp(log), low: Math.exp(log - Z90 * sd), high: Math.exp(log + Z90 * sd) };
  });
}
