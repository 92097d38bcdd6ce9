import type { EntityManager } from 'typeorm';
import type { BookEntry, BookPage } from '../../../contract/book.ts';
import type { LogChoices, LogDays, LogFilter, LogSteps, LogStrip } from '../../../contract/log.ts';
import { localDate } from '../../../contract/common.ts';
import { localDateOf } from '../../../core/regimen/index.ts';
import { grouped, metersOf, rowsFor, type Meters, type Rows } from '../../collection/index.ts';
import { entriesOf, factsOf, type Settings } from '../book-view.ts';
import { BARE, entryOf, keysOf, readKey, type BareLine } from './log-entries.ts';
import { countByDay, findLines } from './log-find.ts';
import { linesNumbered } from './log-index.ts';
import { seqOf } from './log-tokens.ts';

type Now = { readonly at: Date; readonly localDate: string };

/** Entries told at one go; a day is never cut in two. */
const ENTRIES = 24;
const LINES = 600;
const FOUND = 60;

/** Whole days of the log as entries, newest first. @param before day to go on from (exclusive) */
export function readDays(
  manager: EntityManager,
  now: Now,
  settings: Settings,
  before: string | undefined,
  to: string | undefined,
): LogDays {
  const rows = rowsFor(manager);
  const until = before ?? (to === undefined ? PAST_ALL : `${to}~`);
  const { lines, whole } = wholeDays(rows, until);
  const meters = metersOf(manager);
  const days: LogDays['days'] = [];
  let told = 0;
  let last: string | undefined;
  for (const [on, of] of grouped(lines, (line) => line.localDate)) {
    if (told >= ENTRIES) break;
    const entries = dayOf(rows, meters, of, now, settings);
    told += entries.length;
    days.push({ on: dayNamed(of[0]!, settings.zone), entries });
    last = on;
  }
  const more = last !== undefined && (!whole || last !== lines.at(-1)!.localDate);
  return { days, next: more ? (last ?? null) : null, ...factsOf(rows), today: now.localDate };
}
const PAST_ALL = '~';
/** The day a line stands under; of one whose day is none, the day of its moment. */
const dayNamed = ({ localDate: on, at }: BareLine, zone: string): string =>
  localDate.safeParse(on).success ? on : localDateOf(Number.isNaN(Date.parse(at)) ? new Date(0) : new Date(at), zone);

/** Lines of the last days before a day, none of them cut. @returns whether there is nothing before them */
function wholeDays(rows: Rows, until: string): { lines: BareLine[]; whole: boolean } {
  const some = rows<BareLine>(
    `SELECT ${BARE} FROM main.care_event WHERE localDate < ? ORDER BY localDate DESC, seq DESC LIMIT ?`,
    until,
    LINES,
  );
  if (some.length < LINES) return { lines: some, whole: true };
  const cut = some.at(-1)!.localDate;
  const before = some.filter((line) => line.localDate !== cut);
  if (before.length > 0) return { lines: before, whole: false };
  // More in one day than is read at one go.
  return {
    lines: rows<BareLine>(`SELECT ${BARE} FROM main.care_event WHERE localDate = ? ORDER BY seq DESC`, cut),
    whole: false,
  };
}

function dayOf(rows: Rows, meters: Meters, lines: readonly BareLine[], now: Now, settings: Settings) {
  const keys = keysOf(lines, targetsOf(rows, lines));
  const byKey = grouped(
    lines.map((line, i) => ({ line, key: keys[i]! })),
    ({ key }) => key,
  );
  const alone = [...byKey].flatMap(([, of]) =>
    of.length === 1 || !readKey(of[0]!.key) ? of.map(({ line }) => line.seq) : [],
  );
  const told = new Map(
    entriesOf(linesNumbered(rows, alone), rows, meters, now.at, settings).map((entry) => [entry.id, entry]),
  );
  return [...byKey]
    .flatMap(([key, of]) => {
      const some = of.map(({ line }) => line);
      if (some.length > 1 && readKey(key))
        return [{ ...entryOf(key, some, { rows, meters, ...settings }), last: some[0]!.at }];
      return some.flatMap(({ id, at }) => {
        const entry = told.get(id);
        return entry ? [{ ...single(entry), last: at }] : [];
      });
    })
    .sort((a, b) => (a.last < b.last ? 1 : a.last > b.last ? -1 : 0))
    .map(({ last: _last, ...entry }) => entry);
}

