import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anchoredAt, composition } from '../solution/index.ts';
import { spreadOf } from '../statistics/index.ts';
import {
  borrow,
  CLAY_OF_POTS_AT_LARGE,
  clayOf,
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
  potPath,
  pouredAt,
  quantityOf,
  type PotBelief,
  type TitrationCurve,
} from './index.ts';

const feed: TitrationCurve = curveOf(
  anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 1.1, NO3: 1.15, NH4: 0.12, PO4: 0.25, CO2: 0.15, SO4: 0.05 }), 5.8)!,
);
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
  const others = [6.9, 7.0, 7.1, 7.2].map((ph) => learn(learn(POTS_AT_LARGE, ph), ph));
  it('stands nearer to its clay the less was read of it, and is no less sure than before', () => {
    const prior = clayPrior(others.map(clayOf));
    const [alone, pooled] = [POTS_AT_LARGE, borrow(POTS_AT_LARGE, prior)].map(clayOf);
    expect(pooled!.mean[0]!).toBeCloseTo(prior.mean[0]!, 1);
    expect(pooled!.covariance[0]![0]!).toBeLessThan(alone!.covariance[0]![0]!);
    const strong = { mean: [1.5, 0], covariance: prior.covariance };
    const read = learn(learn(learn(POTS_AT_LARGE, 6.2), 6.2), 6.2);
    const moved = (belief: PotBelief) => Math.abs(clayOf(borrow(belief, strong)).mean[0]! - clayOf(belief).mean[0]!);
    expect(moved(read)).toBeLessThan(moved(POTS_AT_LARGE));
  });
  it('says nothing with fewer than three pots, and what says nothing changes nothing', () => {
    expect(clayPrior(others.slice(0, 2).map(clayOf))).toBe(CLAY_OF_POTS_AT_LARGE);
    expect(borrow(others[0]!, CLAY_OF_POTS_AT_LARGE)).toBe(others[0]);
  });
  it('for joint normals it is what learning from that clay would have said (closed form)', () => {
    // Pots at large are a standard normal: precision of the readings is what came on top of it.
    const own = clayOf(others[1]!);
    const prior = {
      mean: [0.8, 0.2],
      covariance: [
        [0.5, 0],
        [0, 0.6],
      ],
    };
    const to = clayOf(borrow(others[1]!, prior));
    const det = own.covariance[0]![0]! * own.covariance[1]![1]! - own.covariance[0]![1]! ** 2;
    const told = own.covariance[1]![1]! / det - 1 + 1 / 0.5;
    const cross = -own.covariance[0]![1]! / det;
    const other = own.covariance[0]![0]! / det - 1 + 1 / 0.6;
    expect(to.covariance[0]![0]!).toBeCloseTo(other / (told * other - cross * cross), 6);
  });
});

describe('a soak test', () => {
  it('draws what the clay gives at once towards what it measured, and narrows it; less when the clay dried since', () => {
    const soak = { ueq: 20, sdUeq: 4, fillMl: 250 };
    const [none, fresh, dried] = [
      POTS_AT_LARGE,
      learnSoak(POTS_AT_LARGE, { ...soak, driedSince: false }),
      learnSoak(POTS_AT_LARGE, { ...soak, driedSince: true }),
    ].map(({ crowd }) => spreadOf(quantityOf(crowd, 'atOnce')));
    expect(fresh!.mean).toBeGreaterThan(0.03);
    expect(fresh!.sd).toBeLessThan(dried!.sd);
    expect(dried!.sd).toBeLessThan(none!.sd);
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
    const middle = natureOf(POTS_AT_LARGE, water, 1);
    const still = { ...middle, nature: { ...middle.nature, clay: 0, atOnce: 0, roots: 0, acid: 0, gives: 0 } };
    const none = driftShares(water, water, still, 7);
    expect(none.clay).toBeCloseTo(none.pores, 9);
    const pushes = { ...middle, nature: { ...middle.nature, clay: 0.1 } };
    const shares = driftShares(water, water, pushes, 7);
    const course = courseOf(7);
    playPot(water, pushes, course);
    expect(shares.clay).toBe(course.ph[7]);
    expect(shares.clay).toBeGreaterThan(shares.pores);
  });
});

describe('a pour at a pH', () => {
  it('stands near it in the reservoir, on the side of what stood in the pores, and higher pours stand higher', () => {
    fc.assert(
      fc.property(fc.double({ min: 4.6, max: 6.8, noNaN: true }), (ph) => {
        const water = filledWith(feed, 250, 60);
        const start = (at: number) => {
          const poured = pouredAt({ water, belief: POTS_AT_LARGE }, at);
          return potPath(poured, natureOf(POTS_AT_LARGE, poured, 1), 0)[0]!.ph;
        };
        expect(Math.abs(start(ph) - 5.8)).toBeLessThanOrEqual(Math.abs(ph - 5.8) + 0.03);
        expect(start(ph + 0.2)).toBeGreaterThan(start(ph));
        expect(Math.abs(start(ph) - ph)).toBeLessThan(0.25 * Math.abs(ph - 5.8) + 0.08);
      }),
      { numRuns: 25 },
    );
  });
});
