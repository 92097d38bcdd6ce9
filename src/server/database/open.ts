import 'reflect-metadata';
import { mkdirSync, renameSync, rmSync } from 'node:fs';
import { dirname } from 'node:path';
import { DataSource } from 'typeorm';
import { AppError } from '../app-error.ts';
import { ENTITIES } from './entities.ts';
import { Ground1764000000000 } from './migrations/1764000000000-ground.ts';
import { Everyday1764100000000 } from './migrations/1764100000000-everyday.ts';
import { Chemistry1764200000000 } from './migrations/1764200000000-chemistry.ts';
import { Clay1764300000000 } from './migrations/1764300000000-clay.ts';
import { Bench1764400000000 } from './migrations/1764400000000-bench.ts';
import { Photo1764500000000 } from './migrations/1764500000000-photo.ts';
import { Drift1764600000000 } from './migrations/1764600000000-drift.ts';
import { Schools1764700000000 } from './migrations/1764700000000-schools.ts';
import { Pens1764800000000 } from './migrations/1764800000000-pens.ts';
import { WriteQueue } from './write-queue.ts';

/** An open collection: one connection that writes (only through the queue) and one that reads. */
export type Database = {
  readonly file: string;
  readonly write: WriteQueue;
  /** @throws AppError `busy` while a backup is being put in place */
  readonly read: DataSource;
  readonly writer: DataSource;
  /** Copies the collection as it stands now into a file of its own, while it goes on being used. */
  copyTo(file: string): Promise<void>;
  /** Puts another file in this one's place and opens it; `file` is used up. Writes wait meanwhile. */
  replaceWith(file: string): Promise<void>;
  close(): Promise<void>;
};

const MIGRATIONS = [
  Ground1764000000000,
  Everyday1764100000000,
  Chemistry1764200000000,
  Clay1764300000000,
  Bench1764400000000,
  Photo1764500000000,
  Drift1764600000000,
  Schools1764700000000,
  Pens1764800000000,
];
export const KNOWN_MIGRATIONS: readonly string[] = MIGRATIONS.map((m) => new m().name);

type Raw = { pragma(statement: string): unknown; backup(file: string): Promise<unknown> };

/**
 * Opens (and creates, and migrates) the SQLite file. WAL, foreign keys on, synchronous FULL.
 * @throws AppError `backup-bad` when the file was made by a newer version: it is left as it is
 */
export async function openDatabase(file: string): Promise<Database> {
  mkdirSync(dirname(file), { recursive: true });
  let sources: { writer: DataSource; read: DataSource } | undefined = await openSources(file);
  const now = () => {
    if (!sources) throw new AppError('busy', 'A backup is being put in place. Wait a moment and try again; nothing was lost.');
    return sources;
  };
  const write = new WriteQueue(() => now().writer);
  const closeSources = async () => {
    const old = sources;
    sources = undefined;
    await old?.read.destroy();
    await old?.writer.destroy();
  };
  return {
    file,
    write,
    get read() {
      return now().read;
    },
    get writer() {
      return now().writer;
    },
    copyTo: async (target) => {
      mkdirSync(dirname(target), { recursive: true });
      await rawOf(now().read).backup(target);
    },
    replaceWith: (next) =>
      write.alone(async () => {
        await closeSources();
        for (const end of ['-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
        renameSync(next, file);
        sources = await openSources(file);
      }),
    close: async () => {
      await write.idle();
      await closeSources();
    },
  };
}

async function openSources(file: string): Promise<{ writer: DataSource; read: DataSource }> {
  const writer = new DataSource({
    type: 'better-sqlite3',
    database: file,
    entities: ENTITIES,
    migrations: MIGRATIONS,
    migrationsTransactionMode: 'each',
    enableWAL: true,
    prepareDatabase: (raw: Raw) => {
      raw.pragma('foreign_keys = ON');
      raw.pragma('synchronous = FULL');
      raw.pragma('busy_timeout = 5000');
    },
  });
  await writer.initialize();
  try {
    await requireNotNewer(writer);
    await writer.runMigrations();
  } catch (error) {
    await writer.destroy();
    throw error;
  }
  const read = new DataSource({
    type: 'better-sqlite3',
    database: file,
    entities: ENTITIES,
    readonly: true,
    prepareDatabase: (raw: Raw) => {
      raw.pragma('busy_timeout = 5000');
    },
  });
  await read.initialize();
  return { writer, read };
}

/** A collection that a newer version has written to is not opened: this version would not understand it. */
async function requireNotNewer(source: DataSource): Promise<void> {
  const [table] = await source.query<unknown[]>(`SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'migrations'`);
  if (!table) return;
  const rows = await source.query<{ name: string }[]>('SELECT name FROM migrations');
  const unknown = rows.find((row) => !KNOWN_MIGRATIONS.includes(row.name));
  if (unknown)
    throw new AppError('backup-bad', 'This collection was written by a newer version of Frugal Sip. Start that version instead; nothing here was changed.');
}

function rawOf(source: DataSource): Raw {
  return (source.driver as unknown as { databaseConnection: Raw }).databaseConnection;
}