/** What an undo takes back. */
const targetsOf = (rows: Rows, lines: readonly BareLine[]): Map<string, string> =>
  new Map(
    rows<{ id: string; target: string }>(
      `SELECT id, json_extract(payload, '$.targetId') AS target FROM main.care_event WHERE id IN (SELECT value FROM json_each(?))`,
      JSON.stringify(lines.filter(({ kind }) => kind === 'undone').map(({ id }) => id)),
    ).map(({ id, target }) => [id, target]),
  );

const single = (line: BookEntry) => ({
  key: `line.${line.id}`,
  group: line.group,
  time: line.time,
  until: line.time,
  where: line.where,
  what: line.what,
  standsOut: [],
  readsPpm: line.readsPpm,
  ph: line.ph,
  tainted: line.tainted,
  batchId: line.batchId,
  steps: 1,
  line,
});

/** The steps of an entry, as they were done. */
export function readSteps(manager: EntityManager, key: string, now: Now, settings: Settings): LogSteps | undefined {
  const read = readKey(key);
  if (!read) return undefined;
  const rows = rowsFor(manager);
  const lines = rows<BareLine>(`SELECT ${BARE} FROM main.care_event WHERE localDate = ? ORDER BY seq DESC`, read.on);
  const keys = keysOf(lines, targetsOf(rows, lines));
  const seqs = lines.filter((_, i) => keys[i] === key).map(({ seq }) => seq);
  return { steps: entriesOf(linesNumbered(rows, seqs), rows, metersOf(manager), now.at, settings).reverse() };
}

/** Lines that answer to a filter, newest day first. @param before number to go on from (exclusive) */
export function readFound(
  manager: EntityManager,
  filter: LogFilter,
  before: number | undefined,
  now: Now,
  settings: Settings,
): BookPage {
  const rows = rowsFor(manager);
  const numbers = findLines(rows, metersOf(manager), filter, before ?? Number.MAX_SAFE_INTEGER, FOUND + 1);
  const shown = numbers.slice(0, FOUND);
  return {
    entries: entriesOf(linesNumbered(rows, shown.map(seqOf)), rows, metersOf(manager), now.at, settings),
    next: numbers.length > FOUND ? shown.at(-1)! : null,
    ...factsOf(rows),
    today: now.localDate,
  };
}

export function readStrip(manager: EntityManager, filter: LogFilter, from: string, to: string): LogStrip {
  const counts = countByDay(rowsFor(manager), metersOf(manager), filter, from, to);
  return { from, to, days: [...counts].sort(([a], [b]) => (a < b ? -1 : 1)).map(([on, lines]) => ({ on, lines })) };
}

export function readChoices(manager: EntityManager): LogChoices {
  const rows = rowsFor(manager);
  return {
    pots: rows<{ id: string; code: string; name: string; retired: number }>(
      'SELECT id, code, name, retiredOn IS NOT NULL AS retired FROM pot ORDER BY retiredOn IS NOT NULL, code',
    ).map((pot) => ({ ...pot, retired: pot.retired === 1 })),
    places: rows<{ id: string; name: string }>('SELECT id, name FROM place ORDER BY position, id'),
    batches: rows<{ id: string; name: string; on: string }>(
      'SELECT id, name, startedOn AS "on" FROM main.batch ORDER BY startedAt DESC, id LIMIT 100',
    ),
  };
}
