import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../statistics/index.ts';
import { matchedDifference, unlikeNumber, unlikeShares, type Matched, type MatchedPot } from './index.ts';

const pots = (values: readonly number[], of: Partial<MatchedPot> = {}): MatchedPot[] =>
  values.map((value, i) => ({ id: `${i}`, place: 'sill', plant: 'fern', ...of, value }));
const told = (found: ReturnType<typeof matchedDifference>): Matched => {
  if (typeof found === 'string') throw new Error(found);
  return found;
};

describe('pots of two regimens, within sets of the same plant and place', () => {
  it('a place that all pots of one share is no difference of theirs', () => {
    // The porch lifts both by 40; within each place they differ by 10.
    const some = [...pots([20, 21, 22]), ...pots([60], { place: 'porch' })];
    const others = [...pots([10, 12]), ...pots([50, 51, 49, 52], { place: 'porch' })];
    const { mean, sets, by, pots: counted } = told(matchedDifference(some, others));
    expect(mean).toBeCloseTo(9.7, 0);
    expect([sets, by, counted]).toEqual([2, 'plantAndPlace', [4, 6]]);
  });
  it('other plants of the same place are taken where too few of a plant are in both', () => {
    const some = ['a', 'b', 'c', 'd'].flatMap((plant, i) => pots([20 + i], { plant }));
    const others = ['a', 'e', 'f', 'g'].flatMap((plant, i) => pots([10 + i], { plant }));
    expect(told(matchedDifference(some, others))).toMatchObject({ by: 'place', mean: 10, sets: 1, pots: [4, 4] });
  });
  it('of pots that share no place nothing is said, nor of too few', () => {
    expect(matchedDifference(pots([1, 2, 3, 4]), pots([5, 6, 7, 8], { place: 'porch' }))).toBe('nothing');
    expect(matchedDifference(pots([1, 2]), pots([5, 6, 7, 8]))).toBe('nothing');
    expect(matchedDifference([], [])).toBe('nothing');
  });
  it('where every pot is the same nothing tells how pots differ', () => {
    expect(matchedDifference(pots([0, 0, 0]), pots([0, 0, 0, 0]))).toBe('same');
    expect(matchedDifference(pots([1, 1, 1]), pots([0, 0, 0]))).toBe('same');
    // The mean of three tenths is no tenth in binary.
    expect(matchedDifference(pots([0.1, 0.1, 0.1]), pots([0.1, 0.1, 0.1]))).toBe('same');
  });
  it('turns its sign with the groups, and moves with no set’s level', () => {
    // As measures have it, in hundredths: what differs by less than a lift of hundred can carry is told alike.
    const value = fc.integer({ min: -10_000, max: 10_000 }).map((hundredths) => hundredths / 100);
    const pot = fc.record({ place: fc.constantFrom('a', 'b'), plant: fc.constantFrom('x', 'y'), value });
    fc.assert(
      fc.property(fc.array(pot, { maxLength: 12 }), fc.array(pot, { maxLength: 12 }), value, (a, b, level) => {
        const named = (all: typeof a, name: string) => all.map((one, i) => ({ ...one, id: `${name}${i}` }));
        const [some, others] = [named(a, 's'), named(b, 'o')];
        const there = matchedDifference(some, others);
        const back = matchedDifference(others, some);
        if (typeof there === 'string' || typeof back === 'string') {
          expect(back).toEqual(there);
          return;
        }
        expect(back.mean).toBeCloseTo(-there.mean, 6);
        expect(back.high).toBeCloseTo(-there.low, 6);
        const lifted = (all: readonly MatchedPot[]) =>
          all.map((one) => ({ ...one, value: one.value + (one.place === 'a' ? level : 0) }));
        const moved = told(matchedDifference(lifted(some), lifted(others)));
        expect(moved.mean).toBeCloseTo(there.mean, 6);
        expect(moved.low).toBeCloseTo(there.low, 4);
      }),
    );
  });
});

/*
 * Worlds in which the regimen does nothing, but is found more on one place and one plant: places and plants differ, and pots of one group may differ more among
 * themselves. What is called a difference here is false.
 */
describe('a regimen that does nothing', () => {
  const worlds = {
    'pots of one spread': [1, 1],
    'one group twice as uneven': [2, 1],
    'the larger group twice as uneven': [1, 2],
  } as const;
  it.each(Object.entries(worlds))('is called a difference at most 6 times in 100: %s', (_, [someSd, othersSd]) => {
    const random = seededRandom(20261201);
    const draw = () => normal(random);
    let [called, plainly, of] = [0, 0, 0];
    for (let world = 0; world < 1000; world++) {
      const level = new Map(['sill', 'shelf', 'porch', 'fern', 'moss', 'ivy'].map((key) => [key, 2 * draw()]));
      const pick = (bias: number, keys: readonly string[]) => keys[Math.min(2, Math.floor(3 * random() ** bias))]!;
      const group = (n: number, bias: number, sd: number, name: string) =>
        Array.from({ length: n }, (_, i): MatchedPot => {
          const [place, plant] = [pick(bias, ['sill', 'shelf', 'porch']), pick(bias, ['fern', 'moss', 'ivy'])];
          return { id: `${name}${i}`, place, plant, value: level.get(place)! + level.get(plant)! + sd * draw() };
        });
      const [some, others] = [group(9, 2, someSd, 's'), group(16, 0.6, othersSd, 'o')];
      const found = matchedDifference(some, others);
      if (found === 'same' || found === 'nothing' || found.by !== 'plantAndPlace') continue;
      of++;
      if (found.low > 0 || found.high < 0) called++;
      // The same groups as they are, without sets: what a grower would do by heart.
      const one = ({ value, id }: MatchedPot): MatchedPot => ({ id, value, place: '', plant: '' });
      const heart = told(matchedDifference(some.map(one), others.map(one)));
      if (heart.low > 0 || heart.high < 0) plainly++;
    }
    expect(of).toBeGreaterThan(600);
    expect(called / of).toBeLessThanOrEqual(0.06);
    expect(plainly / of).toBeGreaterThan(0.15);
  });
});

describe('what else they differ in', () => {
  it('is a figure whose groups lie apart, in medians', () => {
    expect(unlikeNumber('size', [200, 210, 190], [300, 320, 310])).toEqual({ of: 'size', some: 200, others: 310 });
    expect(unlikeNumber('size', [200, 300, 250], [260, 240, 250])).toBeUndefined();
    expect(unlikeNumber('size', [200], [300, 310])).toBeUndefined();
  });
  it('is what one has clearly more often', () => {
    expect(unlikeShares('place', ['a', 'a', 'a', 'b'], ['b', 'b', 'c', 'a'])).toEqual([
      { of: 'place', what: 'a', some: [3, 4], others: [1, 4] },
    ]);
    expect(unlikeShares('place', ['a', 'b'], ['b', 'a'])).toEqual([]);
    expect(unlikeShares('place', [], ['b'])).toEqual([]);
  });
});
