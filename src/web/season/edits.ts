import {
  Why,
  type Lot,
  type PlanAct,
  type PlanProblem,
  type PlanWeights,
  type SeasonPlan,
} from '../../core/plan/index.ts';

/* What a grower does to a plan: an act put on another day, kept where it is, set free, or forbidden on its day. The rest is planned anew round it. */

export type Edited = { readonly problem: PlanProblem; readonly plan: SeasonPlan };

const without = (days: readonly number[], day: number) => days.filter((one) => one !== day);
const withDay = (days: readonly number[], day: number) => [...without(days, day), day].sort((a, b) => a - b);

const editLots = (problem: PlanProblem, lots: readonly number[], edit: (lot: Lot, l: number) => Lot): PlanProblem => ({
  ...problem,
  lots: problem.lots.map((lot, l) => (lots.includes(l) ? edit(lot, l) : lot)),
});

/** An act on a day of the grower's choice; on the day it stands on it is only pinned there. */
export function moveAct(problem: PlanProblem, plan: SeasonPlan, act: PlanAct, to: number, w: PlanWeights): Edited {
  const edited = editLots(problem, act.lots, (lot, l) => {
    const pinned = withDay(without(lot.pinned, act.day), to);
    const not = without(lot.not, to);
    if (act.kind === 'visit') return { ...lot, pinned, not };
    const s = plan.soaks[l]!.indexOf(act.day);
    const soaks = lot.soaks.map((soak, i) => (i === s ? { ...soak, from: to, until: to, pinned: true } : soak));
    return { ...lot, pinned, not, soaks };
  });
  return { problem: edited, plan: new Why(problem, plan, w).moved(act, to) };
}

/** No longer pinned to its day. */
export function freeAct(problem: PlanProblem, plan: SeasonPlan, act: PlanAct): Edited {
  const edited = editLots(problem, act.lots, (lot) => ({
    ...lot,
    pinned: without(lot.pinned, act.day),
    soaks: lot.soaks.map((soak) => (soak.pinned && soak.from === act.day ? { ...soak, pinned: false } : soak)),
  }));
  return { problem: edited, plan };
}

/** Not on that day: its lots are watered on another. */
export function forbidAct(problem: PlanProblem, plan: SeasonPlan, act: PlanAct): Edited {
  const edited = editLots(problem, act.lots, (lot) => ({
    ...lot,
    pinned: without(lot.pinned, act.day),
    not: withDay(lot.not, act.day),
  }));
  const visits = plan.visits.map((days, l) => (act.lots.includes(l) ? without(days, act.day) : days));
  const soaks = plan.soaks.map((days, l) => (act.lots.includes(l) ? days.map((d) => (d === act.day ? -1 : d)) : days));
  return { problem: edited, plan: { ...plan, visits, soaks } };
}

/** Every lot of an act is pinned to its day; of some of its pots, every lot of those. */
export const isPinned = (problem: PlanProblem, act: PlanAct, potIds?: readonly string[]): boolean => {
  const meant = potIds ? act.lots.filter((l) => problem.lots[l]!.potIds.some((id) => potIds.includes(id))) : act.lots;
  return meant.length > 0 && meant.every((l) => problem.lots[l]!.pinned.includes(act.day));
};

/** Codes of the pots of an act that are pinned to its day, where others of it are not. */
export function pinnedAmong(problem: PlanProblem, act: PlanAct): string[] {
  const lots = act.lots.map((l) => problem.lots[l]!);
  const pinned = lots.filter((lot) => lot.pinned.includes(act.day));
  return pinned.length === lots.length ? [] : pinned.flatMap(({ potIds }) => potIds);
}
