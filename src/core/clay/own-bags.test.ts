import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CLAY_AT_LARGE, isBelief, priorFromBags, type ClayPrior } from './index.ts';

const N = CLAY_AT_LARGE.mean.length;
const all = (value: number) => CLAY_AT_LARGE.mean.map(() => value);
/** A bag that lies so far off in every coordinate, known to so much. */
const bag = (at: number, variance: number): ClayPrior => ({
  mean: all(at),
  covariance: CLAY_AT_LARGE.covariance.map((row, a) => row.map((_, b) => (a === b ? variance : 0))),
});

describe('other growers’ bags of the same make', () => {
  it('by the two-level model worked by hand: a make of a quarter, a grower of a quarter, a bag of a half', () => {
    const { mean, covariance } = priorFromBags(CLAY_AT_LARGE, [], [bag(2, 0.2)]);
    // The make: 0.25 before, a bag tells of it by 0.25 + 0.5 + 0.2.
    const make = 1 / (1 / 0.25 + 1 / 0.95);
    expect(mean[0]).toBeCloseTo(make * (2 / 0.95), 10);
    expect(covariance[0]![0]).toBeCloseTo(make + 0.25 + 0.5, 10);
    expect(covariance[0]![1]).toBeCloseTo(0, 10);
  });
  it('without them a grower’s own count as they did: half between growers, half between bags', () => {
    const { mean, covariance } = priorFromBags(CLAY_AT_LARGE, [bag(2, 0.2)]);
    const own = 1 / (1 / 0.5 + 1 / 0.7);
    expect(mean[0]).toBeCloseTo(own * (2 / 0.7), 10);
    expect(covariance[0]![0]).toBeCloseTo(0.5 + own, 10);
  });
  it('tell of a quarter of what bags differ in at the most, however many they are; a few of one’s own outweigh them', () => {
    const many = priorFromBags(CLAY_AT_LARGE, [], new Array<ClayPrior>(2000).fill(bag(1.5, 0.05)));
    expect(many.covariance[0]![0]).toBeCloseTo(0.75, 2);
    const both = priorFromBags(
      CLAY_AT_LARGE,
      new Array<ClayPrior>(3).fill(bag(-1, 0.05)),
      new Array<ClayPrior>(6).fill(bag(1, 0.05)),
    );
    expect(both.mean[0]).toBeLessThan(-0.25);
  });
  it('make no belief wider, and the order they came in changes nothing', () => {
    const one = fc.record({
      at: fc.double({ min: -2, max: 2, noNaN: true }),
      v: fc.double({ min: 0.02, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 4 }), fc.array(one, { maxLength: 4 }), (own, told) => {
        const bags = (list: typeof own) => list.map(({ at, v }) => bag(at, v));
        const prior = priorFromBags(CLAY_AT_LARGE, bags(own), bags(told));
        const turned = priorFromBags(CLAY_AT_LARGE, bags([...own].reverse()), bags([...told].reverse()));
        expect(turned.mean[0]).toBeCloseTo(prior.mean[0]!, 8);
        expect(prior.covariance[0]![0]).toBeLessThanOrEqual(1 + 1e-9);
        expect(priorFromBags(CLAY_AT_LARGE, bags(own)).covariance[0]![0]).toBeGreaterThanOrEqual(
          prior.covariance[0]![0]! - 1e-9,
        );
        expect(isBelief(prior)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });
});

describe('a belief from elsewhere', () => {
  it('is one of these coordinates, finite, and as wide as a fit can be', () => {
    expect(isBelief(CLAY_AT_LARGE)).toBe(true);
    expect(isBelief(bag(1, 0.3))).toBe(true);
    expect(isBelief(bag(9, 0.3))).toBe(false);
    expect(isBelief(bag(0, 4))).toBe(false);
    expect(isBelief(bag(0, 0))).toBe(false);
    expect(isBelief(bag(NaN, 0.3))).toBe(false);
    expect(isBelief({ ...bag(0, 0.3), mean: all(0).slice(1) })).toBe(false);
    expect(isBelief({ ...bag(0, 0.3), covariance: bag(0, 0.3).covariance.slice(1) })).toBe(false);
  });
  it('has a covariance that is one: the same both ways, and of no spread below nothing', () => {
    const put = (a: number, b: number, value: number, both: boolean): ClayPrior => ({
      mean: all(0),
      covariance: bag(0, 0.3).covariance.map((row, i) =>
        row.map((c, j) => ((i === a && j === b) || (both && i === b && j === a) ? value : c)),
      ),
    });
    expect(isBelief(put(0, N - 1, 0.1, true))).toBe(true);
    expect(isBelief(put(0, N - 1, 0.1, false))).toBe(false);
    expect(isBelief(put(0, N - 1, 0.5, true))).toBe(false);
  });
});
