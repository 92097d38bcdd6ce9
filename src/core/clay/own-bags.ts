import { inverse, Matrix } from 'ml-matrix';
import type { ClayPrior } from './fit.ts';

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
