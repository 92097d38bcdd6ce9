import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anchoredAt, composition } from '../solution/index.ts';
import { spreadOf } from '../statistics/index.ts';
import {
  curveOf,
  filledWith,
  goOnFrom,
  MEMBERS,
  natureOf,
  POTS_AT_LARGE,
  potPath,
  selfOf,
  type DoneSince,
} from './index.ts';

const feed = curveOf(
  anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 1.1, NO3: 1.15, NH4: 0.12, PO4: 0.25, CO2: 0.15, SO4: 0.05 }), 5.8)!,
);
const filled = filledWith(feed, 250, 60);
const STILL = { ecUsCm: 4, strongIonsMeqL: 0.02, ammoniumMmolL: 0 };
/** As it reads a day after the last of what was done. */
const readsAt = (done: readonly DoneSince[], days = 0) => {
  const { water } = goOnFrom(POTS_AT_LARGE, filled, 1, done);
  return potPath(water, natureOf(POTS_AT_LARGE, water, 1), days).at(-1)!;
};
const read = (found: (DoneSince & { kind: 'read' })['found'], day = 4): DoneSince => ({ kind: 'read', day, found });
const topUp = (ml: number, day = 4): DoneSince => ({ kind: 'toppedUp', day, ml, litre: STILL });

describe('a pot to which something was done since it was filled', () => {
  it('goes on from near what was found, whatever was foretold', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 60, max: 900, noNaN: true }),
        fc.double({ min: 4.5, max: 8, noNaN: true }),
        fc.integer({ min: 20, max: 240 }),
        (ecUsCm, ph, leftMl) => {
          const { water } = goOnFrom(POTS_AT_LARGE, filled, 1, [read({ ecUsCm, ph, leftMl })]);
          const members = Array.from(
            { length: MEMBERS },
            (_, m) => potPath(water, selfOf(POTS_AT_LARGE, water, 1, m), 0)[0]!,
          );
          const middle = (of: (now: (typeof members)[number]) => number) => spreadOf(members.map(of)).mean;
          expect(middle((now) => Math.log(now.ecUsCm))).toBeCloseTo(Math.log(ecUsCm), 1);
          expect(Math.abs(middle((now) => now.ph) - ph)).toBeLessThan(0.15);
          expect(Math.abs(middle((now) => now.freeMl) - leftMl)).toBeLessThan(8);
        },
      ),
      { numRuns: 30 },
    );
  });
  it('a level read alone says how strong the rest must be: the less is left, the stronger', () => {
    const [much, some, little] = [190, 150, 90].map((leftMl) => readsAt([read({ leftMl })]).ecUsCm);
    expect(some!).toBeGreaterThan(much!);
    expect(little!).toBeGreaterThan(some!);
  });
  it('what is poured on thins the reservoir and the pores by and by, and no salt comes with it', () => {
    const [none, once] = [readsAt([topUp(0.001)]), readsAt([topUp(100)])];
    expect(once.ecUsCm).toBeLessThan(none.ecUsCm);
    // The pores give back a part of what it was thinned by.
    const [later, without] = [readsAt([topUp(100)], 3), readsAt([topUp(0.001)], 3)];
    expect(later.ecUsCm / without.ecUsCm).toBeGreaterThan(once.ecUsCm / none.ecUsCm);
  });
  it('no pot is filled past its brim, however much is poured on', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 2000 }), { minLength: 1, maxLength: 4 }), (pours) => {
        const now = readsAt(pours.map((ml) => topUp(ml)));
        expect(now.freeMl).toBeLessThanOrEqual(250 + 1e-6);
        expect(now.ecUsCm).toBeGreaterThan(0);
      }),
    );
    expect(readsAt([topUp(100_000)]).ecUsCm).toBeLessThan(12);
  });
  it('goes on from the day it happened, in the order it happened', () => {
    const { day } = goOnFrom(POTS_AT_LARGE, filled, 1, [topUp(50, 2), read({ leftMl: 120 }, 5)]);
    expect(day).toBe(5);
    const [readLast, pouredLast] = [
      readsAt([topUp(60), read({ ecUsCm: 300 })]).ecUsCm,
      readsAt([read({ ecUsCm: 300 }), topUp(60)]).ecUsCm,
    ];
    expect(Math.abs(readLast - 300)).toBeLessThan(25);
    expect(pouredLast).toBeLessThan(270);
  });
  it('a reading of nothing at all is a reading', () => {
    const now = readsAt([read({ ecUsCm: 0, leftMl: 0 })]);
    expect(Number.isFinite(now.ecUsCm + now.ph + now.freeMl)).toBe(true);
    expect(now.freeMl).toBeLessThan(40);
  });
});
