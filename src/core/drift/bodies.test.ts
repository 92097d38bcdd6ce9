import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anchoredAt, composition } from '../solution/index.ts';
import {
  atFirst,
  bodiesDay,
  curveOf,
  eachDayOf,
  fillBodies,
  fillShares,
  flushBodies,
  litreOf,
  asMade,
  natureAt,
  QUANTITIES_OF_POT,
  type Bodies,
  type PotNature,
} from './index.ts';

const feed = curveOf(
  anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 1.1, NO3: 1.2, NH4: 0.12, PO4: 0.25, CO2: 0.15 }), 5.8)!,
);
const rain = curveOf(composition({ Ca: 0.1, Na: 0.1, Cl: 0.1, NO3: 0.05, SO4: 0.02, CO2: 0.1 }));
const MIXED = litreOf(feed, asMade(feed));
const RAIN = litreOf(rain, asMade(rain));
const DRAINED = 0.24;
const anyNature = fc
  .array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: QUANTITIES_OF_POT, maxLength: QUANTITIES_OF_POT })
  .map((z) => natureAt(z));
const still = (nature: PotNature): PotNature => ({
  ...nature,
  uptake: 0,
  clay: 0,
  atOnce: 0,
  roots: 0,
  nitrogen: 0,
  gives: 0,
});

/** Amounts in all bodies, in fills times what a litre holds. */
function heldIn(b: Bodies, nature: PotNature, free: number): number[] {
  const volumes = [free, nature.pores * DRAINED, nature.grains * DRAINED];
  return [0, 1, 2].map((k) => volumes.reduce((sum, v, i) => sum + v * b[3 * i + k]!, 0));
}

describe('the three bodies of a pot', () => {
  it('make and lose nothing by exchange and by water that leaves: salts, strong ions and ammonium', () => {
    fc.assert(
      fc.property(anyNature, fc.double({ min: 0, max: 0.12, noNaN: true }), (any, leaves) => {
        const nature = still(any);
        const b = atFirst(nature, MIXED, false);
        b[0] = 400;
        b[4] = 0.3;
        const of = eachDayOf(nature, feed, DRAINED);
        const before = heldIn(b, nature, 1);
        const told = { near: 60, gaveMeq: 0 };
        let free = 1;
        for (let day = 1; day <= 7; day++) bodiesDay(b, of, leaves, (free -= leaves), day === 1, told);
        for (const [k, held] of heldIn(b, nature, free).entries()) expect(held).toBeCloseTo(before[k]!, 6);
        expect(told.gaveMeq).toBeCloseTo(0, 12);
      }),
    );
  });
  it('what clay, roots and microbes give is what the strong ions gain', () => {
    fc.assert(
      fc.property(anyNature, (nature) => {
        const b = atFirst(nature, MIXED, false);
        const of = eachDayOf(nature, feed, DRAINED);
        const before = heldIn(b, nature, 1)[1]!;
        const told = { near: 60, gaveMeq: 0 };
        let free = 1;
        for (let day = 1; day <= 5; day++) bodiesDay(b, of, 0.08, (free -= 0.08), day === 1, told);
        expect(heldIn(b, nature, free)[1]! - before).toBeCloseTo(told.gaveMeq, 6);
      }),
    );
  });
  it('a long stand brings all three to one strength', () => {
    const nature = still(natureAt(new Float64Array(QUANTITIES_OF_POT)));
    const b = atFirst(nature, MIXED, true);
    fillBodies(b, nature, MIXED, DRAINED);
    const of = eachDayOf(nature, feed, DRAINED);
    for (let day = 1; day <= 120; day++) bodiesDay(b, of, 0, 1, day === 1, { near: 60, gaveMeq: 0 });
    expect(b[3]!).toBeCloseTo(b[0]!, 3);
    expect(b[6]!).toBeCloseTo(b[0]!, 3);
  });
  it('a pour is parted between reservoir and pores, and none of it is lost but what displaced the pores', () => {
    fc.assert(
      fc.property(anyNature, (nature) => {
        const { reservoir, pores } = fillShares(nature, DRAINED);
        expect(reservoir).toBeGreaterThan(0);
        expect(pores).toBeGreaterThan(0);
        const b = atFirst(nature, RAIN, false);
        const old = b[3]!;
        fillBodies(b, nature, MIXED, DRAINED);
        const held = nature.pores * DRAINED;
        // What the pores gained the reservoir lost: one fill of pour and the pores before are the fill and the pores after, but for the film.
        const after = (b[0]! - 0.03 * old) / 0.97 + held * b[3]!;
        expect(after).toBeCloseTo(MIXED.ecUsCm + held * old, 3);
      }),
    );
  });
  it('a flush goes to the water it is flushed with, further the more of it, as a stirred body does (closed form)', () => {
    const nature = natureAt(new Float64Array(QUANTITIES_OF_POT));
    const after = (times: number) => {
      const b = atFirst(nature, MIXED, false);
      flushBodies(b, nature, RAIN, times, DRAINED);
      return b[3]!;
    };
    const [none, one, two] = [0, 1, 2].map((times) => after(times) - RAIN.ecUsCm);
    expect(one! / none!).toBeCloseTo(two! / one!, 9);
    expect(one! / none!).toBeCloseTo(Math.exp((-nature.flushing * (1 - nature.bypass)) / (nature.pores * DRAINED)), 9);
    expect(after(50)).toBeCloseTo(RAIN.ecUsCm, 6);
  });
});
