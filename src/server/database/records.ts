import type { EntityManager } from 'typeorm';
import { RECORD_TABLES, type CarePayload, type RecordTable } from '../../contract/care.ts';
import { AppError } from '../app-error.ts';
import type { Pot } from './entities.ts';
import { appendCareEvent } from './care-log.ts';

/*
 * Records (pots, places, the Shelf, plans, clocks, settings) are changed only through the log: one event names every record an act
 * touched, with what stood there before. So every change is shown in the Book, can be taken back, and can be put back.
 */

type Value = string | number | null;
type Fields = Record<string, Value>;
export type RecordChange = { table: RecordTable; id: string; after: Record<string, Value | boolean | undefined> };
export type Logged = CarePayload<'recordsChanged'>['changes'][number];

/** The column that names a record. */
const keyOf = (table: RecordTable) => (table === 'setting' ? 'key' : 'id');
const NO_RECORD = 'There is nothing of that number. Reload the page.';

/**
 * Adds or changes records in one act and logs it. A record that is not there yet is added with all of `after`; of one that is there only
 * the fields that differ are changed and logged. The same event id again changes nothing.
 * @returns repeated: the act was logged before; changed: false when everything was so already, and nothing was logged
 * @throws AppError `id-reused`
 */
export async function changeRecords(
  manager: EntityManager,
  act: {
    eventId: string;
    when: { at: Date; localDate: string };
    group: CarePayload<'recordsChanged'>['group'];
    words: string;
    changes: readonly RecordChange[];
  },
): Promise<{ repeated: boolean; changed: boolean }> {
  const [known] = await manager.query<{ kind: string }[]>('SELECT kind FROM care_event WHERE id = ?', [act.eventId]);
  if (known?.kind === 'recordsChanged') return { repeated: true, changed: true };
  if (known)
    throw new AppError(
      'id-reused',
      'An act with this number is already logged with other contents. Reload the page and do it again.',
    );
  const changes = await applyRecords(manager, act.changes);
  if (changes.length === 0) return { repeated: false, changed: false };
  await appendCareEvent(manager, {
    id: act.eventId,
    kind: 'recordsChanged',
    at: act.when.at,
    localDate: act.when.localDate,
    payload: { group: act.group, words: act.words.slice(0, 400), changes },
  });
  await touchRecords(manager, act.eventId, changes);
  return { repeated: false, changed: true };
}

/** Carries changes out and says what stood there before, for the event that logs them; what is so already is left out. */
export async function applyRecords(manager: EntityManager, wanted: readonly RecordChange[]): Promise<Logged[]> {
  const changes: Logged[] = [];
  for (const change of wanted) {
    const after = plain(change.after);
    const row = await readRecord(manager, change.table, change.id);
    if (!row) {
      await insert(manager, change.table, change.id, after);
      changes.push({ table: change.table, id: change.id, before: null, after });
      continue;
    }
    const differing = Object.keys(after).filter((key) => row[key] !== after[key]);
    if (differing.length === 0) continue;
    const changed = pick(after, differing);
    changes.push({ table: change.table, id: change.id, before: pick(row, differing), after: changed });
    await update(manager, change.table, change.id, changed);
  }
  return changes;
}

/** Notes at each record which event changed it. */
async function touchRecords(manager: EntityManager, eventId: string, changes: readonly Logged[]): Promise<void> {
  for (const change of changes) await touch(manager, eventId, await subjectsOf(manager, change));
}

/** Notes an event at what it is about, such as `pot:…` or `clay_batch:…`, so that the thing's own history is found at once. */
export async function touch(manager: EntityManager, eventId: string, subjects: readonly string[]): Promise<void> {
  for (const subject of subjects)
    await manager.query('INSERT OR IGNORE INTO event_touch (subject, eventId) VALUES (?, ?)', [subject, eventId]);
}

/**
 * Takes a logged change back, last record first.
 * @throws AppError `changed-since` when a later act changed the same field; `in-use` when history leans on a record that was added
 */
export async function takeBackRecords(manager: EntityManager, changes: readonly Logged[]): Promise<void> {
  for (const { table, id, before, after } of [...changes].reverse()) {
    const row = await readRecord(manager, table, id);
    if (!row) throw new AppError('changed-since', NO_RECORD);
    requireSame(row, after);
    if (before) await update(manager, table, id, before);
    else await remove(manager, table, id);
  }
}

