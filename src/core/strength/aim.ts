import { DomainError, requirePositive } from '../quantity/index.ts';

/** A net aim with its comfortable band and hard limit, all net conductivity over base, µS/cm at 25 °C. */
export type Aim = { readonly netEcUsCm: number; readonly lowEcUsCm: number; readonly highEcUsCm: number; readonly hardEcUsCm: number };

/** Default band of a feed round its aim: −10 % to +20 %, hard limit +40 %. A house rule; each use may override it. */
export const FEED_BAND = Object.freeze({ below: 0.1, above: 0.2, hard: 0.4 });

/**
 * The band of a feed that stays in the pot.
 * @param netEcUsCm net aim over base, µS/cm, > 0
 * @throws DomainError when the aim is not above the base
 * @example feedAim(180) // low 162, high 216, hard 252
 */
export function feedAim(netEcUsCm: number): Aim {
  if (!(netEcUsCm > 0)) {
    throw new DomainError(
      'target-below-base',
      "The aim is at or below the water's own reading",
      netEcUsCm,
      'Aim above the water, or choose a water with less in it.',
    );
  }
  requirePositive(netEcUsCm, 'the aim');
  return Object.freeze({
    netEcUsCm,
    lowEcUsCm: netEcUsCm * (1 - FEED_BAND.below),
    highEcUsCm: netEcUsCm * (1 + FEED_BAND.above),
    hardEcUsCm: netEcUsCm * (1 + FEED_BAND.hard),
  });
}
