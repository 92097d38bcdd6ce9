import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeLeach, drawBag, firstLeach, normal, seededRandom, leachHours } from '../simulation/index.ts';
import {
  afterHours,
  changeWater,
  CLAY_AT_LARGE,
  firstWater,
  fitClay,
  flatPpm,
  forecastLeach,
  hoursToFlat,
  planOwnWay,
  playLeach,
  pouredOffVerdict,
  priorFromBags,
  leachStanding,
  spreadOf,
  spreadsOf,
  type ClayFit,
  type LeachAct,
  type LeachHistory,
} from './index.ts';

/** A simulated bag leached by the rule "change when it has levelled off", each bath read three times. */
function leach(seed: number, changes: number): { history: LeachHistory; now: number; next: number } {
  const random = seededRandom(seed);
  const bag = drawBag(random, 6);
  const acts: LeachAct[] = [];
  let leach = firstLeach(bag, 5);
  let t = 0;
  const read = () =>
    acts.push({ kind: 'reading', atHours: t, netPpm: Math.round(leach.ppm * (1 + 0.01 * normal(random))) });
  for (let i = 0; i <= changes; i++) {
    for (const hours of [4, 14, 18]) {
      leach = leachHours(bag, leach, hours);
      t += hours;
      read();
    }
    if (i === changes) break;
    leach = changeLeach(bag, leach, 3.6);
    acts.push({ kind: 'change', atHours: t, freshL: 3.6 });
  }
  return { history: { clayL: 6, firstL: 5, acts }, now: t, next: leach.ppm };
}
const COMING = [0, 36, 72, 108].map((inHours) => ({ inHours, freshL: 3.6 }));

describe('how a soak stands', () => {
  it('climbs towards flat, and says when it will have levelled off', () => {
    const { history, now } = leach(5, 1);
    const fit = fitClay(CLAY_AT_LARGE, history);
    const early = leachStanding(fit, { ...history, acts: history.acts.slice(0, -3) }, now - 32);
    const late = leachStanding(fit, history, now);
    expect(early.along.mean).toBeLessThan(late.along.mean);
    expect(early.along.high - early.along.low).toBeGreaterThan(late.along.high - late.along.low);
    expect(early.levelledOff).toBe(false);
    expect(early.hours).toBeCloseTo(4, 6);
    expect(early.readAlong).toBeUndefined();
    expect(late.readAlong).toBeCloseTo(late.along.mean, 6);
    expect(late.levelsInHours).toBeLessThan(early.levelsInHours);
    const then = leachStanding(
      fit,
      { ...history, acts: history.acts.slice(0, -3) },
      now - 32 + early.levelsInHours + 0.2,
    );
    expect(then.levelledOff).toBe(true);
  });
  it('has nothing to wait for where the clay has nothing to give', () => {
    const { clay } = fitClay(CLAY_AT_LARGE, { clayL: 6, firstL: 5, acts: [] });
    const spent = { ...clay, porePpm: 0, dust: 0, source: 0 };
    expect(hoursToFlat(spent, 6, firstWater(spent, 6, 5))).toBe(0);
  });
});

describe('the forecast', () => {
  const { history, now } = leach(8, 1);
  const fit: ClayFit = fitClay(CLAY_AT_LARGE, history);
  it('draws what the fit says: each point agrees with the batch played to that moment', () => {
    const forecast = forecastLeach(fit, history, now, COMING, 40);
    expect(forecast.past).toHaveLength(2);
    expect(forecast.coming).toHaveLength(4);
    for (const leach of forecast.past) {
      // At the very moment of a change two readings hold: the old water's and the new one's.
      for (const point of leach.points.slice(1, -1)) {
        const acts = history.acts.filter((act) => act.atHours < point.atHours);
        const alone = spreadOf(fit, (clay) => playLeach(clay, { ...history, acts }, point.atHours).leach.ppm);
        expect(Math.abs(point.mean - alone.mean)).toBeLessThan(0.03 * alone.mean + 0.5);
        expect(point.low).toBeLessThanOrEqual(point.mean);
        expect(point.high).toBeGreaterThanOrEqual(point.mean);
      }
    }
    const changed = (clay: typeof fit.clay) => changeWater(clay, playLeach(clay, history, now).leach, 3.6).leach;
    const alone = spreadOf(fit, (clay) => flatPpm(clay, 6, changed(clay)));
    // The past is stepped through once for all points, so that a thousandth is left between the two.
    expect(forecast.coming[0]!.flat.mean / alone.mean).toBeCloseTo(1, 2);
    const last = spreadOf(fit, (clay) => afterHours(clay, 6, changed(clay), 36).ppm);
    expect(forecast.coming[0]!.points.at(-1)!.high / last.high).toBeCloseTo(1, 2);
  });
  it('says when it is ready: earliest, likeliest, latest, with the litres until then', () => {
    const { ready } = forecastLeach(fit, history, now, COMING, 40);
    expect(ready.changes).toBeGreaterThan(0);
    expect(ready.litres).toBeCloseTo(3.6 * ready.changes!, 6);
    expect(ready.earliestHours!).toBeLessThanOrEqual(ready.atHours!);
    expect(ready.latestHours!).toBeGreaterThanOrEqual(ready.atHours!);
    expect(forecastLeach(fit, history, now, [], 5000).ready).toMatchObject({ changes: 0, litres: 0 });
    expect(forecastLeach(fit, history, now, [], 1).ready).toMatchObject({
      changes: undefined,
      atHours: undefined,
      latestHours: undefined,
    });
  });
  it('narrows as soaks are read', () => {
    const widths = [0, 1, 3].map((changes) => {
      const told = changes === 0 ? { history: { clayL: 6, firstL: 5, acts: [] }, now: 0 } : leach(8, changes - 1);
      const baths = forecastLeach(fitClay(CLAY_AT_LARGE, told.history), told.history, told.now, COMING, 40).coming;
      return baths.at(-1)!.flat.high - baths.at(-1)!.flat.low;
    });
    expect(widths[1]).toBeLessThan(widths[0]!);
    expect(widths[2]).toBeLessThan(widths[1]!);
  });
  it('gives many quantities the ranges each has alone', () => {
    const two = spreadsOf(fit, (clay) => [clay.porePpm, clay.retained]);
    expect(two[0]).toEqual(spreadOf(fit, (clay) => clay.porePpm));
    expect(two[1]).toEqual(spreadOf(fit, (clay) => clay.retained));
  });
});

