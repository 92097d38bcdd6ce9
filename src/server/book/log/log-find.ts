import type { LogFilter } from '../../../contract/log.ts';
import { isTainted, type Meters, type Rows } from '../../collection/index.ts';
import { asked, CORRECTS_MARK, dayOf, markOf, numberOf, pastDay, PHOTO_MARK, seqOf, wordsIn } from './log-tokens.ts';

/** More things than this answer to one word only where it says too little to choose by. */
const MOST_NAMED = 80;

/** A stretch of the index to look in, and what its lines must have; several where nothing less will do. */
type Search = {
  readonly match: string;
  readonly low: number;
  readonly high: number;
  readonly keeps?: (seqs: readonly number[]) => Set<number>;
};

/** Whether anything is looked for beside days. */
export const narrows = ({ words, pot, place, batch, kind, only }: LogFilter): boolean =>
  Boolean(words) || [pot, place, batch, kind, only].some((of) => of !== undefined);

/**
 * Lines that answer to a filter, newest day first.
 * @param before number to go on from (exclusive)
 * @returns their numbers, `most` at the most
 */
export function findLines(rows: Rows, meters: Meters, filter: LogFilter, before: number, most: number): number[] {
  if (!narrows(filter)) return ofDays(rows, filter, before, most);
  const found = new Set<number>();
  for (const search of searchesOf(rows, meters, filter)) {
    let high = Math.min(search.high, before - 1);
    for (let kept = 0; kept < most;) {
      const numbers = rows<{ n: number }>(
        // A figure of JavaScript is a real one to SQLite, and the index takes only whole ones for bounds.
        'SELECT rowid AS n FROM log_index WHERE log_index MATCH ? AND rowid BETWEEN CAST(? AS INTEGER) AND CAST(? AS INTEGER) ORDER BY rowid DESC LIMIT ?',
        search.match,
        search.low,
        high,
        most,
      ).map(({ n }) => n);
      const keeps = search.keeps?.(numbers.map(seqOf));
      const right = keeps ? numbers.filter((n) => keeps.has(seqOf(n))) : numbers;
      for (const n of right) found.add(n);
      kept += right.length;
      if (numbers.length < most) break;
      high = numbers.at(-1)! - 1;
    }
  }
  return [...found].sort((a, b) => b - a).slice(0, most);
}

/** Every line of some days. */
function ofDays(rows: Rows, { from = '', to = PAST_ALL }: LogFilter, before: number, most: number): number[] {
  const last =
    Number.isFinite(before) && before < numberOf(PAST_ALL, 0)
      ? { on: dayOf(before), seq: seqOf(before) }
      : { on: PAST_ALL, seq: 0 };
  return rows<{ on: string; seq: number }>(
    `SELECT localDate AS "on", seq FROM main.care_event WHERE localDate BETWEEN ? AND ? AND (localDate, seq) < (?, ?) ORDER BY localDate DESC, seq DESC LIMIT ?`,
    from,
    to,
    last.on,
    last.seq,
    most,
  ).map(({ on, seq }) => numberOf(on, seq));
}
const PAST_ALL = '9999-12-31';

/** How many lines of each day answer to a filter. */
export function countByDay(
  rows: Rows,
  meters: Meters,
  filter: LogFilter,
  from: string,
  to: string,
): Map<string, number> {
  if (!narrows(filter))
    return new Map(
      rows<{ on: string; n: number }>(
        `SELECT localDate AS "on", count(*) AS n FROM main.care_event WHERE localDate BETWEEN ? AND ? GROUP BY localDate`,
        from,
        to,
      ).map(({ on, n }) => [on, n]),
    );
  const counts = new Map<string, number>();
  for (const n of findLines(rows, meters, { ...filter, from, to }, Infinity, Number.MAX_SAFE_INTEGER))
    counts.set(dayOf(n), (counts.get(dayOf(n)) ?? 0) + 1);
  return counts;
}

function searchesOf(rows: Rows, meters: Meters, filter: LogFilter): Search[] {
  const marks = [
    ...(filter.pot ? [markOf('pot', filter.pot)] : []),
    ...(filter.place ? [markOf('place', filter.place)] : []),
    ...(filter.batch ? [markOf('batch', filter.batch)] : []),
    ...(filter.kind ? [markOf('group', filter.kind)] : []),
    ...(filter.only === 'corrected' ? [CORRECTS_MARK] : []),
    ...(filter.only === 'photo' ? [PHOTO_MARK] : []),
    ...(filter.only === 'own' ? [markOf('kind', 'noteWritten')] : []),
  ].map((mark) => asked(mark, false));
  const words = wordsIn(filter.words ?? '').map((word) => wordOrName(rows, word));
  const low = filter.from ? numberOf(filter.from, 0) : 0;
  const high = filter.to ? pastDay(filter.to) : Number.MAX_SAFE_INTEGER;
  const all = [...marks, ...words];
  // Asked for nothing that is a word, such as "?": nothing answers to it.
  if (all.length === 0 && filter.only !== 'tainted') return [];
  if (filter.only !== 'tainted') return [{ match: all.join(' AND '), low, high }];
  return taintedSearches(rows, meters, all, low, high);
}

/** What a pen read from when it is known to have been off until that was put right. */
function taintedSearches(rows: Rows, meters: Meters, all: readonly string[], low: number, high: number): Search[] {
  return [...meters.values()].flatMap((meter) =>
    meter.taints.length === 0
      ? []
      : [
          {
            match: [asked(markOf('meter', meter.id), false), ...all].join(' AND '),
            low,
            high,
            keeps: (seqs: readonly number[]) =>
              new Set(
                rows<{ seq: number; at: string }>(
                  'SELECT seq, at FROM main.care_event WHERE seq IN (SELECT value FROM json_each(?))',
                  JSON.stringify(seqs),
                )
                  .filter(({ at }) => isTainted(meter, at))
                  .map(({ seq }) => seq),
              ),
          },
        ],
  );
}

/** Names of things that may have been others when a line was written: by what they are called now. */
const NAMED: readonly { readonly sql: string; readonly mark: Parameters<typeof markOf>[0] }[] = [
  { sql: `SELECT id, code || ' ' || name AS name FROM pot`, mark: 'pot' },
  { sql: `SELECT id, name FROM place`, mark: 'place' },
  ...['water', 'product', 'meter', 'clay_batch'].map(
    (table) => ({ sql: `SELECT id, name FROM "${table}"`, mark: 'subject' }) as const,
  ),
];

/** A word as it was written, or any thing that is called so today. One that no line has may be the beginning of others: "crus". */
function wordOrName(rows: Rows, word: string): string {
  const known = rows('SELECT 1 FROM log_index WHERE log_index MATCH ? LIMIT 1', asked(word, false)).length > 0;
  // A single letter begins too much: it stands for itself.
  const prefix = !known && word.length > 1;
  const says = (name: string) => wordsIn(name).some((part) => (prefix ? part.startsWith(word) : part === word));
  const marks = NAMED.flatMap(({ sql, mark }) =>
    rows<{ id: string; name: string | null }>(sql)
      .filter(({ name }) => name !== null && says(name))
      .map(({ id }) => asked(markOf(mark, id), false)),
  );
  const either = [asked(word, prefix), ...(marks.length > MOST_NAMED ? [] : marks)];
  return either.length === 1 ? either[0]! : `(${either.join(' OR ')})`;
}
