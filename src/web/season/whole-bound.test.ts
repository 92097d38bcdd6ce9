import fc from 'fast-check';
import load from 'highs';
import { describe, expect, it } from 'vitest';
import { some } from '../../../tests/some-seasons.ts';
import { greedyPlan, Liver, PLAN_AIMS, searchPlan } from '../../core/plan/index.ts';
import { noCheaperThan } from './whole-bound.ts';

describe('what no plan can cost less than', () => {
  it('property: is never more than a plan costs, and there wherever anything is planned', async () => {
    const highs = await load();
    fc.assert(
      fc.property(some, (problem) => {
        const plan = searchPlan(problem, greedyPlan(problem), { weights: PLAN_AIMS.nobodyLate, moves: 8000, seed: 5 });
        const cost = new Liver(problem).cost(plan, PLAN_AIMS.nobodyLate);
        const bound = noCheaperThan(highs, problem, PLAN_AIMS.nobodyLate)!;
        expect(bound).toBeLessThanOrEqual(cost + 1e-6 * Math.max(1, cost));
      }),
      { numRuns: 40 },
    );
  });
  it('is the cost itself where there is one way only: a pot due on the last day', async () => {
    const highs = await load();
    const problem = {
      ...{ days: 1, works: [true], minutesADay: null, tank: null, leaches: [], fixed: [] },
      lots: [
        {
          ...{ id: 'a', tray: 'a', potIds: ['a'], lastOn: -4, dueOn: 0, turn: 0, soonestDays: 2, latestDays: null },
          ...{ feeds: [{ mix: 'feed', stillL: 1, everyDays: 4 }], dryOn: null, dryDays: null },
          ...{ soaks: [], pinned: [], not: [] },
        },
      ],
      minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
    };
    const cost = new Liver(problem).cost({ visits: [[0]], soaks: [[]], leaches: [] }, PLAN_AIMS.nobodyLate);
    expect(noCheaperThan(highs, problem, PLAN_AIMS.nobodyLate)).toBeCloseTo(cost, 6);
  });
});
