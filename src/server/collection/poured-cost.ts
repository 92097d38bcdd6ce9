import type { BatchEntry } from './batches.ts';
import type { Collection } from './collection.ts';
import { memo } from './memo.ts';
import type { Pouring } from './pots.ts';
import type { WaterEntry } from './waters.ts';

export type Priced = Pick<Collection, 'waters' | 'bottles'>;
type Poured = Pick<Pouring, 'batch' | 'waterId' | 'ml' | 'flushWith'>;

/** Still water in what was poured and flushed with, mL. */
export function stillMlOf({ batch, waterId, ml, flushWith }: Poured, waters: Priced['waters']): number {
  const ofMix = batch ? batch.row.waterId : waterId;
  const flushed = flushWith.reduce((all, f) => all + (isStill(waters.get(f.waterId)) ? f.ml : 0), 0);
  return flushed + (ofMix && isStill(waters.get(ofMix)) ? ml : 0);
}

/** What was poured cost, as far as prices are known; undefined where none is. */
export function pouredCost(
  { batch, waterId, ml, flushWith }: Poured,
  waters: Priced['waters'],
  bottles: Priced['bottles'],
): number | undefined {
  const perLOf = (id: string | null) => waters.get(id ?? '')?.row.costPerL ?? undefined;
  const perL = batch ? batchPerL(batch, waters, bottles) : perLOf(waterId);
  const poured = [{ perL, ml }, ...flushWith.map((f) => ({ perL: perLOf(f.waterId), ml: f.ml }))];
  const priced = poured.flatMap((part) => (part.perL === undefined ? [] : [(part.perL * part.ml) / 1000]));
  return priced.length === 0 ? undefined : priced.reduce((all, cost) => all + cost, 0);
}

const isStill = (water: WaterEntry | undefined) => water?.row.kind === 'still';

/** What a litre of a mix costs; undefined without a single price. */
const batchPerL = memo(
  ({ row, parts }: BatchEntry, waters: Priced['waters'], bottles: Priced['bottles']): number | undefined => {
    const costs = parts.flatMap(({ bottleId, dosedMl, mlPerUnit }) => {
      const bottle = bottles.get(bottleId);
      return bottle?.price != null && bottle.sizeMl != null && bottle.sizeMl > 0 && dosedMl > 0
        ? [(dosedMl / mlPerUnit) * (bottle.price / bottle.sizeMl)]
        : [];
    });
    const water = waters.get(row.waterId)?.row.costPerL ?? undefined;
    if (water === undefined && costs.length === 0) return undefined;
    return (water ?? 0) + costs.reduce((sum, cost) => sum + cost, 0) / (row.pouredVolumeL ?? row.volumeL);
  },
);
