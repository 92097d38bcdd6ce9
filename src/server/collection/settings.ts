import { allSettings, USUAL_LATITUDE, type AllSettings } from '../../contract/shell.ts';
import type { Setting } from '../database/entities.ts';
import type { Rows } from './rows.ts';

/** What holds where nothing was set, or what was set cannot be understood: this machine's zone, "My plants", litres, every day a working day, everything read. */
export const usualSettings = (): AllSettings => ({
  collection: 'My plants',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  units: 'metric',
  workingDays: [1, 2, 3, 4, 5, 6, 7],
  latitude: USUAL_LATITUDE,
  currency: '',
  reading: { how: 'everything' },
  neverRead: [],
});

export const SETTINGS = `SELECT key, value FROM setting WHERE key IN ('zone', 'collection', 'units', 'workingDays', 'latitude', 'currency', 'reading', 'neverRead')`;

/** Settings that are kept as JSON. */
export const AS_JSON: ReadonlySet<string> = new Set(['workingDays', 'latitude', 'reading', 'neverRead']);

/** The settings; one that cannot be understood falls back to the usual by itself, so that no room falls with it. */
export function settingsOf(rows: readonly Pick<Setting, 'key' | 'value'>[]): AllSettings {
  const values: Record<string, unknown> = { ...usualSettings() };
  for (const { key, value } of rows) {
    const shape = allSettings.shape[key as keyof AllSettings];
    const read = shape.safeParse(AS_JSON.has(key) ? jsonOf(value) : value);
    if (read.success) values[key] = read.data;
  }
  return values as AllSettings;
}

export const foldSettings = (rows: Rows): AllSettings => settingsOf(rows(SETTINGS));

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
