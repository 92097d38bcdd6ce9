import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { daysOf, HOT_DAY_TIMES, monthsOf, thirstByMonth, thirstOver, usualYear, type PlaceYear } from './index.ts';

const steady: PlaceYear = {
  temperatureC: Array(12).fill(22),
  humidityPct: Array(12).fill(50),
  light: Array(12).fill(0.5),
};

describe('how thirsty the months are', () => {
  it('lamps in a steady room know no season', () => {
    for (const month of thirstByMonth(steady)) expect(month).toBeCloseTo(1, 12);
    for (const month of thirstByMonth(usualYear('lamps', 54))) expect(Math.abs(month - 1)).toBeLessThan(0.1);
  });
  it('a northern window drinks most in summer, a southern one in its own', () => {
    const north = thirstByMonth(usualYear('bright', 54));
    const south = thirstByMonth(usualYear('bright', -35));
    expect(north[5]!).toBeGreaterThan(1.4);
    expect(north[11]!).toBeLessThan(0.7);
    expect(south[11]!).toBeGreaterThan(1.2);
    expect(south[5]!).toBeLessThan(0.8);
  });
  it('drier air means more thirst in that month', () => {
    const dry = { ...steady, humidityPct: steady.humidityPct.map((h, i) => (i === 1 ? 25 : h)) };
    expect(thirstByMonth(dry)[1]!).toBeGreaterThan(1.15);
  });
  it('the mean of the year is 1 wherever a place stands', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -60, max: 60, noNaN: true }),
        fc.constantFrom('bright' as const, 'lamps' as const, 'outdoors' as const),
        (latitude, light) => {
          const months = thirstByMonth(usualYear(light, latitude));
          expect(months.reduce((a, b) => a + b, 0) / 12).toBeCloseTo(1, 9);
          expect(Math.min(...months)).toBeGreaterThanOrEqual(0);
        },
      ),
    );
  });
  it('between two middles of months it goes evenly', () => {
    const thirst = [1, 2, 1, 1, 1, 1, 1, 1, 1, 1, 1, 3];
    expect(thirstOver(thirst, '2026-02-14', 2)).toBeCloseTo(2, 6);
    const late = thirstOver(thirst, '2026-01-29', 2);
    expect(late).toBeGreaterThan(1.4);
    expect(late).toBeLessThan(1.6);
    // Over the turn of the year December reaches into January.
    expect(thirstOver(thirst, '2026-01-01', 1)).toBeGreaterThan(1.5);
  });
});

describe('days that were otherwise than their month', () => {
  const even = new Array<number>(12).fill(1);
  it('count as they were, within the days that are asked for', () => {
    const told = ['2026-07-03', '2026-07-04', '2026-08-20'].map((on) => ({ on, times: HOT_DAY_TIMES }));
    expect(thirstOver(even, '2026-07-01', 7, told)).toBeCloseTo((5 + 2 * HOT_DAY_TIMES) / 7, 9);
    expect(thirstOver(even, '2026-07-05', 7, told)).toBe(1);
    // The day of the next filling belongs to the next.
    expect(thirstOver(even, '2026-07-01', 2, told)).toBe(1);
  });
  it('of a logger are those far from their month’s mean, and the mean day is none', () => {
    const line = (on: string, temperatureC: number) => ({ on, temperatureC, humidityPct: 50 });
    const days = Array.from({ length: 28 }, (_, i) => line(`2026-07-${String(i + 1).padStart(2, '0')} 12:00`, 20));
    const found = daysOf([...days, line('2026-07-29 14:00', 34), line('2026-07-29 02:00', 30)]);
    expect(found.map((d) => d.on)).toEqual(['2026-07-29']);
    expect(found[0]!.times).toBeGreaterThan(1.3);
    expect(daysOf(days)).toEqual([]);
    // A file that was put together of two, with a day in both, says the same.
    const twice = [...days, line('2026-07-29 14:00', 34), line('2026-07-29 02:00', 30)];
    expect(daysOf([...twice, ...twice.slice(-2)])).toEqual(found);
    expect(daysOf([])).toEqual([]);
  });
});

describe('what a logger covers', () => {
  it('is taken as means of its months; the others stay open', () => {
    const { temperatureC, humidityPct } = monthsOf([
      { on: '2026-03-01', temperatureC: 14, humidityPct: 60 },
      { on: '2026-03-20', temperatureC: 16, humidityPct: 70 },
      { on: '2026-04-02', temperatureC: 18, humidityPct: 55 },
    ]);
    expect(temperatureC.slice(1, 5)).toEqual([null, 15, 18, null]);
    expect(humidityPct[2]).toBe(65);
  });
});
