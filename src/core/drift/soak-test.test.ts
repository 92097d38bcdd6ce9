import { describe, expect, it } from 'vitest';
import { anchoredAt, composition } from '../solution/index.ts';
import { normal, seededRandom } from '../statistics/index.ts';
import {
  asMade,
  atRest,
  blendCurves,
  compareSoaks,
  riseOf,
  curveOf,
  fitSoak,
  standAt,
  type SoakTest,
  type TitrationCurve,
} from './index.ts';

const FEED = curveOf(
  anchoredAt(composition({ Ca: 0.25, Mg: 0.12, K: 1.2, NO3: 1.35, NH4: 0.15, PO4: 0.2, CO2: 0.2, SO4: 0.1 }), 5.6)!,
);
const STILL = curveOf(anchoredAt(composition({ Na: 0.1, Cl: 0.06, CO2: 0.05 }), 7)!);
const test = (
  curve: TitrationCurve,
  kind: SoakTest['kind'],
  hourUeq: number,
  more: Partial<SoakTest> & { seed?: number } = {},
): SoakTest => {
  const random = seededRandom(more.seed ?? 3);
  const given = (minutes: number) => (hourUeq * (1 - Math.exp(-minutes / 25))) / (1 - Math.exp(-60 / 25));
  return {
    kind,
    fill: { curve, standing: asMade(curve), ml: 250 },
    covered: true,
    carbonSd: kind === 'still' ? 0.8 : 0.3,
    readings: [0, 10, 30, 60].map((minutes) => ({
      minutes,
      ph: standAt(curve, { ...asMade(curve), alkaliMeqL: given(minutes) / 250 }) + 0.03 * normal(random),
    })),
    ...more,
  };
};
const fitted = (soak: SoakTest) => {
  const result = fitSoak(soak);
  if (!result.ok) throw new Error(result.message);
  return result;
};

const LIKE = { covered: true, minutes: 60 };

describe('a soak test with the feed', () => {
  it('finds what the clay gave within its own range, nine times in ten', () => {
    let inside = 0;
    for (let i = 0; i < 40; i++) {
      const truth = 8 + 2 * i;
      const { firstHourUeq } = fitted(test(FEED, 'feed', truth, { seed: 100 + i }));
      if (truth >= firstHourUeq.low && truth <= firstHourUeq.high) inside++;
      expect(Math.abs(firstHourUeq.middle / truth - 1)).toBeLessThan(0.45);
    }
    expect(inside).toBeGreaterThanOrEqual(33);
  });
  it('is well determined, where still water with the same clay is not', () => {
    const [feed, still] = [fitted(test(FEED, 'feed', 30)), fitted(test(STILL, 'still', 6, { carbonSd: 1.2 }))];
    expect(feed.determined).toBe('well');
    expect(still.determined).toBe('poorly');
    const spread = (r: typeof feed) => r.firstHourUeq.high / r.firstHourUeq.low;
    expect(spread(still)).toBeGreaterThan(1.5 * spread(feed));
  });
  it('gives a course through the readings, with its range, and says when it still rises', () => {
    const soak = test(FEED, 'feed', 40);
    const { course, stillRising } = fitted({ ...soak, readings: soak.readings.slice(0, 3) });
    expect(course[0]!.ph).toBeCloseTo(5.6, 1);
    for (const point of course) expect(point.low).toBeLessThanOrEqual(point.high);
    expect(course.at(-1)!.ph).toBeGreaterThan(course[0]!.ph + 0.3);
    expect(stillRising).toBe(true);
  });
});

