import type { ForetoldDay, SeasonView } from '../../contract/season.ts';
import { Liver, type PlanProblem, type SeasonPlan } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';

/** What each day of a plan takes, so that it can be held against what is drawn; `plainL` as it was before earlier days corrected it. */
export function foretoldOf(
  problem: PlanProblem,
  plan: SeasonPlan,
  { on, learned }: Pick<SeasonView, 'on' | 'learned'>,
): ForetoldDay[] {
  const times = learned.litres?.times ?? 1;
  const plainly = <T extends { readonly stillL: number }>(of: T): T => ({ ...of, stillL: of.stillL / times });
  const lots = problem.lots.map((lot) => ({ ...lot, feeds: lot.feeds.map(plainly), soaks: lot.soaks.map(plainly) }));
  const plain = new Liver({ ...problem, lots }).live(plan);
  return new Liver(problem).live(plan).days.map(({ usedL }, t) => ({
    on: plusDays(on, t),
    stillL: usedL,
    plainL: plain.days[t]!.usedL,
  }));
}
