import { requirePositive } from './domain-error.ts';
import { METER_SCALES, ppmFromEc, type MeterScale } from './meter-scale.ts';

/** The usual conductivity standard, 0.01 mol/L potassium chloride: 1413 µS/cm at 25 °C (OIML R 56; sold everywhere for pens). */
export const STANDARD_EC_US_CM = 1413;
/** How far a pen in order may stand from its figure: a twentieth, half the gap between the two nearest scales (0.64 and 0.7). */
const NEAR = 0.045;

export type ScaleFound =
  | { readonly kind: 'found'; readonly scale: MeterScale; readonly expectedPpm: number }
  | { readonly kind: 'between'; readonly nearest: MeterScale };

/**
 * Which scale a pen has, from what it shows in the 1413 µS/cm standard: 707 is ½, 904 is 0.64, 989 is 0.7.
 * @param shownPpm what the pen shows, > 0
 * @returns the scale, or that the figure lies between the three: the pen is off, cold, or stands in something else
 * @throws DomainError when nothing is shown
 * @example scaleFromStandard(990) // { kind: 'found', scale: 0.7, expectedPpm: 989.1 }
 */
export function scaleFromStandard(shownPpm: number): ScaleFound {
  requirePositive(shownPpm, 'what the pen shows');
  const off = (scale: number) => Math.abs(shownPpm / ppmFromEc(STANDARD_EC_US_CM, scale) - 1);
  const nearest = [...METER_SCALES].sort((a, b) => off(a) - off(b))[0]!;
  return off(nearest) <= NEAR
    ? { kind: 'found', scale: nearest, expectedPpm: ppmFromEc(STANDARD_EC_US_CM, nearest) }
    : { kind: 'between', nearest };
}
