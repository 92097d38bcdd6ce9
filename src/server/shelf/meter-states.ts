import type { EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';
import type { MeterReadings, ShelfRoom } from '../../contract/shelf.ts';
import {
  checkError,
  ecAt25,
  isGood,
  meterState,
  readingMiddle,
  taintAt,
  type MeterCheck,
  type MeterMark,
  type Reading,
  type Taint,
} from '../../core/quantity/index.ts';
import { localDateOf, plusDays } from '../../core/regimen/index.ts';
import type { CareEvent, Meter } from '../database/entities.ts';

/** A meter with what was found of it since: stretches of time whose readings cannot be trusted. */
export type KnownMeter = Meter & { readonly taints: readonly Taint[] };
export type Meters = ReadonlyMap<string, KnownMeter>;

type MeterLog = { checks: MeterCheck[]; marks: (MeterMark & { why: string })[] };
const NO_LOG: MeterLog = { checks: [], marks: [] };

/** Every live check and mark of the log, by meter. They are few, however long the log. */
export async function readMeterLog(manager: EntityManager): Promise<Map<string, MeterLog>> {
  const rows = await manager.query<Pick<CareEvent, 'id' | 'kind' | 'at' | 'payload'>[]>(
    `SELECT id, kind, at, payload FROM care_event WHERE kind IN ('meterChecked', 'meterMarkedOff') AND voidedBy IS NULL ORDER BY at`,
  );
  const logs = new Map<string, MeterLog>();
  const logOf = (meterId: string) => {
    const log = logs.get(meterId) ?? { checks: [], marks: [] };
    logs.set(meterId, log);
    return log;
  };
  for (const row of rows) {
    if (row.kind === 'meterChecked') {
      const { meterId, ...check } = JSON.parse(row.payload) as CarePayload<'meterChecked'>;
      logOf(meterId).checks.push({ id: row.id, at: row.at, ...check });
    } else {
      const { meterId, from, offBy, why } = JSON.parse(row.payload) as CarePayload<'meterMarkedOff'>;
      logOf(meterId).marks.push({ id: row.id, at: row.at, from, offBy, why });
    }
  }
  return logs;
}

/** Meters with their taints. */
export function withTaints(meters: readonly Meter[], logs: ReadonlyMap<string, MeterLog>): Map<string, KnownMeter> {
  return new Map(
    meters.map((meter) => {
      const { checks, marks } = logs.get(meter.id) ?? NO_LOG;
      return [meter.id, { ...meter, taints: marks.length > 0 ? meterState(sound(meter), checks, marks).taints : [] }];
    }),
  );
}

/** Conductivity at 25 °C behind a figure; a pen that does not compensate is corrected where the sample's temperature is known. */
export function ecOf(shown: number, meter: Meter | undefined, warm: number | null): number {
  const ecUsCm = shown / (meter?.scale ?? 0.5);
  return meter && !meter.compensated && warm !== null ? ecAt25(ecUsCm, warm) : ecUsCm;
}

/** Whether what a meter read at an instant is tainted; false where there is no meter. */
export function isTainted(meter: KnownMeter | undefined, at: string): boolean {
  return meter !== undefined && taintAt(meter.taints, at) !== undefined;
}

/** "reads about 0.3 low since 4 Nov": a pen found off and not set since, in words; null where it is in order. */
export function offWords(meter: KnownMeter | undefined, zone: string): string | null {
  const open = meter?.taints.find((t) => t.to === null);
  if (!meter || !open) return null;
  const by =
    open.offBy === null
      ? 'reads wrong'
      : `reads about ${meter.quantity === 'pH' ? Math.abs(open.offBy).toFixed(1) : `${Math.abs(100 * open.offBy).toFixed(0)} %`} ${open.offBy < 0 ? 'low' : 'high'}`;
  const since =
    open.from &&
    new Date(`${localDateOf(new Date(open.from), zone)}T12:00:00Z`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
  return `${by}${since ? ` since ${since}` : ''}`;
}

/** SQLite keeps yes and no as 1 and 0. */
function sound(meter: Meter): Meter {
  return { ...meter, compensated: Boolean(meter.compensated) };
}

type RoomMeter = Pick<ShelfRoom['meters'][number], 'checks' | 'offset' | 'slope' | 'lastGoodOn' | 'wouldTaintFromOn' | 'dueOn' | 'taints'>;

/** How a meter stands, for the Shelf. */
export async function roomMeter(manager: EntityManager, meter: KnownMeter, logs: ReadonlyMap<string, MeterLog>, zone: string): Promise<RoomMeter> {
  const { checks, marks } = logs.get(meter.id) ?? NO_LOG;
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

/** What was learned with a pen is learned anew: its taints changed. */
export async function forgetLearnedWith(manager: EntityManager, meterId: string): Promise<void> {
  // From the first batch it read on, whatever pen read the later ones: each builds on those before.
  await manager.query(
    `UPDATE batch_part SET knownAfter = NULL WHERE batchId IN (
       SELECT id FROM batch WHERE startedAt >= (SELECT min(startedAt) FROM batch WHERE ppmMeterId = ?))`,
    [meterId],
  );
}
