import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plusDays } from '../regimen/index.ts';
import { seededRandom } from '../statistics/index.ts';
import { blooms, growthAMonth, lengthInPhoto, relativeGrowth, type Span } from './index.ts';

const place = fc.double({ min: 0.05, max: 0.45, noNaN: true });

describe('a length in a photo', () => {
  it('follows from what is known in it, whatever the picture’s shape', () => {
    expect(
      lengthInPhoto({ knownCm: 10, scale: [0.1, 0.5, 0.3, 0.5], ends: [0.1, 0.2, 0.7, 0.2], aspect: 1.5 }).cm,
    ).toBeCloseTo(30);
    // Upright in a picture twice as wide as high: half of its height is a quarter of its width.
    expect(lengthInPhoto({ knownCm: 10, scale: [0, 0, 0.25, 0], ends: [0, 0, 0, 0.5], aspect: 2 }).cm).toBeCloseTo(10);
  });
  it('is the same however the picture is turned and wherever the two stand', () =>
    fc.assert(
      fc.property(
        fc.tuple(place, place, place, place),
        fc.double({ min: 0, max: 0.4, noNaN: true }),
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        ([a, b, c, d], shift, aspect) => {
          const scale: Span = [0.1, 0.1, 0.4, 0.1];
          const length = (ends: Span) => lengthInPhoto({ knownCm: 10, scale, ends, aspect }).cm;
          const own = length([a, b, c, d]);
          expect(length([c, d, a, b])).toBeCloseTo(own, 9);
          expect(length([a + shift, b + shift, c + shift, d + shift])).toBeCloseTo(own, 6);
        },
      ),
    ));
  it('is the less sure the shorter what is known stands in the picture', () => {
    const sd = (to: number) =>
      lengthInPhoto({ knownCm: 10, scale: [0, 0, to, 0], ends: [0, 0.5, 0.8, 0.5], aspect: 1 }).sdCm / (8 / to);
    expect(sd(0.1)).toBeGreaterThan(3 * sd(0.5));
  });
  it('of one point is refused', () =>
    expect(() => lengthInPhoto({ knownCm: 10, scale: [0.2, 0.2, 0.2, 0.2], ends: [0, 0, 1, 1], aspect: 1 })).toThrow(
      /known length in the picture/,
    ));
});

describe('growth a month', () => {
  it('is told from measure to measure; too close together, or less than before, tells nothing', () =>
    expect(
      growthAMonth([
        { on: '2026-01-01', value: 10 },
        { on: '2026-01-05', value: 10.4 },
        { on: '2026-01-31', value: 12 },
        { on: '2026-03-02', value: 9 },
        { on: '2026-04-01', value: 10 },
      ]),
    ).toEqual([
      { since: '2026-01-01', on: '2026-01-31', value: 2 },
      { since: '2026-03-02', on: '2026-04-01', value: 1 },
    ]));
});

describe('growth for its size', () => {
  const on = (day: number) => plusDays('2026-01-01', day);
  it('of what doubles in a month is ln 2; a little less measured stands, much less is another leaf', () => {
    const found = relativeGrowth([
      { on: on(0), value: 10 },
      { on: on(30), value: 20 },
      { on: on(60), value: 19.5 },
      { on: on(90), value: 12 },
      { on: on(120), value: 12 },
    ]);
    expect(found.map(({ value }) => Number(value.toFixed(4)))).toEqual([0.6931, -0.0253, 0]);
  });
  it('is the same in inches, and what does not grow averages none however it is read', () => {
    const random = seededRandom(3);
    const read = Array.from({ length: 400 }, (_, i) => ({ on: on(28 * i), value: 20 + 0.2 * (random() - 0.5) }));
    const inches = read.map((one) => ({ ...one, value: one.value / 2.54 }));
    const [cm, inch] = [relativeGrowth(read), relativeGrowth(inches)];
    for (const [i, { value }] of cm.entries()) expect(inch[i]!.value).toBeCloseTo(value, 10);
    expect(Math.abs(cm.reduce((sum, { value }) => sum + value, 0) / cm.length)).toBeLessThan(0.0005);
  });
});

describe('times in flower', () => {
  it('go from the first open flower to the first day without one; the last may last', () =>
    expect(
      blooms(
        [
          { on: '2026-01-01', value: 0 },
          { on: '2026-02-01', value: 1 },
          { on: '2026-02-15', value: 4 },
          { on: '2026-03-01', value: 0 },
          { on: '2026-05-01', value: 2 },
        ],
        '2026-05-11',
      ),
    ).toEqual([
      { from: '2026-02-01', to: '2026-03-01', most: 4, days: 28 },
      { from: '2026-05-01', to: undefined, most: 2, days: 10 },
    ]));
});
