import type { EntityManager } from 'typeorm';
import { settingsValues, USUAL_LATITUDE, type SettingsValues } from '../../contract/shell.ts';
import type { Database } from '../database/open.ts';
import type { Setting } from '../database/entities.ts';

export type Settings = Readonly<SettingsValues>;

/** What holds where nothing was set, or what was set cannot be understood: this machine's zone, "My plants", litres, every day a working day. */
const usual = (): SettingsValues => ({
  collection: 'My plants',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  units: 'metric',
  workingDays: [1, 2, 3, 4, 5, 6, 7],
  latitude: USUAL_LATITUDE,
});

/** Reads the settings; one that cannot be understood falls back to the usual by itself, so that no room falls with it. */
export async function readSettings(manager: EntityManager): Promise<SettingsValues> {
  const rows = await manager.query<Setting[]>(`SELECT key, value FROM setting WHERE key IN ('zone', 'collection', 'units', 'workingDays', 'latitude')`);
  const values: Record<string, unknown> = { ...usual() };
  for (const { key, value } of rows) {
    const shape = settingsValues.shape[key as keyof SettingsValues];
    const read = shape.safeParse(key === 'workingDays' || key === 'latitude' ? jsonOf(value) : value);
    if (read.success) values[key] = read.data;
  }
  return values as SettingsValues;
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** Settings that follow the database: read anew after every commit; the usual where it cannot be read. */
export async function liveSettings(database: Database): Promise<Settings> {
  const settings = usual();
  const read = async () => void Object.assign(settings, database.trouble() ? {} : await readSettings(database.read.manager));
  await read();
  database.write.onCommit(read);
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
