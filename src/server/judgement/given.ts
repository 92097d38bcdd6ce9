import type { EntityManager } from 'typeorm';
import type { GivenMonth } from '../../core/judgement/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { elementsOf, scaleComposition } from '../../core/solution/index.ts';
import { mixesOf, waterCurves, type Mix, type PlainWater } from '../drift/mixes.ts';
import type { Meters } from '../shelf/meter-states.ts';

/** What is tipped out at the next visit where nobody measured it, share of the fill. House rule. */
const USUALLY_LEFT = 0.35;
/** Of a soak that is held, drained and flushed, what its pores kept of what they took up, share of what was poured. House rule. */
const SOAK_STAYS = 0.08;
export const GIVEN = ['N', 'P', 'K', 'Ca', 'Mg', 'Si'] as const;

type Row = {
  potId: string;
  on: string;
  kind: string;
  batchId: string | null;
  waterId: string | null;
  ml: number;
  leftMl: number | null;
  still: number;
  flushCost: number | null;
};

/**
 * What stayed in each pot, month by month, mg: what was poured less what was tipped out again. Mixes by their labels and their readings; a mix
 * nobody measured counts for nothing, since nobody knows it.
 * @param days how far back
 */
export async function givenTo(
  manager: EntityManager,
  meters: Meters,
  potIds: readonly string[],
  today: string,
  days: number,
): Promise<Map<string, GivenMonth[]>> {
  const rows = await manager.query<Row[]>(
    `SELECT e.potId, e.localDate AS "on", e.kind, e.batchId, json_extract(e.payload, '$.waterId') AS waterId,
       coalesce(json_extract(e.payload, '$.pouredMl'), json_extract(e.payload, '$.ml')) AS ml, json_extract(e.payload, '$.oldReservoir.leftMl') AS leftMl,
       coalesce((SELECT sum(json_extract(f.value, '$.ml')) FROM json_each(e.payload, '$.flushWith') f JOIN water w ON w.id = json_extract(f.value, '$.waterId') WHERE w.kind = 'still'), 0) AS still,
       (SELECT sum(json_extract(f.value, '$.ml') * w.costPerL) / 1000 FROM json_each(e.payload, '$.flushWith') f JOIN water w ON w.id = json_extract(f.value, '$.waterId')) AS flushCost
     FROM json_each(?) p JOIN care_event e ON e.potId = p.value AND e.at >= ? AND e.kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND e.voidedBy IS NULL
     ORDER BY e.potId, e.at`,
    [JSON.stringify(potIds), plusDays(today, -days)],
  );
  const mixes = await mixesOf(
    manager,
    meters,
    rows.flatMap((row) => row.batchId ?? []),
  );
  const waters = await waterCurves(manager, meters);
  const costs = await costsPerL(
    manager,
    rows.flatMap((row) => row.batchId ?? []),
  );
  const still = new Set((await manager.query<{ id: string }[]>(`SELECT id FROM water WHERE kind = 'still'`)).map((w) => w.id));
  const perLitre = new Map<string, Readonly<Record<(typeof GIVEN)[number], number>>>();
  const found = new Map<string, Map<string, { mg: Record<(typeof GIVEN)[number], number>; stillL: number; cost?: number }>>();
  for (const [i, row] of rows.entries()) {
    const months = found.get(row.potId) ?? new Map<string, { mg: Record<(typeof GIVEN)[number], number>; stillL: number; cost?: number }>();
    found.set(row.potId, months);
    const month = row.on.slice(0, 7);
    const sum: { mg: Record<(typeof GIVEN)[number], number>; stillL: number; cost?: number } = months.get(month) ?? {
      mg: { N: 0, P: 0, K: 0, Ca: 0, Mg: 0, Si: 0 },
      stillL: 0,
    };
    months.set(month, sum);
    const mixWater = row.batchId === null ? row.waterId : mixes.get(row.batchId)?.waterId;
    sum.stillL += (row.still + (mixWater && still.has(mixWater) ? row.ml : 0)) / 1000;
    const perL = costs.get(row.batchId ?? row.waterId ?? '');
    if (perL !== undefined || row.flushCost !== null) sum.cost = (sum.cost ?? 0) + ((perL ?? 0) * row.ml) / 1000 + (row.flushCost ?? 0);
    const per = contentsOf(row, mixes, waters, perLitre);
    if (!per) continue;
    const next = nextFill(rows, i);
    const stays = row.kind === 'supplementStarted' ? SOAK_STAYS * row.ml : row.ml - Math.min(row.ml, next ? (next.leftMl ?? USUALLY_LEFT * row.ml) : 0);
    for (const element of GIVEN) sum.mg[element] += (per[element] * stays) / 1000;
  }
  return new Map([...found].map(([potId, months]) => [potId, [...months].map(([month, sum]) => ({ month, ...sum }))]));
}

