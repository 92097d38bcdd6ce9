import type { EntityManager } from 'typeorm';
import { daysBetween, plusDays, type LocalDate } from '../core/regimen/index.ts';
import type { Setting } from '../server/database/entities.ts';
import { writtenBesideTheLog } from '../server/collection/index.ts';
import { writeSetting } from '../server/shell/settings.ts';
import { FORGET_INDEX } from '../server/database/forget-index.ts';
import { DATED } from '../server/acts.ts';

/**
 * Moves every date of the demo by whole days, so that what was today when it was made is today again. Does nothing on the same day.
 * @returns days moved
 */
export async function shiftDemo(manager: EntityManager, today: LocalDate): Promise<number> {
  const [made] = await manager.query<Setting[]>(`SELECT * FROM setting WHERE key = 'demoDay'`);
  const days = made ? daysBetween(made.value, today) : 0;
  if (days === 0) return 0;
  const by = `${days > 0 ? '+' : ''}${days} days`;
  const instant = (column: string) => `strftime('%Y-%m-%dT%H:%M:%fZ', ${column}, '${by}')`;
  const date = (column: string) => `date(${column}, '${by}')`;
  const statements = [
    // Due keys step aside first: moved one row at a time they would meet the next week's.
    `UPDATE care_event SET dueKey = 'moving:' || replace(dueKey, json_extract(payload, '$.dueOn'), ${date("json_extract(payload, '$.dueOn')")}) WHERE dueKey IS NOT NULL`,
    `UPDATE care_event SET at = ${instant('at')}, localDate = ${date('localDate')}`,
    ...DATED.flatMap(({ kind, days: fields, instants }) => [
      ...fields.map((field) => movePayload(kind, field, date)),
      ...instants.map((field) => movePayload(kind, field, instant)),
    ]),
    `UPDATE care_event SET dueKey = substr(dueKey, length('moving:') + 1) WHERE dueKey IS NOT NULL`,
    `UPDATE batch SET startedAt = ${instant('startedAt')}, startedOn = ${date('startedOn')}, pouredAt = ${instant('pouredAt')}`,
    `UPDATE pot SET acquiredOn = ${date('acquiredOn')}, repottedOn = ${date('repottedOn')}, retiredOn = ${date('retiredOn')}`,
    ...['place', 'water', 'meter', 'tool', 'vessel', 'product', 'regimen'].map(
      (table) => `UPDATE "${table}" SET retiredOn = ${date('retiredOn')}`,
    ),
    `UPDATE planned_act SET onDate = ${date('onDate')}, doneOn = ${date('doneOn')}, droppedOn = ${date('droppedOn')}`,
    `UPDATE clay_batch SET openedOn = ${date('openedOn')}, rinsedOn = ${date('rinsedOn')}, boiledOn = ${date('boiledOn')}, retiredOn = ${date('retiredOn')}`,
    `UPDATE clock SET startedAt = ${instant('startedAt')}, endsAt = ${instant('endsAt')}, stoppedAt = ${instant('stoppedAt')}`,
    `UPDATE treatment SET fromDate = ${date('fromDate')}, toDate = ${date('toDate')}`,
    `UPDATE instrument SET madeOn = ${date('madeOn')}, withdrawnOn = ${date('withdrawnOn')}`,
    `UPDATE sent_reading SET at = ${instant('at')}`,
    `UPDATE trial SET startOn = ${date('startOn')}, endedOn = ${date('endedOn')}`,
    `UPDATE trial_pot SET fromOn = ${date('fromOn')}, leftOn = ${date('leftOn')}`,
    // A turn is called by its day.
    `UPDATE turn_mark SET id = substr(id, 1, instr(id, '|')) || ${date("substr(id, instr(id, '|') + 1, 10)")} || substr(id, instr(id, '|') + 11)`,
    `UPDATE advice_answer SET onDate = ${date('onDate')}`,
    `UPDATE pot_regimen SET fromDate = ${date('fromDate')}`,
    `UPDATE away SET fromDate = ${date('fromDate')}, untilDate = ${date('untilDate')}, droppedOn = ${date('droppedOn')}`,
    `UPDATE made_day SET onDate = ${date('onDate')}`,
    `UPDATE water_part SET droppedOn = ${date('droppedOn')}`,
    `UPDATE bottle SET openedOn = ${date('openedOn')}, finishedOn = ${date('finishedOn')}`,
    // Lines are found by their days.
    ...FORGET_INDEX,
    `UPDATE simulated_truth SET payload = json_set(payload, '$.asOf', ${instant("json_extract(payload, '$.asOf')")}) WHERE subject LIKE 'pot:%'`,
  ];
  writtenBesideTheLog(manager);
  for (const statement of statements) await manager.query(statement);
  await shiftPlans(manager, days);
  await shiftChanges(manager, days);
  await writeSetting(manager, 'demoDay', today);
  return days;
}

const movePayload = (kind: string, field: string, moved: (column: string) => string) =>
  `UPDATE care_event SET payload = json_set(payload, '$.${field}', ${moved(`json_extract(payload, '$.${field}')`)}) WHERE kind = '${kind}'`;

/** Plans hold their days in lists. */
async function shiftPlans(manager: EntityManager, days: number): Promise<void> {
  for (const [table, columns] of Object.entries({
    pot_plan: ['madeAt', 'visits', 'pins', 'nots'],
    season: ['madeAt', 'clay', 'foretold'],
    water_part: ['changed'],
  }))
    for (const row of await manager.query<Record<string, string>[]>(`SELECT * FROM "${table}"`))
      await manager.query(`UPDATE "${table}" SET ${columns.map((c) => `"${c}" = ?`).join(', ')} WHERE id = ?`, [
        ...columns.map((column) => moveDate(row[column]!, days)),
        row['id'],
      ]);
}

/** Changes of records say what stood before and after; days and instants among that move along, so that they can still be taken back. */
async function shiftChanges(manager: EntityManager, days: number): Promise<void> {
  const rows = await manager.query<{ seq: number; payload: string }[]>(
    `SELECT seq, payload FROM care_event WHERE json_extract(payload, '$.changes') IS NOT NULL`,
  );
  for (const { seq, payload } of rows) {
    const moved = JSON.stringify(
      JSON.parse(payload, (_key, value: unknown) => (typeof value === 'string' ? moveDate(value, days) : value)),
    );
    await manager.query('UPDATE care_event SET payload = ? WHERE seq = ?', [moved, seq]);
  }
}

function moveDate(text: string, days: number): string {
  if (/^\d{4}-\d{2}-\d{2}$/.test(text)) return plusDays(text, days);
  if (/^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/.test(text))
    return new Date(new Date(text).getTime() + days * 86_400_000).toISOString();
  // A list of days within a record.
  return /^[[{]/.test(text) ? moveWithin(text, days) : text;
}

function moveWithin(text: string, days: number): string {
  try {
    return JSON.stringify(
      JSON.parse(text, (_key, value: unknown) => (typeof value === 'string' ? moveDate(value, days) : value)),
    );
  } catch {
    // A note that only begins like a list.
    return text;
  }
}
