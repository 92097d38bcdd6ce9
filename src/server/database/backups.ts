import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { DataSource } from 'typeorm';
import type { BackupView } from '../../contract/shell.ts';
import { AppError } from '../app-error.ts';
import { KNOWN_MIGRATIONS, type Database } from './open.ts';

/*
 * Backups are whole collections in files of their own, in a folder beside the collection: `<name>.<why>.<day>T<time>.sqlite`. Each is
 * checked before it counts: a half-written copy never takes the name.
 */

const WHYS = { daily: 'daily', asked: 'asked', before: 'before restoring', brought: 'brought in' } as const;
type Why = keyof typeof WHYS;
const PATTERN = /^[\w-]+\.(daily|asked|before|brought)\.(\d{4}-\d{2}-\d{2})T(\d{2})(\d{2})(\d{2})\.sqlite$/;
/** Daily backups kept; those made on request or before a restore are kept until the grower removes them. */
const DAILY_KEPT = 14;
const DAY_MS = 86_400_000;

export class Backups {
  readonly folder: string;
  readonly #database: Database;
  readonly #stem: string;

  constructor(database: Database) {
    this.#database = database;
    this.folder = join(dirname(database.file), 'backups');
    this.#stem = basename(database.file, '.sqlite');
  }

  /** Makes a backup and checks it. @throws AppError `backup-bad`, `disk-full`, `cannot-write` */
  async make(why: Why, at: Date): Promise<string> {
    mkdirSync(this.folder, { recursive: true });
    const name = `${this.#stem}.${why}.${at.toISOString().slice(0, 19).replaceAll(':', '')}.sqlite`;
    const half = join(this.folder, `${name}.part`);
    rmSync(half, { force: true });
    try {
      await this.#database.copyTo(half);
      await closeJournal(half);
      await inspectCollection(half);
      renameSync(half, join(this.folder, name));
    } catch (error) {
      rmSync(half, { force: true });
      throw error;
    }
    return name;
  }

  /** The day's backup, when there is none yet; old daily ones beyond the last fourteen go. @returns its name, or undefined */
  async daily(at: Date): Promise<string | undefined> {
    const day = at.toISOString().slice(0, 10);
    const dailies = this.#names().filter((name) => PATTERN.exec(name)?.[1] === 'daily');
    if (dailies.some((name) => PATTERN.exec(name)?.[2] === day)) return undefined;
    // What a machine that went down left half-written is never a backup.
    if (existsSync(this.folder))
      for (const name of readdirSync(this.folder))
        if (name.endsWith('.part') && at.getTime() - statSync(join(this.folder, name)).mtimeMs > DAY_MS) rmSync(join(this.folder, name), { force: true });
    const made = await this.make('daily', at);
    for (const name of [...dailies, made].sort().slice(0, -DAILY_KEPT)) rmSync(join(this.folder, name), { force: true });
    return made;
  }

  /** Every backup, newest first, with what is in it. */
  async list(): Promise<BackupView[]> {
    const views: BackupView[] = [];
    for (const name of this.#names().sort((a, b) => (timeOf(a) < timeOf(b) ? 1 : -1))) {
      const path = join(this.folder, name);
      let inside: { pots: number | null; events: number | null; problem: string | null };
      try {
        inside = { ...(await countCollection(path)), problem: null };
      } catch (error) {
        inside = { pots: null, events: null, problem: error instanceof AppError ? error.message : 'It cannot be read.' };
      }
      views.push({ name, at: timeOf(name), bytes: statSync(path).size, why: WHYS[PATTERN.exec(name)![1] as Why], ...inside });
    }
    return views;
  }

  /** The path of a backup by name. @throws AppError `not-found` */
  pathOf(name: string): string {
    if (!PATTERN.test(name) || !existsSync(join(this.folder, name))) throw new AppError('not-found', 'There is no such backup in the folder.');
    return join(this.folder, name);
  }

