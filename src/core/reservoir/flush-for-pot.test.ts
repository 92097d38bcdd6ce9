import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  afterFlush,
  carefulEfficiency,
  flushForPot,
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
