import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { afterFlush, FLUSH_EFFICIENCY, learnEfficiency, planFlush, shareLeft, type FlushWater } from './index.ts';

const TAP: FlushWater = { id: 'tap', ecUsCm: 424, scarce: false };
const STILL: FlushWater = { id: 'still', ecUsCm: 18, scarce: true };
const RAIN: FlushWater = { id: 'rain', ecUsCm: 48, scarce: false };
const pores = (ecUsCm: number) => ({ ecUsCm, ml: 60, efficiency: 0.6 });

describe('a flush', () => {
  it('no volume of tap brings the run-off under the tap’s own strength; twice the water is the square of what is left', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 5000, noNaN: true }),
        fc.double({ min: 450, max: 2000, noNaN: true }),
        (ml, ec) => {
          expect(afterFlush(ec, TAP.ecUsCm, ml, 60, 0.6)).toBeGreaterThanOrEqual(TAP.ecUsCm);
          expect(shareLeft(2 * ml, 60, 0.6)).toBeCloseTo(shareLeft(ml, 60, 0.6) ** 2, 12);
        },
      ),
    );
  });
  it('conserves salts: what runs off and what stays is what was there and what came', () => {
    // In small pours, each mixed and run off: the closed form is their limit.
    const [ml, poreMl, efficiency] = [300, 60, 1];
    const steps = 20_000;
    let [ec, ran] = [900, 0];
    for (let i = 0; i < steps; i++) {
      ran += (ec * ml) / steps;
      ec += ((TAP.ecUsCm - ec) * ml) / steps / poreMl;
    }
    expect(ec).toBeCloseTo(afterFlush(900, TAP.ecUsCm, ml, poreMl, efficiency), 0);
    expect(ran + ec * poreMl).toBeCloseTo(900 * poreMl + TAP.ecUsCm * ml, 3);
  });
});

describe('how much of which water', () => {
  it('tap and a finish of still water where the tap alone is too strong, with less still water than still water alone', () => {
    const both = planFlush(pores(900), [TAP, STILL], 120)!;
    const alone = planFlush(pores(900), [STILL], 120)!;
    expect(both.stages.map((s) => s.waterId)).toEqual(['tap', 'still']);
    expect(both.scarceMl).toBeLessThan(alone.scarceMl);
    expect(both.runOffEcUsCm).toBeLessThanOrEqual(120);
  });
  it('a plentiful water that is weak enough is taken alone; nothing is poured where nothing needs it', () => {
    expect(planFlush(pores(500), [TAP, STILL, RAIN], 120)!.stages.map((s) => s.waterId)).toEqual(['rain']);
    expect(planFlush(pores(100), [TAP, STILL], 120)).toEqual({ stages: [], runOffEcUsCm: 100, scarceMl: 0 });
    expect(planFlush(pores(500), [TAP], 120)).toBeUndefined();
    expect(() => planFlush({ ...pores(500), efficiency: 0 }, [STILL], 120)).toThrow(/between 0 and 1/);
  });
  it('reaches what was wanted, whatever the pot', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 200, max: 1500, noNaN: true }),
        fc.double({ min: 60, max: 190, noNaN: true }),
        fc.double({ min: 0.3, max: 1, noNaN: true }),
        (ec, wanted, efficiency) => {
          const plan = planFlush({ ecUsCm: ec, ml: 60, efficiency }, [TAP, STILL, RAIN], wanted);
          if (plan) expect(plan.runOffEcUsCm).toBeLessThanOrEqual(wanted + 1e-6);
        },
      ),
    );
  });
});

describe('how well a pot flushes', () => {
  const seen = (efficiency: number, flushMl = 120) => ({
    poresEcUsCm: 500,
    waterEcUsCm: 48,
    flushMl,
    poreMl: 60,
    runOffEcUsCm: afterFlush(500, 48, flushMl, 60, efficiency),
  });
  it('is learned from run-offs, and narrows', () => {
    for (const truth of [0.3, 0.6, 0.9]) {
      const belief = Array.from({ length: 8 }).reduce<{ mean: number; sd: number }>(
        (b) => learnEfficiency(b, seen(truth)),
        FLUSH_EFFICIENCY,
      );
      expect(belief.mean).toBeCloseTo(truth, 1);
      expect(belief.sd).toBeLessThan(0.5 * FLUSH_EFFICIENCY.sd);
    }
  });
  it('nothing is learned where nothing was poured, or the water was as strong as the pot', () => {
    expect(learnEfficiency(FLUSH_EFFICIENCY, seen(0.6, 0))).toBe(FLUSH_EFFICIENCY);
    expect(learnEfficiency(FLUSH_EFFICIENCY, { ...seen(0.6), poresEcUsCm: 50 })).toBe(FLUSH_EFFICIENCY);
  });
});
