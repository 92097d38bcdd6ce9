import { waterKnown, type WaterKnown } from '../../contract/shelf.ts';
import { curveOf, type TitrationCurve } from '../../core/drift/index.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import {
  composition,
  scaleComposition,
  solve,
  waterFromTest,
  type Composition,
  type KnownWater,
  anchoredAt,
} from '../../core/solution/index.ts';
import type { Water } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { isTainted, type Meters, scaleOf } from './meters.ts';
import { memo, memoOfFigures } from './memo.ts';
import { listed, type Rows } from './rows.ts';
import { firstKnown, upTo, versionAt, versionsOf, type Versions } from './versions.ts';

/** A water as it stood at a moment: what was known of it then. Conductivity in µS/cm; undefined, and pH null, where it had not been read. */
export type WaterThen = {
  readonly waterId: string;
  readonly kind: Water['kind'];
  readonly test: string | null;
  readonly ecUsCm: number | undefined;
  readonly ph: number | null;
};

/** A water with everything that was read of it, oldest first, and its tests from the day each was written down. */
export type WaterEntry = {
  readonly row: Water;
  /** Before a mix or by itself. */
  readonly bases: readonly { readonly at: string; readonly ecUsCm: number }[];
  /** By pens that were in order. */
  readonly phs: readonly { readonly at: string; readonly ph: number }[];
  /** Its kit's figures or analysis, as JSON. */
  readonly tests: Versions;
};

/** Past every moment. */
export const ALWAYS = '9999';
const NEVER = '';

type ReadLine = { waterId: string; at: string; meterId: string | null; value: number | null };

/** Waters with their readings from an instant on. */
export function foldWaters(rows: Rows, meters: Meters, ids: readonly string[], from = NEVER): Map<string, WaterEntry> {
  const entries = new Map<string, WaterEntry>();
  const tests = versionsOf(rows, 'water', ids, 'known');
  const bases = new Map<string, { at: string; ecUsCm: number }[]>(ids.map((id) => [id, []]));
  for (const line of rows<ReadLine>(
    `SELECT b.waterId, e.at, b.ppmMeterId AS meterId, json_extract(e.payload, '$.reading.value') AS value, e.seq FROM care_event e JOIN batch b ON b.id = e.batchId
       WHERE e.kind = 'batchBase' AND e.voidedBy IS NULL AND e.at >= ? AND b.waterId IN (SELECT value FROM json_each(?))
     UNION ALL
     SELECT json_extract(payload, '$.waterId'), at, json_extract(payload, '$.ppmMeterId'), json_extract(payload, '$.ppm.value'), seq FROM care_event
       WHERE kind = 'waterRead' AND voidedBy IS NULL AND at >= ? AND json_extract(payload, '$.waterId') IN (SELECT value FROM json_each(?))
     ORDER BY at, seq`,
    from,
    listed(ids),
    from,
    listed(ids),
  ))
    if (line.value !== null)
      bases.get(line.waterId)!.push({ at: line.at, ecUsCm: line.value / scaleOf(meters.get(line.meterId ?? '')) });
  const phs = new Map<string, { at: string; ph: number }[]>(ids.map((id) => [id, []]));
  for (const line of rows<{ waterId: string; at: string; meterId: string | null; ph: string }>(
    `SELECT json_extract(payload, '$.waterId') AS waterId, at, json_extract(payload, '$.phMeterId') AS meterId, json_extract(payload, '$.ph') AS ph FROM care_event
       WHERE kind = 'waterRead' AND voidedBy IS NULL AND at >= ? AND json_extract(payload, '$.waterId') IN (SELECT value FROM json_each(?))
         AND json_extract(payload, '$.ph.kind') <> 'notMeasured' ORDER BY at, seq`,
    from,
    listed(ids),
  )) {
    if (isTainted(meters.get(line.meterId ?? ''), line.at)) continue;
    const ph = readingMiddle(JSON.parse(line.ph) as Reading);
    if (ph !== undefined) phs.get(line.waterId)!.push({ at: line.at, ph });
  }
  for (const row of rows<Water>(
    'SELECT * FROM water WHERE id IN (SELECT value FROM json_each(?)) ORDER BY position, id',
    listed(ids),
  ))
    entries.set(row.id, {
      row,
      bases: bases.get(row.id)!,
      phs: phs.get(row.id)!,
      tests: upTo(tests.get(row.id), row.known),
    });
  return entries;
}

/**
 * A water at a moment: what had been read of it until then, and the test that held. Of a water not tested by then its first test holds, for minerals
 * change slowly and a test beats none; a reading is never carried back.
 */
export function waterAt(entry: WaterEntry, at: string): WaterThen {
  return {
    waterId: entry.row.id,
    kind: entry.row.kind,
    test: versionAt(entry.tests, at) ?? firstKnown(entry.tests, at),
    ecUsCm: lastBefore(entry.bases, at)?.ecUsCm,
    ph: lastBefore(entry.phs, at)?.ph ?? null,
  };
}

/** A water as it is known by now. */
export const waterNow = memo((entry: WaterEntry): WaterThen => waterAt(entry, ALWAYS));

function lastBefore<T extends { readonly at: string }>(sorted: readonly T[], at: string): T | undefined {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]!.at <= at) low = middle + 1;
    else high = middle;
  }
  return sorted[low - 1];
}

const testOf = memoOfFigures((text: string): WaterKnown | undefined => readJson(waterKnown, text));

/** A water by all that is known of it, solved once for the same figures; undefined where it was never read. */
export function solvedWater({ test, ecUsCm, ph, kind }: Omit<WaterThen, 'waterId'>): KnownWater | undefined {
  return ecUsCm === undefined ? undefined : solveWater(test, ecUsCm, ph, kind);
}
const solveWater = memoOfFigures(
  (test: string | null, ecUsCm: number, ph: number | null, kind: Water['kind']): KnownWater | undefined => {
    const known = (test === null ? undefined : testOf(test)) ?? null;
    const signs = { ecUsCm, ph, kind };
    // What contradicts the reading is let go by, one after the other: the pH first, then the test.
    for (const [tested, seen] of [
      [known, signs],
      [known, { ...signs, ph: null }],
      [null, { ...signs, ph: null }],
    ] as const) {
      const made = waterFromTest(tested, seen);
      if (made.ok) return made;
    }
    return undefined;
  },
);

export type PlainWater = { readonly composition: Composition; readonly curve: TitrationCurve };
/** Where nothing is known of a water. */
const USUAL_STILL = anchoredAt(composition({ Na: 0.1, Cl: 0.06, CO2: 0.1 }), 6.5)!;
const usualStill = memo((): PlainWater => ({ composition: USUAL_STILL, curve: curveOf(USUAL_STILL) }));
const plainOf = memo(({ composition: of }: KnownWater): PlainWater | undefined =>
  isInModel(of) ? { composition: of, curve: curveOf(of) } : undefined,
);

/** Whether the chemistry reaches a solution: its curve needs twice its strength too. */
export const isInModel = (of: Composition): boolean => solve(of).ok && solve(scaleComposition(of, 2)).ok;

/** A water's own curve, a usual still water's where nothing is known of it; undefined for a brine, past what the chemistry reaches. */
export function plainWater(then: Omit<WaterThen, 'waterId'>): PlainWater | undefined {
  const known = solvedWater(then);
  return known ? plainOf(known) : usualStill();
}
