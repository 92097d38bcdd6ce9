import { describe, expect, it } from 'vitest';
import { decidePh, wholeDose, type PhSituation } from '../../src/core/correction/index.ts';
import {
  composition,
  OPEN,
  readLabel,
  recommendOrder,
  solve,
  titrantPerMl,
  waterFromTest,
  type Addition,
} from '../../src/core/solution/index.ts';
import {
  aimWithin,
  feedAim,
  litresToThin,
  MOST_DROPS,
  planThinning,
  USE_RULES,
  type Tool,
} from '../../src/core/strength/index.ts';
import { ecFromPpm, ppmFromEc } from '../../src/core/quantity/index.ts';

/* What the trade goes by at the bench. Source: common practice, no published source, unless a check names another. ppm on a ½-scale pen. */

const half = (ecUsCm: number) => ppmFromEc(ecUsCm, 0.5);
const label = (form: 'liquid' | 'powder', densityGMl: number | null, percent: object) => {
  const read = readLabel({ form, basis: 'w/w', densityGMl, percent, thinned: 1 });
  if (!read.ok) throw new Error(read.issues[0]!.message);
  return read;
};
const TOOLS: Tool[] = [{ kind: 'dropper', id: 'd', name: 'dropper', dropsPerMl: 24 }];

describe('strength (common practice)', () => {
  it('an Epsom soak of +100: 20 to 30 over is let be, near 200 is thinned out', () => {
    const soak = aimWithin(ecFromPpm(100, 0.5), USE_RULES.soak.band);
    expect(half(soak.highEcUsCm)).toBe(130);
    expect(half(soak.lowEcUsCm)).toBe(90);
    expect(half(soak.hardEcUsCm)).toBe(180);
    expect(USE_RULES.soak).toMatchObject({ phLow: 6.5, phHigh: 7, holdMinutes: 30 });
  });
  it('constant dilute: 75 to 125 over base, best near 90', () => {
    const feed = feedAim(USE_RULES.feed.netEcUsCm);
    expect(half(feed.netEcUsCm)).toBe(90);
    expect(half(feed.lowEcUsCm)).toBeGreaterThanOrEqual(75);
    expect(half(feed.highEcUsCm)).toBeLessThanOrEqual(125);
  });
  it('strength scales with dose: 30 drops gave 175 to 200, so 15 drops gave 93', () => {
    expect(187 * (15 / 30)).toBeCloseTo(93, -0.5);
    expect(MOST_DROPS).toBeGreaterThanOrEqual(30);
  });
  it('+100 of Epsom salt is about 0.22 g/L and 22 mg/L magnesium; on a 0.7-scale pen a third less', () => {
    const epsom = label('powder', null, { Epsom: 100 });
    const grams = ecFromPpm(100, 0.5) / epsom.ecPerUnitL;
    expect(grams).toBeCloseTo(0.22, 2);
    expect(grams * epsom.elements.Mg).toBeCloseTo(22, 0);
    expect(ecFromPpm(100, 0.7) / ecFromPpm(100, 0.5)).toBeCloseTo(0.71, 2);
  });
  it('calcium–magnesium: some 16 drops to the US gallon of a usual liquid of 4 to 5 % calcium are about 50 over base', () => {
    const calmag = label('liquid', 1.25, { 'NO3-N': 4, Ca: 4.5, Mg: 1 });
    const perL = 16 / 24 / 3.785;
    expect(half(perL * calmag.ecPerUnitL)).toBeGreaterThan(25);
    expect(half(perL * calmag.ecPerUnitL)).toBeLessThan(75);
  });
});

describe('thinning (common practice)', () => {
  it('V·(net/target − 1): a jug of 4.2 L at 100 wants 1.9 L to stand at 69', () => {
    expect(litresToThin(4.2, 100, 69)).toBeCloseTo(1.9, 1);
  });
  it('240 for an aim of 100 in a 5-L jug with 3 L in it: pour off, then fill', () => {
    const plan = planThinning(3, 230, 100, 5);
    expect(plan.kind).toBe('pourOffAndReplace');
    expect((3 - (plan.kind === 'pourOffAndReplace' ? plan.pourOffL : 0)) * 230).toBeCloseTo(5 * 100, 6);
  });
});

