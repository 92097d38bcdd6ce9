import type { EntityManager } from 'typeorm';
import type { MeterReadings, ShelfRoom } from '../../contract/shelf.ts';
import { checkError, isGood, meterState, readingMiddle, taintAt, type Taint } from '../../core/quantity/index.ts';
import { localDateOf, plusDays } from '../../core/regimen/index.ts';
import { atCommit, isTainted, sound, type KnownMeter, rowsFor } from '../collection/index.ts';
import { actNamed, READ_KINDS } from '../acts.ts';

type RoomMeter = Pick<
  ShelfRoom['meters'][number],
  'checks' | 'offset' | 'slope' | 'lastGoodOn' | 'wouldTaintFromOn' | 'dueOn' | 'taints'
>;

/** How a meter stands, for the Shelf. */
export function roomMeter(manager: EntityManager, meter: KnownMeter, zone: string): RoomMeter {
  const { checks, marks } = meter;
  const state = meterState(sound(meter), checks, marks);
  const day = (at: string | null | undefined) => (at ? localDateOf(new Date(at), zone) : null);
  const lastGoodOn = day(state.lastGood?.at);
  const taints: RoomMeter['taints'] = [];
  for (const taint of state.taints) {
    const touched = readUnder(manager, meter, taint);
    taints.push({
      ...taint,
      fromOn: day(taint.from),
      toOn: day(taint.to),
      why: marks.find((m) => m.id === taint.markId)?.why ?? '',
      ...touched,
    });
  }
  return {
    checks: [...checks]
      .reverse()
      .map((c) => ({ ...c, on: day(c.at)!, error: checkError(c, sound(meter)), good: isGood(c, sound(meter)) })),
    offset: state.offset ?? null,
    slope: state.slope ?? null,
    lastGoodOn,
    wouldTaintFromOn: day(
      meterState(sound(meter), checks, [{ id: '', at: '9999', from: null, offBy: null }]).taints[0]?.from,
    ),
    dueOn: lastGoodOn && plusDays(lastGoodOn, meter.checkEveryDays),
    taints,
  };
}

type TouchedBy = { readonly readings: number; readonly batches: number };
const readUnderAt = atCommit(() => new Map<string, TouchedBy>());

/** How many readings and batches lie under a taint: of a pen that was off for months these are thousands, counted once a commit. */
function readUnder(manager: EntityManager, meter: KnownMeter, taint: Taint): TouchedBy {
  const counted = readUnderAt(manager);
  const key = `${meter.id} ${taint.markId} ${taint.from} ${taint.to}`;
  const known = counted.get(key);
  if (known) return known;
  const lines = linesOf(manager, meter, taint.from ?? '', taint.to ?? undefined).filter(({ line }) =>
    taintAt([taint], line.at),
  );
  const batches = new Set(lines.flatMap(({ line }) => (line.potId === null ? (line.batchId ?? []) : [])));
  const touched = { readings: lines.length, batches: batches.size };
  counted.set(key, touched);
  return touched;
}

type Line = {
  id: string;
  at: string;
  kind: string;
  payload: string;
  potId: string | null;
  batchId: string | null;
  code: string | null;
  batchName: string | null;
  waterId: string | null;
  water: string | null;
  clayId: string | null;
  clay: string | null;
};

/** Everything a pen read after an instant, oldest first, in its own figures. */
export function readingsOf(
  manager: EntityManager,
  meter: KnownMeter,
  zone: string,
  since: string,
): MeterReadings['readings'] {
  return linesOf(manager, meter, since).map(({ line, value }) => ({
    eventId: line.id,
    at: line.at,
    on: localDateOf(new Date(line.at), zone),
    value,
    ...subjectOf(line),
    tainted: isTainted(meter, line.at),
  }));
}

/** Lines in which a pen read something, after an instant and up to another. */
function linesOf(
  manager: EntityManager,
  meter: KnownMeter,
  since: string,
  upTo = '9999',
): { readonly line: Line; readonly value: number }[] {
  const [column, figure] = meter.quantity === 'ppm' ? (['ppmMeterId', 'ppm'] as const) : (['phMeterId', 'ph'] as const);
  // An act that names a pen was read by that one, any other by its batch's.
  const lines = rowsFor(manager)<Line>(
    `SELECT e.id, e.at, e.kind, e.payload, e.potId, e.batchId, p.code, b.name AS batchName, w.id AS waterId, w.name AS water, c.id AS clayId, c.name AS clay
     FROM care_event e LEFT JOIN pot p ON p.id = e.potId LEFT JOIN batch b ON b.id = e.batchId LEFT JOIN water w ON w.id = json_extract(e.payload, '$.waterId')
       LEFT JOIN clay_batch c ON c.id = json_extract(e.payload, '$.clayId')
     WHERE e.kind IN (SELECT value FROM json_each(?)) AND e.at > ? AND e.at <= ? AND e.voidedBy IS NULL
       AND CASE WHEN json_type(e.payload, '$.${column}') IS NULL THEN b.${column} ELSE json_extract(e.payload, '$.${column}') END = ?
     ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
    JSON.stringify(READ_KINDS),
    since,
    upTo,
    meter.id,
  );
  return lines.flatMap((line) => {
    const reading = actNamed(line.kind)?.figures?.(JSON.parse(line.payload) as never)[figure];
    const value = reading ? readingMiddle(reading) : undefined;
    return value === undefined ? [] : { line, value };
  });
}

function subjectOf({
  potId,
  batchId,
  code,
  batchName,
  waterId,
  water,
  clayId,
  clay,
}: Line): Pick<MeterReadings['readings'][number], 'of' | 'subjectId' | 'name'> {
  if (potId !== null) return { of: 'pot', subjectId: potId, name: code ?? '' };
  if (batchId !== null) return { of: 'batch', subjectId: batchId, name: batchName ?? '' };
  if (clayId !== null) return { of: 'clay', subjectId: clayId, name: clay ?? '' };
  return { of: 'water', subjectId: waterId ?? '', name: water ?? '' };
}
