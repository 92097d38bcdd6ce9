import type { EntityManager } from 'typeorm';
import type { BookEntry, BookPage } from '../../contract/book.ts';
import { ppmFromEc, readingMiddle, volumeWords, type Reading } from '../../core/quantity/index.ts';
import { localTimeOf } from '../../core/regimen/index.ts';
import { readCareEvent, type ReadCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';
import { growersScale, readMeters } from '../shelf/shelf-reader.ts';

type Row = CareEvent & {
  code: string | null;
  place: string | null;
  batchName: string | null;
  meterScale: number | null;
  water: string | null;
  product: string | null;
  lastOfBatch: number | null;
  drawn: number;
};

const PAGE = 120;

/**
 * A page of the log, newest first.
 * @param before sequence number to go on from (exclusive); undefined for the newest
 */
export async function readBook(manager: EntityManager, today: string, zone: string, before: number | undefined, limit = PAGE): Promise<BookPage> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const rows = await manager.query<Row[]>(
    `SELECT e.*, p.code, l.name AS place, b.name AS batchName, m.scale AS meterScale, w.name AS water, pr.name AS product,
            (SELECT max(seq) FROM care_event x WHERE x.batchId = e.batchId AND x.voidedBy IS NULL AND x.kind LIKE 'batch%') AS lastOfBatch,
            (SELECT count(*) FROM care_event y WHERE y.batchId = e.batchId AND y.voidedBy IS NULL AND y.kind = 'potFilled') AS drawn
     FROM care_event e LEFT JOIN pot p ON p.id = e.potId LEFT JOIN place l ON l.id = p.placeId LEFT JOIN batch b ON b.id = e.batchId
     LEFT JOIN meter m ON m.id = b.ppmMeterId LEFT JOIN water w ON w.id = b.waterId LEFT JOIN bottle o ON o.id = b.bottleId LEFT JOIN product pr ON pr.id = o.productId
     WHERE e.seq < ? ORDER BY e.seq DESC LIMIT ?`,
    [before ?? Number.MAX_SAFE_INTEGER, limit],
  );
  const [facts] = await manager.query<{ total: number; since: string | null }[]>('SELECT count(*) AS total, min(localDate) AS since FROM care_event');
  const last = rows[rows.length - 1];
  return {
    entries: rows.map((row) => toEntry(row, meters, scale, zone)),
    next: rows.length === limit && last ? last.seq : null,
    total: facts?.total ?? 0,
    since: facts?.since ?? null,
    today,
  };
}

function toEntry(row: Row, meters: Awaited<ReturnType<typeof readMeters>>, scale: number, zone: string): BookEntry {
  const event = readCareEvent(row);
  const told = tell(event, row);
  const meterScale = event.kind === 'potFilled' ? (event.payload.ppmMeterId && meters.get(event.payload.ppmMeterId)?.scale) || 0.5 : (row.meterScale ?? 0.5);
  const onScale = (reading: Reading | null | undefined) => {
    const value = reading ? readingMiddle(reading) : undefined;
    return value === undefined ? null : ppmFromEc(value / meterScale, scale);
  };
  const voided = row.voidedBy !== null;
  return {
    id: row.id,
    kind: event.kind,
    at: row.at,
    on: row.localDate,
    time: localTimeOf(new Date(row.at), zone),
    group: told.group,
    where: event.kind === 'potFilled' || event.kind === 'potSkipped' ? `${row.code}, ${row.place}` : (row.batchName ?? ''),
    what: told.what,
    readsPpm: event.kind === 'batchPoured' ? (event.payload.readsEcUsCm === null ? null : ppmFromEc(event.payload.readsEcUsCm, scale)) : onScale(told.ppm),
    ph: event.kind === 'batchPoured' ? event.payload.ph : (readingMiddle(told.ph ?? { kind: 'notMeasured' }) ?? null),
    potId: row.potId,
    batchId: row.batchId,
    undone: voided,
    undoable: !voided && canUndo(event, row),
  };
}

