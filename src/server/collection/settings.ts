import { settingsValues, USUAL_LATITUDE, type SettingsValues } from '../../contract/shell.ts';
import type { Setting } from '../database/entities.ts';
import type { Rows } from './rows.ts';

/** What holds where nothing was set, or what was set cannot be understood: this machine's zone, "My plants", litres, every day a working day. */
export const usualSettings = (): SettingsValues => ({
  collection: 'My plants',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  units: 'metric',
  workingDays: [1, 2, 3, 4, 5, 6, 7],
  latitude: USUAL_LATITUDE,
  currency: '',
});

export const SETTINGS = `SELECT key, value FROM setting WHERE key IN ('zone', 'collection', 'units', 'workingDays', 'latitude', 'currency')`;

/** The settings; one that cannot be understood falls back to the usual by itself, so that no room falls with it. */
export function settingsOf(rows: readonly Pick<Setting, 'key' | 'value'>[]): SettingsValues {
  const values: Record<string, unknown> = { ...usualSettings() };
  for (const { key, value } of rows) {
    const shape = settingsValues.shape[key as keyof SettingsValues];
    const read = shape.safeParse(key === 'workingDays' || key === 'latitude' ? jsonOf(value) : value);
    if (read.success) values[key] = read.data;
  }
  return values as SettingsValues;
}

export const foldSettings = (rows: Rows): SettingsValues => settingsOf(rows(SETTINGS));

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