/** Makes a taken-back change once more. @throws AppError `changed-since` */
export async function putBackRecords(manager: EntityManager, changes: readonly Logged[]): Promise<void> {
  for (const { table, id, before, after } of changes) {
    const row = await readRecord(manager, table, id);
    if (before === null) {
      if (row) throw new AppError('changed-since', 'It is there again already.');
      await insert(manager, table, id, after);
      continue;
    }
    if (!row) throw new AppError('changed-since', NO_RECORD);
    requireSame(row, before);
    await update(manager, table, id, after);
  }
}

/** The records whose own history tells of a change: itself, and the pot a regimen, a plan or a clock is about. */
async function subjectsOf(manager: EntityManager, { table, id }: Logged): Promise<string[]> {
  const own = `${table}:${id}`;
  if (table === 'pot_regimen') return [own, `pot:${(await readRecord(manager, table, id))?.['potId']}`];
  if (table === 'planned_act' || table === 'clock') {
    const row = await readRecord(manager, table, id);
    return row?.['subjectKind'] === 'pot' ? [own, `pot:${row['subjectId']}`] : [own];
  }
  return [own];
}

export async function readRecord(manager: EntityManager, table: RecordTable, id: string): Promise<Fields | undefined> {
  requireTable(table);
  const [row] = await manager.query<Fields[]>(`SELECT * FROM "${table}" WHERE "${keyOf(table)}" = ?`, [id]);
  return row;
}

/** A pot of this collection, kept or retired. @throws AppError `not-found` */
export async function requirePot(manager: EntityManager, id: string): Promise<Pot> {
  const pot = await readRecord(manager, 'pot', id);
  if (!pot) throw new AppError('not-found', 'That pot is not in this collection.');
  return pot as unknown as Pot;
}

function requireSame(row: Fields, expected: Fields): void {
  const other = Object.keys(expected).find((key) => row[key] !== expected[key]);
  if (other !== undefined)
    throw new AppError('changed-since', 'It was changed again since. Take the later change back first.');
}

async function insert(manager: EntityManager, table: RecordTable, id: string, fields: Fields): Promise<void> {
  requireTable(table);
  const all = { [keyOf(table)]: id, ...fields };
  const columns = Object.keys(all);
  await manager.query(
    `INSERT INTO "${table}" (${columns.map((c) => `"${c}"`).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
    Object.values(all),
  );
}

async function update(manager: EntityManager, table: RecordTable, id: string, fields: Fields): Promise<void> {
  requireTable(table);
  const columns = Object.keys(fields);
  try {
    await manager.query(
      `UPDATE "${table}" SET ${columns.map((c) => `"${c}" = ?`).join(', ')} WHERE "${keyOf(table)}" = ?`,
      [...Object.values(fields), id],
    );
  } catch (error) {
    if (/UNIQUE/.test(String(error)))
      throw new AppError(
        'changed-since',
        'Another one took its place since (its code or name). Rename that one first.',
      );
    throw error;
  }
}

async function remove(manager: EntityManager, table: RecordTable, id: string): Promise<void> {
  if (table === 'clay_batch') await requireUnused(manager, id);
  try {
    await manager.query(`DELETE FROM "${table}" WHERE "${keyOf(table)}" = ?`, [id]);
  } catch (error) {
    if (/FOREIGN KEY/.test(String(error)))
      throw new AppError('in-use', 'What was logged since leans on it, so it stays. Retire it instead.');
    throw error;
  }
}

/** Soaks and pottings name their batch in the log, where no foreign key holds it. */
async function requireUnused(manager: EntityManager, clayId: string): Promise<void> {
  const [used] = await manager.query<unknown[]>(
    `SELECT 1 FROM event_touch t JOIN care_event e ON e.id = t.eventId WHERE t.subject = ? AND e.voidedBy IS NULL AND e.kind <> 'recordsChanged' LIMIT 1`,
    [`clay_batch:${clayId}`],
  );
  if (used)
    throw new AppError(
      'in-use',
      'It was soaked or potted up since, so it stays. Take that back first, or put the batch away instead.',
    );
}

function requireTable(table: RecordTable): void {
  if (!RECORD_TABLES.includes(table)) throw new Error(`${table} is not a table of records`);
}

const plain = (fields: RecordChange['after']): Fields =>
  Object.fromEntries(
    Object.entries(fields).flatMap(([key, value]): [string, Value][] =>
      value === undefined ? [] : [[key, typeof value === 'boolean' ? Number(value) : value]],
    ),
  );
const pick = (fields: Fields, keys: readonly string[]): Fields =>
  Object.fromEntries(keys.map((key) => [key, fields[key] ?? null]));