describe('a grower’s own bags', () => {
  it('draw the next one’s beginning towards them, never wider than clay at large', () => {
    expect(priorFromBags(CLAY_AT_LARGE, [])).toBe(CLAY_AT_LARGE);
    const salty = fitClay(CLAY_AT_LARGE, leach(8, 3).history);
    let before = CLAY_AT_LARGE;
    for (const n of [1, 3, 9]) {
      const prior = priorFromBags(CLAY_AT_LARGE, new Array<ClayFit>(n).fill(salty));
      for (const [i, m] of prior.mean.entries()) {
        // Nearer to the grower's own with every bag, and not past it.
        expect(Math.abs(m - salty.mean[i]!)).toBeLessThanOrEqual(Math.abs(before.mean[i]! - salty.mean[i]!) + 0.15);
        expect(prior.covariance[i]![i]!).toBeLessThanOrEqual(before.covariance[i]![i]! + 1e-12);
      }
      before = prior;
    }
  });
  it('help: a bag of a grower whose clay is saltier than most is foreseen better after three of theirs', () => {
    const saltier = (seed: number) => {
      const random = seededRandom(seed);
      const bag = drawBag(random, 6);
      // Their make holds half as much again.
      const scaled = {
        ...bag,
        dust: bag.dust * 1.5,
        grains: bag.grains.map((g) => ({ ...g, strength: g.strength * 1.5 })),
      };
      const leach = leachHours(scaled, firstLeach(scaled, 5), 48);
      const acts: LeachAct[] = [{ kind: 'reading', atHours: 48, netPpm: Math.round(leach.ppm) }];
      return { clayL: 6, firstL: 5, acts };
    };
    const own = [61, 62, 63].map((seed) => fitClay(CLAY_AT_LARGE, saltier(seed)));
    const prior = priorFromBags(CLAY_AT_LARGE, own);
    let [withOwn, without] = [0, 0];
    for (let seed = 70; seed < 110; seed++) {
      const truth = (saltier(seed).acts[0] as { netPpm: number }).netPpm;
      const guess = (of: typeof prior) =>
        Math.abs(
          Math.log(
            playLeach(fitClay(of, { clayL: 6, firstL: 5, acts: [] }).clay, { clayL: 6, firstL: 5, acts: [] }, 48).leach
              .ppm / truth,
          ),
        );
      withOwn += guess(prior);
      without += guess(CLAY_AT_LARGE);
    }
    expect(withOwn).toBeLessThan(0.75 * without);
  });
});

describe('the grower’s own way', () => {
  it('goes on as it went, until the gate', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 12, max: 96 }),
        fc.double({ min: 2, max: 8, noNaN: true }),
        fc.integer({ min: 0, max: 48 }),
        (everyHours, freshL, nextInHours) => {
          const { clay } = fitClay(CLAY_AT_LARGE, { clayL: 6, firstL: 5, acts: [] });
          const limits = { coverL: 4, still: null, lookEveryHours: 24, mostDays: 30, gatePpm: 40 };
          const plan = planOwnWay(clay, 6, firstWater(clay, 6, 5), limits, { everyHours, freshL, nextInHours });
          expect(plan.reached).toBe(plan.standardPpm <= 40);
          expect(plan.litres).toBeCloseTo(freshL * plan.changes.length, 9);
          for (const [i, change] of plan.changes.entries()) expect(change.inHours).toBe(nextInHours + everyHours * i);
        },
      ),
    );
  });
});

describe('where poured-off water may go', () => {
  it('follows its strength and its pH', () => {
    expect(pouredOffVerdict(120, undefined).to).toBe('pots in soil');
    expect(pouredOffVerdict(300, 8.4)).toMatchObject({
      to: 'garden',
      words: expect.stringMatching(/no trouble for soil; not for plants that hate lime/) as unknown,
    });
    expect(pouredOffVerdict(900, 7).words).toMatch(/thin it/);
  });
});
