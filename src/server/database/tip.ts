import type { Sqlite } from './sqlite.ts';

const TIP = `SELECT (SELECT coalesce(max(seq), 0) FROM main.care_event) || ' ' || (SELECT coalesce(max(rowid), 0) FROM act_request) AS tip`;

/** The last line of the log and the last act's number, as a connection sees them: names what a file holds. */
export const tipOf = (raw: Sqlite): string => raw.prepare<[], { tip: string }>(TIP).get()!.tip;
