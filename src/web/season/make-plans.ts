import {
  fitPlan,
  greedyPlan,
  justified,
  Liver,
  mendPlan,
  PLAN_AIMS,
  seekPlan,
  type Lived,
  type PlanAim,
  type PlanProblem,
  type SeasonPlan,
} from '../../core/plan/index.ts';

/** One plan and all that comes of it. `searched`: bettered, and not only made at once. */
export type PlanOf = { readonly plan: SeasonPlan; readonly lived: Lived; readonly searched: boolean };
export type Plans = Readonly<Record<PlanAim, PlanOf>>;
/** A plan that stands, and what it was made for: what is sought keeps to it. */
export type Stands = { readonly aim: PlanAim; readonly plan: SeasonPlan };

export const AIMS: readonly PlanAim[] = ['fewestMixes', 'nobodyLate', 'leastWater'];

/** Moves of a search: so many that a collection of some forty pots is done in a few seconds. */
const MOVES = 300_000;
/** And of a mending, which begins near its end. */
const MENDING_MOVES = 60_000;
const SEED = 20_260;

/**
 * Each aim's plan: the cheapest by its own weights of all that were found, for one that was sought for another may serve it better. A plan that stands is never
 * given up for another.
 */
export function bestOfEach(problem: PlanProblem, found: Plans, stands?: PlanAim): Plans {
  const liver = new Liver(problem);
  const bestFor = (aim: PlanAim) =>
    aim === stands
      ? found[aim]
      : AIMS.map((one) => found[one]).reduce((best, one) =>
          liver.cost(one.plan, PLAN_AIMS[aim]) < liver.cost(best.plan, PLAN_AIMS[aim]) - 1e-9 ? one : best,
        );
  return { fewestMixes: bestFor('fewestMixes'), nobodyLate: bestFor('nobodyLate'), leastWater: bestFor('leastWater') };
}

/** The plan made at once, for whatever matters most: something to look at while better ones are sought. One that stands is only made to fit. */
export function plansAtOnce(problem: PlanProblem, stands?: Stands): Plans {
  const of = (plan: SeasonPlan) => ({ plan, lived: new Liver(problem).live(plan), searched: false });
  const first = of(greedyPlan(problem));
  const plans: Plans = { fewestMixes: first, nobodyLate: first, leastWater: first };
  return stands ? { ...plans, [stands.aim]: of(fitPlan(problem, stands.plan)) } : plans;
}

/** The same question has the same answer everywhere: it stops by moves and draws by a seed. No move is left that nothing justifies. */
export function betterPlan(
  problem: PlanProblem,
  aim: PlanAim,
  from: SeasonPlan,
  tell?: (share: number) => boolean,
  moves = MOVES,
): PlanOf {
  const weights = PLAN_AIMS[aim];
  const found = seekPlan(problem, from, { weights, moves, seed: SEED, tell: (share) => tell?.(share) ?? true });
  const plan = justified(problem, found, weights);
  return { plan, lived: new Liver(problem).live(plan), searched: true };
}

/** The plan that stands, mended: with as little change as can be. */
export function mendedPlan(
  problem: PlanProblem,
  { aim, plan: stood }: Stands,
  tell?: (share: number) => boolean,
  moves = MENDING_MOVES,
): PlanOf {
  const options = { weights: PLAN_AIMS[aim], moves, seed: SEED, tell: (share: number) => tell?.(share) ?? true };
  const plan = mendPlan(problem, stood, options);
  return { plan, lived: new Liver(problem).live(plan), searched: true };
}
