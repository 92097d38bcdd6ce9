import 'reflect-metadata';
import { Sqlite } from './sqlite.ts';
import { closeSync, fsyncSync, openSync, rmSync } from 'node:fs';
import { DataSource } from 'typeorm';
import { carePayloads, type CareKind } from '../../contract/care.ts';
import { localDate } from '../../contract/common.ts';
import { allSettings } from '../../contract/shell.ts';
import { AS_JSON } from '../collection/settings.ts';
import type { OddLine } from './ahead.ts';
import { ENTITIES } from './entities.ts';
import { copyAtOneMoment, removeFile } from './copy-file.ts';
import { FORGET_INDEX } from './forget-index.ts';
import { KNOWN_MIGRATIONS, MIGRATIONS } from './migrations/index.ts';
import { isDamage } from './raw.ts';

/*
 * Work on whole files: copying, checking, bringing to this version. It takes seconds for a large collection and runs in a thread of its own
 * (`file-worker.ts`), so that nobody at the bench waits for it. What is wrong with a file is data, in words: errors do not pass between threads whole.
 */

export type Found = { readonly pots: number; readonly events: number };
export type FileVerdict = { readonly ok: true; readonly found: Found } | { readonly ok: false; readonly words: string };

const NOT_OURS = 'That file is not a collection of Frugal Sip, or it is damaged. Nothing was changed.';
const bad = (words: string): FileVerdict => ({ ok: false, words });

/** Copies a collection that is in use, as it stands at one moment, into one file, and checks the copy whole. */
export async function copyAndCheck({ from, to }: { from: string; to: string }): Promise<FileVerdict> {
  await copyAtOneMoment(from, to);
  closeJournal({ file: to });
  return checkWhole({ file: to });
}

