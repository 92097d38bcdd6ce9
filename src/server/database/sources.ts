import 'reflect-metadata';
import { Sqlite } from './sqlite.ts';
import { mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { AppError } from '../app-error.ts';
import { ENTITIES } from './entities.ts';
import { crashPoint } from './crash-point.ts';
import { backupFolderOf, freeBackupName, stemOf } from './file-names.ts';
import { inFileThread } from './file-thread.ts';
import { settle, type Home } from './home.ts';
import { KNOWN_MIGRATIONS, MIGRATIONS } from './migrations/index.ts';
import { rawOf } from './raw.ts';

/* The connections to the file: one that writes, one that reads. */

/** Looks at the file of an older version before it is brought to this one. */
export type BeforeUpdate = (raw: Sqlite) => void;

export type Sources = { writer: DataSource | undefined; read: DataSource };

export async function openSources(
  file: string,
  home: Home,
  beforeUpdate: BeforeUpdate | undefined,
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

export async function openReader(file: string, home: Home): Promise<DataSource> {
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

export async function openWriter(file: string, home: Home): Promise<DataSource> {
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
  beforeUpdate: BeforeUpdate | undefined,
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
