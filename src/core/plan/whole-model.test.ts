import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lot, some } from '../../../tests/some-seasons.ts';
import {
  greedyPlan,
  Liver,
  PLAN_AIM_KINDS,
  PLAN_AIMS,
  searchPlan,
  wholeModel,
  type PlanProblem,
  type WholeModel,
} from './index.ts';

/* The model a solver is asked, held against the evaluator that every figure of the season comes from. */

const costOf = ({ model, constant }: WholeModel, values: readonly number[]) =>
  constant + model.cost.reduce((sum, cost, i) => sum + cost * values[i]!, 0);

/** Rows and bounds that do not hold. */
function brokenRows({ model: { rows, lower, upper } }: WholeModel, values: readonly number[]): number {
  const off = (x: number, low: number, high: number) => x < low - 1e-6 || x > high + 1e-6;
  const ofRows = rows.filter(({ low, high, terms }) =>
    off(
      terms.reduce((sum, [column, by]) => sum + by * values[column]!, 0),
      low,
      high,
    ),
  );
  return ofRows.length + values.filter((x, i) => off(x, lower[i]!, upper[i]!)).length;
}

const planned = (problem: PlanProblem) =>
  searchPlan(problem, greedyPlan(problem), { weights: PLAN_AIMS.nobodyLate, moves: 1500, seed: 3 });

describe('the whole season as a linear model', () => {
  it('property: a plan that can be is a point of it, and costs there no more than it does lived', () => {
    fc.assert(
      fc.property(some, fc.constantFrom(...PLAN_AIM_KINDS), (problem, aim) => {
        const plan = planned(problem);
        const whole = wholeModel(problem, PLAN_AIMS[aim]);
        const values = whole.valuesOf(plan);
        expect(brokenRows(whole, values)).toBe(0);
        const lived = new Liver(problem).cost(plan, PLAN_AIMS[aim]);
        expect(costOf(whole, values)).toBeLessThanOrEqual(lived + 1e-6);
        // Of one feed a lot it is the same, to the last digit that counts.
        if (problem.lots.every(({ feeds, latestDays }) => feeds.length === 1 && latestDays !== null))
          expect(costOf(whole, values)).toBeCloseTo(lived, 6);
      }),
      { numRuns: 150 },
    );
  });
  it('counts a day’s trip once where something stands on it already', () => {
    const problem: PlanProblem = {
      ...{ days: 4, works: [true, true, true, true], minutesADay: null, tank: null, leaches: [] },
      lots: [lot('a', { lastOn: -7, dueOn: 0 })],
      fixed: [{ day: 0, stillL: 2, minutes: 9, words: 'hold' }],
      minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
    };
    const plan = { visits: [[0]], soaks: [[]], leaches: [] };
    const whole = wholeModel(problem, PLAN_AIMS.nobodyLate);
    expect(costOf(whole, whole.valuesOf(plan))).toBeCloseTo(new Liver(problem).cost(plan, PLAN_AIMS.nobodyLate), 9);
  });
});
