/* The Book shows the whole log, what lies ahead of now too, marked. */
import type { EntityManager } from 'typeorm';
import { bookEntry, type BookEntry, type BookPage, type Correctable } from '../../contract/book.ts';
import { localDate } from '../../contract/common.ts';
import type { VolumeUnits } from '../../core/quantity/index.ts';
import { localDateOf, localTimeOf } from '../../core/regimen/index.ts';
import { actNamed, wasWords } from '../acts.ts';
import { metersOf, rowsFor, type Meters, type Rows } from '../collection/index.ts';
import { isAhead } from '../database/ahead.ts';
import { NAMED_FIELDS, NAMED_FROM, tell, type NamedLine } from '../told.ts';
import { whyItStays } from './undo-service.ts';

const PAGE = 120;
export type Settings = { zone: string; units: VolumeUnits };

/**
 * A page of the log, newest first, in one piece.
 * @param before sequence number to go on from (exclusive); undefined for the newest
 */
export function readBook(
  manager: EntityManager,
  { at: now, localDate: today }: { at: Date; localDate: string },
  settings: Settings,
  before: number | undefined,
  limit = PAGE,
): BookPage {
  const rows = rowsFor(manager);
  const meters = metersOf(manager);
  // The page's lines first and what hangs on them after: joined before the limit, it read the whole log.
  const lines = rows<NamedLine>(
    `SELECT ${NAMED_FIELDS} FROM ${NAMED_FROM.replace('main.care_event e', '(SELECT * FROM main.care_event WHERE seq < ? ORDER BY seq DESC LIMIT ?) e')} ORDER BY e.seq DESC`,
    before ?? Number.MAX_SAFE_INTEGER,
    limit,
  );
  const last = lines[lines.length - 1];
  return {
    entries: entriesOf(lines, rows, meters, now, settings),
    next: lines.length === limit && last ? last.seq : null,
    ...factsOf(rows),
    today,
  };
}

/** Lines as the Book shows them; what lies ahead of now is marked. */
export const entriesOf = (
  lines: readonly NamedLine[],
  rows: Rows,
  meters: Meters,
  now: Date,
  settings: Settings,
): BookEntry[] => lines.map((line) => ({ ...entryOrOdd(line, rows, meters, settings), ahead: isAhead(line.at, now) }));

/** Lines are only ever added, one number after the other: they are counted once, and those that came since. */
const counted = new WeakMap<Rows, { total: number; last: number }>();

export function factsOf(rows: Rows): { total: number; since: string | null } {
  const { total: before, last } = counted.get(rows) ?? { total: 0, last: 0 };
  const [{ since, more, now }] = rows<{ since: string | null; more: number; now: number }>(
    `SELECT (SELECT min(localDate) FROM main.care_event) AS since, (SELECT count(*) FROM main.care_event WHERE seq > ?) AS more,
       (SELECT coalesce(max(seq), 0) FROM main.care_event) AS now`,
    last,
  ) as [{ since: string | null; more: number; now: number }];
  const total = before + more;
  counted.set(rows, { total, last: now });
  return { total, since: localDate.safeParse(since).data ?? null };
}

/** One act with its figures as they stand, for putting them right; undefined when there is none or it has no figures. */
export function readCorrectable(manager: EntityManager, eventId: string, settings: Settings): Correctable | undefined {
  const [line] = rowsFor(manager)<NamedLine>(`SELECT ${NAMED_FIELDS} FROM ${NAMED_FROM} WHERE e.id = ?`, eventId);
  if (!line || line.voidedBy) return undefined;
  const known = actNamed(line.kind);
  // A line that cannot be understood has no figures to put right.
  if (!known?.correct || !known.payload.safeParse(JSON.parse(line.payload)).success) return undefined;
  const { event, where, what, ppmScale } = tell(line, metersOf(manager), settings);
  return { eventId, kind: event.kind, words: `${where}: ${what}`, payload: event.payload, ppmScale };
}

const TOLD = bookEntry.omit({ ahead: true });

/** A line that cannot be understood is shown as such; every other stands. */
function entryOrOdd(line: NamedLine, rows: Rows, meters: Meters, settings: Settings): Omit<BookEntry, 'ahead'> {
  try {
    const entry = toEntry(line, rows, meters, settings);
    if (TOLD.safeParse(entry).success) return entry;
  } catch {
    // As below.
  }
  const { zone } = settings;
  const at = Number.isNaN(Date.parse(line.at)) ? new Date(0) : new Date(line.at);
  return {
    id: line.id,
    kind: 'unknown',
    at: at.toISOString(),
    on: localDate.safeParse(line.localDate).success ? line.localDate : localDateOf(at, zone),
    time: localTimeOf(at, zone),
    group: 'Undo',
    where: line.code ?? line.batchName ?? '',
    what: 'A line that cannot be understood. It is left out of every reckoning',
    was: null,
    readsPpm: null,
    ph: null,
    tainted: { ppm: false, ph: false },
    potId: line.potId,
    batchId: line.batchId,
    photoId: null,
    undone: line.voidedBy !== null,
    corrected: false,
    undoable: false,
    correctable: false,
  };
}

function toEntry(line: NamedLine, rows: Rows, meters: Meters, settings: Settings): Omit<BookEntry, 'ahead'> {
  const { event, act, group, where, what, time, readsPpm, ph, tainted } = tell(line, meters, settings);
  const { payload, kind } = event;
  const stands = line.voidedBy === null;
  return {
    id: line.id,
    kind,
    at: line.at,
    on: line.localDate,
    time,
    group,
    where,
    what,
    was:
      line.wasPayload === null
        ? null
        : wasWords(kind, JSON.parse(line.wasPayload) as typeof payload, payload, settings.units),
    readsPpm,
    ph,
    tainted: { ...tainted },
    potId: line.potId,
    batchId: line.batchId,
    photoId: act.picture?.(event) ?? null,
    undone: !stands,
    corrected: line.correctedBy !== null,
    undoable: stands && whyItStays(rows, line) === null,
    correctable: stands && act.correct !== undefined,
  };
}
