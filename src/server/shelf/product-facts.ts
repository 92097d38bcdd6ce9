import type { EntityManager } from 'typeorm';
import type { ShelfRoom, StrengthHistory } from '../../contract/shelf.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { bottleStrength } from '../../core/strength/index.ts';
import type { Bottle, Product } from '../database/entities.ts';
import {
  beliefBefore,
  isTainted,
  knownAfter,
  replayBatch,
  type Known,
  type Meters,
  rowsFor,
} from '../collection/index.ts';

type RoomProduct = ShelfRoom['products'][number];

/** What the bench learned of the bottle in use, on the grower's scale; null before its first batch. */
export function learnedOf(
  manager: EntityManager,
  product: Product,
  bottle: Bottle | undefined,
  meters: Meters,
  scale: number,
): RoomProduct['learned'] {
  if (!bottle) return null;
  const { belief, batches } = beliefBefore(manager, product, bottle.id, '9999', meters);
  if (batches === 0) return null;
  const { ecPerMlL, sd } = bottleStrength(belief);
  return { ppmPerMlL: ppmFromEc(ecPerMlL, scale), sd: ppmFromEc(sd, scale), batches };
}

/** Batches shown of a product's history. */
const HISTORY = 60;

/** What each of a product's last batches gave, and what was known after it, oldest first. */
export function readStrengthHistory(
  manager: EntityManager,
  product: Product,
  meters: Meters,
  scale: number,
): StrengthHistory {
  const batches = rowsFor(manager)<{ id: string; position: number }>(
    `SELECT * FROM (SELECT b.id, b.startedAt, p.position FROM batch b JOIN batch_part p ON p.batchId = b.id JOIN bottle o ON o.id = p.bottleId
       WHERE o.productId = ? AND b.status <> 'open' ORDER BY b.startedAt DESC LIMIT ?) ORDER BY startedAt`,
    product.id,
    HISTORY,
  );
  const points: StrengthHistory['points'] = [];
  let known: Known | undefined;
  for (const { id, position } of batches) {
    const replayed = replayBatch(manager, id, meters, undefined, known && { position, known });
    if (!replayed) continue;
    const { batch, events, session } = replayed;
    const part = replayed.parts[position]!;
    known = knownAfter(replayed, position);
    const read = session.snapshots.filter((s) => s.part === position && s.ecPerMlL !== null).pop();
    const { ecPerMlL, sd } = bottleStrength(known.belief);
    const meter = meters.get(batch.ppmMeterId ?? '');
    points.push({
      batchId: batch.id,
      name: batch.name,
      on: batch.startedOn,
      ppmPerMlL: read?.ecPerMlL == null ? null : ppmFromEc(read.ecPerMlL * part.row.mlPerUnit, scale),
      mean: ppmFromEc(ecPerMlL, scale),
      sd: ppmFromEc(sd, scale),
      newBottle: points.length > 0 && part.before.batches === 0,
      tainted: events.some(
        (event) => 'reading' in event.payload && event.payload.reading !== null && isTainted(meter, event.at),
      ),
    });
  }
  return { points };
}
