import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  aimWithin,
  countableInGranules,
  finestStepMl,
  GRANULES,
  planSpoonStock,
  planStock,
  RIGHT_BEFORE_TRUST,
  roundToTool,
  stockServes,
  thinningToMeasure,
  trustOf,
  USE_RULES,
  type RecipeRun,
  type Tool,
} from './index.ts';

const TOOLS: Tool[] = [
  { kind: 'dropper', id: 'd', name: 'glass dropper', dropsPerMl: 18 },
  { kind: 'syringe', id: 's5', name: '5 mL syringe', capacityMl: 5, stepMl: 0.2 },
  { kind: 'syringe', id: 's20', name: '20 mL syringe', capacityMl: 20, stepMl: 1 },
];
const EPSOM = 897;
const SOAK = aimWithin(160, USE_RULES.soak.band);

describe('aims within the band of their use', () => {
  it('a soak’s band is so many ppm, a feed’s a share; the limit lies above', () => {
    expect(SOAK).toEqual({ netEcUsCm: 160, lowEcUsCm: 140, highEcUsCm: 220, hardEcUsCm: 320 });
    expect(aimWithin(180, USE_RULES.feed.band)).toMatchObject({ lowEcUsCm: 162, highEcUsCm: 216 });
    expect(() => aimWithin(180, { in: 'share', below: 0.1, above: 0.5, hard: 0.4 })).toThrow(/band is not in order/);
  });
  it('a band wider than a weak aim never holds nothing at all', () => {
    expect(aimWithin(15, USE_RULES.soak.band).lowEcUsCm).toBeGreaterThan(0);
  });
});

describe('solids', () => {
  it('a stock can be weighed, dissolves, lasts the batch, and a step of it is no more than half the band', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.25, max: 40, noNaN: true }), fc.constantFrom(0.01, 0.1, 1), (volumeL, stepG) => {
        const stock = planStock(EPSOM, volumeL, SOAK, TOOLS, stepG);
        if (!stock) return;
        expect(stock.grams).toBeGreaterThanOrEqual(20 * stepG);
        expect(stock.waterMl / stock.grams).toBeGreaterThanOrEqual(4);
        expect(stock.grams * EPSOM).toBeGreaterThanOrEqual(160 * volumeL);
        const moves = (finestStepMl(TOOLS) * EPSOM * stock.grams) / stock.waterMl / volumeL;
        expect(moves).toBeLessThanOrEqual((SOAK.highEcUsCm - SOAK.lowEcUsCm) / 2);
        const drawnMl = (160 * volumeL * stock.waterMl) / (EPSOM * stock.grams);
        const large = planStock(EPSOM, volumeL, SOAK, TOOLS, stepG, 4);
        expect(stockServes(stock, stock.waterMl, EPSOM, volumeL, SOAK, TOOLS)).toBe(true);
        expect(stockServes(stock, 1.1 * drawnMl, EPSOM, volumeL, SOAK, TOOLS)).toBe(false);
        if (!large) return;
        const drawnOfLarge = (160 * volumeL * large.waterMl) / (EPSOM * large.grams);
        for (const taken of [0, 1, 2, 3])
          expect(stockServes(large, large.waterMl - taken * drawnOfLarge, EPSOM, volumeL, SOAK, TOOLS)).toBe(true);
      }),
    );
  });
  it('five litres at +80 are 2 g in 50 mL on a 0.1-g scale; a cupful can be counted in granules, a bucket cannot', () => {
    expect(planStock(EPSOM, 5, SOAK, TOOLS, 0.1)).toEqual({ grams: 2, waterMl: 50 });
    expect(countableInGranules(EPSOM, 1, SOAK)).toBe(true);
    expect(countableInGranules(EPSOM, 20, SOAK)).toBe(false);
    expect(roundToTool(0.14, [GRANULES])).toMatchObject({
      steps: 6,
      doseMl: expect.closeTo(0.15, 9) as number,
      relativeSd: 0.25,
    });
  });
});

describe('what is given by measure', () => {
  it('is rounded to the nearest step, never to none, and thinned first where it would be a few drops', () => {
    expect(roundToTool(2.3, TOOLS).doseMl).toBeCloseTo(2.2, 9);
    expect(roundToTool(2.35, TOOLS).doseMl).toBeCloseTo(2.4, 9);
    expect(roundToTool(0.001, TOOLS).steps).toBe(1);
    expect(thinningToMeasure(2, TOOLS)).toBe(1);
    expect(thinningToMeasure(0.1, TOOLS)).toBe(10);
  });
  it('goes by the level spoon where there is no scale: whole halves, enough for it, never too strong to measure', () => {
    const by = planSpoonStock(EPSOM, 5, SOAK, TOOLS, 5)!;
    expect(by.halfSpoons).toBe(Math.round(by.grams / 2.5));
    expect(by.grams).toBeGreaterThanOrEqual(planStock(EPSOM, 5, SOAK, TOOLS, 0.1)!.grams);
    expect(by.waterMl / by.grams).toBeGreaterThanOrEqual(4);
    // Quarter-mL pinches are too many to count for a hundred litres.
    expect(planSpoonStock(EPSOM, 100, SOAK, TOOLS, 0.25)).toBeUndefined();
  });
});

describe('trust in a recipe', () => {
  const usual = { solid: false, freshStock: false };
  it('is earned by coming out right three times running, lost by one that did not, and looked at again every fifth time', () => {
    expect(trustOf(['right', 'right', 'right'], usual).trusted).toBe(true);
    expect(trustOf(['right', 'right', 'wrong', 'right', 'right'], usual)).toMatchObject({
      trusted: false,
      why: 'right 2 of the 3 times it takes',
    });
    expect(trustOf([], usual).why).toMatch(/not yet read right/);
    expect(trustOf(['unread', 'unread', 'unread', 'right', 'right', 'right'], usual).trusted).toBe(true);
    expect(trustOf(['unread', 'unread', 'unread', 'unread', 'right', 'right', 'right'], usual)).toMatchObject({
      trusted: false,
      why: expect.stringMatching(/read it this once/) as string,
    });
  });
  it('is never given to solids and fresh stocks, whatever their history', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom<RecipeRun>('right', 'wrong', 'unread')), (runs) => {
        expect(trustOf(runs, { solid: true, freshStock: false }).trusted).toBe(false);
        const { trusted } = trustOf(runs, usual);
        if (trusted) expect(runs.filter((r) => r === 'right').length).toBeGreaterThanOrEqual(RIGHT_BEFORE_TRUST);
      }),
    );
  });
});
