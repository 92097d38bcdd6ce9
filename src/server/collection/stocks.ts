import type { EntityManager } from 'typeorm';
import { daysBetween } from '../../core/regimen/index.ts';
import { STOCK_KEEPS_DAYS } from '../../core/strength/index.ts';
import { rowsFor } from './holder.ts';

/** A stock of a solid made for an earlier batch. `source`: the name under which its strength is learned. */
export type MadeStock = { source: string; grams: number; waterMl: number; madeOn: string; leftMl: number };

/**
 * The newest stock of a solid that is left from an earlier batch, or undefined where none was made, it is used up, or it stood too long.
 * What was drawn from it is what its portions took.
 */
export function stockLeft(manager: EntityManager, bottleId: string, today: string): MadeStock | undefined {
  const [made] = rowsFor(manager)<{ source: string; stock: string; madeOn: string; usedMl: number }>(
    `SELECT p.source, p.stock, min(b.startedOn) AS madeOn, max(b.startedAt) AS lastAt, sum((SELECT sum(json_extract(e.payload, '$.dose.doseMl')) FROM care_event e
         WHERE e.batchId = p.batchId AND e.kind = 'batchPortion' AND e.voidedBy IS NULL AND json_extract(e.payload, '$.part') = p.position)) AS usedMl
       FROM batch_part p JOIN batch b ON b.id = p.batchId WHERE p.bottleId = ? AND p.method = 'stock' GROUP BY p.source HAVING usedMl > 0 ORDER BY madeOn DESC, lastAt DESC LIMIT 1`,
    bottleId,
  );
  if (!made) return undefined;
  const { grams, waterMl } = JSON.parse(made.stock) as { grams: number; waterMl: number };
  const leftMl = waterMl - made.usedMl;
  const { source, madeOn } = made;
  return leftMl > 0 && daysBetween(madeOn, today) <= STOCK_KEEPS_DAYS
    ? { source, grams, waterMl, madeOn, leftMl }
    : undefined;
}
