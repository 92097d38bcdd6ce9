import type { EntityManager } from 'typeorm';
import type { ShelfRoom, StrengthHistory } from '../../contract/shelf.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { bottleStrength } from '../../core/strength/index.ts';
import type { Bottle, Product } from '../database/entities.ts';
import { beliefBefore, knownAfter, replayBatch, type Known } from '../bench/batch-reader.ts';
import { isTainted, type Meters } from '../collection/index.ts';

type RoomProduct = ShelfRoom['products'][number];
/** Use is taken over so many days back. */
const USE_DAYS = 60;

/** What is in a bottle by what the bench gave out, and how long that lasts at the rate of the last weeks. */
export async function bottleFacts(manager: EntityManager, bottle: Bottle, today: string): Promise<RoomProduct['bottle']> {
  const doses = await manager.query<{ on: string; ml: number }[]>(
    `SELECT e.localDate AS "on", sum(json_extract(e.payload, '$.dose.doseMl') / p.mlPerUnit) AS ml
       FROM batch_part p JOIN care_event e ON e.batchId = p.batchId AND e.kind = 'batchPortion' AND e.voidedBy IS NULL
         AND json_extract(e.payload, '$.part') = p.position WHERE p.bottleId = ? GROUP BY 1
     UNION ALL
     SELECT localDate, sum(json_extract(payload, '$.dose.doseMl') / json_extract(payload, '$.ratio'))
       FROM care_event WHERE kind = 'batchCorrection' AND voidedBy IS NULL AND json_extract(payload, '$.productId') = ? AND localDate >= ? GROUP BY 1`,
    [bottle.id, bottle.productId, bottle.openedOn],
  );
  const used = doses.reduce((sum, dose) => sum + dose.ml, 0);
  const lately = doses.filter((dose) => daysBetween(dose.on, today) < USE_DAYS).reduce((sum, dose) => sum + dose.ml, 0);
  const days = Math.min(USE_DAYS, Math.max(7, daysBetween(bottle.openedOn, today)));
  const perDayMl = lately / days;
  const leftMl = bottle.sizeMl === null ? null : Math.max(0, bottle.sizeMl - used);
  return {
    id: bottle.id,
    openedOn: bottle.openedOn,
    note: bottle.note,
    sizeMl: bottle.sizeMl,
    price: bottle.price,
    leftMl,
    perDayMl,
    runSince: runSince(
      doses.map((dose) => dose.on),
      today,
    ),
    daysLeft: leftMl !== null && perDayMl > 0 ? Math.floor(leftMl / perDayMl) : null,
  };
}

/** The day on which the run of a growth-slowing product was over, if it is and has not rested since; it ends by itself. */
export async function runOver(manager: EntityManager, bottle: Bottle, product: Product, today: string): Promise<string | undefined> {
  if (!product.slowsGrowth || product.longestDays === null) return undefined;
  const since = (await bottleFacts(manager, bottle, today))?.runSince;
  const over = since && plusDays(since, Math.ceil(product.longestDays));
  return over && over <= today ? over : undefined;
}

/** Days without it that end a run. */
const REST_DAYS = 14;

/** First day of the run that still goes on: no gap of a fortnight since. */
function runSince(days: readonly string[], today: string): string | null {
  const newest = [...new Set(days)].sort().reverse();
  let since: string | null = null;
  for (const day of newest) {
    if (daysBetween(day, since ?? today) >= REST_DAYS) break;
    since = day;
  }
  return since;
}

/** What the bench learned of the bottle in use, on the grower's scale; null before its first batch. */
export async function learnedOf(
  manager: EntityManager,
  product: Product,
  bottle: Bottle | undefined,
  meters: Meters,
  scale: number,
): Promise<RoomProduct['learned']> {
  if (!bottle) return null;
  const { belief, batches } = await beliefBefore(manager, product, bottle.id, '9999', meters);
  if (batches === 0) return null;
  const { ecPerMlL, sd } = bottleStrength(belief);
  return { ppmPerMlL: ppmFromEc(ecPerMlL, scale), sd: ppmFromEc(sd, scale), batches };
}

/** Batches shown of a product's history. */
const HISTORY = 60;

/** What each of a product's last batches gave, and what was known after it, oldest first. */
export async function readStrengthHistory(manager: EntityManager, product: Product, meters: Meters, scale: number): Promise<StrengthHistory> {
  const batches = await manager.query<{ id: string; position: number }[]>(
    `SELECT * FROM (SELECT b.id, b.startedAt, p.position FROM batch b JOIN batch_part p ON p.batchId = b.id JOIN bottle o ON o.id = p.bottleId
       WHERE o.productId = ? AND b.status <> 'open' ORDER BY b.startedAt DESC LIMIT ?) ORDER BY startedAt`,
    [product.id, HISTORY],
  );
  const points: StrengthHistory['points'] = [];
  let known: Known | undefined;
  for (const { id, position } of batches) {
    const replayed = await replayBatch(manager, id, meters, undefined, known && { position, known });
    if (!replayed) continue;
    const { batch, events, session } = replayed;
    const part = replayed.parts[position]!;
    known = knownAfter(replayed, position);
    const read = session.snapshots.filter((s) => s.part === position && s.ecPerMlL !== null).pop();
    const { ecPerMlL, sd } = bottleStrength(known.belief);
    const meter = meters.get(batch.ppmMeterId);
    points.push({
      batchId: batch.id,
      name: batch.name,
      on: batch.startedOn,
      ppmPerMlL: read?.ecPerMlL == null ? null : ppmFromEc(read.ecPerMlL * part.row.mlPerUnit, scale),
      mean: ppmFromEc(ecPerMlL, scale),
      sd: ppmFromEc(sd, scale),
      newBottle: points.length > 0 && part.before.batches === 0,
      tainted: events.some((event) => 'reading' in event.payload && event.payload.reading !== null && isTainted(meter, event.at)),
    });
  }
  return { points };
}
