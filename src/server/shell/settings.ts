import type { EntityManager } from 'typeorm';
import type { Settings } from '../app-context.ts';
import type { Setting } from '../database/entities.ts';

/** Reads the settings, with what holds when nothing was set: this machine's zone, "My plants". */
export async function readSettings(manager: EntityManager): Promise<Settings> {
  const rows = await manager.query<Setting[]>('SELECT key, value FROM setting');
  const values = new Map(rows.map((row) => [row.key, row.value]));
  return Object.freeze({
    zone: values.get('zone') ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
    collection: values.get('collection') ?? 'My plants',
  });
}

/** Sets one value, over the old one. */
export async function writeSetting(manager: EntityManager, key: string, value: string): Promise<void> {
  await manager.query('INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value', [key, value]);
}
