import type { EntityManager } from 'typeorm';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import type { Bottle, Product } from '../database/entities.ts';
import { atCommit } from './at-commit.ts';
import { grouped } from './grouped.ts';
import { rowsFor } from './holder.ts';

/** Use is taken over so many days back. */
const USE_DAYS = 60;

type Dose = { readonly of: string; readonly on: string; readonly ml: number };

/** What the bench gave out, a sum a day: portions by their bottle, corrections by their product. */
const givenOut = atCommit((manager) => {
  const byDay = (sql: string) => grouped(rowsFor(manager)<Dose>(sql), (dose) => dose.of);
  return {
    portions: byDay(
      `SELECT p.bottleId AS "of", e.localDate AS "on", sum(json_extract(e.payload, '$.dose.doseMl') / p.mlPerUnit) AS ml
         FROM batch_part p JOIN care_event e ON e.batchId = p.batchId AND e.kind = 'batchPortion' AND e.voidedBy IS NULL
           AND json_extract(e.payload, '$.part') = p.position GROUP BY 1, 2`,
    ),
    corrections: byDay(
      `SELECT json_extract(payload, '$.productId') AS "of", localDate AS "on", sum(json_extract(payload, '$.dose.doseMl') / json_extract(payload, '$.ratio')) AS ml
         FROM care_event WHERE kind = 'batchCorrection' AND voidedBy IS NULL GROUP BY 1, 2`,
    ),
  };
});

/** What is in a bottle by what the bench gave out, and how long that lasts at the rate of the last weeks. */
export function bottleFacts(
  manager: EntityManager,
  bottle: Bottle,
  today: string,
): ShelfRoom['products'][number]['bottle'] {
  const { portions, corrections } = givenOut(manager);
  const doses = [
    ...(portions.get(bottle.id) ?? []),
    ...(corrections.get(bottle.productId) ?? []).filter((dose) => dose.on >= bottle.openedOn),
  ];
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
export function runOver(manager: EntityManager, bottle: Bottle, product: Product, today: string): string | undefined {
  if (!product.slowsGrowth || product.longestDays === null) return undefined;
  const since = bottleFacts(manager, bottle, today)?.runSince;
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
