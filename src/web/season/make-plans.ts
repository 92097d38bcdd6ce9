import {
  greedyPlan,
  Liver,
  PLAN_AIMS,
  searchPlan,
  type Lived,
  type PlanAim,
  type PlanProblem,
  type SeasonPlan,
} from '../../core/plan/index.ts';

/** One plan and all that comes of it. `searched`: bettered, and not only made at once. */
export type PlanOf = { readonly plan: SeasonPlan; readonly lived: Lived; readonly searched: boolean };
export type Plans = Readonly<Record<PlanAim, PlanOf>>;

export const AIMS: readonly PlanAim[] = ['fewestMixes', 'nobodyLate', 'leastWater'];

/** Moves of a search: so many that a collection of some forty pots is done in a few seconds. */
const MOVES = 150_000;
const SEED = 20_260;

/** Each aim's plan: the cheapest by its own weights of all that were found, for one that was sought for another may serve it better. */
export function bestOfEach(problem: PlanProblem, found: Plans): Plans {
  const liver = new Liver(problem);
  const bestFor = (aim: PlanAim) =>
    AIMS.map((one) => found[one]).reduce((best, one) =>
      liver.cost(one.plan, PLAN_AIMS[aim]) < liver.cost(best.plan, PLAN_AIMS[aim]) - 1e-9 ? one : best,
    );
  return { fewestMixes: bestFor('fewestMixes'), nobodyLate: bestFor('nobodyLate'), leastWater: bestFor('leastWater') };
}

/** The plan made at once, for whatever matters most: something to look at while better ones are sought. */
export function plansAtOnce(problem: PlanProblem): Plans {
  const plan = greedyPlan(problem);
  const first = { plan, lived: new Liver(problem).live(plan), searched: false };
  return { fewestMixes: first, nobodyLate: first, leastWater: first };
}

/** The same question has the same answer everywhere: it stops by moves and draws by a seed. */
export function betterPlan(
  problem: PlanProblem,
  aim: PlanAim,
  from: SeasonPlan,
  tell?: (share: number) => boolean,
  moves = MOVES,
): PlanOf {
  const weights = PLAN_AIMS[aim];
  const plan = searchPlan(problem, from, { weights, moves, seed: SEED, tell: (share) => tell?.(share) ?? true });
  return { plan, lived: new Liver(problem).live(plan), searched: true };
}
