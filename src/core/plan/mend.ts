import type { Lot, PlanLeach, PlanProblem, PlanWeights, SeasonPlan } from './problem.ts';
import { lotBroken } from './rules.ts';
import { searchPlan } from './search.ts';

/* A plan that stands, made to fit what has become of it: life went otherwise, or the grower moved something. */

/** What a moved watering costs against the plan that stands, a pot, in the points of the weights. House rule. */
const POT_MOVED = 6;

/**
 * The plan as far as it still can be: what has passed or cannot be is left out, days that were pinned are put in, and where a lot would go unwatered past its
 * day a watering is added. Nothing is improved.
 * @param stood days by lot and leach in the problem's order; what is missing is taken as never planned
 */
export function fitPlan(problem: PlanProblem, stood: SeasonPlan): SeasonPlan {
  const visits = problem.lots.map((lot, l) => visitsFor(problem, lot, stood.visits[l] ?? []));
  return {
    visits,
    soaks: problem.lots.map((lot, l) => soaksFor(lot, visits[l]!, stood.soaks[l] ?? [])),
    leaches: problem.leaches.map((leach, b) => changesFor(problem, leach, stood.leaches[b] ?? [])),
  };
}

/** The plan mended: fitted, then bettered by small moves of which each that is not needed costs. */
export function mendPlan(
  problem: PlanProblem,
  stood: SeasonPlan,
  options: {
    readonly weights: PlanWeights;
    readonly moves: number;
    readonly seed: number;
    readonly tell?: (share: number, cost: number) => boolean;
  },
): SeasonPlan {
  return searchPlan(problem, fitPlan(problem, stood), { ...options, keep: { plan: stood, potMoved: POT_MOVED } });
}

/** A watering that another plan has on another day; null where it has none for it. */
export type Moved = { readonly lot: number; readonly from: number; readonly to: number | null };

/** What one plan moves of another: the days it took away, each with the day that came in its place. Days past all of the other's are new, not moved. */
export function movedBetween(stood: SeasonPlan, plan: SeasonPlan): Moved[] {
  return plan.visits.flatMap((now, lot) => {
    const was = stood.visits[lot] ?? [];
    const gone = was.filter((day) => !now.includes(day));
    const fresh = now.filter((day) => !was.includes(day));
    return gone.map((from): Moved => {
      // The nearest of the new days is the one it went to.
      const near = fresh.length === 0 ? -1 : fresh.reduce((a, b) => (Math.abs(b - from) < Math.abs(a - from) ? b : a));
      if (near < 0) return { lot, from, to: null };
      fresh.splice(fresh.indexOf(near), 1);
      return { lot, from, to: near };
    });
  });
}

function visitsFor(problem: PlanProblem, lot: Lot, stood: readonly number[]): number[] {
  const can = (days: readonly number[]) => !lotBroken(problem, { ...lot, pinned: [] }, days, []);
  const pins = lot.pinned.filter((day) => day >= 0 && day < problem.days && (lot.lastOn === null || day > lot.lastOn));
  const kept = stood.filter(
    (day) => !pins.includes(day) && pins.every((pin) => Math.abs(pin - day) >= lot.soonestDays) && can([day]),
  );
  const days = [...new Set([...kept, ...pins])].sort((a, b) => a - b);
  const fitted: number[] = [];
  for (const day of days) {
    const last = fitted.at(-1) ?? lot.lastOn;
    const soon = last !== null && day < last + (pins.includes(day) || pins.includes(last) ? 1 : lot.soonestDays);
    if (!soon) fitted.push(day);
  }
  return withGapsFilled(problem, lot, fitted, pins);
}

/** Where a lot would go past its day, it is watered on the last day before that may be worked on, or else the first after. */
function withGapsFilled(problem: PlanProblem, lot: Lot, fitted: readonly number[], pins: readonly number[]): number[] {
  const days: number[] = [];
  const ahead = [...fitted];
  // Late on purpose is the plan's own; by a good half of its days more a watering was lost.
  const slack = Math.ceil(lot.soonestDays / 2);
  for (;;) {
    const last = days.at(-1) ?? lot.lastOn;
    const dueOn = dueAfter(lot, days.length, last);
    const [next] = ahead;
    if (next === undefined && dueOn >= problem.days) return days;
    if (next !== undefined && next <= dueOn + slack) {
      days.push(ahead.shift()!);
      continue;
    }
    const earliest = last === null ? 0 : last + (pins.includes(last) ? 1 : lot.soonestDays);
    const latest = next === undefined ? problem.days - 1 : next - lot.soonestDays;
    const day = freeDay(problem, lot, dueOn, Math.max(0, earliest), latest) ?? ahead.shift();
    if (day === undefined) return days;
    days.push(day);
  }
}

const dueAfter = (lot: Lot, n: number, last: number | null): number =>
  n === 0 ? Math.max(0, lot.dueOn) : last! + lot.feeds[(lot.turn + n - 1) % lot.feeds.length]!.everyDays;

/** The last day up to its due day that may be worked on, or else the first after; undefined where none is. */
function freeDay({ works }: PlanProblem, lot: Lot, dueOn: number, earliest: number, latest: number) {
  const free = (day: number) => works[day] === true && !lot.not.includes(day);
  for (let day = Math.min(dueOn, latest); day >= earliest; day--) if (free(day)) return day;
  for (let day = Math.max(dueOn + 1, earliest); day <= latest; day++) if (free(day)) return day;
  return undefined;
}

/** Soaks stay with their watering, or go to the first one that is open to them. */
function soaksFor(lot: Lot, visits: readonly number[], stood: readonly number[]): number[] {
  let before = -Infinity;
  return lot.soaks.map(({ from, until, apartDays }, s) => {
    const can = (day: number) => day >= from && day <= until && day >= before + apartDays;
    const was = stood[s] ?? -1;
    const day = visits.includes(was) && can(was) ? was : (visits.find(can) ?? -1);
    if (day >= 0) before = day;
    return day;
  });
}

function changesFor({ works, days }: PlanProblem, leach: PlanLeach, stood: readonly number[]): number[] {
  const changes: number[] = [];
  let earliest = leach.dueOn;
  const ahead = stood.filter((day) => works[day]).slice(0, leach.changes);
  // A plan that makes fewer than could be made has its reasons; one that makes none does not know of this clay.
  const most = ahead.length > 0 ? ahead.length : leach.changes;
  for (let n = 0; n < most; n++) {
    const next = ahead.find((day) => day >= earliest);
    let day = next ?? -1;
    for (let t = Math.max(0, earliest); t < days && day < 0; t++) if (works[t]) day = t;
    if (day < 0) break;
    changes.push(day);
    earliest = day + leach.gapDays;
  }
  return changes;
}
