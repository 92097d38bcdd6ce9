import { bodiesOf, courseOf, playPot, type PotSelf, type PotWater } from './pot-path.ts';
import { standAt } from './titration-curve.ts';

/** What moved the pH of a filling by a day, one after the other. */
export type DriftShares = {
  readonly poured: number;
  /** CO2 that leaves the mix itself, and its salts thickening: no clay is needed for that. */
  readonly air: number;
  /** With what the flush left in the pores. */
  readonly pores: number;
  /** With what clay, roots and microbes give. */
  readonly clay: number;
};

/**
 * The air's share, the pores' share and the clay's share of a drift, told apart by playing the filling three times.
 * @param mix the fresh mix alone, as poured @param full the mix with what stood in the pores
 */
export function driftShares(mix: PotWater, full: PotWater, self: PotSelf, days: number): DriftShares {
  const nature = { ...self.nature, clay: 0, atOnce: 0, roots: 0, acid: 0, gives: 0, before: 0 };
  const endOf = (water: PotWater, as: PotSelf) => {
    const course = courseOf(days);
    playPot(water, as, course);
    return course.ph[days]!;
  };
  return {
    poured: standAt(mix.curve, mix.standing),
    air: endOf(mix, { ...self, nature, bodies: bodiesOf(mix, nature, 0) }),
    pores: endOf(full, { ...self, nature }),
    clay: endOf(full, self),
  };
}
