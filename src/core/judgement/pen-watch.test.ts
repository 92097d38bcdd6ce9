import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../statistics/index.ts';
import { plusDays } from '../regimen/index.ts';
import { gatherRounds, LEAST_READINGS, watchPen, type PenMiss } from './pen-watch.ts';

/** Twelve pots read once a week; from a week on, the pen is off by so much. */
function weeks(count: number, off: (week: number) => number, seed = 1, sd = 0.05): PenMiss[] {
  const random = seededRandom(seed);
  return Array.from({ length: count }, (_, week) =>
    Array.from({ length: 12 }, (_, pot) => ({
      potId: `p${pot}`,
      on: plusDays('2026-09-02', 7 * week + (pot % 3)),
      miss: off(week) + sd * normal(random),
      weight: 1,
    })),
  ).flat();
}
const today = plusDays('2026-09-02', 7 * 6 + 2);

describe('watching a pen', () => {
  it('a going-round ends with a gap, or when a pot is read again', () => {
    expect(gatherRounds(weeks(7, () => 0)).map((r) => r.length)).toEqual([12, 12, 12, 12, 12, 12, 12]);
    const again = { potId: 'p0', on: '2026-09-04', miss: 0, weight: 1 };
    expect(gatherRounds([...weeks(1, () => 0), again]).map((r) => r.length)).toEqual([12, 1]);
  });
  it('a pen that is 12 % high, or 0.3 pH, on every pot at once is said to be in nine of ten cases, with the rounds before', () => {
    const last = (by: number) => (week: number) => (week === 6 ? by : 0);
    const seeds = Array.from({ length: 100 }, (_, i) => i + 1);
    const strength = seeds.flatMap((seed) => watchPen(weeks(7, last(Math.log(1.12)), seed), 'ppm', today) ?? []);
    const ph = seeds.flatMap((seed) => watchPen(weeks(7, last(-0.3), seed, 0.1), 'pH', today) ?? []);
    expect(strength.length).toBeGreaterThan(90);
    expect(ph.length).toBeGreaterThan(90);
    expect(strength[0]!.before).toHaveLength(6);
    expect(strength[0]!.round).toMatchObject({ readings: 12, from: '2026-10-14', on: '2026-10-16' });
    expect(ph.every((off) => off.shift < -0.14)).toBe(true);
  });
  it('rounds after it agree again, mixed with the same pen: it is still asked about for three weeks', () => {
    const misses = weeks(7, (week) => (week === 4 ? 0.3 : 0));
    expect(watchPen(misses, 'pH', today)?.round.from).toBe('2026-09-30');
    expect(watchPen(misses, 'pH', plusDays(today, 30))).toBeUndefined();
  });
  it('one pot that is far off, a model that is always off the same way, or few readings say nothing of the pen', () => {
    const one = weeks(7, () => 0).map((m) => (m.potId === 'p3' ? { ...m, miss: 1 } : m));
    expect(watchPen(one, 'ppm', today)).toBeUndefined();
    expect(
      watchPen(
        weeks(7, () => 0.1),
        'ppm',
        today,
      ),
    ).toBeUndefined();
    const few = weeks(7, (week) => (week === 6 ? 0.3 : 0)).filter((m) => Number(m.potId.slice(1)) < LEAST_READINGS - 1);
    expect(watchPen(few, 'pH', today)).toBeUndefined();
  });
  it('readings that scatter without a shift raise it in fewer than one round of fifty', () => {
    let raised = 0;
    for (let seed = 1; seed <= 100; seed++)
      if (
        watchPen(
          weeks(7, () => 0, seed, 0.08),
          'ppm',
          today,
        )
      )
        raised++;
    // Three rounds of each are asked about.
    expect(raised / 300).toBeLessThan(1 / 50);
  });
  it('in whatever order the readings come', () => {
    const misses = weeks(7, (week) => (week === 6 ? 0.2 : 0));
    fc.assert(
      fc.property(fc.shuffledSubarray(misses, { minLength: misses.length }), (mixed) => {
        expect(watchPen(mixed, 'pH', today)?.round.readings).toBe(12);
      }),
      { numRuns: 20 },
    );
  });
});
