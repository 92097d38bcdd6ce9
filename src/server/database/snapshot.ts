import { leaveOut, type AsOf, type OddLine } from './ahead.ts';
import { Sqlite } from './sqlite.ts';

/**
 * A connection of its own that sees one moment, however long it is read and whatever is logged meanwhile. Whoever asks for it closes it.
 * @param now what lies ahead of it, and odd lines, are left out of what is read under the log's own name; `main.care_event` has them
 */
export function snapshotOf(file: string, now: AsOf, odd: readonly OddLine[]): Sqlite {
  const raw = new Sqlite(file, { readonly: true, fileMustExist: true, timeout: 5000 });
  raw.pragma('trusted_schema = OFF');
  leaveOut(raw, now, odd);
  raw.exec('BEGIN');
  raw.prepare('SELECT count(*) FROM main.sqlite_master').get();
  return raw;
}
