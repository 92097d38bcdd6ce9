import { seededRandom, seedOf } from '../statistics/index.ts';
import { drawWater, stirIn, thinSim, type SimBatch, type SimProduct } from './sim-batch.ts';
import type { SimSolution } from './sim-solution.ts';

/** What was truly done to a bucket, each act with the id that fixes its own unsteadiness of hand. */
export type SimBatchAct =
  | { readonly id: string; readonly kind: 'dose'; readonly product: SimProduct; readonly doseMl: number }
  | { readonly id: string; readonly kind: 'thin'; readonly pourOffL: number; readonly addL: number };

/** The true bucket after its acts. The same acts give the same truth whenever they are replayed, in any process. */
export function replaySimBatch(
  id: string,
  water: SimSolution,
  volumeL: number,
  acts: readonly SimBatchAct[],
): SimBatch {
  let batch = drawWater(water, volumeL, seededRandom(seedOf(id)));
  for (const act of acts) {
    const random = seededRandom(seedOf(act.id));
    batch =
      act.kind === 'dose'
        ? stirIn(batch, act.product, act.doseMl, random)
        : thinSim(batch, act.pourOffL, act.addL, water, random);
  }
  return batch;
}
