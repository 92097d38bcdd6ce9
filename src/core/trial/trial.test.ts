import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../statistics/index.ts';
import {
  groupDifference,
  matchedPairs,
  neededFor,
  pairedDifference,
  smallestShown,
  verdictOf,
  type TrialPot,
} from './index.ts';

const TRIALS = 1000;
/** Shares of simulated trials with an interval that leaves nought out. */
function found(draw: (random: () => number) => readonly number[], seed = 1): number {
  const random = seededRandom(seed);
  let real = 0;
  for (let i = 0; i < TRIALS; i++) {
    const { low, high } = pairedDifference(draw(random), i + 1)!;
    if (low > 0 || high < 0) real++;
  }
  return real / TRIALS;
}
const pairs =
  (n: number, mean: number, of = normal) =>
  (random: () => number) =>
    Array.from({ length: n }, () => mean + of(random));

describe('simulated trials', () => {
  it.each([3, 6, 12])('of %i pairs with no difference are called real at most 6 times in a hundred', (n) => {
    expect(found(pairs(n, 0), n)).toBeLessThanOrEqual(0.06);
  });
  it('of a skewed outcome too, as growth and dry days are', () => {
    // Differences of two alike are even, however skewed each is.
    const skewed = (random: () => number) => Math.exp(normal(random)) - Math.exp(normal(random));
    expect(found(pairs(8, 0, skewed), 8)).toBeLessThanOrEqual(0.06);
  });
  it.each([1, 1.5, 2.5])(
    'with a true difference of %f spreads, of as many pairs as are said to be needed: found 80 ± 4 times in a hundred',
    (d) => {
      const n = neededFor('pairs', d, 1)!;
      // One pair is a whole pair: where they are few, more is shown than was asked for.
      const shown = smallestShown('pairs', n, 1);
      const share = found(pairs(n, shown), Math.round(100 * d));
      expect(share).toBeGreaterThanOrEqual(0.76);
      expect(share).toBeLessThanOrEqual(0.84);
    },
  );
  it('of two groups of unlike size and spread with no difference', () => {
    const random = seededRandom(5);
    let real = 0;
    for (let i = 0; i < TRIALS; i++) {
      const a = Array.from({ length: 5 }, () => normal(random));
      const b = Array.from({ length: 9 }, () => 2 * normal(random));
      const { low, high } = groupDifference(a, b, i)!;
      if (low > 0 || high < 0) real++;
    }
    expect(real / TRIALS).toBeLessThanOrEqual(0.06);
  });
});

describe('a difference', () => {
  it('moves with its outcomes and is turned with them; the same seed gives the same interval', () => {
    const outcomes = fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 2, maxLength: 20 });
    fc.assert(
      fc.property(outcomes, fc.integer({ min: -99, max: 99 }), fc.integer(), (values, by, seed) => {
        const plain = pairedDifference(values, seed)!;
        expect(pairedDifference(values, seed)).toEqual(plain);
        const moved = pairedDifference(
          values.map((x) => x + by),
          seed,
        )!;
        expect(moved.low - by).toBeCloseTo(plain.low, 6);
        expect(moved.high - by).toBeCloseTo(plain.high, 6);
        expect(plain.low).toBeLessThanOrEqual(plain.mean + 1e-9);
        expect(plain.high).toBeGreaterThanOrEqual(plain.mean - 1e-9);
      }),
      { numRuns: 40 },
    );
  });
  it('of one pair, or one pot a side, is none: nothing is known of the spread', () => {
    expect(pairedDifference([3], 1)).toBeUndefined();
    expect(groupDifference([3], [1, 2], 1)).toBeUndefined();
    expect(smallestShown('pairs', 1, 1)).toBe(Infinity);
    expect(smallestShown('groups', 1, 1)).toBe(Infinity);
    expect(neededFor('pairs', 0.001, 1)).toBeNull();
  });
});

describe('a verdict', () => {
  const of = (mean: number, half: number, n = 6, sd = 1) => ({ mean, low: mean - half, high: mean + half, sd, n });
  it('never says more than the numbers', () => {
    expect(verdictOf('pairs', undefined, 1)).toBe('few');
    expect(verdictOf('pairs', of(3, 1), 1)).toBe('real');
    expect(verdictOf('pairs', of(1.1, 1), 1)).toBe('small');
    expect(verdictOf('pairs', of(0.2, 0.5), 1)).toBe('none');
    expect(verdictOf('pairs', of(0.2, 3), 1)).toBe('open');
  });
});

describe('pairs', () => {
  const pot = (id: string, place: string, fillMl = 250, before: number | null = 100): TrialPot => ({
    id,
    place,
    plant: 'x',
    fillMl,
    before,
  });
  it('are of one place where they can be, the likest first, and the same whatever the order of the pots', () => {
    const pots = [pot('a', 'sill'), pot('b', 'lamp'), pot('c', 'sill'), pot('d', 'lamp'), pot('e', 'porch')];
    const { pairs: made, left } = matchedPairs(pots, 7);
    expect(made.map((pair) => pair.toSorted().join(''))).toEqual(['ac', 'bd']);
    expect(left).toEqual(['e']);
    expect(matchedPairs(pots.toReversed(), 7)).toEqual({ pairs: made, left });
  });
  it('each pot is in one pair at most; none is lost; who gets the first arm is left to the lot', () => {
    const some = fc.uniqueArray(
      fc.record({
        id: fc.uuid(),
        place: fc.constantFrom('a', 'b'),
        plant: fc.constantFrom('p', 'q'),
        fillMl: fc.integer({ min: 50, max: 900 }),
        before: fc.option(fc.integer({ min: 20, max: 400 })),
      }),
      { selector: ({ id }) => id, maxLength: 15 },
    );
    fc.assert(
      fc.property(some, fc.integer(), (pots, seed) => {
        const { pairs: made, left } = matchedPairs(pots, seed);
        const all = [...made.flat(), ...left];
        expect(all.toSorted()).toEqual(pots.map(({ id }) => id).toSorted());
        expect(left).toHaveLength(pots.length % 2);
      }),
    );
    const two = [pot('a', 'sill'), pot('b', 'sill')];
    const firsts = Array.from({ length: 400 }, (_, seed) => matchedPairs(two, seed).pairs[0]![0]);
    expect(firsts.filter((id) => id === 'a').length / 400).toBeCloseTo(0.5, 1);
  });
});
