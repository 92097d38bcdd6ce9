import { mean, sampleStandardDeviation } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { groupDifference, neededFor, pairedDifference, studentQuantile } from '../../src/core/trial/index.ts';
import { matchedDifference } from '../../src/core/turn/index.ts';

describe('Student’s t: the table of Abramowitz and Stegun 1964, table 26.10 (values from memory)', () => {
  it.each([
    [0.975, 1, 12.706],
    [0.975, 2, 4.303],
    [0.975, 5, 2.571],
    [0.975, 10, 2.228],
    [0.975, 30, 2.042],
    [0.95, 7, 1.895],
    [0.995, 4, 4.604],
  ])('%f with %i degrees of freedom', (p, of, t) => {
    expect(studentQuantile(p, of)).toBeCloseTo(t, 3);
  });
});

describe('how many it takes, two-sided at 5 %, found 80 times in 100: the tables of Cohen 1988, Statistical Power Analysis (values from memory)', () => {
  it.each([
    ['pairs', 0.5, 34],
    ['pairs', 0.8, 15],
    ['pairs', 1, 10],
    ['groups', 0.2, 394],
    ['groups', 0.5, 64],
    ['groups', 0.8, 26],
    ['groups', 1, 17],
  ] as const)('%s, a difference of %f spreads', (design, difference, n) => {
    expect(neededFor(design, difference, 1)).toBe(n);
  });
});

describe('a bootstrap interval', () => {
  // Efron and Tibshirani 1993, An Introduction to the Bootstrap, table 2.1: days survived (values from memory).
  const treated = [94, 197, 16, 38, 99, 141, 23];
  const control = [52, 104, 146, 10, 51, 30, 40, 27, 46];
  it('of the mouse data: the difference 30.63, of a standard error that leaves nought inside', () => {
    const { mean: difference, low, high } = groupDifference(treated, control, 1)!;
    expect(difference).toBeCloseTo(30.63, 2);
    expect(low).toBeLessThan(0);
    expect(high).toBeGreaterThan(0);
    // Welch's interval by hand: 30.63 ± 2.26 × 28.94.
    expect(high - low).toBeGreaterThan(2 * 0.85 * 2.26 * 28.94);
    expect(high - low).toBeLessThan(2 * 1.1 * 2.26 * 28.94);
  });
  // Student 1908, The probable error of a mean: hours of sleep gained by two drugs on ten sleepers.
  const sleep = [1.2, 2.4, 1.3, 1.3, 0, 1, 1.8, 0.8, 4.6, 1.4];
  it('of Student’s sleepers: 1.58 hours, real, and near what his t gives (0.70 to 2.46)', () => {
    const { mean: difference, low, high } = pairedDifference(sleep, 1)!;
    expect(difference).toBeCloseTo(1.58, 2);
    expect(mean(sleep) / (sampleStandardDeviation(sleep) / Math.sqrt(10))).toBeCloseTo(4.06, 2);
    const half = (studentQuantile(0.975, 9) * sampleStandardDeviation(sleep)) / Math.sqrt(10);
    expect([mean(sleep) - half, mean(sleep) + half].map((x) => x.toFixed(2))).toEqual(['0.70', '2.46']);
    expect(low).toBeGreaterThan(0.55);
    expect(low).toBeLessThan(1);
    expect(high).toBeGreaterThan(2.2);
    expect(high).toBeLessThan(2.9);
  });
});

describe('pots matched within sets', () => {
  it('of one pot a side in each set it is the paired t of Student 1908 on his sleepers: 1.58 hours, 0.70 to 2.46', () => {
    const first = [0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0, 2];
    const second = [1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4];
    const of = (values: readonly number[]) =>
      values.map((value, i) => ({ id: `${i}`, place: `sleeper ${i}`, plant: '', value }));
    const found = matchedDifference(of(second), of(first));
    expect(found).toMatchObject({ sets: 10, pots: [10, 10] });
    if (typeof found === 'string') throw new Error(found);
    expect([found.mean, found.low, found.high].map((x) => x.toFixed(2))).toEqual(['1.58', '0.70', '2.46']);
  });
  it('of one set it is the two-sample t on the mouse data: 30.63 ± 2.145 × 28.0, or wider where the spreads differ', () => {
    const of = (values: readonly number[]) => values.map((value, i) => ({ id: `${i}`, place: '', plant: '', value }));
    const found = matchedDifference(of([94, 197, 16, 38, 99, 141, 23]), of([52, 104, 146, 10, 51, 30, 40, 27, 46]));
    if (typeof found === 'string') throw new Error(found);
    expect(found.mean).toBeCloseTo(30.63, 2);
    const half = found.high - found.mean;
    // Pooled by hand: s² = (6·66.77² + 8·42.48²)/14, standard error 27.5.
    expect(half).toBeGreaterThanOrEqual(2.145 * 27.3);
    expect(half).toBeLessThan(2.145 * 36);
  });
});
