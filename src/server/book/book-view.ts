/* The Book shows the whole log, what lies ahead of now too, marked: it reads `main.care_event`, past the view that leaves it out (`database/ahead.ts`). */
import type { EntityManager } from 'typeorm';
import { carePayloads } from '../../contract/care.ts';
import { bookEntry, type BookEntry, type BookPage, type Correctable } from '../../contract/book.ts';
import { localDate } from '../../contract/common.ts';
import { ppmFromEc, readingMiddle, type Reading, type VolumeUnits } from '../../core/quantity/index.ts';
import { localDateOf, localTimeOf } from '../../core/regimen/index.ts';
import { isAhead } from '../database/ahead.ts';
import { readCareEvent, type ReadCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';
import { tell } from './book-words.ts';
import { isCorrectable } from './correct-service.ts';
import { growersScale, isTainted, type Meters, metersOf, wasWords } from '../collection/index.ts';

type Row = CareEvent & {
  code: string | null;
  place: string | null;
  batchName: string | null;
  meterScale: number | null;
  batchPpmMeterId: string | null;
  batchPhMeterId: string | null;
  water: string | null;
  product: string | null;
  meter: string | null;
  toolKind: string | null;
  pouredEcUsCm: number | null;
  pouredPh: number | null;
  lastOfBatch: number | null;
  drawn: number;
  clay: string | null;
  laterOfClay: number;
  laterOfHold: number;
  wasPayload: string | null;
  correctedBy: string | null;
};

const PAGE = 120;
const FROM = `main.care_event e LEFT JOIN pot p ON p.id = e.potId LEFT JOIN place l ON l.id = p.placeId LEFT JOIN main.batch b ON b.id = e.batchId
     LEFT JOIN meter m ON m.id = b.ppmMeterId
     LEFT JOIN meter me ON e.kind IN ('meterChecked', 'meterMarkedOff') AND me.id = json_extract(e.payload, '$.meterId')
     LEFT JOIN clay_batch cb ON e.kind LIKE 'clay%' AND cb.id = json_extract(e.payload, '$.clayId')
     LEFT JOIN water w ON w.id = coalesce(b.waterId, CASE WHEN e.kind IN ('waterRead', 'waterCounted', 'clayFilled') THEN json_extract(e.payload, '$.waterId') END)
     LEFT JOIN batch_part bp ON e.kind IN ('batchPortion', 'batchPartLeft') AND bp.batchId = e.batchId AND bp.position = json_extract(e.payload, '$.part')
     LEFT JOIN bottle o ON o.id = bp.bottleId
     LEFT JOIN product pr ON pr.id = coalesce(o.productId, CASE WHEN e.kind = 'batchCorrection' THEN json_extract(e.payload, '$.productId') END)
     LEFT JOIN tool t ON e.kind IN ('batchPortion', 'batchCorrection') AND t.id = json_extract(e.payload, '$.dose.toolId')
     LEFT JOIN main.care_event c ON c.id = e.corrects
     LEFT JOIN main.care_event v ON v.id = e.voidedBy AND v.corrects = e.id`;
const FIELDS = `e.*, p.code, l.name AS place, b.name AS batchName, m.scale AS meterScale, b.ppmMeterId AS batchPpmMeterId, b.phMeterId AS batchPhMeterId, w.name AS water, pr.name AS product, t.kind AS toolKind, me.name AS meter, b.pouredEcUsCm, b.pouredPh,
            c.payload AS wasPayload, v.id AS correctedBy,
            (SELECT max(coalesce(standsAt, seq)) FROM main.care_event x WHERE x.batchId = e.batchId AND x.voidedBy IS NULL AND x.kind LIKE 'batch%') AS lastOfBatch,
            cb.name AS clay,
            CASE WHEN e.kind IN ('clayFilled', 'clayDrained') THEN (SELECT count(*) FROM event_touch t JOIN main.care_event z ON z.id = t.eventId
              WHERE t.subject = 'clay_batch:' || json_extract(e.payload, '$.clayId') AND z.voidedBy IS NULL AND z.kind IN ('clayFilled', 'clayRead', 'clayDrained')
                AND z.at > e.at) ELSE 0 END AS laterOfClay,
            CASE WHEN e.kind = 'potHoldStarted' THEN (SELECT count(*) FROM main.care_event z WHERE z.potId = e.potId AND z.voidedBy IS NULL
              AND z.kind IN ('potHoldRead', 'potHoldDrained') AND json_extract(z.payload, '$.holdId') = e.id) ELSE 0 END AS laterOfHold,
            (SELECT count(*) FROM main.care_event y WHERE y.batchId = e.batchId AND y.voidedBy IS NULL AND y.kind = 'potFilled') AS drawn`;

/**
 * A page of the log, newest first.
 * @param before sequence number to go on from (exclusive); undefined for the newest
 */
export async function readBook(
  manager: EntityManager,
  { at: now, localDate: today }: { at: Date; localDate: string },
  { zone, units }: { zone: string; units: VolumeUnits },
  before: number | undefined,
  limit = PAGE,
): Promise<BookPage> {
  const meters = metersOf(manager);
  const scale = growersScale(meters);
  // The page's rows first and what hangs on them after: joined before the limit, it read the whole log.
  const rows = await manager.query<Row[]>(
    `SELECT ${FIELDS} FROM ${FROM.replace('main.care_event e', '(SELECT * FROM main.care_event WHERE seq < ? ORDER BY seq DESC LIMIT ?) e')} ORDER BY e.seq DESC`,
    [before ?? Number.MAX_SAFE_INTEGER, limit],
  );
  const [facts] = await manager.query<{ total: number; since: string | null }[]>(
    'SELECT (SELECT count(*) FROM main.care_event) AS total, (SELECT localDate FROM main.care_event ORDER BY at LIMIT 1) AS since',
  );
  const last = rows[rows.length - 1];
  return {
    entries: rows.map((row) => ({ ...entryOrOdd(row, meters, scale, zone, units), ahead: isAhead(row.at, now) })),
    next: rows.length === limit && last ? last.seq : null,
    total: facts?.total ?? 0,
    since: facts?.since ?? null,
    today,
  };
}

/** One act with its figures as they stand, for putting them right; undefined when there is none or it has no figures. */
export async function readCorrectable(manager: EntityManager, eventId: string, units: VolumeUnits): Promise<Correctable | undefined> {
  const [row] = await manager.query<Row[]>(`SELECT ${FIELDS} FROM ${FROM} WHERE e.id = ?`, [eventId]);
  if (!row || row.voidedBy) return undefined;
  const event = readCareEvent(row);
  // A line that cannot be understood has no figures to put right.
  if (!isCorrectable(event.kind) || !carePayloads[event.kind].safeParse(event.payload).success) return undefined;
  return {
    eventId,
    kind: event.kind,
    words: `${whereOf(event, row)}: ${tell(event, row, units).what}`,
    payload: event.payload,
    ppmScale: scaleOf(event, row, metersOf(manager)),
  };
}

/** An act in the words of the Book, such as "Base read 9 ppm, 09:31"; undefined when there is none. */
export async function wordsOfAct(manager: EntityManager, eventId: string, { zone, units }: { zone: string; units: VolumeUnits }): Promise<string | undefined> {
  const [row] = await manager.query<Row[]>(`SELECT ${FIELDS} FROM ${FROM} WHERE e.id = ?`, [eventId]);
  if (!row) return undefined;
  const meters = metersOf(manager);
  const { what, readsPpm, ph, time } = toEntry(row, meters, growersScale(meters), zone, units);
  const figures = [readsPpm === null ? '' : `${Math.round(readsPpm)} ppm`, ph === null ? '' : `pH ${ph}`].filter(Boolean).join(', ');
  return `${what}${figures ? ` (${figures})` : ''}, ${time}`;
}

function scaleOf(event: ReadCareEvent, row: Row, meters: Meters): number {
  if (event.kind === 'potFilled' || event.kind === 'potReread' || event.kind === 'waterRead' || event.kind === 'clayRead' || event.kind === 'potHoldRead')
    return meters.get(event.payload.ppmMeterId ?? '')?.scale ?? 0.5;
  return row.meterScale ?? 0.5;
}

function whereOf(event: ReadCareEvent, row: Row): string {
  if (event.kind === 'potFilled' || event.kind === 'potSkipped' || event.kind === 'potReread') return `${row.code}, ${row.place}`;
  return row.batchName ?? row.clay ?? row.water ?? row.meter ?? row.code ?? '';
}

/** A line that cannot be understood is shown as such; every other stands. */
function entryOrOdd(row: Row, meters: Meters, scale: number, zone: string, units: VolumeUnits): Omit<BookEntry, 'ahead'> {
  try {
    const entry = toEntry(row, meters, scale, zone, units);
    if (bookEntry.omit({ ahead: true }).safeParse(entry).success) return entry;
  } catch {
    // As below.
  }
  const at = Number.isNaN(Date.parse(row.at)) ? new Date(0) : new Date(row.at);
  return {
    id: row.id,
    kind: 'unknown',
    at: at.toISOString(),
    on: localDate.safeParse(row.localDate).success ? row.localDate : localDateOf(at, zone),
    time: localTimeOf(at, zone),
    group: 'Undo',
    where: row.code ?? row.batchName ?? '',
    what: 'A line that cannot be understood. It is left out of every reckoning',
    was: null,
    readsPpm: null,
    ph: null,
    tainted: { ppm: false, ph: false },
    potId: row.potId,
    batchId: row.batchId,
    undone: row.voidedBy !== null,
    corrected: false,
    undoable: false,
    correctable: false,
  };
}

function toEntry(row: Row, meters: Meters, scale: number, zone: string, units: VolumeUnits): Omit<BookEntry, 'ahead'> {
  const event = readCareEvent(row);
  const told = tell(event, row, units);
  const meterScale = scaleOf(event, row, meters);
  const onScale = (reading: Reading | null | undefined) => {
    const value = reading ? readingMiddle(reading) : undefined;
    return value === undefined ? null : ppmFromEc(value / meterScale, scale);
  };
  const voided = row.voidedBy !== null;
  const poured = event.kind === 'batchPoured';
  return {
    id: row.id,
    kind: event.kind,
    at: row.at,
    on: row.localDate,
    time: localTimeOf(new Date(row.at), zone),
    group: told.group,
    where: whereOf(event, row),
    what: told.what,
    was: row.wasPayload === null ? null : wasWords(event.kind, JSON.parse(row.wasPayload), event.payload, units),
    readsPpm: poured ? (row.pouredEcUsCm === null ? null : ppmFromEc(row.pouredEcUsCm, scale)) : onScale(told.ppm),
    ph: poured ? row.pouredPh : (readingMiddle(told.ph ?? { kind: 'notMeasured' }) ?? null),
    tainted: taintedOf(event, row, meters),
    potId: row.potId,
    batchId: row.batchId,
    undone: voided,
    corrected: row.correctedBy !== null,
    undoable: !voided && canUndo(event, row),
    correctable: !voided && isCorrectable(event.kind),
  };
}

/** Which of an entry's figures a pen gave that was later found off; a poured batch's by the pens it was made with. */
function taintedOf(event: ReadCareEvent, row: Row, meters: Meters): BookEntry['tainted'] {
  const own =
    event.kind === 'potFilled' || event.kind === 'potReread' || event.kind === 'waterRead' || event.kind === 'clayRead'
      ? event.payload
      : event.kind === 'potHoldRead'
        ? { ppmMeterId: event.payload.ppmMeterId, phMeterId: null }
        : { ppmMeterId: row.batchPpmMeterId, phMeterId: row.batchPhMeterId };
  const off = (id: string | null) => id !== null && isTainted(meters.get(id), row.at);
  return { ppm: off(own.ppmMeterId), ph: off(own.phMeterId) };
}

/** Batch steps are taken back last first; a poured batch only while no pot has drawn on it. A correction can always be taken back. */
function canUndo(event: ReadCareEvent, row: Row): boolean {
  if (event.kind === 'batchStarted' || row.laterOfClay > 0 || row.laterOfHold > 0) return false;
  if (row.corrects !== null || !event.kind.startsWith('batch')) return true;
  if ((row.standsAt ?? row.seq) !== row.lastOfBatch) return false;
  return event.kind !== 'batchPoured' || row.drawn === 0;
}
