import { Matrix } from 'ml-matrix';
import { backward, forward, lowerOf, normal, type Random } from '../statistics/index.ts';
import type { ClayPrior } from './prior.ts';
import type { LeachHistory } from './history.ts';
import { responses } from './responses.ts';
import { AMOUNTS, hasSource, SHAPES, type shapeOf } from './shapes.ts';

/** Readings over the base, ppm, and how much each counts: one over its variance. */
export type Readings = { readonly y: Float64Array; readonly precision: Float64Array };
/** Amounts of a structure after the readings: mean, what turns standard normals into their scatter, and how well it explains the readings. */
export type Amounts = { readonly mean: number[]; readonly lower: Matrix; readonly logLikelihood: number };

/** The amounts in closed form: normal before, linear in the readings, normal after. */
export function amountsAt(
  prior: ClayPrior,
  z: Float64Array,
  shape: ReturnType<typeof shapeOf>,
  history: LeachHistory,
  { y, precision }: Readings,
): Amounts {
  const m = AMOUNTS.length;
  const mean = AMOUNTS.map((a, i) => a.mean + a.sd * prior.mean[SHAPES + i]!);
  const sd = AMOUNTS.map((a, i) => a.sd * Math.sqrt(prior.covariance[SHAPES + i]![SHAPES + i]!));
  if (!hasSource(z)) [mean[2], sd[2]] = [0, 1e-3];
  const told = Matrix.zeros(m, m);
  const pull = new Float64Array(m);
  let logLikelihood = 0;
  const rows = y.length === 0 ? [] : responses(shape, history);
  for (const [i, row] of rows.entries()) {
    let off = y[i]! - row[m]!;
    for (let a = 0; a < m; a++) off -= row[a]! * mean[a]!;
    const p = precision[i]!;
    logLikelihood -= 0.5 * p * off * off;
    for (let a = 0; a < m; a++) {
      pull[a]! += p * off * row[a]! * sd[a]!;
      for (let b = 0; b < m; b++) told.set(a, b, told.get(a, b) + p * row[a]! * row[b]! * sd[a]! * sd[b]!);
    }
  }
  // In units of the prior's spread the precision is I + told.
  for (let a = 0; a < m; a++) told.set(a, a, told.get(a, a) + 1);
  const lower = lowerOf(told);
  const half = forward(lower, pull);
  for (let a = 0; a < m; a++) logLikelihood += 0.5 * half[a]! ** 2 - Math.log(lower.get(a, a));
  const shift = backward(lower, half);
  return { mean: mean.map((v, a) => v + sd[a]! * shift[a]!), lower: scaledInverse(lower, sd), logLikelihood };
}

/** Turns standard normals into the amounts' scatter: (Lᵀ)⁻¹, row by row in their own units. */
function scaledInverse(lower: Matrix, sd: readonly number[]): Matrix {
  const inverse = Matrix.zeros(sd.length, sd.length);
  for (let b = 0; b < sd.length; b++) {
    const unit = sd.map((_, i) => (i === b ? 1 : 0));
    for (const [a, v] of backward(lower, unit).entries()) inverse.set(a, b, v * sd[a]!);
  }
  return inverse;
}

/** One set of amounts; none is below nothing. */
export function amountsDrawn({ mean, lower }: Amounts, random: Random): number[] {
  for (let tries = 0; ; tries++) {
    const e = mean.map(() => normal(random));
    const amounts = mean.map((m, a) => e.reduce((sum, v, b) => sum + lower.get(a, b) * v, m));
    if (tries === 8) return amounts.map((v) => Math.max(0, v));
    if (amounts.every((v) => v >= -1e-6)) return amounts.map((v) => Math.max(0, v));
  }
}