  /** Where a file brought in from elsewhere is written before it is checked. */
  incoming(at: Date): { part: string; accept(): Promise<string> } {
    mkdirSync(this.folder, { recursive: true });
    const name = `${this.#stem}.brought.${at.toISOString().slice(0, 19).replaceAll(':', '')}.sqlite`;
    const part = join(this.folder, `${name}.part`);
    return {
      part,
      accept: async () => {
        try {
          await inspectCollection(part);
          await closeJournal(part);
          renameSync(part, join(this.folder, name));
        } catch (error) {
          rmSync(part, { force: true });
          throw error;
        }
        return name;
      },
    };
  }

  /**
   * Puts a backup in the collection's place, after checking it whole and keeping the collection as it is now as a backup of its own.
   * @returns the name of the backup made of what was there
   * @throws AppError `not-found`, `backup-bad`: then nothing was changed
   */
  async restore(name: string, at: Date): Promise<string> {
    const path = this.pathOf(name);
    await inspectCollection(path);
    const kept = await this.make('before', at);
    const next = `${this.#database.file}.next`;
    rmSync(next, { force: true });
    await copyCollection(path, next);
    await this.#database.replaceWith(next);
    return kept;
  }

  #names(): string[] {
    if (!existsSync(this.folder)) return [];
    return readdirSync(this.folder).filter((name) => PATTERN.test(name) && name.startsWith(`${this.#stem}.`));
  }
}

function timeOf(name: string): string {
  const [, , day, hours, minutes, seconds] = PATTERN.exec(name)!;
  return `${day}T${hours}:${minutes}:${seconds}.000Z`;
}

/** Checks a file: a whole, unbroken collection that this version understands. @throws AppError `backup-bad` */
export async function inspectCollection(file: string): Promise<{ pots: number; events: number }> {
  return withCollection(file, async (source) => {
    const [integrity] = await source.query<{ integrity_check: string }[]>('PRAGMA integrity_check');
    if (integrity?.integrity_check !== 'ok') throw new AppError('backup-bad', 'That file is damaged, so it was not used. Choose an older backup.');
    const broken = await source.query<unknown[]>('PRAGMA foreign_key_check');
    if (broken.length > 0) throw new AppError('backup-bad', 'Some lines of that file point nowhere, so it was not used. Choose an older backup.');
    return counts(source);
  });
}

/** One file, without a write-ahead log beside it, so that it can be carried about and read from anywhere. */
async function closeJournal(file: string): Promise<void> {
  const source = new DataSource({ type: 'better-sqlite3', database: file, fileMustExist: true });
  await source.initialize();
  await source.query('PRAGMA journal_mode = DELETE');
  await source.destroy();
}

function countCollection(file: string): Promise<{ pots: number; events: number }> {
  return withCollection(file, counts);
}

async function counts(source: DataSource): Promise<{ pots: number; events: number }> {
  const [row] = await source.query<{ pots: number; events: number }[]>(
    'SELECT (SELECT count(*) FROM pot) AS pots, (SELECT count(*) FROM care_event) AS events',
  );
  return row ?? { pots: 0, events: 0 };
}

async function copyCollection(from: string, to: string): Promise<void> {
  await withCollection(from, (source) =>
    (source.driver as unknown as { databaseConnection: { backup(file: string): Promise<unknown> } }).databaseConnection.backup(to),
  );
}

async function withCollection<T>(file: string, work: (source: DataSource) => Promise<T>): Promise<T> {
  const source = new DataSource({ type: 'better-sqlite3', database: file, readonly: true, fileMustExist: true });
  try {
    await source.initialize();
    const rows = await source.query<{ name: string }[]>('SELECT name FROM migrations');
    if (!rows.every((row) => KNOWN_MIGRATIONS.includes(row.name)))
      throw new AppError('backup-bad', 'That backup was written by a newer version of Frugal Sip. Start that version to use it.');
    return await work(source);
  } catch (error) {
    if (error instanceof AppError) throw error;
    if (/SQLITE_(NOTADB|CORRUPT)|no such table|not a database|malformed/.test(`${(error as { code?: string }).code} ${String(error)}`))
      throw new AppError('backup-bad', 'That file is not a collection of Frugal Sip, or it is damaged. Nothing was changed.');
    throw error;
  } finally {
    if (source.isInitialized) await source.destroy();
  }
}
