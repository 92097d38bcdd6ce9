import type { Lot, PlanProblem, SeasonPlan } from './problem.ts';

/* What no plan may do, whatever it saves. */

/** A plan that cannot be: on a day off, too soon after the watering before, out of its season. */
export type Broken = { readonly day: number; readonly what: BrokenRule };
export type BrokenRule = 'dayOff' | 'notThatDay' | 'pin' | 'tooSoon' | 'outOfSeason' | 'notAtAVisit';

/** What of a plan cannot be, the first of it; undefined where all of it can. */
export function brokenBy(problem: PlanProblem, plan: SeasonPlan): Broken | undefined {
  for (const [l, lot] of problem.lots.entries()) {
    const broken = lotBroken(problem, lot, plan.visits[l]!, plan.soaks[l]!);
    if (broken) return broken;
  }
  for (const [b, leach] of problem.leaches.entries()) {
    let earliest = leach.dueOn;
    for (const day of plan.leaches[b]!) {
      if (!problem.works[day]) return { day, what: 'dayOff' };
      if (day < earliest) return { day, what: 'tooSoon' };
      earliest = day + leach.gapDays;
    }
  }
  return undefined;
}

/** What of one lot cannot be. */
export function lotBroken(
  { works, days }: Pick<PlanProblem, 'works' | 'days'>,
  lot: Lot,
  visits: readonly number[],
  soaks: readonly number[],
): Broken | undefined {
  let last = lot.lastOn;
  for (const day of visits) {
    const what = visitBroken({ works, days }, lot, day, last);
    if (what) return { day, what };
    last = day;
  }
  const missing = lot.pinned.find((day) => day > (lot.lastOn ?? -1) && !visits.includes(day));
  if (missing !== undefined) return { day: missing, what: 'pin' };
  return soakBroken(lot, visits, soaks);
}

function visitBroken(
  { works, days }: Pick<PlanProblem, 'works' | 'days'>,
  { pinned, not, soonestDays }: Lot,
  day: number,
  last: number | null,
): BrokenRule | undefined {
  const isPin = pinned.includes(day);
  if (day < 0 || day >= days || (!works[day] && !isPin)) return 'dayOff';
  if (not.includes(day)) return 'notThatDay';
  // Round a pin it may be as soon as it likes.
  if (last !== null && day < last + (isPin || pinned.includes(last) ? 1 : soonestDays)) return 'tooSoon';
  return undefined;
}

function soakBroken(lot: Lot, visits: readonly number[], soaks: readonly number[]): Broken | undefined {
  let before = -Infinity;
  for (const [s, day] of soaks.entries()) {
    if (day < 0) continue;
    const soak = lot.soaks[s]!;
    if (day < soak.from || day > soak.until || day < before + soak.apartDays) return { day, what: 'outOfSeason' };
    if (!visits.includes(day)) return { day, what: 'notAtAVisit' };
    before = day;
  }
  return undefined;
}
