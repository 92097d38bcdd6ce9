import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { anchoredAt, composition } from '../solution/index.ts';
import {
  borrow,
  clayPrior,
  courseOf,
  curveOf,
  driftShares,
  filledWith,
  learnInterval,
  learnSoak,
  milestones,
  natureOf,
  playPot,
  POTS_AT_LARGE,
  standAt,
  pouredAt,
  type PotBelief,
  type TitrationCurve,
} from './index.ts';

let feed: TitrationCurve;
beforeAll(() => {
  feed = curveOf(
    anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 1.1, NO3: 1.15, NH4: 0.12, PO4: 0.25, CO2: 0.15, SO4: 0.05 }), 5.8)!,
  );
});
const learn = (belief: PotBelief, cameOutPh: number) =>
  learnInterval(belief, {
    water: filledWith(feed, 250, 60),
    days: 7,
    season: 1,
    leftMl: 80,
    cameOutEcUsCm: 260,
    cameOutPh,
  });

describe('a pot borrows from its clay', () => {
  it('swapping where it began is the same as having begun there', () => {
    const others = [6.9, 7.0, 7.1, 7.2].map((ph) => learn(learn(POTS_AT_LARGE, ph), ph));
    const prior = clayPrior(others);
    const swapped = borrow(learn(POTS_AT_LARGE, 6.9), prior).alkali;
    const anew = learn(prior, 6.9).alkali;
    for (const i of [0, 1]) {
      // The chemistry is bent, so learning from another start is not to the last digit the same.
      expect(Math.abs(swapped.mean[i]! - anew.mean[i]!)).toBeLessThan(0.35);
      expect(Math.abs(Math.sqrt(swapped.covariance[i]![i]!) / Math.sqrt(anew.covariance[i]![i]!) - 1)).toBeLessThan(
        0.15,
      );
    }
    expect(borrow(others[0]!, POTS_AT_LARGE)).toBe(others[0]);
  });
});

describe('a soak test', () => {
  it('draws what the clay gives at once towards what it measured, and narrows it; less when the clay dried since', () => {
    const fresh = learnSoak(POTS_AT_LARGE, { ueq: 20, sdUeq: 4, bodyMl: 310, driedSince: false }).alkali;
    const dried = learnSoak(POTS_AT_LARGE, { ueq: 20, sdUeq: 4, bodyMl: 310, driedSince: true }).alkali;
    expect(fresh.mean[0]!).toBeGreaterThan(2.5);
    expect(fresh.covariance[0]![0]!).toBeLessThan(dried.covariance[0]![0]!);
    expect(dried.covariance[0]![0]!).toBeLessThan(POTS_AT_LARGE.alkali.covariance[0]![0]!);
  });
});

describe('what a course is watched for', () => {
  it('dry, salty and out of its window on their first days', () => {
    const course = courseOf(4);
    [250, 150, 60, 30, 12].forEach((ml, i) => (course.freeMl[i] = ml));
    [200, 240, 330, 500, 800].forEach((ec, i) => (course.ecUsCm[i] = ec));
    [5.6, 6.2, 6.6, 7, 7.2].forEach((ph, i) => (course.ph[i] = ph));
    expect(milestones(course, { reservoirMl: 250, aimEcUsCm: 200, window: { low: 5.5, high: 6.5 } })).toEqual({
      dry: 3,
      salty: 2,
      phOut: 2,
    });
    course.ph[0] = 5.2;
    expect(milestones(course, { reservoirMl: 2500, aimEcUsCm: 2000, window: { low: 5, high: 8 } })).toEqual({ dry: 0 });
  });
});

describe('whose drift it is', () => {
  it('a pot whose clay gives nothing moves by the air alone, and shares add up to the course', () => {
    const water = filledWith(feed, 250, 60);
    const still = { ...natureOf(POTS_AT_LARGE, water, 1), atOnceUeq: 0, dailyUeq: 0 };
    const none = driftShares(water, water, still, 7);
    expect(none.clay).toBe(none.pores);
    const nature = natureOf(POTS_AT_LARGE, water, 1);
    const shares = driftShares(water, water, nature, 7);
    const course = courseOf(7);
    playPot(water, nature, course);
    expect(shares.clay).toBe(course.ph[7]);
    expect(shares.clay).toBeGreaterThan(shares.pores);
  });
});

describe('a pour at a pH', () => {
  it('stands there when all of the body is fresh, and nearer to the old water the less of it is', () => {
    fc.assert(
      fc.property(fc.double({ min: 4.5, max: 7, noNaN: true }), (ph) => {
        const water = filledWith(feed, 250, 60);
        const whole = pouredAt({ water, freshShare: 1 }, ph);
        expect(standAt(feed, whole.standing)).toBeCloseTo(ph, 2);
        const half = standAt(feed, pouredAt({ water, freshShare: 0.5 }, ph).standing);
        expect(Math.abs(half - 5.8)).toBeLessThanOrEqual(Math.abs(ph - 5.8) + 0.02);
      }),
      { numRuns: 40 },
    );
  });
});
