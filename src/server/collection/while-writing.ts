import type { EntityManager } from 'typeorm';
import type { AllSettings } from '../../contract/shell.ts';
import type { KnownWater } from '../../core/solution/index.ts';
import type { Water } from '../database/entities.ts';
import { rowsFor } from './holder.ts';
import { foldMeters, isTainted, type KnownMeter, type Meters, scaleOf } from './meters.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { firstKnown, upTo, versionAt, versionsOf } from './versions.ts';
import { foldSettings } from './settings.ts';
import { foldMadeOn, foldTank, stockOfTank, type Stock } from './tanks.ts';
import { ALWAYS, solvedWater } from './waters.ts';

/*
 * What an act asks of the file while it is being written: a few lines by index each. Within one write thousands of acts may be under way (the demo is made
 * in one), and folding the collection at every step of each would cost more than all the rest.
 */

/** The settings as they stand. */
export const settingsNow = (manager: EntityManager): AllSettings => foldSettings(rowsFor(manager));

/** Meters by id, with their taints; the pens at hand first, those out of use last. */
export function metersOf(manager: EntityManager): Map<string, KnownMeter> {
  return foldMeters(rowsFor(manager));
}

/** Last base reading of each water, µS/cm: before a mix or by itself, whichever is newer. */
export function basesOf(manager: EntityManager, meters: Meters): Map<string, number> {
  // The newest mix of each water by the index on batches' time, and what was read of it alone: few lines each, however long the log.
  const lines = rowsFor(manager)<{ waterId: string; ppmMeterId: string; ppm: number | null; at: string }>(
    `SELECT w.id AS waterId, b.ppmMeterId, json_extract(e.payload, '$.reading.value') AS ppm, e.at
       FROM water w JOIN care_event e ON e.seq = (
         SELECT x.seq FROM batch y JOIN care_event x ON x.batchId = y.id AND x.kind = 'batchBase' AND x.voidedBy IS NULL
           AND json_extract(x.payload, '$.reading.value') IS NOT NULL
         WHERE y.waterId = w.id ORDER BY y.startedAt DESC, x.at DESC LIMIT 1)
       JOIN batch b ON b.id = e.batchId
     UNION ALL
     SELECT json_extract(payload, '$.waterId'), json_extract(payload, '$.ppmMeterId'), json_extract(payload, '$.ppm.value'), at
       FROM care_event WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.ppm.value') IS NOT NULL
     ORDER BY at`,
  );
  const bases = new Map<string, number>();
  for (const { waterId, ppm, ppmMeterId } of lines)
    if (ppm !== null) bases.set(waterId, ppm / scaleOf(meters.get(ppmMeterId)));
  return bases;
}

/**
 * A water by what was known of it at a moment, its test and the last pH read of it by itself, and by the reading at this mix; undefined where that was not
 * read.
 */
export function waterOf(
  manager: EntityManager,
  waterId: string,
  baseEcUsCm: number | undefined,
  meters: Meters,
  until: string = ALWAYS,
): KnownWater | undefined {
  if (baseEcUsCm === undefined) return undefined;
  const rows = rowsFor(manager);
  const [water] = rows<Water>('SELECT * FROM water WHERE id = ?', waterId);
  if (!water) return undefined;
  const tests = upTo(versionsOf(rows, 'water', [waterId], 'known').get(waterId), water.known);
  const readings = rows<{ ph: string; meterId: string | null; at: string }>(
    `SELECT json_extract(payload, '$.ph') AS ph, json_extract(payload, '$.phMeterId') AS meterId, at FROM care_event
     WHERE kind = 'waterRead' AND voidedBy IS NULL AND at <= ? AND json_extract(payload, '$.waterId') = ? AND json_extract(payload, '$.ph.kind') <> 'notMeasured'
     ORDER BY at DESC, seq DESC`,
    until,
    waterId,
  );
  const sound = readings.find((r) => !isTainted(meters.get(r.meterId ?? ''), r.at));
  const ph = sound ? (readingMiddle(JSON.parse(sound.ph) as Reading) ?? null) : null;
  return solvedWater({
    kind: water.kind,
    test: versionAt(tests, until) ?? firstKnown(tests, until),
    ecUsCm: baseEcUsCm,
    ph,
  });
}

/** The last filling of a pot and what it conducted, µS/cm; undefined where it was never filled. */
export function lastFilled(manager: EntityManager, potId: string): { at: string; ecUsCm: number | null } | undefined {
  return rowsFor(manager)<{ at: string; ecUsCm: number | null }>(
    `SELECT e.at, coalesce(b.afterAcidEcUsCm, b.pouredEcUsCm, json_extract(e.payload, '$.waterEcUsCm')) AS ecUsCm FROM care_event e LEFT JOIN batch b ON b.id = e.batchId
     WHERE e.potId = ? AND e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.at DESC, coalesce(e.standsAt, e.seq) DESC LIMIT 1`,
    potId,
  )[0];
}

/** The soak a pot stands in, if any. */
export async function openSupplement(
  manager: EntityManager,
  potId: string,
): Promise<{ id: string; at: string; changes: { table: string; id: string }[] } | undefined> {
  const [row] = await manager.query<{ id: string; at: string; payload: string }[]>(
    `SELECT s.* FROM care_event s WHERE s.potId = ? AND s.kind = 'supplementStarted' AND s.voidedBy IS NULL AND json_extract(s.payload, '$.way') = 'soak'
       AND NOT EXISTS (SELECT 1 FROM care_event e WHERE e.potId = s.potId AND e.kind = 'supplementEnded' AND e.voidedBy IS NULL AND json_extract(e.payload, '$.supplementId') = s.id)
     ORDER BY s.at DESC LIMIT 1`,
    [potId],
  );
  return (
    row && {
      id: row.id,
      at: row.at,
      changes: (JSON.parse(row.payload) as { changes: { table: string; id: string }[] }).changes,
    }
  );
}

/** What stands in a tank; null where nobody looked into it. */
export function stockOf(manager: EntityManager, water: Water, today: string): Stock | null {
  const rows = rowsFor(manager);
  return stockOfTank(water, foldTank(rows, water.id), today, foldMadeOn(rows).get(water.id));
}
