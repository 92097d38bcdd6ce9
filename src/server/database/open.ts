import 'reflect-metadata';
import { Sqlite } from './sqlite.ts';
import { copyFileSync, existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { DataSource } from 'typeorm';
import { AppError } from '../app-error.ts';
import { ENTITIES } from './entities.ts';
import { leaveOut, lookAhead, type Ahead, type AsOf, type OddLine } from './ahead.ts';
import { crashPoint } from './crash-point.ts';
import { backupFolderOf, freeBackupName, stemOf } from './file-names.ts';
import {
  DAMAGED,
  hasBytes,
  identityOf,
  isSame,
  keep,
  REPLACED,
  tidy,
  troubleAtStart,
  type FileTrouble,
  type Identity,
} from './file-state.ts';
import { inFileThread } from './file-thread.ts';
import { syncToDisk } from './file-work.ts';
import { holdCollection } from './folder-lock.ts';
import { settle, type Home } from './home.ts';
import { KNOWN_MIGRATIONS, MIGRATIONS } from './migrations/index.ts';
import { isDamage, rawOf } from './raw.ts';
import { SwapGate } from './swap-gate.ts';
import { WriteQueue } from './write-queue.ts';

/** An open collection: one connection that writes (only through the queue) and one that reads. */
export type Database = {
  readonly file: string;
  readonly home: Home;
  readonly write: WriteQueue;
  /** @throws AppError `busy` while a backup is being put in place, `damaged` when there is no file that could be read */
  readonly read: DataSource;
  readonly writer: DataSource;
  /** What lies ahead of now. From here on `read` leaves it out of everything read. */
  asOf(now: AsOf): Promise<Ahead>;
  /** Lines of the log that cannot be understood, as far as they were looked for: `read` leaves them out. */
  readonly oddLines: readonly OddLine[];
  /** Looks for such lines, in a thread of its own: some 25 µs a line. */
  checkLines(): Promise<void>;
  /** Looks pass here, so that a swap of the file can wait for them. */
  readonly gate: SwapGate;
  /** What is wrong with the file just now, if anything. */
  trouble(): FileTrouble | null;
  /** Notes an error that tells of damage, whoever met it. */
  noteError(error: unknown): void;
  /** Copies the collection as it stands now into a file of its own, checked whole, while it goes on being used. @throws AppError `backup-bad` */
  copyTo(file: string): Promise<void>;
  /**
   * Puts another file, brought to this version already, in this one's place. What was there is kept at `keepAs`, with every act acknowledged until then: acts asked
   * for meanwhile wait. If the other cannot be opened, what was there is back.
   * @returns whether there was anything to keep
   * @throws AppError `locked` when another program holds the file
   */
  replaceWith(file: string, keepAs: string): Promise<boolean>;
  close(): Promise<void>;
};

type Options = {
  readonly now?: () => Date;
  /** Looks at the file of an older version before it is brought to this one. */
  readonly beforeUpdate?: (raw: Sqlite) => void;
  /** Serves without the file where it is damaged or gone and backups of it are there, instead of refusing to start. */
  readonly evenDamaged?: boolean;
};

/** A look that was begun on the reading connection before is over by then. */
const LOOKS_LAST_MS = 10_000;

/**
 * Opens (and creates, and migrates) the SQLite file. WAL, foreign keys on, synchronous FULL. Before a migration the file is copied to the backups.
 * @throws AppError `backup-bad` when the file was made by a newer version: it is left as it is; `in-use` when another server holds it
 */
export async function openDatabase(file: string, options: Options = {}): Promise<Database> {
  const { now = () => new Date(), evenDamaged = false } = options;
  mkdirSync(dirname(file), { recursive: true });
  const letGo = holdCollection(file);
  let sources: Sources | undefined;
  let swapping = false;
  let trouble: FileTrouble | null = null;
  let expected: Identity | undefined;
  const home: Home = { reader: () => open().read, logged: 0, beside: 0, whole: false, closing: [] };
  try {
    tidy(file);
    trouble = troubleAtStart(file);
    if (trouble && !evenDamaged) throw new AppError('damaged', trouble.words);
    if (!trouble) sources = await openSources(file, home, options.beforeUpdate, now);
  } catch (error) {
    if (evenDamaged && isDamage(error)) trouble = DAMAGED;
    else {
      letGo();
      throw error;
    }
  }
  expected = identityOf(file);

  const open = (): Sources => {
    if (sources) return sources;
    if (swapping || !trouble)
      throw new AppError('busy', 'A backup is being put in place. Wait a moment and try again; nothing was lost.');
    throw new AppError('damaged', trouble.words);
  };
  const writer = () => {
    const { writer: found } = open();
    if (!found)
      throw new AppError(
        'cannot-write',
        'The data folder cannot be written, so nothing was logged. Check the folder; what you did is kept on your device.',
      );
    return found;
  };
  const look = (): FileTrouble | null => {
    if (!trouble && !swapping && sources && !isSame(file, expected)) trouble = REPLACED;
    return trouble;
  };
  const write = new WriteQueue({
    writer,
    reader: () => open().read,
    reopenWriter: async () => {
      const held = open();
      const old = held.writer;
      held.writer = undefined;
      if (old?.isInitialized) await old.destroy().catch(() => undefined);
      held.writer = await openWriter(file, home);
    },
    requireSound: () => {
      const found = look();
      if (found) throw new AppError('damaged', found.words);
    },
    foundDamaged: () => (trouble ??= DAMAGED),
    home,
  });
  const gate = new SwapGate();

  const retired = new Set<DataSource>();
  const letGoOf = async (reader: DataSource) => {
    if (retired.delete(reader) && reader.isInitialized) await reader.destroy();
  };
  let leftOut = '';
  let odd: readonly OddLine[] = [];
  /** A connection that sees other rows is another connection: nothing kept of the one before can be mistaken for it. */
  const asOf = async (now: AsOf): Promise<Ahead> => {
    const held = open();
    const { key: aheadKey, ...ahead } = lookAhead(rawOf(held.read), now);
    const key = odd.length === 0 ? aheadKey : `${aheadKey} odd ${odd.map((line) => line.seq).join(' ')}`;
    if (key === leftOut) return ahead;
    const next = await openReader(file, home);
    if (key !== '') leaveOut(rawOf(next), now, odd);
    if (sources !== held) {
      await next.destroy();
      return ahead;
    }
    leftOut = key;
    const old = held.read;
    held.read = next;
    // Looks under way go on with it for a moment.
    retired.add(old);
    setTimeout(() => void letGoOf(old), LOOKS_LAST_MS).unref();
    return ahead;
  };

  const closeSources = async () => {
    const old = sources;
    sources = undefined;
    leftOut = '';
    odd = [];
    for (const reader of [...retired]) await letGoOf(reader);
    if (old?.read.isInitialized) await old.read.destroy();
    if (old?.writer?.isInitialized) await old.writer.destroy();
  };
  const openAgain = async () => {
    sources = await openSources(file, home, undefined, now);
    expected = identityOf(file);
  };

  /** With the queue and the gate shut: the file makes way for another one. @returns whether there was one to keep */
  const swap = async (next: string, keepAs: string, before: FileTrouble | null): Promise<boolean> => {
    mkdirSync(dirname(keepAs), { recursive: true });
    let kept: boolean;
    try {
      kept = await setAside(before, keepAs);
    } catch (error) {
      // Nothing was moved yet: what was open is open again.
      if (!sources && !before) await openAgain();
      throw error;
    }
    crashPoint('restore-kept');
    let moved = false;
    try {
      for (const end of ['-wal', '-shm', '-journal']) rmSync(`${file}${end}`, { force: true });
      crashPoint('restore-log-gone');
      // One step, and the folder synced: a plug pulled before it finds the old file, after it the new one.
      renameSync(next, file);
      moved = true;
      syncToDisk(dirname(file));
      crashPoint('restore-moved');
      await openAgain();
      crashPoint('restore-opened');
      trouble = null;
      return kept;
    } catch (error) {
      await closeSources();
      for (const end of ['-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
      if (moved && !kept) rmSync(file, { force: true });
      else if (moved) {
        copyFileSync(keepAs, next);
        renameSync(next, file);
        // Of a file that was replaced, what was kept is the only copy there is.
      } else if (before?.kind !== 'replaced') rmSync(keepAs, { force: true });
      if (!before) await openAgain();
      throw error;
    }
  };
  const setAside = async (before: FileTrouble | null, keepAs: string): Promise<boolean> => {
    if (before?.kind === 'replaced') {
      // The file in place is not ours: ours is only what the open connections hold.
      await rawOf(open().read).backup(keepAs);
      await closeSources();
      return true;
    }
    const locked = () =>
      new AppError(
        'locked',
        'Another program holds the collection. Close it and put the backup back then; nothing was changed.',
      );
    if (sources?.writer && !before) {
      const [checkpoint] = rawOf(writer()).pragma('wal_checkpoint(TRUNCATE)') as { busy: number }[];
      if (checkpoint?.busy) throw locked();
    }
    await closeSources();
    if (!existsSync(file)) return false;
    // Closed by its last reader a whole file has no log beside it.
    if (hasBytes(`${file}-wal`)) {
      if (!before) {
        await openAgain();
        throw locked();
      }
      copyFileSync(`${file}-wal`, `${keepAs}-wal`);
    }
    keep(file, keepAs);
    return true;
  };

  return {
    file,
    home,
    write,
    gate,
    asOf,
    get oddLines() {
      return odd;
    },
    checkLines: async () => {
      const of = open();
      const found = await inFileThread('oddLines', { file });
      // Another file may stand here by now: its own check follows it.
      if (sources === of) odd = found;
    },
    get read() {
      return open().read;
    },
    get writer() {
      return writer();
    },
    trouble: look,
    noteError: (error) => {
      if (isDamage(error)) trouble ??= DAMAGED;
    },
    copyTo: async (target) => {
      mkdirSync(dirname(target), { recursive: true });
      const { read } = open();
      // Where another file stands in its place, only the open connection still knows ours.
      const elsewhere = look()?.kind === 'replaced';
      if (elsewhere) await rawOf(read).backup(target);
      const verdict = elsewhere
        ? await inFileThread('checkWhole', { file: target })
        : await inFileThread('copyAndCheck', { from: file, to: target });
      if (!verdict.ok) throw new AppError('backup-bad', verdict.words);
    },
    replaceWith: (next, keepAs) =>
      write.alone(() =>
        gate.shutFor(async () => {
          // Looked at before the swap, which itself changes the file in its place.
          const before = look();
          swapping = true;
          try {
            return await swap(next, keepAs, before);
          } finally {
            swapping = false;
          }
        }),
      ),
    close: async () => {
      await write.idle();
      for (const last of home.closing) last();
      await closeSources();
      letGo();
    },
  };
}

type Sources = { writer: DataSource | undefined; read: DataSource };

async function openSources(
  file: string,
  home: Home,
  beforeUpdate: Options['beforeUpdate'],
  now: () => Date,
): Promise<Sources> {
  const writer = await openWriter(file, home);
  try {
    await requireNotNewer(writer);
    await update(file, writer, beforeUpdate, now);
  } catch (error) {
    await writer.destroy();
    throw error;
  }
  return { writer, read: await openReader(file, home) };
}

/** TypeORM's driver of this name with our way into SQLite. A screen asks some hundred different things: kept prepared, they cost a third. */
const SOURCE = { type: 'better-sqlite3', driver: Sqlite, statementCacheSize: 500, entities: ENTITIES } as const;

/** Pages kept in memory, 16 MB where SQLite's own 2 would do: a look through three years of log reads them again and again. */
const CACHE = 'cache_size = -16000';

async function openReader(file: string, home: Home): Promise<DataSource> {
  const source = await new DataSource({
    ...SOURCE,
    database: file,
    readonly: true,
    prepareDatabase: (raw: Sqlite) => {
      raw.pragma('busy_timeout = 250');
      raw.pragma(CACHE);
      raw.pragma('trusted_schema = OFF');
    },
  }).initialize();
  return settle(source, home);
}

async function openWriter(file: string, home: Home): Promise<DataSource> {
  const source = await new DataSource({
    ...SOURCE,
    database: file,
    migrations: MIGRATIONS,
    migrationsTransactionMode: 'each',
    enableWAL: true,
    prepareDatabase: (raw: Sqlite) => {
      raw.pragma('foreign_keys = ON');
      raw.pragma('synchronous = FULL');
      raw.pragma('trusted_schema = OFF');
      // Waiting here would hold up everybody: the write queue waits its own way.
      raw.pragma('busy_timeout = 0');
      raw.pragma(CACHE);
    },
  }).initialize();
  return settle(source, home);
}

/** Brings a file to this version, after a copy of it as it is was laid to the backups. */
async function update(
  file: string,
  writer: DataSource,
  beforeUpdate: Options['beforeUpdate'],
  now: () => Date,
): Promise<void> {
  const raw = rawOf(writer);
  const isOld =
    raw.prepare(`SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'migrations'`).get() !== undefined;
  if (isOld && (await writer.showMigrations())) {
    beforeUpdate?.(raw);
    const folder = backupFolderOf(file);
    mkdirSync(folder, { recursive: true });
    const name = freeBackupName(folder, stemOf(file), 'updating', now());
    await raw.backup(join(folder, `${name}.part`));
    await inFileThread('closeJournal', { file: join(folder, `${name}.part`) });
    renameSync(join(folder, `${name}.part`), join(folder, name));
    crashPoint('update-copied');
  }
  await writer.runMigrations();
  if (isOld) crashPoint('update-done');
}

/** A collection that a newer version has written to is not opened: this version would not understand it. */
async function requireNotNewer(source: DataSource): Promise<void> {
  const [table] = await source.query<unknown[]>(
    `SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'migrations'`,
  );
  if (!table) return;
  const rows = await source.query<{ name: string }[]>('SELECT name FROM migrations');
  const unknown = rows.find((row) => !KNOWN_MIGRATIONS.includes(row.name));
  if (unknown)
    throw new AppError(
      'backup-bad',
      'This collection was written by a newer version of Frugal Sip. Start that version instead; nothing here was changed.',
    );
}
