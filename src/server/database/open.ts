import 'reflect-metadata';
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { DataSource } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { Ground1764000000000 } from './migrations/1764000000000-ground.ts';
import { WriteQueue } from './write-queue.ts';

/** An open collection: one connection that writes (only through the queue) and one that reads. */
export type Database = { readonly write: WriteQueue; readonly read: DataSource; readonly writer: DataSource; close(): Promise<void> };

const MIGRATIONS = [Ground1764000000000];

type Raw = { pragma(statement: string): unknown };

/** Opens (and creates, and migrates) the SQLite file. WAL, foreign keys on, synchronous FULL. */
export async function openDatabase(file: string): Promise<Database> {
  mkdirSync(dirname(file), { recursive: true });
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
  await writer.runMigrations();
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
  const write = new WriteQueue(writer);
  return {
    write,
    read,
    writer,
    close: async () => {
      await write.idle();
      await read.destroy();
      await writer.destroy();
    },
  };
}