/** Batch steps are taken back last first; a poured batch only while no pot has drawn on it. */
function canUndo(event: ReadCareEvent, row: Row): boolean {
  if (event.kind === 'batchStarted') return false;
  if (!event.kind.startsWith('batch')) return true;
  if (row.seq !== row.lastOfBatch) return false;
  return event.kind !== 'batchPoured' || row.drawn === 0;
}

type Told = { group: BookEntry['group']; what: string; ppm?: Reading | null; ph?: Reading | null };

/** One event in the words of the book. */
function tell(event: ReadCareEvent, row: Row): Told {
  switch (event.kind) {
    case 'potFilled': {
      const p = event.payload;
      const mix = p.batchId ? `of ${row.batchName}` : 'of a mix not measured';
      const looked = p.seen?.length ? `; saw ${p.seen.join(', ')}` : '';
      return {
        group: 'Round',
        what: `${p.flushMl > 0 ? `Flushed ${volumeWords(p.flushMl)}, filled` : 'Filled'} ${volumeWords(p.pouredMl)} ${mix}${looked}`,
        ppm: p.oldReservoir.ppm,
        ph: p.oldReservoir.ph,
      };
    }
    case 'potSkipped':
      return { group: 'Skip', what: `Skipped: ${event.payload.reason}; look again ${event.payload.lookAgainOn}` };
    case 'batchStarted':
      return { group: 'Mix', what: `Started ${volumeWords(event.payload.volumeL * 1000)} of ${row.water?.toLowerCase() ?? 'water'}` };
    case 'batchBase':
      return { group: 'Mix', what: `Read the plain ${row.water?.toLowerCase() ?? 'water'}`, ppm: event.payload.reading };
    case 'batchPortion':
      return { group: 'Mix', what: `Added ${volumeWords(event.payload.dose.doseMl)} of ${row.product ?? 'feed'}`, ppm: event.payload.reading };
    case 'batchReading':
      return { group: 'Mix', what: 'Read the mix', ppm: event.payload.reading };
    case 'batchThinned':
      return {
        group: 'Mix',
        what: `${event.payload.pourOffL > 0 ? `Poured off ${volumeWords(event.payload.pourOffL * 1000)} and added` : 'Thinned with'} ${volumeWords(event.payload.addL * 1000)} of water`,
        ppm: event.payload.reading,
      };
    case 'batchPh':
      return { group: 'Mix', what: 'Read the pH', ph: event.payload.reading };
    case 'batchCorrection':
      return { group: 'Mix', what: `pH correction, ${event.payload.drops} drop${event.payload.drops === 1 ? '' : 's'}`, ph: event.payload.reading };
    case 'batchPoured':
      return { group: 'Mix', what: `Ready to pour, ${volumeWords(event.payload.volumeL * 1000)}` };
    case 'batchAbandoned':
      return { group: 'Mix', what: `Thrown out, ${volumeWords(event.payload.volumeL * 1000)}${event.payload.reason ? `: ${event.payload.reason}` : ''}` };
    case 'batchEmptied':
      return { group: 'Mix', what: `Leftover ${volumeWords(event.payload.leftMl)} to ${event.payload.to || 'the garden'}` };
    case 'dropperCounted':
      return { group: 'Check', what: `Counted a dropper: ${event.payload.dropsPerMl} drops to the mL` };
    case 'undone':
      return { group: 'Undo', what: UNDO_WORDS[event.payload.targetKind] ?? 'Took an act back' };
  }
}

/** What an undo took back, in words. */
export const UNDO_WORDS: Record<string, string> = {
  potFilled: 'Took a filling back',
  potSkipped: 'Took a skip back',
  batchBase: "Took the water's reading back",
  batchPortion: 'Took a portion back',
  batchReading: 'Took a reading back',
  batchThinned: 'Took a thinning back',
  batchPh: 'Took a pH reading back',
  batchCorrection: 'Took a pH correction back',
  batchPoured: 'Opened a batch again',
  batchAbandoned: 'Took a thrown-out batch back',
  batchEmptied: 'Took an emptied leftover back',
  dropperCounted: 'Took a dropper count back',
  undone: 'Put an act back',
};
