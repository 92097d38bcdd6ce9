import type { EntityManager } from 'typeorm';
import type { MeterReadings, ShelfRoom } from '../../contract/shelf.ts';
import { checkError, isGood, meterState, readingMiddle, taintAt, type Reading } from '../../core/quantity/index.ts';
import { localDateOf, plusDays } from '../../core/regimen/index.ts';
import { isTainted, sound, type KnownMeter } from '../collection/index.ts';

type RoomMeter = Pick<ShelfRoom['meters'][number], 'checks' | 'offset' | 'slope' | 'lastGoodOn' | 'wouldTaintFromOn' | 'dueOn' | 'taints'>;

/** How a meter stands, for the Shelf. */
export async function roomMeter(manager: EntityManager, meter: KnownMeter, zone: string): Promise<RoomMeter> {
  const { checks, marks } = meter;
  const state = meterState(sound(meter), checks, marks);
  const day = (at: string | null | undefined) => (at ? localDateOf(new Date(at), zone) : null);
  const lastGoodOn = day(state.lastGood?.at);
  const taints: RoomMeter['taints'] = [];
  for (const taint of state.taints) {
    const readings = (await readingsOf(manager, meter, zone, taint.from ?? '')).filter((r) => taintAt([taint], r.at));
    taints.push({
      ...taint,
      fromOn: day(taint.from),
      toOn: day(taint.to),
      why: marks.find((m) => m.id === taint.markId)?.why ?? '',
      readings: readings.length,
      batches: new Set(readings.filter((r) => r.of === 'batch').map((r) => r.subjectId)).size,
    });
  }
  return {
    checks: [...checks].reverse().map((c) => ({ ...c, on: day(c.at)!, error: checkError(c, sound(meter)), good: isGood(c, sound(meter)) })),
    offset: state.offset ?? null,
    slope: state.slope ?? null,
    lastGoodOn,
    wouldTaintFromOn: day(meterState(sound(meter), checks, [{ id: '', at: '9999', from: null, offBy: null }]).taints[0]?.from),
    dueOn: lastGoodOn && plusDays(lastGoodOn, meter.checkEveryDays),
    taints,
  };
}

type Row = { eventId: string; at: string; kind: string; reading: string | null; subjectId: string; name: string };

/** Everything a pen read since an instant, oldest first, in its own figures. */
export async function readingsOf(manager: EntityManager, meter: KnownMeter, zone: string, since: string): Promise<MeterReadings['readings']> {
  const batchKinds = meter.quantity === 'ppm' ? `'batchBase', 'batchPortion', 'batchReading', 'batchThinned'` : `'batchPh', 'batchCorrection'`;
  const column = meter.quantity === 'ppm' ? 'ppmMeterId' : 'phMeterId';
  const figure = meter.quantity === 'ppm' ? 'ppm' : 'ph';
  const rows = await manager.query<Row[]>(
    `SELECT e.id AS eventId, e.at, 'batch' AS kind, json_extract(e.payload, '$.reading') AS reading, b.id AS subjectId, b.name
       FROM batch b JOIN care_event e ON e.batchId = b.id AND e.kind IN (${batchKinds}) AND e.voidedBy IS NULL WHERE b.${column} = ? AND e.at > ?
     UNION ALL
     SELECT e.id, e.at, 'pot', json_extract(e.payload, '$.oldReservoir.${figure}'), p.id, p.code
       FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potFilled' AND e.at > ? AND e.voidedBy IS NULL AND json_extract(e.payload, '$.${column}') = ?
     UNION ALL
     SELECT e.id, e.at, 'pot', json_extract(e.payload, '$.${figure}'), p.id, p.code
       FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potReread' AND e.at > ? AND e.voidedBy IS NULL AND json_extract(e.payload, '$.${column}') = ?
     UNION ALL
     SELECT e.id, e.at, 'water', json_extract(e.payload, '$.${figure}'), w.id, w.name
       FROM care_event e JOIN water w ON w.id = json_extract(e.payload, '$.waterId')
       WHERE e.kind = 'waterRead' AND e.at > ? AND e.voidedBy IS NULL AND json_extract(e.payload, '$.${column}') = ?
     ORDER BY 2`,
    [meter.id, since, since, meter.id, since, meter.id, since, meter.id],
  );
  return rows.flatMap((row) => {
    const value = row.reading === null ? undefined : readingMiddle(JSON.parse(row.reading) as Reading);
    if (value === undefined) return [];
    return {
      eventId: row.eventId,
      at: row.at,
      on: localDateOf(new Date(row.at), zone),
      value,
      of: row.kind as 'batch' | 'pot' | 'water',
      subjectId: row.subjectId,
      name: row.name,
      tainted: isTainted(meter, row.at),
    };
  });
}
