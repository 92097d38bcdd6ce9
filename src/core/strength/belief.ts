import { requirePositive } from '../quantity/index.ts';
import type { Gaussian } from '../statistics/index.ts';

/**
 * What is known of a liquid product's strength, on two levels: the product's mean over bottles and made-up stocks, and the bottle in use.
 * Unit: net µS/cm for 1 mL in 1 L. Joint normal over [product mean, this bottle].
 */
export type StrengthBelief = Gaussian;

/** Spread between bottles and made-up stocks as a share of the strength, 1 SD. */
export const BETWEEN_BOTTLES_SD = 0.3;
/** What a typed "so much gave so much" is worth as a guess of the product's mean, 1 SD of itself. */
export const TYPED_GUESS_SD = 0.15;
/** Batch-to-batch deviation from the bottle (volume read off a bucket, settling in the bottle), 1 SD of the strength. */
export const WITHIN_BOTTLE_SD = 0.03;

/** A bottle that stands drifts a little from batch to batch (it settles, it takes up water), 1 SD of the strength. House rule. */
export const DRIFT_SD = 0.02;
/** A product with neither label nor recipe: concentrates lie from 150 to 1,300 µS/cm per mL/L (values from memory). */
const UNLABELLED_SD = 0.9;
export const UNLABELLED_EC_PER_ML_L = 500;

/**
 * Net strength from one trial: "so much in so much water gave so much over base".
 * @param doseMl of product, mL, > 0
 * @param volumeL of the batch, L, > 0
 * @param netEcUsCm over base, µS/cm, > 0
 * @returns µS/cm per mL/L
 */
export function strengthFromTrial(doseMl: number, volumeL: number, netEcUsCm: number): number {
  requirePositive(doseMl, 'the dose');
  requirePositive(volumeL, 'the batch');
  requirePositive(netEcUsCm, 'the strength over base');
  return (netEcUsCm * volumeL) / doseMl;
}

/** Belief before the first reading: the typed guess, wide on the mean, wider on the bottle. @param guessSd what the guess is worth, 1 SD of itself */
export function priorBelief(
  guessEcPerMlL: number,
  betweenBottlesSd = BETWEEN_BOTTLES_SD,
  guessSd = TYPED_GUESS_SD,
): StrengthBelief {
  requirePositive(guessEcPerMlL, 'the guessed strength');
  const meanVar = (guessSd * guessEcPerMlL) ** 2;
  const between = (betweenBottlesSd * guessEcPerMlL) ** 2;
  return {
    mean: [guessEcPerMlL, guessEcPerMlL],
    covariance: [
      [meanVar, meanVar],
      [meanVar, meanVar + between],
    ],
  };
}

/** Belief of a product with neither label nor recipe: the doubt is of the product, so that its second bottle is like its first. */
export const unlabelledBelief = (): StrengthBelief =>
  priorBelief(UNLABELLED_EC_PER_ML_L, BETWEEN_BOTTLES_SD, UNLABELLED_SD);

/**
 * A new bottle or a fresh stock: the product's mean is kept, the bottle starts from the wide predictive spread again.
 * Treating it as the old bottle lands only about seven in ten batches in the band.
 */
export function openBottle(belief: StrengthBelief, betweenBottlesSd = BETWEEN_BOTTLES_SD): StrengthBelief {
  const mean = belief.mean[0] ?? 0;
  const meanVar = belief.covariance[0]?.[0] ?? 0;
  const between = (betweenBottlesSd * mean) ** 2;
  return {
    mean: [mean, mean],
    covariance: [
      [meanVar, meanVar],
      [meanVar, meanVar + between],
    ],
  };
}

/** Strength of the bottle in use: µS/cm per mL/L with 1 SD. */
export function bottleStrength(belief: StrengthBelief): { ecPerMlL: number; sd: number } {
  return { ecPerMlL: belief.mean[1] ?? 0, sd: Math.sqrt(Math.max(0, belief.covariance[1]?.[1] ?? 0)) };
}

/** The same belief for a product made weaker (factor < 1) or stronger: strengths scale by `factor`, variances by its square. */
export function scaleBelief(belief: StrengthBelief, factor: number): StrengthBelief {
  requirePositive(factor, 'the thinning');
  return {
    mean: belief.mean.map((m) => m * factor),
    covariance: belief.covariance.map((row) => row.map((v) => v * factor * factor)),
  };
}
