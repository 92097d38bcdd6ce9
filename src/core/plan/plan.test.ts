import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lot, some } from '../../../tests/some-seasons.ts';
import {
  brokenBy,
  fewestMixesOf,
  fitPlan,
  greedyPlan,
  justified,
  Liver,
  mendPlan,
  movedBetween,
  PLAN_AIMS,
  searchPlan,
  visitDueOn,
  Why,
  type PlanProblem,
  type SeasonPlan,
} from './index.ts';

const problem = (more: Partial<PlanProblem> = {}): PlanProblem => {
  const days = more.days ?? 9;
  return {
    days,
    works: Array.from({ length: days }, () => true),
    minutesADay: 60,
    tank: { startL: 4, capL: 8, madeL: Array.from({ length: days }, () => 1) },
    lots: [lot('a'), lot('b', { dueOn: 2 })],
    leaches: [],
    fixed: [],
    minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
    ...more,
  };
};
const SEARCH = { weights: PLAN_AIMS.nobodyLate, moves: 6000, seed: 7 };

describe('a plan, lived', () => {
  it('counts lateness from the watering that happened, and what is not done by the end as late until then', () => {
    const liver = new Liver(problem({ lots: [lot('a')] }));
    const late = (visits: number[]) => liver.live({ visits: [visits], soaks: [[]], leaches: [] }).totals.latePotDays;
    expect(late([1, 5])).toBe(0);
    // A day late twice, and due on day 11.
    expect(late([2, 7])).toBe(2 * (1 + 1));
    // The outer limit is 7 days, the rota 4: due on day 1, never done.
    expect(late([])).toBe(2 * 8);
  });
  it('does the round first and then the day’s water: 4 L, 6 drawn, 2 carried in, and over the top it is lost', () => {
    const liver = new Liver(problem({ lots: [lot('a', { feeds: [{ mix: 'feed', stillL: 6, everyDays: 9 }] })] }));
    const { days, totals } = liver.live({ visits: [[0]], soaks: [[]], leaches: [] });
    expect(days[0]).toMatchObject({ startL: 4, carriedL: 2, afterL: 0, endL: 1, mixes: ['feed'], minutes: 25 });
    expect(days[8]).toMatchObject({ startL: 8, endL: 8, overL: 1 });
    expect(totals).toMatchObject({ carriedL: 2, usedL: 6, madeL: 9, overL: 1, mixes: 1, trips: 1 });
  });
  it('no drop is lost: what stood, was made and carried in is what was drawn, stands and ran over', () => {
    fc.assert(
      fc.property(some, (p) => {
        const { days, totals } = new Liver(p).live(greedyPlan(p));
        if (!p.tank) return;
        const kept = days.at(-1)!.endL + totals.usedL + totals.overL;
        expect(kept).toBeCloseTo(p.tank.startL + totals.madeL + totals.carriedL, 3);
        for (const day of days) expect(day.afterL).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('a plan made at once', () => {
  it('can be, whatever the collection: no day off but for a pin, nothing too soon, no soak out of its season', () => {
    fc.assert(
      fc.property(some, (p) => void expect(brokenBy(p, greedyPlan(p))).toBeUndefined()),
      { numRuns: 300 },
    );
  });
  it('does before days off what would fall due on them', () => {
    const works = [true, true, false, false, false, true, true, true, true];
    expect(greedyPlan(problem({ works, lots: [lot('a', { dueOn: 3 })] })).visits[0]![0]).toBe(1);
  });
  it('waters what dries first, and lets wait what can', () => {
    const lots = [lot('a', { dueOn: 0 }), lot('b', { dueOn: 0, dryOn: 2 })];
    const tank = { startL: 2, capL: 8, madeL: Array.from({ length: 9 }, () => 1) };
    const { visits } = greedyPlan(problem({ lots, tank }));
    expect([visits[0]![0], visits[1]![0]]).toEqual([2, 0]);
  });
});

describe('a plan bettered by small moves', () => {
  const cost = (p: PlanProblem, plan: SeasonPlan) => new Liver(p).cost(plan, SEARCH.weights);
  it('can be, is never worse than it began, and is the same every time', () => {
    fc.assert(
      fc.property(some, (p) => {
        const start = greedyPlan(p);
        const found = searchPlan(p, start, { ...SEARCH, moves: 1500 });
        expect(brokenBy(p, found)).toBeUndefined();
        expect(cost(p, found)).toBeLessThanOrEqual(cost(p, start) + 1e-9);
        expect(searchPlan(p, start, { ...SEARCH, moves: 1500 })).toEqual(found);
      }),
      { numRuns: 40 },
    );
  });
  it('is the best there is on every collection small enough to try all of its plans', () => {
    for (const p of TINY) {
      const found = searchPlan(p, greedyPlan(p), { ...SEARCH, moves: 20_000 });
      expect(cost(p, found)).toBeCloseTo(bestOfAll(p), 6);
    }
  });
  it('stops when it is told to', () => {
    const p = problem();
    let told = 0;
    searchPlan(p, greedyPlan(p), { ...SEARCH, moves: 100_000, tell: () => ++told < 2 });
    expect(told).toBe(2);
  });
  it('keeps to the plan that stands where little is won by leaving it', () => {
    const p = problem({ tank: null });
    const stood: SeasonPlan = {
      visits: [
        [2, 6],
        [2, 6],
      ],
      soaks: [[], []],
      leaches: [],
    };
    const options = { ...SEARCH, keep: { plan: stood, potMoved: 1000 } };
    expect(searchPlan(p, stood, options).visits).toEqual(stood.visits);
  });
});

const DAYS = 7;
const SHORT = { days: DAYS, works: Array.from({ length: DAYS }, (_, t) => t !== 3) };
const madeL = Array.from({ length: DAYS }, () => 1);
const TINY: readonly PlanProblem[] = [
  problem({ ...SHORT, tank: { startL: 3, capL: 5, madeL } }),
  problem({
    ...SHORT,
    tank: { startL: 0.5, capL: 3, madeL },
    lots: [lot('a', { dryOn: 3, dryDays: 4 }), lot('b', { dueOn: 0 })],
  }),
  problem({
    ...SHORT,
    tank: { startL: 4, capL: 6, madeL },
    lots: [
      lot('a', {
        soaks: [{ mix: 'soak', what: 'magnesium', pinned: false, stillL: 2, from: 1, until: 5, apartDays: 21 }],
      }),
      lot('b', {
        feeds: [
          { mix: 'feed', stillL: 1, everyDays: 2 },
          { mix: '', stillL: 1, everyDays: 3 },
        ],
        soonestDays: 1,
      }),
    ],
  }),
  problem({
    ...SHORT,
    tank: { startL: 2, capL: 9, madeL },
    leaches: [{ id: 'clay', name: 'batch 5', changeL: 3, gapDays: 2, dueOn: 0, changes: 2 }],
    lots: [lot('a', { dueOn: -2, lastOn: -8 })],
  }),
];

/** The cost of the cheapest of all plans there are. */
function bestOfAll(p: PlanProblem): number {
  const liver = new Liver(p);
  const lotPlans = p.lots.map((_, l) => plansOfLot(p, l));
  const leachPlans = p.leaches.map((leach) => subsets(p.days).filter((days) => days.length <= leach.changes));
  let best = Infinity;
  const tryAll = (l: number, visits: number[][], soaks: number[][]): void => {
    if (l < p.lots.length) {
      for (const one of lotPlans[l]!) tryAll(l + 1, [...visits, one.visits], [...soaks, one.soaks]);
      return;
    }
    for (const leaches of leachPlans.length > 0 ? leachPlans[0]!.map((days) => [days]) : [[]]) {
      const plan = { visits, soaks, leaches };
      if (!brokenBy(p, plan)) best = Math.min(best, liver.cost(plan, SEARCH.weights));
    }
  };
  tryAll(0, [], []);
  return best;
}

const subsets = (days: number): number[][] =>
  Array.from({ length: 2 ** days }, (_, bits) =>
    Array.from({ length: days }, (_, t) => t).filter((t) => bits & (1 << t)),
  );

function plansOfLot(p: PlanProblem, l: number): { visits: number[]; soaks: number[] }[] {
  const { soaks } = p.lots[l]!;
  return subsets(p.days).flatMap((visits) =>
    (soaks.length === 0 ? [[]] : [[-1], ...visits.map((day) => [day])])
      .map((given) => ({ visits, soaks: given }))
      .filter(
        (one) =>
          !brokenBy({ ...p, lots: [p.lots[l]!], leaches: [] }, { visits: [visits], soaks: [one.soaks], leaches: [] }),
      ),
  );
}

describe('a plan mended', () => {
  it('property: whatever stood, what is fitted can be, and holds every pin that can be held', () => {
    const stood = fc.array(fc.array(fc.integer({ min: -3, max: 30 }), { maxLength: 9 }), { maxLength: 6 });
    fc.assert(
      fc.property(some, stood, (p, days) => {
        const plan = fitPlan(p, { visits: days, soaks: days, leaches: days });
        expect(brokenBy(p, plan)).toBeUndefined();
        for (const [l, lotOf] of p.lots.entries())
          for (const pin of lotOf.pinned) if (pin > (lotOf.lastOn ?? -1)) expect(plan.visits[l]).toContain(pin);
      }),
    );
  });
  it('a plan that fits stays as it is, and what is new past its end is no move', () => {
    const p = problem({ days: 12 });
    const stood = greedyPlan(p);
    expect(fitPlan(p, stood)).toEqual(stood);
    const longer = problem({ days: 20 });
    const mended = mendPlan(longer, stood, { ...SEARCH, moves: 3000 });
    expect(movedBetween(stood, mended)).toEqual([]);
    expect(mended.visits[0]!.length).toBeGreaterThan(stood.visits[0]!.length);
  });
  it('what stood on days away is watered before them, and nothing else moves', () => {
    const days = 16;
    const works = Array.from({ length: days }, (_, t) => t < 5 || t > 7);
    const lots = [lot('a', { feeds: [{ mix: 'feed', stillL: 1, everyDays: 5 }], dueOn: 1, soonestDays: 3 })];
    const stood: SeasonPlan = { visits: [[1, 6, 11]], soaks: [[]], leaches: [] };
    const { visits } = fitPlan(problem({ days, works, lots, tank: null }), stood);
    // Two days late in the end is left to the search to better.
    expect(visits[0]).toEqual([1, 4, 11]);
  });
  it('a pin is held, and the watering beside it gives way', () => {
    const lots = [lot('a', { pinned: [3], feeds: [{ mix: 'feed', stillL: 1, everyDays: 4 }] })];
    const { visits } = fitPlan(problem({ lots }), { visits: [[2, 6]], soaks: [[]], leaches: [] });
    expect(visits[0]).toContain(3);
    expect(visits[0]).not.toContain(2);
  });
});

describe('why an act stands where it stands', () => {
  const whyOf = (p: PlanProblem, plan: SeasonPlan) => new Why(p, plan, PLAN_AIMS.nobodyLate);
  const plan = (...visits: number[][]): SeasonPlan => ({ visits, soaks: visits.map(() => []), leaches: [] });
  const every = (days: number, stillL = 2) => ({
    feeds: [{ mix: 'feed', stillL, everyDays: days }],
    soonestDays: 2,
    latestDays: null,
  });

  it('the tank that cannot carry it that day is named, with what is wanted and what there is', () => {
    const lots = [lot('a', { ...every(9), dueOn: 1 }), lot('b', { ...every(9, 3), dueOn: 1 })];
    const p = problem({ lots, tank: { startL: 3, capL: 8, madeL: Array.from({ length: 9 }, () => 1) } });
    const why = whyOf(p, plan([1], [3]));
    const act = { kind: 'visit' as const, lots: [1], day: 3 };
    expect(why.naturalDay(act)).toBe(1);
    expect(why.onDay(act, 1).breaks).toEqual({ kind: 'tank', day: 1, wantsL: 5, hasL: 4 });
  });
  it('litres taken sooner that leave too few for a later day', () => {
    const lots = [lot('a', { ...every(9, 4), dueOn: 4 }), lot('b', { ...every(9, 3), dueOn: 1 })];
    const p = problem({ lots, tank: { startL: 3, capL: 5, madeL: Array.from({ length: 9 }, () => 0.5) } });
    const why = whyOf(p, plan([4], [7]));
    const { breaks } = why.onDay({ kind: 'visit', lots: [1], day: 7 }, 1);
    expect(breaks).toMatchObject({ kind: 'tank', day: 4 });
  });
  it('a bucket that is shared, a day off, too soon, and nothing at all', () => {
    const works = Array.from({ length: 9 }, (_, t) => t !== 5);
    const p = problem({ works, lots: [lot('a', every(4)), lot('b', { ...every(4), dueOn: 2 })], tank: null });
    const why = whyOf(p, plan([1, 4, 8], [1, 4, 8]));
    const act = { kind: 'visit' as const, lots: [1], day: 1 };
    expect(why.onDay(act, 2).breaks).toEqual({ kind: 'mixes', more: 1 });
    expect(why.onDay(act, 5).breaks).toEqual({ kind: 'rule', rule: 'dayOff' });
    expect(why.onDay(act, 3).breaks).toEqual({ kind: 'rule', rule: 'tooSoon' });
    // Nobody else is watered: a day is as good as another within its days.
    const alone = problem({ lots: [lot('a', { ...every(20), dueOn: 6 })], tank: null });
    expect(whyOf(alone, plan([4])).onDay({ kind: 'visit', lots: [0], day: 4 }, 6).breaks).toEqual({ kind: 'nothing' });
  });
  it('what nothing justifies goes back to its own day, the soak to its first', () => {
    const soak = {
      mix: 'soak',
      what: 'magnesium' as const,
      pinned: false,
      stillL: 1,
      from: 0,
      until: 8,
      apartDays: 21,
    };
    const lots = [lot('a', { ...every(4), dueOn: 2, soaks: [soak] })];
    const p = problem({ lots, tank: null });
    const moved: SeasonPlan = { visits: [[1, 6]], soaks: [[6]], leaches: [] };
    const back = justified(p, moved, PLAN_AIMS.nobodyLate);
    expect(back.visits[0]![0]).toBe(2);
    expect(back.soaks[0]).toEqual([back.visits[0]![0]]);
  });
  it('property: what is put right is never dearer, and can be', () => {
    fc.assert(
      fc.property(some, (p) => {
        const start = greedyPlan(p);
        const w = PLAN_AIMS.fewestMixes;
        const right = justified(p, start, w);
        expect(brokenBy(p, right)).toBeUndefined();
        const liver = new Liver(p);
        expect(liver.cost(right, w)).toBeLessThanOrEqual(liver.cost(start, w) + 1e-6);
      }),
    );
  });
  it('a watering is due by its rota and its outer limit', () => {
    const one = lot('a', { lastOn: -3, dueOn: 1, latestDays: 3, feeds: [{ mix: 'f', stillL: 1, everyDays: 5 }] });
    expect(visitDueOn(one, [0, 4], 0)).toBe(0);
    expect(visitDueOn(one, [0, 4], 1)).toBe(3);
    expect(visitDueOn({ ...one, latestDays: null }, [0, 4], 1)).toBe(5);
  });
});

describe('what no plan can help', () => {
  it('every day off, nobody there for months: nothing is planned, and how late it gets is named', () => {
    const p = problem({ works: Array.from({ length: 9 }, () => false) });
    const start = greedyPlan(p);
    const plan = justified(p, searchPlan(p, start, SEARCH), SEARCH.weights);
    expect(plan.visits.flat()).toEqual([]);
    expect(fitPlan(p, { visits: [[1], [2]], soaks: [[], []], leaches: [] }).visits.flat()).toEqual([]);
    const { totals } = new Liver(p).live(plan);
    expect(totals.lateAtWorst).toEqual({ days: 8, pots: 2 });
    for (const model of fewestMixesOf(p).values()) expect(model.rows.every(({ low }) => low === 0)).toBe(true);
  });
  it('no pots, no days, a tank smaller than a bucket', () => {
    const none = problem({ lots: [] });
    expect(searchPlan(none, greedyPlan(none), SEARCH)).toEqual({ visits: [], soaks: [], leaches: [] });
    const small = problem({ tank: { startL: 0.5, capL: 0.5, madeL: Array.from({ length: 9 }, () => 0.1) } });
    const { totals } = new Liver(small).live(searchPlan(small, greedyPlan(small), SEARCH));
    // What is short has its name and its amount.
    expect(totals.latePotDays + totals.carriedL).toBeGreaterThan(0);
  });
});
