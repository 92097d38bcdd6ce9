import { inverse, Matrix } from 'ml-matrix';
import type { ClayPrior } from './prior.ts';
import { AT, retainedAt, retainedSd } from './shapes.ts';

/**
 * How much of what bags differ in lies between growers (their make, their water, their way of rinsing) rather than between bags of one
 * grower. House rule: half, until many growers' bags say otherwise.
 */
const BETWEEN_GROWERS = 0.5;

/**
 * What is known of a grower's next bag before its first reading: what clay is like at large, drawn towards the bags they leached before.
 * The mean of a grower's bags is normal about the mean at large with half its covariance; each bag about that mean with the other half; a
 * fitted bag tells of it by its own spread (the usual two-level normal model, with known covariances).
 * @param own fits of the grower's earlier bags, none needed: then what is known at large comes back
 */
export function priorFromBags(atLarge: ClayPrior, own: readonly ClayPrior[]): ClayPrior {
  if (own.length === 0) return atLarge;
  const whole = new Matrix(atLarge.covariance.map((row) => [...row]));
  const between = Matrix.mul(whole, BETWEEN_GROWERS);
  const within = Matrix.mul(whole, 1 - BETWEEN_GROWERS);
  const atLargeMean = Matrix.columnVector([...atLarge.mean]);
  let precision = inverse(between);
  let pull = precision.mmul(atLargeMean);
  for (const bag of own) {
    const told = inverse(Matrix.add(within, new Matrix(bag.covariance.map((row) => [...row]))));
    precision = Matrix.add(precision, told);
    pull = Matrix.add(pull, told.mmul(Matrix.columnVector([...bag.mean])));
  }
  const spread = inverse(precision);
  return { mean: spread.mmul(pull).to1DArray(), covariance: Matrix.add(within, spread).to2DArray() };
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
