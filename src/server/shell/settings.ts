import type { EntityManager } from 'typeorm';
import { settingsValues, USUAL_LATITUDE, type SettingsValues } from '../../contract/shell.ts';
import type { Database } from '../database/open.ts';
import type { Setting } from '../database/entities.ts';

export type Settings = Readonly<SettingsValues>;

/** Reads the settings, with what holds when nothing was set: this machine's zone, "My plants", litres, every day a working day. */
export async function readSettings(manager: EntityManager): Promise<SettingsValues> {
  const rows = await manager.query<Setting[]>(`SELECT key, value FROM setting WHERE key IN ('zone', 'collection', 'units', 'workingDays', 'latitude')`);
  const values = new Map(rows.map((row) => [row.key, row.value]));
  return settingsValues.parse({
    zone: values.get('zone') ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
    collection: values.get('collection') ?? 'My plants',
    units: values.get('units') ?? 'metric',
    workingDays: JSON.parse(values.get('workingDays') ?? '[1,2,3,4,5,6,7]') as unknown,
    latitude: JSON.parse(values.get('latitude') ?? String(USUAL_LATITUDE)) as unknown,
  });
}

/** Settings that follow the database: read anew after every commit. */
export async function liveSettings(database: Database): Promise<Settings> {
  const settings = { ...(await readSettings(database.read.manager)) };
  database.write.onCommit(async () => {
    Object.assign(settings, await readSettings(database.read.manager));
  });
  return settings;
}

/** Sets one value, over the old one, without a line in the log: for what the program itself keeps. */
export async function writeSetting(manager: EntityManager, key: string, value: string): Promise<void> {
  await manager.query('INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value', [key, value]);
}

/** One value the program keeps, or undefined. */
export async function readSetting(manager: EntityManager, key: string): Promise<string | undefined> {
  const [row] = await manager.query<Setting[]>('SELECT * FROM setting WHERE key = ?', [key]);
  return row?.value;
}
