import type { EntityManager } from 'typeorm';
import type { AllSettings } from '../../contract/shell.ts';
import { SETTINGS, settingsOf, usualSettings } from '../collection/settings.ts';
import type { Database } from '../database/open.ts';
import type { Setting } from '../database/entities.ts';

export type Settings = Readonly<AllSettings>;

/** The settings as a connection sees them. */
export async function readSettings(manager: EntityManager): Promise<AllSettings> {
  return settingsOf(await manager.query<Setting[]>(SETTINGS));
}

/** Settings that follow the database: read anew after every commit; the usual where it cannot be read. */
export async function liveSettings(database: Database): Promise<Settings> {
  const settings = usualSettings();
  const read = async () =>
    void Object.assign(settings, database.trouble() ? {} : await readSettings(database.read.manager));
  await read();
  database.write.onCommit(read);
  return settings;
}

/** Sets one value, over the old one, without a line in the log: for what the program itself keeps. */
export async function writeSetting(manager: EntityManager, key: string, value: string): Promise<void> {
  await manager.query(
    'INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value',
    [key, value],
  );
}

/** One value the program keeps, or undefined. */
export async function readSetting(manager: EntityManager, key: string): Promise<string | undefined> {
  const [row] = await manager.query<Setting[]>('SELECT * FROM setting WHERE key = ?', [key]);
  return row?.value;
}
