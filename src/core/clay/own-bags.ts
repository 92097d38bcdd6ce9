import { EigenvalueDecomposition, inverse, Matrix } from 'ml-matrix';
import type { ClayPrior } from './prior.ts';
import { AT, COORDINATES, retainedAt, retainedSd } from './shapes.ts';

/**
 * How much of what bags differ in lies between growers (their make, their water, their way of rinsing) rather than between bags of one
 * grower. House rule: half, until many growers' bags say otherwise.
 */
const BETWEEN_GROWERS = 0.5;
/** And of that, how much in the make, which growers of one clay share; the rest in their water and their way of rinsing. House rule: half. */
const IN_THE_MAKE = 0.5;

/**
 * What is known of a grower's next bag before its first reading: what clay is like at large, drawn towards the bags they leached before.
 * The mean of a grower's bags is normal about the mean at large with half its covariance; each bag about that mean with the other half; a
 * fitted bag tells of it by its own spread (the usual two-level normal model, with known covariances).
 * What other growers found of the same make tells of the make alone: a part of what lies between growers, so that a bag or two of one's own outweigh any number of theirs.
 * @param own fits of the grower's earlier bags @param told fits of other growers' bags of the same make; with neither, what is known at large comes back
 */
export function priorFromBags(
  atLarge: ClayPrior,
  own: readonly ClayPrior[],
  told: readonly ClayPrior[] = [],
): ClayPrior {
  if (own.length === 0 && told.length === 0) return atLarge;
  const whole = matrixOf(atLarge);
  const within = Matrix.mul(whole, 1 - BETWEEN_GROWERS);
  const ofMake = Matrix.mul(whole, BETWEEN_GROWERS * IN_THE_MAKE);
  const ofGrower = Matrix.mul(whole, BETWEEN_GROWERS * (1 - IN_THE_MAKE));
  const make = after({ mean: [...atLarge.mean], spread: ofMake }, told, Matrix.add(ofGrower, within));
  const mine = after({ mean: make.mean, spread: Matrix.add(make.spread, ofGrower) }, own, within);
  return { mean: mine.mean, covariance: Matrix.add(within, mine.spread).to2DArray() };
}

type Level = { readonly mean: number[]; readonly spread: Matrix };
const matrixOf = ({ covariance }: ClayPrior) => new Matrix(covariance.map((row) => [...row]));

/** A mean after bags that lie about it, each with its own spread besides. */
function after(level: Level, bags: readonly ClayPrior[], about: Matrix): Level {
  if (bags.length === 0) return level;
  let precision = inverse(level.spread);
  let pull = precision.mmul(Matrix.columnVector(level.mean));
  for (const bag of bags) {
    const tells = inverse(Matrix.add(about, matrixOf(bag)));
    precision = Matrix.add(precision, tells);
    pull = Matrix.add(pull, tells.mmul(Matrix.columnVector([...bag.mean])));
  }
  const spread = inverse(precision);
  return { mean: spread.mmul(pull).to1DArray(), spread };
}

/**
 * How wide a fitted belief may be, how narrow, how far off. The spread of some 160 draws from a standard normal of fifteen coordinates comes by chance to 1.7 in its
 * widest direction (Marchenko & Pastur 1967: (1 + √(15/160))²) and now and then to 2; no handful of readings pins one to a thousandth.
 */
const [WIDEST, NARROWEST, FURTHEST] = [3, 1e-4, 6];
/** What rounding leaves between the halves of a covariance. */
const ROUNDING = 1e-9;

/** Whether a belief that came from elsewhere is one: of these coordinates, finite, a covariance, and within what a fit can come to. */
export function isBelief({ mean, covariance }: ClayPrior): boolean {
  const n = COORDINATES.length;
  const finite = (row: readonly number[]) => row.length === n && row.every(Number.isFinite);
  if (!finite(mean) || mean.some((m) => Math.abs(m) > FURTHEST)) return false;
  if (covariance.length !== n || !covariance.every(finite)) return false;
  const matrix = matrixOf({ mean, covariance });
  if (Matrix.sub(matrix, matrix.transpose()).abs().max() > ROUNDING) return false;
  const values = new EigenvalueDecomposition(matrix, { assumeSymmetric: true }).realEigenvalues;
  return values.every((value) => value >= NARROWEST && value <= WIDEST);
}

const RETAINED = AT.retained;
/** 1 SD of a measured share, in the coordinate's units, a logit of 0.3: jugs are read roughly, and a bag drains one day better than another. House rule. */
const MEASURED_SD = retainedSd(0.3);

/**
 * What was poured off, beside what was in, tells how much the clay holds back: the belief about that share (and all that goes with it)
 * after each measured pouring off.
 * @param shares held back of the bath, 0 to 1, one for each measured change
 */
export function withMeasuredShares(prior: ClayPrior, shares: readonly number[]): ClayPrior {
  let { mean, covariance } = prior;
  for (const share of shares) {
    const seen = Math.min(0.9, Math.max(0.02, share));
    const gain = covariance.map((row) => row[RETAINED]! / (covariance[RETAINED]![RETAINED]! + MEASURED_SD ** 2));
    const off = retainedAt(seen) - mean[RETAINED]!;
    const before = covariance;
    mean = mean.map((m, i) => m + gain[i]! * off);
    covariance = before.map((row, a) => row.map((c, b) => c - gain[a]! * before[RETAINED]![b]!));
  }
  return { mean, covariance };
}
