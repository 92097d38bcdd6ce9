import type { EntityManager } from 'typeorm';
import type { ShelfRoom, StrengthHistory } from '../../contract/shelf.ts';
import { GUESSED_DROPS_PER_ML, ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { bottleStrength } from '../../core/strength/index.ts';
import { batchEvents } from '../database/care-log.ts';
import type { Batch, Bottle, Product } from '../database/entities.ts';
import { beliefBefore, knownAfterBatch, replayBatch, type Known } from '../bench/batch-reader.ts';
import { isTainted, type Meters } from './meter-states.ts';

type RoomProduct = ShelfRoom['products'][number];
/** Use is taken over so many days back. */
const USE_DAYS = 60;

/** What is in a bottle by what the bench gave out, and how long that lasts at the rate of the last weeks. */
export async function bottleFacts(manager: EntityManager, bottle: Bottle, today: string): Promise<RoomProduct['bottle']> {
  const doses = await manager.query<{ on: string; ml: number }[]>(
    `SELECT e.localDate AS "on", sum(json_extract(e.payload, '$.dose.doseMl') / b.thinRatio) AS ml
       FROM batch b JOIN care_event e ON e.batchId = b.id AND e.kind = 'batchPortion' AND e.voidedBy IS NULL WHERE b.bottleId = ? GROUP BY 1
     UNION ALL
     SELECT e.localDate, sum(json_extract(e.payload, '$.drops') / coalesce(t.dropsPerMl, ?))
       FROM care_event e LEFT JOIN tool t ON t.id = json_extract(e.payload, '$.toolId')
       WHERE e.kind = 'batchCorrection' AND e.voidedBy IS NULL AND json_extract(e.payload, '$.productId') = ? AND e.localDate >= ? GROUP BY 1`,
    [bottle.id, GUESSED_DROPS_PER_ML, bottle.productId, bottle.openedOn],
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
  const batches = await manager.query<Batch[]>(
    `SELECT * FROM (SELECT b.* FROM batch b JOIN bottle o ON o.id = b.bottleId WHERE o.productId = ? AND b.status <> 'open'
       ORDER BY b.startedAt DESC LIMIT ?) ORDER BY startedAt`,
    [product.id, HISTORY],
  );
  const points: StrengthHistory['points'] = [];
  let known: Known | undefined;
  for (const batch of batches) {
    const before = known ?? (await beliefBefore(manager, product, batch.bottleId, batch.startedAt, meters));
    const events = await batchEvents(manager, batch.id);
    known = batch.knownAfter === null ? knownAfterBatch(before, batch, events, meters) : (JSON.parse(batch.knownAfter) as Known);
    const replayed = await replayBatch(manager, batch.id, meters, before);
    const read = replayed?.session.snapshots.filter((s) => s.ecPerMlL !== null).pop();
    const { ecPerMlL, sd } = bottleStrength(known.belief);
    const meter = meters.get(batch.ppmMeterId);
    points.push({
      batchId: batch.id,
      name: batch.name,
      on: batch.startedOn,
      ppmPerMlL: read?.ecPerMlL == null ? null : ppmFromEc(read.ecPerMlL * batch.thinRatio, scale),
      mean: ppmFromEc(ecPerMlL, scale),
      sd: ppmFromEc(sd, scale),
      newBottle: points.length > 0 && before.bottleId !== null && before.bottleId !== batch.bottleId,
      tainted: events.some((event) => 'reading' in event.payload && event.payload.reading !== null && isTainted(meter, event.at)),
    });
  }
  return { points };
}
