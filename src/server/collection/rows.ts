import type { Sqlite, Statement } from '../database/sqlite.ts';

/** Reads rows of the file at once: a fold is one piece, nothing can be written in the middle of it. */
export type Rows = <T>(sql: string, ...params: readonly unknown[]) => T[];

export function rowsOf(raw: Sqlite): Rows {
  const prepared = new Map<string, Statement<unknown[]>>();
  return <T>(sql: string, ...params: readonly unknown[]) => {
    let statement = prepared.get(sql);
    if (!statement) prepared.set(sql, (statement = raw.prepare<unknown[]>(sql)));
    return statement.all(...params) as T[];
  };
}

/** A list as one parameter, for `json_each(?)`. */
export const listed = (values: Iterable<string>): string => JSON.stringify([...values]);
