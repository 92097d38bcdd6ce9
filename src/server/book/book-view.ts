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
type Settings = { zone: string; units: VolumeUnits };

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
  const [facts] = rows<{ total: number; since: string | null }>(
    'SELECT (SELECT count(*) FROM main.care_event) AS total, (SELECT localDate FROM main.care_event ORDER BY at LIMIT 1) AS since',
  );
  const last = lines[lines.length - 1];
  return {
    entries: lines.map((line) => ({ ...entryOrOdd(line, rows, meters, settings), ahead: isAhead(line.at, now) })),
    next: lines.length === limit && last ? last.seq : null,
    total: facts?.total ?? 0,
    since: facts?.since ?? null,
    today,
  };
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

/** A line that cannot be understood is shown as such; every other stands. */
function entryOrOdd(line: NamedLine, rows: Rows, meters: Meters, settings: Settings): Omit<BookEntry, 'ahead'> {
  try {
    const entry = toEntry(line, rows, meters, settings);
    if (bookEntry.omit({ ahead: true }).safeParse(entry).success) return entry;
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
    undone: line.voidedBy !== null,
    corrected: false,
    undoable: false,
    correctable: false,
  };
}

function toEntry(line: NamedLine, rows: Rows, meters: Meters, settings: Settings): Omit<BookEntry, 'ahead'> {
  const { event, act, where, what, time, readsPpm, ph, tainted } = tell(line, meters, settings);
  const { payload, kind } = event;
  const stands = line.voidedBy === null;
  return {
    id: line.id,
    kind,
    at: line.at,
    on: line.localDate,
    time,
    group: typeof act.group === 'function' ? act.group(payload) : act.group,
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
    undone: !stands,
    corrected: line.correctedBy !== null,
    undoable: stands && whyItStays(rows, line) === null,
    correctable: stands && act.correct !== undefined,
  };
}
