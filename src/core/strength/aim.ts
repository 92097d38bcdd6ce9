import { DomainError, requirePositive } from '../quantity/index.ts';

/** A net aim with its comfortable band and hard limit, all net conductivity over base, µS/cm at 25 °C. */
export type Aim = {
  readonly netEcUsCm: number;
  readonly lowEcUsCm: number;
  readonly highEcUsCm: number;
  readonly hardEcUsCm: number;
};

/**
 * How far from its aim a use may land: shares of it, or so many µS/cm. `hard` is the limit above it that must not be passed.
 */
export type Band = {
  readonly in: 'share' | 'ec';
  readonly below: number;
  readonly above: number;
  readonly hard: number;
};
/** Default band of a feed round its aim: −10 % to +20 %, hard limit +40 %. A house rule; each use may override it. */
export const FEED_BAND: Band = Object.freeze({ in: 'share', below: 0.1, above: 0.2, hard: 0.4 });

/**
 * The band of a feed that stays in the pot.
 * @param netEcUsCm net aim over base, µS/cm, > 0
 * @throws DomainError when the aim is not above the base
 * @example feedAim(180) // low 162, high 216, hard 252
 */
export function feedAim(netEcUsCm: number): Aim {
  return aimWithin(netEcUsCm, FEED_BAND);
}

/**
 * An aim with the band of its use round it.
 * @param netEcUsCm net aim over base, µS/cm, > 0
 * @throws DomainError when the aim is not above the base, or the band is not in order
 * @example aimWithin(200, { in: 'ec', below: 20, above: 60, hard: 160 }) // an Epsom soak: low 180, high 260, hard 360
 */
export function aimWithin(netEcUsCm: number, band: Band): Aim {
  if (!(netEcUsCm > 0)) {
    throw new DomainError(
      'target-below-base',
      "The aim is at or below the water's own reading",
      netEcUsCm,
      'Aim above the water, or choose a water with less in it.',
    );
  }
  requirePositive(netEcUsCm, 'the aim');
  if (!(band.below >= 0 && band.above >= 0 && band.hard >= band.above)) {
    throw new DomainError(
      'out-of-range',
      'The band is not in order',
      band,
      'The hard limit lies above the top of the band.',
    );
  }
  const times = band.in === 'share' ? netEcUsCm : 1;
  return Object.freeze({
    netEcUsCm,
    // A band wider than a weak aim ends at a tenth of it: nothing at all is never in the band.
    lowEcUsCm: Math.max(netEcUsCm - band.below * times, 0.1 * netEcUsCm),
    highEcUsCm: netEcUsCm + band.above * times,
    hardEcUsCm: netEcUsCm + band.hard * times,
  });
}