/** One file, without a write-ahead log beside it, so that it can be carried about and read from anywhere; safe on the disk. */
export function closeJournal({ file }: { file: string }): void {
  const db = new Sqlite(file, { fileMustExist: true });
  try {
    db.pragma('journal_mode = DELETE');
  } finally {
    db.close();
  }
  for (const end of ['-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
  syncToDisk(file);
}

/** Checks a file: a whole, unbroken collection that this version understands, with nothing in it that is not ours. */
export function checkWhole({ file }: { file: string }): Promise<FileVerdict> {
  return looking(file, async (db) => {
    const [integrity] = db.prepare<[], { integrity_check: string }>('PRAGMA integrity_check(1)').all();
    if (integrity?.integrity_check !== 'ok')
      return bad('That file is damaged, so it was not used. Choose an older backup.');
    if (db.prepare('PRAGMA foreign_key_check').all().length > 0)
      return bad('Some lines of that file point nowhere, so it was not used. Choose an older backup.');
    const foreign = await notOurs(db);
    if (foreign)
      return bad(
        `That file holds ${foreign}, which no collection of Frugal Sip has, so it was not used. Nothing was changed.`,
      );
    return { ok: true, found: counts(db) };
  });
}

/** A quick look at what is in a file. */
export function lookInto({ file }: { file: string }): Promise<FileVerdict> {
  return looking(file, async (db) => ({ ok: true, found: counts(db) }));
}

/**
 * A copy of a backup, brought to this version and checked again, ready to take the collection's place: whatever is wrong with it shows here, before anything
 * is swapped.
 */
export async function prepareCandidate({ from, to }: { from: string; to: string }): Promise<FileVerdict> {
  const before = await checkWhole({ file: from });
  if (!before.ok) return before;
  removeFile(to);
  const source = new Sqlite(from, { readonly: true, fileMustExist: true });
  try {
    await source.backup(to);
  } finally {
    source.close();
  }
  const verdict = await bringToToday(to);
  if (!verdict.ok) {
    removeFile(to);
    return verdict;
  }
  closeJournal({ file: to });
  return checkWhole({ file: to });
}

/** Bytes that are in a file, on the disk: a power cut takes them no more. */
export function syncToDisk(path: string): void {
  const handle = openSync(path, 'r');
  try {
    fsyncSync(handle);
  } catch (error) {
    // Some systems do not let a folder be synced; its files are.
    if (!/^(EINVAL|EISDIR|EPERM|EACCES)$/.test((error as { code?: string }).code ?? '')) throw error;
  } finally {
    closeSync(handle);
  }
}

/** How many lines are looked for at the most; past that the file is no collection of ours. */
const MOST_ODD = 10_000;

/** Lines of the log that the contract does not know: another kind, figures missing or of another make, a day or an instant that is none. */
export function oddLines({ file }: { file: string }): OddLine[] {
  const db = new Sqlite(file, { readonly: true, fileMustExist: true, timeout: 5000 });
  try {
    const odd: OddLine[] = [];
    const rows = db.prepare<[], Line>('SELECT seq, potId, kind, at, localDate, payload FROM care_event').iterate();
    for (const { seq, potId, ...line } of rows) if (!isUnderstood(line) && odd.push({ seq, potId }) >= MOST_ODD) break;
    return odd;
  } finally {
    db.close();
  }
}

type Line = { seq: number; potId: string | null; kind: string; at: string; localDate: string; payload: string };
function isUnderstood({ kind, at, localDate: day, payload }: Omit<Line, 'seq' | 'potId'>): boolean {
  const shape = Object.hasOwn(carePayloads, kind) ? carePayloads[kind as CareKind] : undefined;
  if (!shape || Number.isNaN(Date.parse(at)) || !localDate.safeParse(day).success) return false;
  try {
    return shape.safeParse(JSON.parse(payload)).success;
  } catch {
    return false;
  }
}

/** A file brings no access: pens that could send by it want a new key. */
const FORGET_KEYS = `UPDATE instrument SET withdrawnOn = coalesce(withdrawnOn, madeOn), keyDigest = printf('%064d', 0)`;

async function bringToToday(file: string): Promise<FileVerdict> {
  const source = new DataSource({
    type: 'better-sqlite3',
    driver: Sqlite,
    database: file,
    fileMustExist: true,
    entities: ENTITIES,
    migrations: MIGRATIONS,
    migrationsTransactionMode: 'each',
    prepareDatabase: (raw: Sqlite) => void raw.pragma('trusted_schema = OFF'),
  });
  try {
    await source.initialize();
    await source.runMigrations();
    const odd = await oddTable(source);
    if (odd)
      return bad(`The table "${odd}" of that file is not built as ours is, so it was not used. Nothing was changed.`);
    // What a file says of its own lines is not taken on trust.
    for (const statement of [...FORGET_INDEX, FORGET_KEYS]) await source.query(statement);
    const settings = await oddSetting(source);
    if (settings)
      return bad(
        `The setting "${settings}" of that file cannot be understood, so it was not used. Nothing was changed.`,
      );
    return { ok: true, found: { pots: 0, events: 0 } };
  } catch (error) {
    return bad(
      `That file could not be brought to this version (${String((error as Error).message).slice(0, 160)}). Nothing was changed.`,
    );
  } finally {
    if (source.isInitialized) await source.destroy();
  }
}

/** A table whose text differs from a collection's made today; undefined where there is none. */
async function oddTable(source: DataSource): Promise<string | undefined> {
  const ours = (await schemas()).today;
  const theirs = await source.query<Master[]>(MASTER);
  const byName = new Map(theirs.map((row) => [row.name, row.sql]));
  return (
    theirs.find((row) => ours.get(row.name) !== row.sql)?.name ?? [...ours].find(([name]) => !byName.has(name))?.[0]
  );
}

/** A setting that would stop the server from starting; undefined where there is none. */
async function oddSetting(source: DataSource): Promise<string | undefined> {
  for (const { key, value } of await source.query<{ key: string; value: string }[]>('SELECT key, value FROM setting')) {
    const shape = allSettings.shape[key as keyof typeof allSettings.shape];
    if (!shape) continue;
    try {
      shape.parse(AS_JSON.has(key) ? (JSON.parse(value) as unknown) : value);
    } catch {
      return key;
    }
  }
  return undefined;
}

/** In words, something in a file that no version of ours ever made: a trigger, a view, a table or index of another name. */
async function notOurs(db: Sqlite): Promise<string | undefined> {
  const { ever, today } = await schemas();
  for (const { type, name, sql } of db.prepare<[], Master>(MASTER).all()) {
    if (type === 'trigger' || type === 'view') return `a ${type} "${name}"`;
    const foreign =
      !ever.has(`${type} ${name}`) || (/^\s*create\s+virtual/i.test(sql ?? '') && today.get(name) !== sql);
    if (foreign) return type === 'table' ? `a table "${name}"` : `an ${type} "${name}"`;
  }
  return undefined;
}

type Master = { type: string; name: string; sql: string | null };
const MASTER = `SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'`;
/** `today`: the text of each table and index now; `ever`: every one that some version had. */
type Schemas = { today: ReadonlyMap<string, string | null>; ever: ReadonlySet<string> };
let known: Promise<Schemas> | undefined;

/** Our tables in every version, found by making them: no list to keep in step. */
function schemas(): Promise<Schemas> {
  return (known ??= (async () => {
    const ever = new Set<string>();
    const note = (rows: readonly Master[]) => rows.forEach((row) => ever.add(`${row.type} ${row.name}`));
    const stepwise = await memory();
    const runner = stepwise.createQueryRunner();
    for (const step of MIGRATIONS) {
      await new step().up(runner);
      note(await stepwise.query<Master[]>(MASTER));
    }
    await stepwise.destroy();
    const whole = await memory();
    await whole.runMigrations();
    const rows = await whole.query<Master[]>(MASTER);
    note(rows);
    await whole.destroy();
    const today = new Map(rows.map((row) => [row.name, row.sql]));
    return { today, ever };
  })());
}

async function memory(): Promise<DataSource> {
  const source = new DataSource({
    type: 'better-sqlite3',
    driver: Sqlite,
    database: ':memory:',
    migrations: MIGRATIONS,
    migrationsTransactionMode: 'each',
  });
  return source.initialize();
}

function counts(db: Sqlite): Found {
  return db
    .prepare<[], Found>('SELECT (SELECT count(*) FROM pot) AS pots, (SELECT count(*) FROM care_event) AS events')
    .get()!;
}

async function looking(file: string, look: (db: Sqlite) => Promise<FileVerdict>): Promise<FileVerdict> {
  let db: Sqlite | undefined;
  try {
    db = new Sqlite(file, { readonly: true, fileMustExist: true });
    db.pragma('trusted_schema = OFF');
    const rows = db.prepare<[], { name: string }>('SELECT name FROM migrations').all();
    if (rows.length === 0) return bad(NOT_OURS);
    if (!rows.every((row) => KNOWN_MIGRATIONS.includes(row.name)))
      return bad('That backup was written by a newer version of Frugal Sip. Start that version to use it.');
    return await look(db);
  } catch (error) {
    if (
      isDamage(error) ||
      /no such table|no such column|not a database|malformed|file is encrypted/.test(String(error))
    )
      return bad(NOT_OURS);
    throw error;
  } finally {
    db?.close();
  }
}
