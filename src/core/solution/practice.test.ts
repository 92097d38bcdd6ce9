import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  alkalinityMeqL,
  blendFor,
  costOf10L,
  doseForNet,
  essentialsOf,
  readLabel,
  remarksOf,
  solve,
  titrantPerMl,
  toMeqL,
  waterFromSigns,
  waterVerdict,
  type Label,
  type ReadLabel,
} from './index.ts';
import { trendOf } from '../statistics/index.ts';

const label = (percent: Label['percent']): ReadLabel => {
  const read = readLabel({ form: 'liquid', basis: 'w/w', densityGMl: 1.2, percent, thinned: 1 });
  if (!read.ok) throw new Error('label');
  return read;
};
const water = (ecUsCm: number, kit: number | null, kind: 'still' | 'tap') => {
  const known = waterFromSigns({ ecUsCm, ph: null, alkalinityMeqL: kit, hardnessMeqL: null, kind });
  if (!known.ok) throw new Error(known.message);
  return known.composition;
};
const tap = water(424, toMeqL(8, '°dKH'), 'tap');
const still = water(18, null, 'still');
const words = (
  read: ReadLabel,
  kind: 'feed' | 'silicate' | 'living' = 'feed',
  hydroponics: 'yes' | 'unsaid' = 'unsaid',
) => remarksOf(read, { kind, hydroponics }).map((r) => r.words);

describe('what a label says for and against a product', () => {
  it('flags urea, organics, no calcium and no magnesium', () => {
    const kitchen = label({ 'urea-N': 4, 'NO3-N': 2, 'organic-N': 1, P2O5: 3, K2O: 6 });
    expect(words(kitchen)).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/urea, 57 %/),
        'organic nitrogen',
        'no calcium',
        'no magnesium',
        'no word of hydroponics',
      ]),
    );
  });
  it('has good to say of a feed made for it', () => {
    const house = label({ 'NO3-N': 5, 'NH4-N': 1, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1, Fe: 0.05 });
    expect(words(house, 'feed', 'yes')).toEqual(
      expect.arrayContaining([
        'nitrate feed, no urea',
        'has calcium',
        'made for hydroponics',
        'thin on magnesium',
        'iron as its chelate',
      ]),
    );
    expect(essentialsOf(house).missing).toEqual(['Mn', 'Zn', 'Cu', 'B', 'Mo']);
  });
  it('does not call nitrogen nitrate that the label only calls nitrogen', () => {
    expect(words(label({ N: 3, P2O5: 3, K2O: 4 }))).toContain('form of nitrogen not said');
    expect(words(label({ N: 3, P2O5: 3, K2O: 4 }))).not.toContain('nitrate feed, no urea');
  });
  it('says how much silicate is 60 mg/L, and keeps the living apart', () => {
    expect(words(label({ SiO2: 9 }), 'silicate')[0]).toMatch(/0\.56 mL in a litre/);
    expect(words(label({ K2O: 1 }), 'living')).toContain('living: no ppm aim');
  });
});

describe('what a water is good for (common practice, ½ scale)', () => {
  it.each([
    [9, 'still', 'good', 'good'],
    [26, 'still', 'warn', 'good'],
    [90, 'tap', 'good', 'good'],
    [150, 'tap', 'good', 'note'],
    [224, 'tap', 'note', 'note'],
    [260, 'tap', 'warn', 'warn'],
  ] as const)('%s ppm %s', (ppm, kind, feeding, soaks) => {
    const verdict = waterVerdict(ppm * 2, kind);
    expect([verdict.feeding.tone, verdict.soaks.tone]).toEqual([feeding, soaks]);
  });
  it('says that practice has no answer between 200 and 250', () => {
    expect(waterVerdict(448, 'tap').feeding.words).toMatch(/practice does not say/);
  });
});

describe('blends', () => {
  it('80 over still water from tap, worked against the rule of three', () => {
    const blend = blendFor(tap, still, 18 + 160)!;
    expect(blend.solved.ecUsCm).toBeCloseTo(178, 1);
    expect(blend.share).toBeGreaterThan(0.35);
    expect(blend.share).toBeLessThan(160 / (424 - 18));
    expect(blend.alkalinityMeqL).toBeCloseTo(
      blend.share * alkalinityMeqL(tap) + (1 - blend.share) * alkalinityMeqL(still),
      6,
    );
  });
  it('have no share outside the two waters', () => expect(blendFor(tap, still, 900)).toBeUndefined());
});

describe('doses and costs', () => {
  it('the dose for a net reading gives it', () => {
    const feed = label({ 'NO3-N': 5, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1 });
    fc.assert(
      fc.property(fc.double({ min: 20, max: 1200, noNaN: true }), (net) => {
        const dose = doseForNet(still, feed.perUnit, net)!;
        const base = solve(still);
        const mixed = costOf10L(
          { composition: still, costPerL: 0 },
          { perUnit: feed.perUnit, costPerUnit: 1 },
          dose,
          null,
          6,
        )!;
        expect(mixed.product).toBeCloseTo(10 * dose, 6);
        expect(base.ok).toBe(true);
        expect(dose).toBeGreaterThan(0);
      }),
      { numRuns: 30 },
    );
    expect(doseForNet(still, label({ 'urea-N': 10 }).perUnit, 100)).toBeUndefined();
  });
  it('counts the acid that hard water makes necessary', () => {
    const feed = label({ 'NO3-N': 5, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1 });
    const acid = { perUnit: titrantPerMl('nitric', 10), costPerUnit: 0.06 };
    const of = (composition: typeof tap) =>
      costOf10L({ composition, costPerL: 0.01 }, { perUnit: feed.perUnit, costPerUnit: 0.02 }, 0.3, acid, 6)!;
    expect(of(tap).acid).toBeGreaterThan(10 * of(still).acid);
    expect(of(tap).whole).toBeCloseTo(of(tap).product + of(tap).acid + 0.1, 9);
  });
});

describe('a trend', () => {
  it('is the line through points on a line, and does not rise by chance alone', () => {
    const line = trendOf([0, 1, 2, 3, 4].map((x) => [x, 2 + 3 * x] as const))!;
    expect(line.slope).toBeCloseTo(3, 9);
    expect(line.at(10).mean).toBeCloseTo(32, 9);
    expect(trendOf([0, 1, 2, 3].map((x) => [x, x % 2] as const))!.rising).toBe(false);
    expect(
      trendOf([
        [1, 1],
        [1, 2],
        [1, 3],
        [1, 4],
      ]),
    ).toBeUndefined();
    expect(trendOf([[1, 1]])).toBeUndefined();
  });
});
