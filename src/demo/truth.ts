import type { SimProduct, SimSolution } from '../core/simulation/index.ts';
import type { PenTruth } from '../server/devices/simulated-truth.ts';

/* What the demo's waters, bottles and pens truly are. Only the maker of the demo knows; the app finds out by reading. */

/** A fresh stock of feed was made up so many days ago. */
export const BOTTLE_CHANGED_DAYS_AGO = 120;
/** Until so many days ago another feed was in use: dearer, and with more of its nitrogen as ammonium. */
export const FEED_CHANGED_DAYS_AGO = 184;
export const PEN_SCALE = 0.5;

export const WATERS: Record<'still' | 'tap' | 'rain', SimSolution> = {
  still: { idealEcUsCm: 18, alkalinityMeqL: 0.1, carbonMmolL: 0.13, phosphateMmolL: 0 },
  tap: { idealEcUsCm: 437, alkalinityMeqL: 2.85, carbonMmolL: 3.01, phosphateMmolL: 0 },
  rain: { idealEcUsCm: 48, alkalinityMeqL: 0.05, carbonMmolL: 0.107, phosphateMmolL: 0 },
};
/** The membrane ages: a year ago the still water held a third less. @param daysAgo ≥ 0 */
export function stillWater(daysAgo: number): SimSolution {
  const share = 1 - 0.35 * Math.min(1, daysAgo / 364);
  return {
    ...WATERS.still,
    idealEcUsCm: WATERS.still.idealEcUsCm * share,
    alkalinityMeqL: WATERS.still.alkalinityMeqL * share,
  };
}
/** The pH pen's battery began to give out so many days ago; it reads low since. */
export const PH_PEN_OFF = { sinceDaysAgo: 21, by: -0.25 };
/** The pH pen as it was that day. */
export function phPen(daysAgo: number): PenTruth {
  return daysAgo > PH_PEN_OFF.sinceDaysAgo ? { ...PENS.pH, offset: 0.05 } : PENS.pH;
}
export const FEED_BOTTLES: readonly SimProduct[] = [
  { idealEcPerMlL: 318, alkalinityMeqPerMl: 0.12, phosphateMmolPerMl: 0.45 },
  { idealEcPerMlL: 271, alkalinityMeqPerMl: 0.11, phosphateMmolPerMl: 0.4 },
];
export const NITRIC: SimProduct = { idealEcPerMlL: 60, alkalinityMeqPerMl: -1.67, phosphateMmolPerMl: 0 };
export const POTASH: SimProduct = {
  idealEcPerMlL: 190,
  alkalinityMeqPerMl: 1.5,
  phosphateMmolPerMl: 0,
  carbonMmolPerMl: 0.75,
};
export const CITRIC: SimProduct = {
  idealEcPerMlL: 40,
  alkalinityMeqPerMl: 0,
  phosphateMmolPerMl: 0,
  citrateMmolPerMl: 0.25,
};
/** The bottles (and the jar) of the other products, by their kind. */
export const OTHER_BOTTLES: Readonly<Partial<Record<string, SimProduct>>> = {
  calmag: { idealEcPerMlL: 338, alkalinityMeqPerMl: 0.02, phosphateMmolPerMl: 0 },
  magnesium: { idealEcPerMlL: 862, alkalinityMeqPerMl: 0.002, phosphateMmolPerMl: 0 },
  silicate: { idealEcPerMlL: 122, alkalinityMeqPerMl: 1.04, phosphateMmolPerMl: 0, silicaMmolPerMl: 1.7 },
};
export const PENS: Record<'ppm' | 'pH', PenTruth> = {
  ppm: {
    quantity: 'ppm',
    resolution: 1,
    offset: 0,
    gain: 1.01,
    noise: 0.5,
    noiseShare: 0.006,
    settleSeconds: 3,
    most: 9990,
  },
  pH: {
    quantity: 'pH',
    resolution: 0.1,
    offset: -0.2,
    gain: 1,
    noise: 0.04,
    noiseShare: 0,
    settleSeconds: 4,
    most: 14,
  },
};
export const GUESS_EC_PER_ML_L = 360;