/** mg in a litre of what was poured, the same mix reckoned once. */
function contentsOf(
  row: Row,
  mixes: ReadonlyMap<string, Mix>,
  waters: ReadonlyMap<string, PlainWater>,
  kept: Map<string, Readonly<Record<(typeof GIVEN)[number], number>>>,
): Readonly<Record<(typeof GIVEN)[number], number>> | undefined {
  const key = row.batchId ?? row.waterId;
  if (key === null) return undefined;
  const before = kept.get(key);
  if (before) return before;
  const mix = row.batchId === null ? undefined : mixes.get(row.batchId);
  const made = mix
    ? scaleComposition(mix.total, mix.standing.strength)
    : row.batchId === null && row.waterId
      ? waters.get(row.waterId)?.composition
      : undefined;
  if (!made) return undefined;
  const all = elementsOf(made);
  kept.set(key, all);
  return all;
}

/** The next filling of the pot a row is of; rows stand pot by pot, in time. */
function nextFill(rows: readonly Row[], i: number): Row | undefined {
  for (let at = i + 1; rows[at]?.potId === rows[i]!.potId; at++) if (rows[at]!.kind === 'potFilled') return rows[at];
  return undefined;
}

/** What a litre of each mix, and of each water, costs; those without a single price are left out. */
async function costsPerL(manager: EntityManager, batchIds: readonly string[]): Promise<Map<string, number>> {
  const mixes = await manager.query<{ id: string; perL: number }[]>(
    `SELECT * FROM (SELECT b.id, CASE WHEN w.costPerL IS NULL AND d.cost IS NULL THEN NULL ELSE coalesce(w.costPerL, 0) + coalesce(d.cost, 0) / coalesce(b.pouredVolumeL, b.volumeL) END AS perL
       FROM json_each(?) i JOIN batch b ON b.id = i.value JOIN water w ON w.id = b.waterId
       LEFT JOIN (SELECT p.batchId, sum(json_extract(e.payload, '$.dose.doseMl') / p.mlPerUnit * o.price / o.sizeMl) AS cost
         FROM json_each(?) j JOIN batch_part p ON p.batchId = j.value JOIN bottle o ON o.id = p.bottleId AND o.price IS NOT NULL AND o.sizeMl > 0
           JOIN care_event e ON e.batchId = p.batchId AND e.kind = 'batchPortion' AND e.voidedBy IS NULL AND json_extract(e.payload, '$.part') = p.position
         GROUP BY p.batchId) d ON d.batchId = b.id) WHERE perL IS NOT NULL`,
    [JSON.stringify([...new Set(batchIds)]), JSON.stringify([...new Set(batchIds)])],
  );
  const waters = await manager.query<{ id: string; perL: number }[]>('SELECT id, costPerL AS perL FROM water WHERE costPerL IS NOT NULL');
  return new Map([...mixes, ...waters].map(({ id, perL }) => [id, perL]));
}
