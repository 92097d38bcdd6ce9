import { daysBetween, plusDays, type LocalDate, type SoakWhat } from '../regimen/index.ts';

import type { PlanProblem, SeasonPlan } from './problem.ts';
import { visitDueOn } from './why.ts';

/* A plan that stands: what of it holds for a pot today, whatever happened to the pot since it was made. */

/** One watering of a pot by the plan that stands. */
export type PlannedVisit = {
  readonly on: LocalDate;
  /** The days it is late by the plan's own reckoning: what was put off on purpose. */
  readonly late: number;
  /** Soaks given with it. */
  readonly soaks: readonly SoakWhat[];
};

/** Not sooner than this share of its days after the watering before. House rule. */
const SOONEST_SHARE = 0.6;
/** @returns the fewest days between two waterings of a rota of so many */
export const soonestDays = (everyDays: number): number => Math.max(1, Math.ceil(SOONEST_SHARE * everyDays));

/** A plan is not thrown over for a day: filled a day early, a pot still waits for its neighbours. House rule. */
const A_DAY = 1;

/** What of a pot's log decides whether the plan still holds for it. */
export type SincePlanned = {
  readonly lastFilledOn: LocalDate | undefined;
  /** When it is due by its own days. */
  readonly ownDueOn: LocalDate;
  readonly soonestDays: number;
  readonly pins: readonly LocalDate[];
};

/**
 * The next watering that the plan holds for a pot, and the day it makes it due. A planned day that passed makes it due today, or on its own day where that was
 * sooner; one past its own day holds only where the plan meant it to be so late.
 * @returns undefined where the plan says nothing of it any more: it is due by its own days
 */
export function plannedNext(
  visits: readonly PlannedVisit[],
  { lastFilledOn, ownDueOn, soonestDays: soonest, pins }: SincePlanned,
  today: LocalDate,
): { readonly visit: PlannedVisit; readonly dueOn: LocalDate } | undefined {
  const next = visits.find(
    ({ on }) =>
      lastFilledOn === undefined || on >= plusDays(lastFilledOn, pins.includes(on) && on > lastFilledOn ? 1 : soonest),
  );
  if (!next) return undefined;
  const isPin = pins.includes(next.on);
  if (!isPin && daysBetween(ownDueOn, next.on) > next.late + A_DAY) return undefined;
  if (next.on >= today) return { visit: next, dueOn: next.on };
  return { visit: next, dueOn: ownDueOn < today ? ownDueOn : today };
}

/** Whether a soak that could be given at a visit waits, since the plan gives it at a later one of the same month. */
export function soakWaits(visits: readonly PlannedVisit[], now: PlannedVisit, what: SoakWhat): boolean {
  if (now.soaks.includes(what)) return false;
  return visits.some(({ on, soaks }) => on > now.on && on.slice(0, 7) === now.on.slice(0, 7) && soaks.includes(what));
}

/** What a plan holds for one pot, in calendar days. */
export type PotPlanned = {
  readonly potId: string;
  readonly visits: readonly PlannedVisit[];
  readonly pins: readonly { readonly on: LocalDate; readonly soak: SoakWhat | null }[];
  readonly nots: readonly LocalDate[];
};

/** A plan, told pot by pot. @param on the plan's first day */
export function plannedPots(problem: PlanProblem, plan: SeasonPlan, on: LocalDate): PotPlanned[] {
  return problem.lots.flatMap((lot, l) => {
    const given = plan.soaks[l]!;
    const soaksOn = (day: number) => lot.soaks.flatMap(({ what }, s) => (given[s] === day ? [what] : []));
    const visits = plan.visits[l]!.map((day, i): PlannedVisit => ({
      on: plusDays(on, day),
      late: Math.max(0, day - visitDueOn(lot, plan.visits[l]!, i)),
      soaks: soaksOn(day),
    }));
    const pins = lot.pinned.map((day) => {
      const soak = lot.soaks.find(({ pinned, from }) => pinned && from === day);
      return { on: plusDays(on, day), soak: soak?.what ?? null };
    });
    const nots = lot.not.map((day) => plusDays(on, day));
    return lot.potIds.map((potId) => ({ potId, visits, pins, nots }));
  });
}
