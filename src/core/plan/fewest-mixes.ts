import { Columns, daysOf, type LinearModel } from './linear-model.ts';
import type { Lot, PlanProblem } from './problem.ts';

/*
 * How few mixes a plan could do with if nobody is late and nobody dry: what a solver is asked, mix by mix. Tank and minutes are left out, and so are lots whose rota takes
 * several mixes; what is proven of less holds for all.
 */

/** One question for each mix that lots take alone, and one for each soak. @returns by the mix's key, in the order of the problem */
export function fewestMixesOf(problem: PlanProblem): ReadonlyMap<string, LinearModel> {
  const models = new Map<string, LinearModel>();
  for (const [mix, lots] of grouped(problem.lots)) models.set(mix, feedModel(problem, lots));
  for (const [mix, spans] of soakSpans(problem)) models.set(mix, spanModel(problem, spans));
  return models;
}

function grouped(lots: readonly Lot[]): Map<string, Lot[]> {
  const groups = new Map<string, Lot[]>();
  for (const lot of lots) {
    const mix = lot.feeds[0]!.mix;
    if (mix === '' || lot.feeds.some((feed) => feed.mix !== mix)) continue;
    groups.set(mix, [...(groups.get(mix) ?? []), lot]);
  }
  return groups;
}

/** The most days between two waterings of which none is late and none finds it dry, as far as it may be watered so soon. */
const longestWait = ({ feeds, latestDays, dryDays, soonestDays }: Lot): number =>
  Math.max(soonestDays, Math.min(feeds[0]!.everyDays, latestDays ?? Infinity, dryDays ?? Infinity));

/** Days a lot may be watered on. */
export const freeDays = ({ works, days }: PlanProblem, lot: Lot): number[] =>
  daysOf(days).filter(
    (t) => (works[t]! || lot.pinned.includes(t)) && !lot.not.includes(t) && (lot.lastOn === null || t > lot.lastOn),
  );

/**
 * Between two waterings lie no more than a lot's days, so that as many days in a row hold at least one; and one by the day it is due. A day's mix is made where
 * a lot is watered on it.
 */
function feedModel(problem: PlanProblem, lots: readonly Lot[]): LinearModel {
  const { days } = problem;
  const columns = new Columns();
  const mixes = daysOf(days).map(() => columns.add(1, 1));
  for (const lot of lots) {
    const free = freeDays(problem, lot);
    const column = new Map(free.map((t) => [t, columns.add(0, 1)] as const));
    // Where no day may be worked on it is late whatever is planned: there is no such row then.
    const cover = (from: number, to: number) =>
      columns.row(
        1,
        Infinity,
        free.filter((t) => t >= from && t <= to).map((t) => [column.get(t)!, 1]),
      );
    const every = longestWait(lot);
    const due = Math.max(0, Math.min(lot.dueOn, lot.dryOn ?? Infinity));
    if (due < days) cover(0, due);
    for (let t = Math.max(1, due - every + 2); t + every - 1 < days; t++) cover(t, t + every - 1);
    for (const t of free)
      columns.row(0, Infinity, [
        [mixes[t]!, 1],
        [column.get(t)!, -1],
      ]);
  }
  return columns.model;
}

type Span = readonly [from: number, until: number];

function soakSpans({ lots, days }: PlanProblem): Map<string, Span[]> {
  const spans = new Map<string, Span[]>();
  for (const lot of lots)
    for (const { mix, from, until } of lot.soaks)
      if (until < days) spans.set(mix, [...(spans.get(mix) ?? []), [from, until]]);
  return spans;
}

/** A soak is mixed at least once in every span it is due in. */
function spanModel({ days, works }: PlanProblem, spans: readonly Span[]): LinearModel {
  const columns = new Columns();
  const mixes = daysOf(days).map(() => columns.add(1, 1));
  for (const [from, until] of spans)
    columns.row(
      1,
      Infinity,
      daysOf(days)
        .filter((t) => t >= from && t <= until && works[t])
        .map((t) => [mixes[t]!, 1]),
    );
  return columns.model;
}
