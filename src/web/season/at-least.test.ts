import load from 'highs';
import { describe, expect, it } from 'vitest';
import {
  fewestMixesOf,
  greedyPlan,
  Liver,
  PLAN_AIMS,
  searchPlan,
  type Lot,
  type PlanProblem,
} from '../../core/plan/index.ts';
import { atLeast } from './at-least.ts';

/* "At least so many mixes", held against every plan there is. */

const DAYS = 9;
const lot = (id: string, more: Partial<Lot> = {}): Lot => ({
  ...{ id, tray: id, potIds: [id], lastOn: -3, dueOn: 1, turn: 0, soonestDays: 2, latestDays: null },
  ...{ feeds: [{ mix: 'feed', stillL: 1, everyDays: 4 }], dryOn: null, dryDays: null, soaks: [], pinned: [], not: [] },
  ...more,
});
const problem = (lots: Lot[], works = Array.from({ length: DAYS }, () => true)): PlanProblem => ({
  ...{ days: DAYS, works, minutesADay: null, tank: null, lots, leaches: [], fixed: [] },
  minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
});

/** The fewest mixes of all plans in which nobody is late, by trying every set of days. */
function byTryingAll({ lots, works }: PlanProblem): number {
  const fits = (one: Lot, days: number): boolean => {
    let last = one.lastOn!;
    let due = one.dueOn;
    for (let t = 0; t < DAYS; t++) {
      if (!(days & (1 << t)) || t < last + one.soonestDays) continue;
      if (t > due) return false;
      last = t;
      due = t + one.feeds[0]!.everyDays;
    }
    return due >= DAYS;
  };
  let fewest = Infinity;
  for (let days = 0; days < 1 << DAYS; days++) {
    if (works.some((works1, t) => !works1 && days & (1 << t))) continue;
    // Of the days a mix is made on each lot may leave some out.
    const all = lots.every((one) => {
      for (let some = days; ; some = (some - 1) & days) {
        if (fits(one, some)) return true;
        if (some === 0) return false;
      }
    });
    const made = days.toString(2).split('1').length - 1;
    if (all) fewest = Math.min(fewest, made);
  }
  return fewest;
}

describe('how few mixes there can be', () => {
  it('is what trying every plan finds, days off and unlike rhythms included', async () => {
    const highs = await load();
    const cases = [
      problem([lot('a'), lot('b', { dueOn: 3, lastOn: -1 })]),
      problem([
        lot('a'),
        lot('b', { feeds: [{ mix: 'feed', stillL: 1, everyDays: 3 }] }),
        lot('c', { dueOn: 0, lastOn: -4 }),
      ]),
      problem(
        [lot('a'), lot('b', { dueOn: 2 })],
        Array.from({ length: DAYS }, (_, t) => t % 4 !== 2),
      ),
    ];
    for (const p of cases) {
      const bound = [...fewestMixesOf(p).values()].reduce((sum, model) => sum + atLeast(highs, model), 0);
      expect(bound).toBe(byTryingAll(p));
    }
  });
  it('is never more than a plan has in which nobody is late, two feeds and a soak besides', async () => {
    const highs = await load();
    const soak = {
      mix: 'soak',
      what: 'magnesium' as const,
      pinned: false,
      stillL: 1,
      from: 0,
      until: 8,
      apartDays: 21,
    };
    const p = problem([
      lot('a', { soaks: [soak] }),
      lot('b', { feeds: [{ mix: 'weak', stillL: 1, everyDays: 3 }], soaks: [soak] }),
      // A rota of two mixes is left out of what is asked, and what is proven holds.
      lot('c', {
        feeds: [
          { mix: 'feed', stillL: 1, everyDays: 4 },
          { mix: 'weak', stillL: 1, everyDays: 4 },
        ],
      }),
    ]);
    const bound = [...fewestMixesOf(p).values()].reduce((sum, model) => sum + atLeast(highs, model), 0);
    const plan = searchPlan(p, greedyPlan(p), { weights: PLAN_AIMS.nobodyLate, moves: 8000, seed: 3 });
    const { totals } = new Liver(p).live(plan);
    expect(totals.latePotDays).toBe(0);
    expect(bound).toBeGreaterThanOrEqual(4);
    expect(totals.mixes).toBeGreaterThanOrEqual(bound);
  });
});