describe('the order (common practice): water, silicate, calcium–magnesium, feed, Epsom, then acid', () => {
  it('is what the ion products recommend for the usual products', () => {
    const of = (
      kind: Addition['kind'],
      form: 'liquid' | 'powder',
      d: number | null,
      percent: object,
      doseMlL: number,
    ): Addition => ({
      id: kind,
      name: kind,
      kind,
      perUnit: label(form, d, percent).perUnit,
      doseMlL,
    });
    const { order } = recommendOrder(composition({ CO2: 0.02 }), [
      of('acid', 'liquid', 1.055, { nitric: 10 }, 0.1),
      of('magnesium', 'powder', null, { Epsom: 100 }, 0.05),
      of('feed', 'liquid', 1.2, { 'NO3-N': 5, 'NH4-N': 1, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1 }, 0.4),
      of('calmag', 'liquid', 1.25, { 'NO3-N': 3.4, Ca: 3.6, Mg: 0.8 }, 0.3),
      of('silicate', 'liquid', 1.1, { SiO2: 9 }, 0.5),
    ]);
    expect(order.map((a) => a.kind)).toEqual(['silicate', 'calmag', 'feed', 'magnesium', 'acid']);
  });
});

describe('pH (common practice)', () => {
  const situation = (total: PhSituation['total'], ph: number, volumeL: number): PhSituation => ({
    total,
    alkalinitySd: 0.02,
    responseSd: 0.1,
    carbonateSd: 0,
    volumeL,
    window: { low: 5.5, high: 6.5 },
    seen: [{ ph, sd: 0.05, after: [] }],
    stirred: [],
    correctionsUsed: 0,
    perMl: titrantPerMl('nitric', 10),
    direction: 'down',
    tools: TOOLS,
  });
  const soft = composition({ Ca: 0.1, K: 1.3, NO3: 1.2, PO4: 0.2, CO2: 0.15 });
  it('in soft water one drop may move a bucket by a tenth; hard water takes many times as much', () => {
    const tap = waterFromTest(
      { method: 'kit', alkalinity: { value: 8, unit: '°dKH' }, hardness: null },
      { ecUsCm: 424, ph: 7.6, kind: 'tap' },
    );
    if (!tap.ok) throw new Error(tap.message);
    const easy = wholeDose(situation(soft, 7, 10), 6) as { ml: number };
    const hard = wholeDose(situation(tap.composition, 7.6, 10), 6) as { ml: number };
    expect(hard.ml).toBeGreaterThan(8 * easy.ml);
    expect(1 / (easy.ml * 24)).toBeGreaterThan(0.02);
  });
  it('10 % nitric in 4 L of soft water is first thinned 1 in 20', () => {
    const plain = composition({ Ca: 0.05, K: 0.5, NO3: 0.52, PO4: 0.02, CO2: 0.1 });
    const decision = decidePh(situation(plain, 7, 4));
    expect(decision.kind === 'dose' && decision.ratio).toBe(20);
  });
  it('hard tap brought to 5.5 and left open climbs to about 7.8 by itself, very soft tap to about 6.9 (the model’s own teaching)', () => {
    const climbed = (dKh: number, ecUsCm: number) => {
      const tap = waterFromTest(
        { method: 'kit', alkalinity: { value: dKh, unit: '°dKH' }, hardness: null },
        { ecUsCm, ph: 7.6, kind: 'tap' },
      );
      if (!tap.ok) throw new Error(tap.message);
      const dose = wholeDose({ ...situation(tap.composition, 7.6, 1), window: { low: 5, high: 6 } }, 5.5) as {
        ml: number;
      };
      const acid = titrantPerMl('nitric', 10);
      const after = { ...tap.composition, NO3: tap.composition.NO3 + acid.NO3 * dose.ml };
      const open = solve(after, OPEN);
      return open.ok ? open.ph : NaN;
    };
    expect(climbed(8, 424)).toBeGreaterThan(7.4);
    expect(climbed(8, 424)).toBeLessThan(8.1);
    expect(climbed(1, 80)).toBeGreaterThan(6.5);
    expect(climbed(1, 80)).toBeLessThan(7.3);
  });
});
