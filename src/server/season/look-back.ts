import type { LookBack } from '../../contract/season-pages.ts';
import { outcomeOf, type Outcome } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { type Collection, type Rows } from '../collection/index.ts';
import { SEASON_ID } from '../database/entities/season.ts';
import { drawnOn, foretoldBefore, type Learned } from './learned.ts';

/* The weeks gone by as they were planned and as they were done. What was planned for a day is what stood as it began, whatever was changed since. */

/** So many weeks. */
const BACK_DAYS = 28;

type Visit = { readonly on: string };
type PlanThen = { readonly madeAt: string; readonly visits: readonly Visit[] };
type Change = { readonly table: string; readonly id: string; readonly before: Fields | null; readonly after: Fields };
type Fields = Readonly<Record<string, string | number | null>>;
type Line = { readonly id: string; readonly kind: string; readonly on: string; readonly payload: string };

/** A planned watering of a pot and the day it was planned for. */
type Planned = {
  readonly potId: string;
  readonly on: string;
  readonly previousOn: string | null;
  readonly madeAt: string;
};

export function lookBackOf(rows: Rows, collection: Collection, today: string, learned: Learned): LookBack {
  const from = plusDays(today, -BACK_DAYS);
  const planned = plannedThen(rows, from, today);
  const fills = fillsSince(rows, from);
  const foretold = new Map(foretoldBefore(rows, today).map((day) => [day.on, day]));
  const drawn = drawnOn(rows, collection, from);
  const code = (id: string) => collection.pots.get(id)?.pot.code;
  const days = new Map<string, { code: string; outcome: Outcome }[]>();
  for (const plan of planned) {
    const named = code(plan.potId);
    if (named === undefined) continue;
    const outcome = outcomeOf(plan, fills.get(plan.potId) ?? []);
    days.set(plan.on, [...(days.get(plan.on) ?? []), { code: named, outcome }]);
  }
  const all = [...new Set([...days.keys(), ...[...foretold.keys()].filter((on) => on >= from)])].sort();
  return {
    days: all.map((on) => {
      const pots = (days.get(on) ?? []).sort((a, b) => (a.code < b.code ? -1 : 1));
      const of = (kind: Outcome['kind']) => pots.filter(({ outcome }) => outcome.kind === kind);
      const moved = (kind: 'sooner' | 'later') =>
        of(kind).map(({ code: named, outcome }) => ({ code: named, days: outcome.kind === kind ? outcome.days : 0 }));
      return {
        on,
        onDay: of('onDay').map((pot) => pot.code),
        sooner: moved('sooner'),
        later: moved('later'),
        notYet: of('notYet').map((pot) => pot.code),
        foretoldL: foretold.get(on)?.stillL ?? null,
        drawnL: drawn(on),
      };
    }),
    learned,
  };
}

/** Fillings by pot, in order. */
function fillsSince(rows: Rows, from: string): Map<string, { at: string; on: string }[]> {
  const fills = new Map<string, { at: string; on: string }[]>();
  for (const { potId, at, on } of rows<{ potId: string; at: string; on: string }>(
    `SELECT potId, at, localDate AS "on" FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL AND at >= ? ORDER BY at, seq`,
    plusDays(from, -BACK_DAYS),
  ))
    fills.set(potId, [...(fills.get(potId) ?? []), { at, on }]);
  return fills;
}

/** What was planned for each day as it began: the plan's changes are gone through in the order they were made, as they were taken back and put back. */
function plannedThen(rows: Rows, from: string, today: string): Planned[] {
  const lines = rows<Line>(
    `SELECT e.id, e.kind, e.localDate AS "on", e.payload FROM care_event e
     WHERE e.id IN (SELECT eventId FROM event_touch WHERE subject = 'season:' || @season)
        OR (e.kind = 'undone' AND json_extract(e.payload, '$.targetId') IN (
          SELECT eventId FROM event_touch WHERE subject = 'season:' || @season
          UNION SELECT u.id FROM care_event u WHERE u.kind = 'undone'))
     ORDER BY e.seq`,
    { season: SEASON_ID },
  );
  const plans = new Map<string, PlanThen>();
  const effects = new Map<string, { readonly changes: readonly Change[]; readonly forth: boolean }>();
  const planned: Planned[] = [];
  let next = 0;
  for (let day = from; day < today; day = plusDays(day, 1)) {
    // The plan that was first kept on a day was that day's: nothing stood before.
    const none = !stands(plans);
    while (next < lines.length && lines[next]!.on < day) carryOut(lines[next++]!, effects, plans);
    if (none && !stands(plans))
      while (next < lines.length && lines[next]!.on === day && !stands(plans)) carryOut(lines[next++]!, effects, plans);
    for (const [potId, { visits, madeAt }] of plans) {
      const i = visits.findIndex(({ on }) => on === day);
      if (i >= 0) planned.push({ potId, on: day, previousOn: visits[i - 1]?.on ?? null, madeAt });
    }
  }
  return planned;
}

/** A plan that was let go plans nothing. */
const stands = (plans: ReadonlyMap<string, PlanThen>) => [...plans.values()].some(({ visits }) => visits.length > 0);

/** One act on the plan: its changes, or those of the act it takes back the other way round. */
function carryOut(
  line: Line,
  effects: Map<string, { readonly changes: readonly Change[]; readonly forth: boolean }>,
  plans: Map<string, PlanThen>,
): void {
  const payload = JSON.parse(line.payload) as { changes?: readonly Change[]; targetId?: string };
  const target = payload.targetId === undefined ? undefined : effects.get(payload.targetId);
  const effect = target
    ? { changes: target.changes, forth: !target.forth }
    : { changes: payload.changes ?? [], forth: true };
  effects.set(line.id, effect);
  for (const { table, id, before, after } of effect.changes) {
    if (table !== 'pot_plan') continue;
    const then = effect.forth ? after : before;
    if (then === null) {
      plans.delete(id);
      continue;
    }
    const stood = plans.get(id);
    const visits = then['visits'] === undefined ? stood?.visits : (JSON.parse(String(then['visits'])) as Visit[]);
    const madeAt = then['madeAt'] === undefined ? stood?.madeAt : String(then['madeAt']);
    plans.set(id, { visits: visits ?? [], madeAt: madeAt ?? '' });
  }
}
