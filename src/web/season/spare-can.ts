import {
  Liver,
  PLAN_AIMS,
  type Lived,
  type PlanAim,
  type PlanProblem,
  type SeasonPlan,
} from '../../core/plan/index.ts';
import { litres } from '../shell/format.ts';
import { betterPlan } from './make-plans.ts';

/** A spare can, L. */
export const CAN_L = 10;
/** As hard as both are sought, so that neither wins by being sought longer. */
const MOVES = 40_000;

/** What a spare can would change of a plan, in words. Both are sought from it, as hard as each other; what is better without the can counts for nothing. */
export function wouldHelp(problem: PlanProblem, plan: SeasonPlan, aim: PlanAim): string {
  const tank = problem.tank!;
  const larger = { ...problem, tank: { ...tank, capL: tank.capL! + CAN_L } };
  const [without, withCan] = [problem, larger].map((one) => betterPlan(one, aim, plan, undefined, MOVES));
  const cost = (of: PlanProblem, which: SeasonPlan) => new Liver(of).cost(which, PLAN_AIMS[aim]);
  const liver = new Liver(larger);
  const best = cost(larger, without!.plan) < cost(larger, withCan!.plan) ? without!.plan : withCan!.plan;
  const [now, then] = [new Liver(problem).live(without!.plan).totals, liver.live(best).totals];
  const ended = partsOf(now).filter(([, of]) => of(now) > of(then) + 0.05);
  if (ended.length === 0)
    return `No: with ${litres(CAN_L)} more in the tank the best that was found goes wrong in the same way.`;
  const told = ended.map(
    ([words, of, much]) => `${words} ${much(of(now))} now, ${of(then) < 0.05 ? 'none' : much(of(then))} with it`,
  );
  return `Yes: ${told.join('; ')}.`;
}

type Totals = Lived['totals'];
type Part = [words: string, of: (totals: Totals) => number, much: (n: number) => string];
const potDays = (n: number) => `${Math.round(n)} pot-day${Math.round(n) === 1 ? '' : 's'}`;
const partsOf = (now: Totals): Part[] =>
  (
    [
      ['to carry in', (t) => t.carriedL, litres],
      ['late', (t) => t.latePotDays, potDays],
      ['dry', (t) => t.dryPotDays, potDays],
      ['soaks missed', (t) => t.missedSoakPots, (n) => `${n} pots`],
    ] satisfies Part[]
  ).filter(([, of]) => of(now) > 0.05);
