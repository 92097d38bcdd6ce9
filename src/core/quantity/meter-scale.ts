import { requireNotNegative, requirePositive } from './domain-error.ts';

/** The three factors by which makers turn conductivity (µS/cm at 25 °C) into "ppm". */
export const METER_SCALES = [0.5, 0.64, 0.7] as const;
export type MeterScale = (typeof METER_SCALES)[number];

/**
 * A pen's ppm for a conductivity: ppm = EC × scale.
 * @param ecUsCm conductivity at 25 °C, µS/cm, ≥ 0
 * @param scale the pen's factor, > 0 (0.5, 0.64 or 0.7)
 * @returns the reading, ppm on that scale
 * @throws DomainError when EC is negative or the scale not positive
 * @example ppmFromEc(1413, 0.5) // 706.5
 */
export function ppmFromEc(ecUsCm: number, scale: number): number {
  requireNotNegative(ecUsCm, 'the conductivity');
  requirePositive(scale, "the pen's scale");
  return ecUsCm * scale;
}

/**
 * The conductivity behind a pen's ppm: EC = ppm ÷ scale. Readings of pens with different scales are compared as EC only.
 * @param ppm reading on the pen's scale, ≥ 0
 * @param scale the pen's factor, > 0
 * @returns conductivity at 25 °C, µS/cm
 * @throws DomainError when ppm is negative or the scale not positive
 * @example ecFromPpm(104, 0.5) // 208
 */
export function ecFromPpm(ppm: number, scale: number): number {
  requireNotNegative(ppm, 'the reading');
  requirePositive(scale, "the pen's scale");
  return ppm / scale;
}
