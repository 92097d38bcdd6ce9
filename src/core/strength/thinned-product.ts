import type { Aim } from './aim.ts';
import { readingVariance, type PenNoise } from './batch-belief.ts';
import { stepMlOf, finestStepMl, type Tool } from './tool.ts';

/** Ratios a grower can make up by eye in a small jug: one part product in so many parts altogether. */
export const THINNING_RATIOS = [5, 10, 20, 50, 100] as const;

/**
 * Whether the product must first be thinned, and how far: when one step of the finest tool moves the batch by more than half the band.
 * @param strengthEcPerMlL of the product, µS/cm per mL/L
 * @param volumeL of the batch, L
 * @returns parts altogether for one part of product (10 means 1 + 9); 1 when it is fine as it is
 */
export function thinningRatio(strengthEcPerMlL: number, volumeL: number, aim: Aim, tools: readonly Tool[]): number {
  const stepMoves = (finestStepMl(tools) * strengthEcPerMlL) / volumeL;
  const half = (aim.highEcUsCm - aim.lowEcUsCm) / 2;
  if (stepMoves <= half) return 1;
  return THINNING_RATIOS.find((ratio) => stepMoves / ratio <= half) ?? THINNING_RATIOS[THINNING_RATIOS.length - 1]!;
}

/** A dose given by measure is at least so many steps of the finest tool, so that it is good to a twentieth. */
const LEAST_STEPS = 10;
/** … or of a spoon, whose halves are told by eye. */
const LEAST_SPOON_STEPS = 4;

/**
 * How far a product given by measure is thinned first, so that its dose can be measured.
 * @param doseMl of the product as bought for the whole batch, mL
 * @returns parts altogether for one part of product; 1 when it is fine as it is
 */
export function thinningToMeasure(doseMl: number, tools: readonly Tool[]): number {
  const least = Math.min(...tools.map((t) => (t.kind === 'spoon' ? LEAST_SPOON_STEPS : LEAST_STEPS) * stepMlOf(t)));
  if (doseMl >= least) return 1;
  return THINNING_RATIOS.find((ratio) => doseMl * ratio >= least) ?? THINNING_RATIOS[THINNING_RATIOS.length - 1]!;
}

/** A band narrower than so many standard deviations of a difference of two readings is missed by the pen's own wandering. */
const TELLABLE_SDS = 3;

/**
 * Whether a part is surer measured out than read: a pinch on top of a strong mix, whose band is finer than what the pen can tell there, and whose
 * strength is known better than that.
 * @param readingEcUsCm the mix should read with it, µS/cm @param strengthRelativeSd of its product, 1 SD as a share
 */
export function tooFineForPen(aim: Aim, readingEcUsCm: number, strengthRelativeSd: number, pen: PenNoise): boolean {
  const tells = Math.sqrt(2 * readingVariance(readingEcUsCm, pen));
  return aim.highEcUsCm - aim.lowEcUsCm < TELLABLE_SDS * tells && strengthRelativeSd * aim.netEcUsCm <= tells;
}
