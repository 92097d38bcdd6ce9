import type { Sqlite } from './sqlite.ts';
import type { EntityManager } from 'typeorm';

/**
 * What the log holds from a time that has not come: a clock that was wrong, or jumped back. It counts from then on; until then it is marked and left out of
 * every reckoning.
 */
export type Ahead = { readonly count: number; readonly firstAt: string | null };
export const NOTHING_AHEAD: Ahead = { count: 0, firstAt: null };

/** As the collection stands at an instant on the grower's day. */
export type AsOf = { readonly at: Date; readonly localDate: string };

/** Time zones differ by this much at the most: further back no day can be later than today. */
const ZONES_APART_MS = 27 * 3_600_000;

/** Clocks are set right by seconds every day: what is ahead by no more counts as done now. */
const GRACE_MS = 120_000;
const graceOf = (at: Date) => new Date(at.getTime() + GRACE_MS).toISOString();

export const isAhead = (at: string, now: Date) => at > graceOf(now);

/** What lies ahead. `key` changes when anything begins or ceases to. */
export function lookAhead(raw: Sqlite, { at, localDate }: AsOf): Ahead & { readonly key: string } {
  const now = at.toISOString();
  const grace = graceOf(at);
  const dayAgo = new Date(at.getTime() - ZONES_APART_MS).toISOString();
  const ask = (sql: string, ...params: string[]) =>
    raw.prepare<string[], { n: number; first: string | null; which: number }>(sql).get(...params)!;
  const acts = ask(
    'SELECT count(*) AS n, min(at) AS first, total(seq) AS which FROM main.care_event WHERE at > ?',
    grace,
  );
  const batches = ask(
    'SELECT count(*) AS n, min(startedAt) AS first, total(rowid) AS which FROM main.batch WHERE startedAt > ?',
    grace,
  );
  // Ahead by seconds; or logged before now on a day that has not begun here, since the zone was changed westwards: both count, as of now and today.
  const near = ask(
    'SELECT count(*) AS n, NULL AS first, total(seq) AS which FROM main.care_event WHERE at > ? AND at <= ? AND (at > ? OR localDate > ?)',
    dayAgo,
    grace,
    now,
    localDate,
  );
  const nearBatches = ask(
    'SELECT count(*) AS n, NULL AS first, total(rowid) AS which FROM main.batch WHERE startedAt > ? AND startedAt <= ? AND (startedAt > ? OR startedOn > ?)',
    dayAgo,
    grace,
    now,
    localDate,
  );
  const all = [acts, batches, near, nearBatches];
  return {
    count: acts.n,
    firstAt: acts.first,
    key: all.some(({ n }) => n > 0)
      ? all.map(({ n, which }) => `${n}:${which}`).join(' ') + (near.n + nearBatches.n > 0 ? localDate : '')
      : '',
  };
}

/** A line of the log that cannot be understood: no version of ours writes it, a hand in the file may have. */
export type OddLine = { readonly seq: number; readonly potId: string | null };

/** How many lines of each pot's log are left out because they cannot be understood. */
export async function oddLinesOf(manager: EntityManager): Promise<ReadonlyMap<string, number>> {
  const [there] = await manager.query<unknown[]>(`SELECT 1 FROM sqlite_temp_master WHERE name = 'odd_line'`);
  if (!there) return NONE;
  const rows = await manager.query<{ potId: string; n: number }[]>(
    'SELECT e.potId, count(*) AS n FROM temp.odd_line o JOIN main.care_event e ON e.seq = o.seq WHERE e.potId IS NOT NULL GROUP BY e.potId',
  );
  return new Map(rows.map((row) => [row.potId, row.n]));
}
const NONE: ReadonlyMap<string, number> = new Map();

/**
 * Makes a reading connection see the log and the batches without what lies ahead, and without lines that cannot be understood: under their own names, so that no
 * room has to think of it. The tables themselves are still there as `main.care_event` and `main.batch`, for the Book.
 */
export function leaveOut(raw: Sqlite, { at, localDate }: AsOf, odd: readonly OddLine[]): void {
  raw.exec('CREATE TEMP TABLE odd_line (seq INTEGER PRIMARY KEY)');
  const insert = raw.prepare('INSERT INTO odd_line (seq) VALUES (?)');
  for (const { seq } of odd) insert.run(seq);
  const now = at.toISOString();
  const columns = (table: string) =>
    raw.prepare<[], { name: string }>(`SELECT name FROM main.pragma_table_info('${table}')`).all();
  for (const [table, time, day] of [
    ['care_event', 'at', 'localDate'],
    ['batch', 'startedAt', 'startedOn'],
  ] as const) {
    const fields = columns(table).map(({ name }) =>
      name === day
        ? `min("${day}", '${localDate}') AS "${day}"`
        : name === time
          ? `min("${time}", '${now}') AS "${time}"`
          : `"${name}"`,
    );
    raw.exec(
      `CREATE TEMP VIEW "${table}" AS SELECT ${fields.join(', ')} FROM main."${table}" WHERE main."${table}"."${time}" <= '${graceOf(at)}'${table === 'care_event' && odd.length > 0 ? ' AND seq NOT IN (SELECT seq FROM odd_line)' : ''}`,
    );
  }
}
