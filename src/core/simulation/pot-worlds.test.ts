import { describe, expect, it } from 'vitest';
import {
  dissolvedIn,
  drawWorldPot,
  fillWorld,
  POT_WORLDS,
  reservoirOf,
  seededRandom,
  setUp,
  simEc,
  simPh,
  tipAndFlush,
  worldDay,
  type WorldMix,
} from './index.ts';

const FEED: WorldMix = {
  idealEcUsCm: 250,
  alkalinityMeqL: 0.15,
  carbonMmolL: 0.15,
  phosphateMmolL: 0.28,
  ammoniumMmolL: 0.1,
};
const RAIN: WorldMix = {
  idealEcUsCm: 30,
  alkalinityMeqL: 0.05,
  carbonMmolL: 0.07,
  phosphateMmolL: 0,
  ammoniumMmolL: 0,
};

describe.each(POT_WORLDS)('a pot of the world of %s', (world) => {
  const pots = Array.from({ length: 12 }, (_, i) => drawWorldPot(world, seededRandom(40 + i), 0.18));
  // Its reservoir and pores creep towards each other without a balance: what the demo was always made of.
  it.runIf(world !== 'steady')('loses no salts where roots take none, however it stands', () => {
    for (const made of pots) {
      const pot = { ...made, uptake: 0, roots: 0 };
      let now = fillWorld(pot, setUp(pot), FEED);
      const before = dissolvedIn(pot, now);
      for (let day = 0; day < 10; day++) now = worldDay(pot, now, 1);
      const after = dissolvedIn(pot, now);
      expect(after.ec).toBeCloseTo(before.ec, 6);
      expect(after.phosphate).toBeCloseTo(before.phosphate, 9);
      expect(after.ammonium).toBeLessThanOrEqual(before.ammonium + 1e-9);
    }
  });
  it('thickens, drifts and is never emptier than its film', () => {
    for (const pot of pots) {
      let now = fillWorld(pot, setUp(pot), FEED);
      for (let day = 0; day < 40; day++) now = worldDay(pot, now, 1.2);
      expect(now.free).toBeGreaterThan(0.02);
      expect(now.free).toBeLessThanOrEqual(1.04);
      expect(simEc(reservoirOf(now))).toBeGreaterThan(10);
      expect(simPh(reservoirOf(now))).toBeGreaterThan(2.5);
      expect(simPh(reservoirOf(now))).toBeLessThan(10.5);
    }
  });
  it('is flushed towards the water it is flushed with', () => {
    for (const pot of pots) {
      let now = fillWorld(pot, setUp(pot), FEED);
      for (let day = 0; day < 7; day++) now = worldDay(pot, now, 1);
      const runOff = (times: number) => simEc(tipAndFlush(pot, now, RAIN, times).runOff);
      expect(runOff(6)).toBeLessThan(runOff(0.5));
      expect(tipAndFlush(pot, now, RAIN, 0).now.bodies.slice(1)).toEqual(now.bodies.slice(1));
    }
  });
});
