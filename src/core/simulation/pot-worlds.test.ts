import { describe, expect, it } from 'vitest';
import {
  drawPot,
  fillWorld,
  LAYERED_WORLDS,
  POT_WORLDS,
  repotted,
  reservoirOf,
  seededRandom,
  simEc,
  simPh,
  tipAndFlush,
  worldDay,
  type LivingPot,
  type WorldMix,
} from './index.ts';
import { dissolvedIn, drawLayered, fillLayered, flushLayered, layeredDay, setUpLayered } from './layered-pot.ts';

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

describe.each(LAYERED_WORLDS)('a pot of the layers of %s', (world) => {
  it('loses no salts where roots take none, however it stands', () => {
    for (let i = 0; i < 12; i++) {
      const pot = { ...drawLayered(world, seededRandom(40 + i), 0.18), uptake: 0, roots: 0 };
      let now = fillLayered(pot, setUpLayered(pot), FEED);
      const before = dissolvedIn(pot, now);
      for (let day = 0; day < 10; day++) now = layeredDay(pot, now, 1);
      const after = dissolvedIn(pot, now);
      expect(after.ec).toBeCloseTo(before.ec, 6);
      expect(after.phosphate).toBeCloseTo(before.phosphate, 9);
      expect(after.ammonium).toBeLessThanOrEqual(before.ammonium + 1e-9);
    }
  });
  it('keeps what its pores hold where it is only tipped out', () => {
    const pot = drawLayered(world, seededRandom(40), 0.18);
    const now = layeredDay(pot, fillLayered(pot, setUpLayered(pot), FEED), 1);
    expect(flushLayered(pot, now, RAIN, 0).now.bodies.slice(1)).toEqual(now.bodies.slice(1));
  });
});

describe.each(POT_WORLDS)('a pot of the world of %s', (world) => {
  const pots = Array.from({ length: 12 }, (_, i) => drawPot(world, seededRandom(40 + i), 0.18));
  it('thickens, drifts and is never emptier than its film', () => {
    for (const pot of pots) {
      let now = fillWorld(pot, FEED);
      for (let day = 0; day < 40; day++) now = worldDay(now, 1.2);
      expect(now.free).toBeGreaterThan(0.02);
      expect(now.free).toBeLessThanOrEqual(1.04);
      expect(simEc(reservoirOf(now))).toBeGreaterThan(10);
      expect(simPh(reservoirOf(now))).toBeGreaterThan(2.5);
      expect(simPh(reservoirOf(now))).toBeLessThan(10.5);
    }
  });
  it('is flushed towards the water it is flushed with', () => {
    for (const pot of pots) {
      let now = fillWorld(pot, FEED);
      for (let day = 0; day < 7; day++) now = worldDay(now, 1);
      const runOff = (times: number) => simEc(tipAndFlush(now, RAIN, times).runOff);
      expect(runOff(6)).toBeLessThan(runOff(0.5));
    }
  });
  it('in other clay keeps its plant: other alkali, as thirsty as it was', () => {
    const week = (pot: LivingPot) => {
      let now = fillWorld(pot, FEED);
      for (let day = 0; day < 4; day++) now = worldDay(now, 1);
      return now;
    };
    const random = seededRandom(7);
    for (const pot of pots) {
      const anew = repotted(week(pot), random);
      expect(anew.free).toBe(0);
      expect(week(anew).free).toBeCloseTo(week(pot).free, 2);
      expect(simPh(reservoirOf(week(anew)))).not.toBe(simPh(reservoirOf(week(pot))));
    }
  });
});