describe('what a test must reckon with', () => {
  it('conductivity bounds the answer from above: salts it did not show were not given', () => {
    const soak = test(STILL, 'still', 40);
    const free = fitted(soak).firstHourUeq.high;
    const bounded = fitted({
      ...soak,
      readings: soak.readings.map((r) => ({ ...r, ecUsCm: 20 + 5 * Number(r.minutes > 0) })),
    }).firstHourUeq.high;
    expect(bounded).toBeLessThan(free);
  });
  it('water carried over in the pores is not the clay’s doing', () => {
    const hard = curveOf(composition({ Ca: 0.7, Na: 0.3, Cl: 0.25, NO3: 0.2, CO2: 1.3 }));
    const carried = { curve: hard, standing: asMade(hard), ml: 60 };
    const body = blendCurves([
      { volume: 250, of: FEED },
      { volume: 60, of: hard },
    ]);
    const given = (minutes: number) => (40 * (1 - Math.exp(-minutes / 25))) / (1 - Math.exp(-60 / 25));
    const readings = [1, 10, 30, 60].map((minutes) => ({
      minutes,
      ph: standAt(body, { ...asMade(body), alkaliMeqL: given(minutes) / 310 }),
    }));
    const soak = { ...test(FEED, 'feed', 40), readings };
    const [counted, not] = [fitted({ ...soak, carried }).firstHourUeq.middle, fitted(soak).firstHourUeq.middle];
    expect(Math.abs(counted / 40 - 1)).toBeLessThan(0.3);
    expect(not).toBeGreaterThan(1.1 * counted);
  });
  it('left open for a day, the pH alone fixes the alkali', () => {
    const rest = (meqL: number) => atRest(FEED, 1, meqL).ph;
    const { firstHourUeq } = fitted({
      ...test(FEED, 'opened', 40),
      readings: [
        { minutes: 0, ph: rest(0) },
        { minutes: 60, ph: rest(40 / 250) },
      ],
    });
    expect(Math.abs(firstHourUeq.middle / 40 - 1)).toBeLessThan(0.2);
    expect(firstHourUeq.high / firstHourUeq.low).toBeLessThan(2);
  });
  it('one reading, a falling pH and minutes out of order are answered in plain words', () => {
    const soak = test(FEED, 'feed', 40);
    expect(fitSoak({ ...soak, readings: soak.readings.slice(0, 1) })).toMatchObject({ ok: false, why: 'tooFew' });
    expect(
      fitSoak({
        ...soak,
        readings: [
          { minutes: 0, ph: 6 },
          { minutes: 30, ph: 5.7 },
        ],
      }),
    ).toMatchObject({ ok: false, why: 'fell', message: expect.stringMatching(/check the pen/) });
    expect(
      fitSoak({
        ...soak,
        readings: [
          { minutes: 30, ph: 6 },
          { minutes: 10, ph: 6.2 },
        ],
      }),
    ).toMatchObject({ ok: false, why: 'outOfOrder' });
  });
  it('tests of different kinds are not compared as equals', () => {
    const [feed, other, still] = [
      { ...LIKE, kind: 'feed' as const, result: fitSoak(test(FEED, 'feed', 40)) },
      { ...LIKE, kind: 'feed' as const, result: fitSoak(test(FEED, 'feed', 8)) },
      { ...LIKE, kind: 'still' as const, result: fitSoak(test(STILL, 'still', 40)) },
    ];
    expect(compareSoaks(feed, still).equal).toBeUndefined();
    expect(compareSoaks(feed, other)).toEqual({ words: 'It gave more at the earlier test.', equal: false });
    expect(compareSoaks(feed, feed).equal).toBe(true);
    // Nor of unlike time, nor one covered and one open.
    expect(compareSoaks({ ...feed, minutes: 20 }, other).words).toMatch(/one stood 20 min, the other 60/);
    expect(compareSoaks(feed, { ...other, covered: false }).equal).toBeUndefined();
  });
  it('its rise is told as it was read, whatever can be reckoned from it', () => {
    const at = (...phs: number[]) => phs.map((ph, i) => ({ minutes: [0, 10, 30, 62][i]!, ph }));
    expect(riseOf(at(6, 6.2, 6.5, 6.8))).toEqual({
      ...{ by: 0.8, low: 0.8, high: 0.8, minutes: 62 },
      ...{ stillRising: true, cannotBe: false },
    });
    expect(riseOf(at(6, 6.5, 6.5))).toMatchObject({ by: 0.5, stillRising: false });
    expect(riseOf(at(6.1, 6))).toMatchObject({ by: -0.1, stillRising: false });
    expect(riseOf(at(6))).toBeUndefined();
    expect(riseOf([])).toBeUndefined();
  });
  it('of a kit’s colours it is a range; a pair that falls whichever way is said to be none', () => {
    const kit = (minutes: number, low: number, high: number) => ({ minutes, ph: (low + high) / 2, low, high });
    expect(riseOf([kit(0, 6, 6.5), kit(60, 6.5, 7)])).toMatchObject({ low: 0, high: 1, cannotBe: false });
    expect(riseOf([kit(0, 6, 6.5), kit(60, 6, 6.5)])).toMatchObject({ low: -0.5, high: 0.5, cannotBe: false });
    expect(riseOf([kit(0, 7, 7.5), kit(60, 6, 6.5)])).toMatchObject({ high: -0.5, cannotBe: true });
    // The middle falls by a quarter of a unit; the ranges need not.
    const reading = (minutes: number, ph: number, phSd: number) => ({ minutes, ph, phSd });
    const fell = { ...test(FEED, 'feed', 40), readings: [reading(0, 6.5, 0.29), reading(60, 6.25, 0.29)] };
    expect(fitSoak(fell).ok).toBe(true);
    expect(fitSoak({ ...fell, readings: [reading(0, 6.5, 0), reading(60, 6.25, 0)] })).toMatchObject({ why: 'fell' });
  });
});
