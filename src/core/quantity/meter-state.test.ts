import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkError,
  ecAt25,
  isGood,
  meterState,
  standardValue,
  STANDARD_IDS,
  taintAt,
  taintSd,
  type MeterCheck,
} from './index.ts';

const PEN = { quantity: 'ppm', scale: 0.5, resolution: 1 } as const;
const PH_PEN = { quantity: 'pH', scale: null, resolution: 0.1 } as const;
const check = (at: string, more: Partial<MeterCheck>): MeterCheck => ({
  id: at,
  at,
  standard: 'ec1413',
  shown: 707,
  temperatureC: 25,
  settled: true,
  adjusted: false,
  ...more,
});

describe('checks against standards', () => {
  it('judges a TDS pen by the share it is off', () => {
    expect(checkError(check('2026-01-01', { shown: 622 }), PEN)).toBeCloseTo(-0.12, 2);
    expect(isGood(check('2026-01-01', { shown: 622 }), PEN)).toBe(false);
    expect(isGood(check('2026-01-01', { shown: 720 }), PEN)).toBe(true);
    expect(isGood(check('2026-01-01', { shown: 707, settled: false }), PEN)).toBe(false);
  });
  it('brings what an uncompensated pen shows to 25 °C first', () => {
    const cold = check('2026-01-01', { shown: 636, temperatureC: 20 });
    expect(isGood(cold, PEN)).toBe(false);
    expect(isGood(cold, { ...PEN, compensated: false })).toBe(true);
  });
  it('judges a pH pen at the temperature of the standard', () => {
    expect(isGood(check('2026-01-01', { standard: 'ph918', shown: 9.3, temperatureC: 10 }), PH_PEN)).toBe(true);
    expect(isGood(check('2026-01-01', { standard: 'ph918', shown: 9.4, temperatureC: 30 }), PH_PEN)).toBe(false);
  });
  it('wants nothing shown in air, or two digits at most', () => {
    expect(isGood(check('2026-01-01', { standard: 'zero', shown: 2 }), PEN)).toBe(true);
    expect(isGood(check('2026-01-01', { standard: 'zero', shown: 6 }), PEN)).toBe(false);
  });
  it('brings an uncompensated reading to 25 °C', () => {
    expect(ecAt25(1271.7, 20)).toBeCloseTo(1413, 0);
    expect(() => ecAt25(1000, 80)).toThrow(/0 and 50/);
  });
});

describe('what a mark taints', () => {
  const found = check('2026-03-20T09:00:00.000Z', { shown: 622 });
  const good = check('2026-02-01T09:00:00.000Z', {});
  const mark = { id: 'm', at: '2026-03-20T09:05:00.000Z', from: null, offBy: -0.12 };

  it('taints since the last good check, not that check itself, and until it is set', () => {
    const set = check('2026-03-21T09:00:00.000Z', { shown: 700, adjusted: true });
    const { taints, off } = meterState(PEN, [set, found, good], [mark]);
    expect(off).toBeUndefined();
    expect(taintAt(taints, good.at)).toBeUndefined();
    expect(taintAt(taints, '2026-03-01T10:00:00.000Z')?.markId).toBe('m');
    expect(taintAt(taints, '2026-03-22T10:00:00.000Z')).toBeUndefined();
  });
  it('taints from the day the grower names, and still runs without a good check after', () => {
    const { taints, off } = meterState(PEN, [good, found], [{ ...mark, from: '2026-02-27T00:00:00.000Z' }]);
    expect(taintAt(taints, '2026-02-20T10:00:00.000Z')).toBeUndefined();
    expect(off?.offBy).toBe(-0.12);
    expect(taintSd(off!, 'ppm')).toBeCloseTo(0.12);
  });
  it('found off, set at once and marked after: taints what it read before it was set, not what it reads now', () => {
    const set = { ...found, adjusted: true };
    const { taints, off } = meterState(PEN, [good, set], [mark]);
    expect(off).toBeUndefined();
    expect(taints).toMatchObject([{ from: good.at, to: set.at }]);
    expect(taintAt(taints, '2026-03-21T10:00:00.000Z')).toBeUndefined();
  });
  it('taints all a pen ever read when it was never checked', () => {
    expect(taintAt(meterState(PEN, [], [mark]).taints, '2020-01-01T00:00:00.000Z')?.markId).toBe('m');
  });
  it('forgets the taint with the mark', () => {
    expect(meterState(PEN, [good, found], []).taints).toEqual([]);
  });
  it('does not depend on the order in which checks and marks arrive', () => {
    const checks = [good, found, check('2026-04-01T09:00:00.000Z', { adjusted: true })];
    fc.assert(
      fc.property(fc.shuffledSubarray(checks, { minLength: 3 }), (shuffled) => {
        expect(meterState(PEN, shuffled, [mark])).toEqual(meterState(PEN, checks, [mark]));
      }),
    );
  });
});

it('finds offset and slope of a pH pen from two standards of one day', () => {
  const checks = [
    check('2026-02-01T09:00:00.000Z', { standard: 'ph700', shown: 7.2 }),
    check('2026-02-01T09:05:00.000Z', { standard: 'ph401', shown: 4.4 }),
  ];
  const state = meterState(PH_PEN, checks, []);
  expect(state.slope).toBeCloseTo(2.8 / 2.99, 6);
  expect(state.offset).toBeCloseTo(0.39, 6);
});

it('standards run smoothly with temperature', () => {
  for (const id of STANDARD_IDS) {
    fc.assert(
      fc.property(fc.double({ min: 5, max: 34.9, noNaN: true }), (t) => {
        expect(Math.abs(standardValue(id, t) - standardValue(id, t + 0.1))).toBeLessThan(0.01);
      }),
    );
  }
});
