import type { EntityManager } from 'typeorm';
import type { SubjectKind } from '../../contract/kinds.ts';
import type { ClockView, PlanAct, PlannedActView } from '../../contract/shell.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { AppError } from '../app-error.ts';
import type { ClockRow, PlannedAct } from '../database/entities.ts';
import { changeRecords, readRecord, type RecordChange } from '../database/records.ts';
import { ASKED_BY, ASKED_IS_GIVEN, rowsFor } from '../collection/index.ts';

type When = { at: Date; localDate: string };

/**
 * One act on the list of planned acts or on the clocks, logged and undoable. Round, Bench, Clay and Season put theirs on the same list.
 * @throws AppError `not-found`, `invalid-request` with the field
 */
export async function actOnPlans(
  manager: EntityManager,
  eventId: string,
  act: PlanAct,
  when: When,
): Promise<{ repeated: boolean }> {
  const planned = (words: string, change: RecordChange) =>
    changeRecords(manager, { eventId, when, group: 'Plan', words, changes: [change] });
  const timed = (words: string, change: RecordChange) =>
    changeRecords(manager, { eventId, when, group: 'Clock', words, changes: [change] });
  switch (act.kind) {
    case 'plan': {
      if (act.onDate < when.localDate) throw dateProblem('That day is past. Choose today or later.');
      requireSubject(manager, act.subjectKind, act.subjectId);
      const { kind: _kind, planId, ...fields } = act;
      return planned(`Planned for ${act.onDate}: ${act.words}`, {
        table: 'planned_act',
        id: planId,
        after: { ...fields, originId: null, doneOn: null, droppedOn: null },
      });
    }
    case 'done': {
      const plan = await requirePlan(manager, act.planId);
      return planned(`Done: ${plan.words}`, { table: 'planned_act', id: plan.id, after: { doneOn: when.localDate } });
    }
    case 'drop': {
      const plan = await requirePlan(manager, act.planId);
      return planned(`Dropped from the list: ${plan.words}`, {
        table: 'planned_act',
        id: plan.id,
        after: { droppedOn: when.localDate },
      });
    }
    case 'moveTo': {
      if (act.onDate < when.localDate) throw dateProblem('That day is past. Choose today or later.');
      const plan = await requirePlan(manager, act.planId);
      return planned(`Moved to ${act.onDate}: ${plan.words}`, {
        table: 'planned_act',
        id: plan.id,
        after: { onDate: act.onDate },
      });
    }
    case 'startClock': {
      requireSubject(manager, act.subjectKind, act.subjectId);
      const endsAt = new Date(when.at.getTime() + act.minutes * 60_000);
      return timed(`Started a clock: ${act.words}, ${Math.round(act.minutes)} min`, {
        table: 'clock',
        id: act.clockId,
        after: {
          subjectKind: act.subjectKind,
          subjectId: act.subjectId,
          words: act.words,
          startedAt: when.at.toISOString(),
          endsAt: endsAt.toISOString(),
          origin: act.origin,
          stoppedAt: null,
        },
      });
    }
    case 'stopClock': {
      const clock = await requireClock(manager, act.clockId);
      return timed(`Stopped the clock: ${clock.words}`, {
        table: 'clock',
        id: clock.id,
        after: { stoppedAt: when.at.toISOString() },
      });
    }
    case 'extendClock': {
      const clock = await requireClock(manager, act.clockId);
      const from = Math.max(when.at.getTime(), new Date(clock.endsAt).getTime());
      return timed(`${Math.round(act.minutes)} min more: ${clock.words}`, {
        table: 'clock',
        id: clock.id,
        after: { endsAt: new Date(from + act.minutes * 60_000).toISOString(), stoppedAt: null },
      });
    }
  }
}

/** Open plans up to so many days ahead, and what was done today; earliest first. */
export function readPlans(manager: EntityManager, today: string, daysAhead = 60): PlannedActView[] {
  const rows = rowsFor(manager)<PlannedAct>(
    `SELECT p.* FROM planned_act p WHERE droppedOn IS NULL AND (doneOn IS NULL OR doneOn = ?) AND onDate <= ?
       AND NOT (p.origin = '${ASKED_BY}' AND p.originId IS NOT NULL AND ${ASKED_IS_GIVEN}) ORDER BY onDate, words`,
    today,
    plusDays(today, daysAhead),
  );
  const about = namesOf(manager, rows);
  return rows.map((row) => ({
    id: row.id,
    subjectKind: row.subjectKind,
    subjectId: row.subjectId,
    about: about(row),
    words: row.words,
    onDate: row.onDate,
    origin: row.origin,
    daysLate: daysBetween(row.onDate, today),
    doneOn: row.doneOn,
  }));
}

/** Clocks that run or have rung and wait to be stopped, the next to ring first. */
export function readClocks(manager: EntityManager): ClockView[] {
  const rows = rowsFor(manager)<ClockRow>('SELECT * FROM clock WHERE stoppedAt IS NULL ORDER BY endsAt');
  const about = namesOf(manager, rows);
  return rows.map(({ id, subjectKind, subjectId, words, startedAt, endsAt, ...row }) => ({
    id,
    subjectKind,
    subjectId,
    words,
    startedAt,
    endsAt,
    about: about({ ...row, subjectKind, subjectId }),
  }));
}

const NAMES: Record<Exclude<SubjectKind, 'collection'>, string> = {
  pot: `SELECT id, code || ' ' || CASE name WHEN '' THEN plant ELSE name END AS name FROM pot`,
  batch: 'SELECT id, name FROM batch',
  water: 'SELECT id, name FROM water',
};

function namesOf(
  manager: EntityManager,
  rows: readonly { subjectKind: SubjectKind; subjectId: string | null }[],
): (row: { subjectKind: SubjectKind; subjectId: string | null }) => string {
  const names = new Map<string, string>();
  for (const kind of ['pot', 'batch', 'water'] as const) {
    const ids = [...new Set(rows.filter((r) => r.subjectKind === kind && r.subjectId).map((r) => r.subjectId))];
    if (ids.length === 0) continue;
    const found = rowsFor(manager)<{ id: string; name: string }>(
      `${NAMES[kind]} WHERE id IN (${ids.map(() => '?').join(', ')})`,
      ...ids,
    );
    for (const { id, name } of found) names.set(id, name);
  }
  return (row) => (row.subjectId && names.get(row.subjectId)) || '';
}

function requireSubject(manager: EntityManager, kind: SubjectKind, id: string | null): void {
  if (kind === 'collection') return;
  const [found] = id === null ? [] : rowsFor(manager)<unknown>(`SELECT 1 FROM "${kind}" WHERE id = ?`, id);
  if (!found) throw new AppError('not-found', `That ${kind} is not in this collection.`);
}

async function requirePlan(manager: EntityManager, id: string): Promise<PlannedAct> {
  const row = await readRecord(manager, 'planned_act', id);
  if (!row) throw new AppError('not-found', 'That is not on the list any more.');
  return row as unknown as PlannedAct;
}

async function requireClock(manager: EntityManager, id: string): Promise<ClockRow> {
  const row = await readRecord(manager, 'clock', id);
  if (!row) throw new AppError('not-found', 'That clock is not running any more.');
  return row as unknown as ClockRow;
}

function dateProblem(message: string): AppError {
  return new AppError('invalid-request', message, { errors: [{ path: 'onDate', message }] });
}
