import fc from 'fast-check';
import { normal, seededRandom } from '../simulation/index.ts';
import { describe, expect, it } from 'vitest';
import {
  afterFlush,
  carefulEfficiency,
  flushForPot,
  flushRange,
  FLUSH_EFFICIENCY,
  type FlushWater,
  type PotToFlush,
} from './index.ts';

const TAP: FlushWater = { id: 'tap', ecUsCm: 424, scarce: false };
const STILL: FlushWater = { id: 'still', ecUsCm: 18, scarce: true };
const RAIN: FlushWater = { id: 'rain', ecUsCm: 48, scarce: false };
const pot: PotToFlush = {
  poresEcUsCm: 450,
  poreMl: 62,
  reservoirMl: 260,
  fillMl: 250,
  efficiency: FLUSH_EFFICIENCY,
  mixEcUsCm: 200,
  habitTimes: 3,
  compareMl: 780,
};

describe('the flush of a pot', () => {
  it('wets all the clay at the least, and the plentiful water does it alone where it is weak enough', () => {
    const plan = flushForPot({ ...pot, poresEcUsCm: 150 }, [TAP, RAIN, STILL])!;
    expect(plan.why).toBe('habit');
    expect(plan.stages).toEqual([{ waterId: 'rain', ml: 275 }]);
  });
  it('no volume of tap brings a run-off under the tap: it is finished with still water, and with as little as does', () => {
    const plan = flushForPot(pot, [TAP, STILL])!;
    expect(plan.why).toBe('salts');
    expect(plan.stages.at(-1)!.waterId).toBe('still');
    expect(plan.runOffEcUsCm).toBeLessThanOrEqual(1.2 * 200 + 1e-9);
    const alone = flushForPot(pot, [STILL])!;
    expect(plan.scarceMl).toBeLessThan(alone.scarceMl);
  });
  it('stays as usual where more would leave what no pen could tell from it', () => {
    const gentle = { ...pot, poresEcUsCm: 180, compareMl: 150 };
    const plan = flushForPot(gentle, [RAIN])!;
    expect(plan).toMatchObject({ why: 'usual', totalMl: 150, stages: [{ waterId: 'rain', ml: 150 }] });
    // Salts that must out are another matter, and what is usual by being more is no reason for more.
    expect(flushForPot({ ...pot, compareMl: 150 }, [RAIN])!.why).toBe('salts');
    expect(flushForPot({ ...gentle, compareMl: 780 }, [RAIN])!).toMatchObject({ why: 'habit', totalMl: 275 });
    expect(flushForPot({ ...gentle, compareMl: 0 }, [RAIN])!.why).toBe('habit');
  });
  it('a pot that is never flushed is left alone while its salts are low, and not when they are high', () => {
    expect(flushForPot({ ...pot, poresEcUsCm: 180, habitTimes: 0 }, [RAIN])!).toMatchObject({
      why: 'none',
      totalMl: 0,
    });
    expect(flushForPot({ ...pot, habitTimes: 0 }, [RAIN])!.why).toBe('salts');
  });
  it('says where no flush does it, and asks for no more than five reservoirs', () => {
    const stuck = flushForPot({ ...pot, poresEcUsCm: 4000, efficiency: { mean: 0.1, sd: 0.02 } }, [RAIN])!;
    expect(stuck.why).toBe('notEnough');
    expect(stuck.totalMl).toBeLessThanOrEqual(5 * 260);
  });
  it('no water, no plan', () => expect(flushForPot(pot, [])).toBeUndefined());
  it('what it foretells is what the flush formula gives, stage by stage, and the mix carries the rest', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 150, max: 900, noNaN: true }),
        fc.double({ min: 0.2, max: 0.95, noNaN: true }),
        (poresEcUsCm, mean) => {
          const efficiency = { mean, sd: 0.1 };
          const plan = flushForPot({ ...pot, poresEcUsCm, efficiency }, [TAP, RAIN, STILL])!;
          const waters = { tap: TAP, rain: RAIN, still: STILL };
          const end = plan.stages.reduce(
            (ec, { waterId, ml }) =>
              afterFlush(
                ec,
                waters[waterId as keyof typeof waters].ecUsCm,
                ml,
                pot.poreMl,
                carefulEfficiency(efficiency),
              ),
            poresEcUsCm,
          );
          expect(plan.runOffEcUsCm).toBeCloseTo(end, 6);
          expect(plan.afterFillEcUsCm).toBeCloseTo((250 * 200 + 62 * end) / 312, 6);
        },
      ),
    );
  });
});

describe('between what a flush ends', () => {
  const pot: PotToFlush = {
    poresEcUsCm: 600,
    poreMl: 60,
    reservoirMl: 250,
    fillMl: 240,
    efficiency: { mean: 0.6, sd: 0.15 },
    mixEcUsCm: 200,
    habitTimes: 1,
    compareMl: 250,
  };
  const waters = [{ id: 'rain', ecUsCm: 20, scarce: false }];
  const stages = [{ waterId: 'rain', ml: 250 }];
  it('is wider where less is known of the pores or of the mixing, and holds what the middle says', () => {
    const width = (more: Partial<PotToFlush>, poresSd: number) => {
      const { runOff } = flushRange({ ...pot, ...more }, stages, waters, poresSd);
      return runOff.high - runOff.low;
    };
    expect(width({}, 0.2)).toBeGreaterThan(width({}, 0.05));
    expect(width({}, 0.05)).toBeGreaterThan(width({ efficiency: { mean: 0.6, sd: 0.02 } }, 0.05));
    const middle = afterFlush(600, 20, 250, 60, 0.6);
    const { runOff, filled } = flushRange(pot, stages, waters, 0.1);
    expect(runOff.low).toBeLessThan(middle);
    expect(runOff.high).toBeGreaterThan(middle);
    expect(filled.low).toBeLessThan(filled.high);
  });
  it('with no flush is what stands in it, and never below nothing', () => {
    const { runOff } = flushRange(pot, [], waters, 0);
    expect(runOff.low).toBeCloseTo(600, 6);
    expect(runOff.high).toBeCloseTo(600, 6);
    expect(flushRange({ ...pot, poresEcUsCm: 0 }, stages, waters, 0.3).runOff.low).toBeGreaterThanOrEqual(0);
  });
  it('holds what simulated flushes of another mixing end with, nine times in ten', () => {
    const random = seededRandom(31);
    let held = 0;
    for (let n = 0; n < 300; n++) {
      const efficiency = Math.min(1, Math.max(0.1, 0.6 + 0.15 * normal(random)));
      const pores = 600 * Math.exp(0.1 * normal(random));
      const truth = afterFlush(pores, 20, 250, 60, efficiency);
      const { runOff } = flushRange(pot, stages, waters, 0.1);
      if (truth >= runOff.low && truth <= runOff.high) held++;
    }
    expect(held / 300).toBeGreaterThan(0.88);
  });
});
