import { requireNotNegative, requirePositive } from './domain-error.ts';

/** Millilitres in one of each unit; exact by definition (NIST SP 811, Appendix B; imperial gallon by the UK Units of Measurement Regulations 1995). */
export const ML_PER_UNIT = {
  mL: 1,
  cL: 10,
  L: 1000,
  usGallon: 3785.411784,
  usQuart: 3785.411784 / 4,
  usPint: 3785.411784 / 8,
  usCup: 3785.411784 / 16,
  imperialGallon: 4546.09,
  imperialQuart: 4546.09 / 4,
  imperialPint: 4546.09 / 8,
  imperialFluidOunce: 4546.09 / 160,
  usTeaspoon: 4.92892159375,
  usTablespoon: 3 * 4.92892159375,
  usFluidOunce: 29.5735295625,
  metricSpoon: 5,
} as const;
export type VolumeUnit = keyof typeof ML_PER_UNIT;

/**
 * Converts an amount in a kitchen or trade unit to mL.
 * @param amount in `unit`, ≥ 0
 * @returns mL
 * @throws DomainError when the amount is negative or not finite
 * @example toMl(0.25, 'usTeaspoon') // 1.2322303984375
 */
export function toMl(amount: number, unit: VolumeUnit): number {
  requireNotNegative(amount, 'the amount');
  return amount * ML_PER_UNIT[unit];
}

/** The inverse of {@link toMl}: mL to an amount in `unit`. */
export function fromMl(volumeMl: number, unit: VolumeUnit): number {
  requireNotNegative(volumeMl, 'the volume');
  return volumeMl / ML_PER_UNIT[unit];
}

/** Drops per mL taken for a dropper nobody has counted yet. A guess, and shown as one. */
export const GUESSED_DROPS_PER_ML = 20;

/**
 * Volume of counted drops.
 * @param drops count, ≥ 0
 * @param dropsPerMl of this dropper, > 0
 * @returns mL
 * @throws DomainError on a negative count or a dropper without a size
 * @example dropsToMl(9, 18) // 0.5
 */
export function dropsToMl(drops: number, dropsPerMl: number): number {
  requireNotNegative(drops, 'the number of drops');
  requirePositive(dropsPerMl, 'drops per mL');
  return drops / dropsPerMl;
}
