import { DomainError, requireNotNegative, requirePositive } from '../quantity/index.ts';

/**
 * Reading of a blend of waters or solutions: the average weighted by volume, on one scale. Linear; real solutions read 2 to 6 % above
 * it when thinned with pure water, which is why the batch is read again.
 * @param parts each with its volume (L, ≥ 0) and reading (same scale, ≥ 0); total volume > 0
 * @returns reading of the blend, same scale
 * @throws DomainError when there is no volume
 * @example blendReading([{ volumeL: 1, reading: 212 }, { volumeL: 3, reading: 8 }]) // 59
 */
export function blendReading(parts: readonly { volumeL: number; reading: number }[]): number {
  let volumeL = 0;
  let carried = 0;
  for (const part of parts) {
    requireNotNegative(part.volumeL, 'the volume');
    requireNotNegative(part.reading, 'the reading');
    volumeL += part.volumeL;
    carried += part.volumeL * part.reading;
  }
  requirePositive(volumeL, 'the blend');
  return carried / volumeL;
}

/**
 * Litres of the same water that bring a batch from `net` down to `target`: V·(net/target − 1).
 * @param volumeL in the vessel, L, > 0
 * @param net now over base, and @param target wanted over base, one scale, > 0
 * @returns litres to add, ≥ 0 (0 when it is not over)
 * @throws DomainError when a value is not positive
 * @example litresToThin(4.2, 100, 69) // ≈ 1.887
 */
export function litresToThin(volumeL: number, net: number, target: number): number {
  requirePositive(volumeL, 'the batch');
  requirePositive(net, 'the strength');
  requirePositive(target, 'the aim');
  return Math.max(0, volumeL * (net / target - 1));
}

/**
 * Litres of another water that bring a batch to a gross reading, exact for a linear blend: V·(now − wanted)/(wanted − water).
 * @param reading gross now, @param wanted gross wanted, @param water gross of the water added; one scale
 * @returns litres to add, ≥ 0
 * @throws DomainError `out-of-range` when that water reads as much as is wanted, or more: no volume of it can thin to there
 */
export function litresOfWaterToReach(volumeL: number, reading: number, wanted: number, water: number): number {
  requirePositive(volumeL, 'the batch');
  requireNotNegative(water, "the water's own reading");
  if (reading <= wanted) return 0;
  if (!(wanted > water)) {
    throw new DomainError(
      'out-of-range',
      `Water that reads ${water} cannot thin a batch to ${wanted}`,
      water,
      'Thin with a water that reads less.',
    );
  }
  return (volumeL * (reading - wanted)) / (wanted - water);
}

/** What to do with a batch that is too strong, given what its vessel holds. */
export type ThinningPlan =
  | { readonly kind: 'add'; readonly addL: number }
  | { readonly kind: 'pourOffAndReplace'; readonly pourOffL: number; readonly addL: number };

/**
 * Thins within the vessel. When the water fits it is simply added; otherwise so much is poured off first that topping the vessel up to its
 * capacity lands on the target: keep C·target/net litres, pour off the rest, fill to C.
 * @param capacityL of the vessel, L, ≥ volumeL
 */
export function planThinning(volumeL: number, net: number, target: number, capacityL: number): ThinningPlan {
  const addL = litresToThin(volumeL, net, target);
  if (volumeL + addL <= capacityL) return { kind: 'add', addL };
  const keepL = (capacityL * target) / net;
  return { kind: 'pourOffAndReplace', pourOffL: volumeL - keepL, addL: capacityL - keepL };
}
