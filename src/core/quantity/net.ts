import { DomainError, requireNotNegative } from './domain-error.ts';

/**
 * Net strength: what was added over the water's own minerals, on one scale. Net = reading − base.
 * @param reading and @param base on the same scale (both ppm of one pen, or both µS/cm), ≥ 0
 * @returns net on that scale; 0 when they are equal
 * @throws DomainError `below-base` when the reading is under the base
 * @example netOf(104, 9) // 95
 */
export function netOf(reading: number, base: number): number {
  requireNotNegative(reading, 'the reading');
  requireNotNegative(base, "the water's own reading");
  if (!(reading >= base)) {
    throw new DomainError(
      'below-base',
      `A reading of ${reading} is below the water's own ${base}`,
      reading,
      'Rinse the pen and read again, or read the plain water again.',
    );
  }
  return reading - base;
}

/** Gross reading to expect for a net aim in a water: base + net, on one scale. */
export function grossOf(net: number, base: number): number {
  requireNotNegative(net, 'the aim');
  requireNotNegative(base, "the water's own reading");
  return base + net;
}
