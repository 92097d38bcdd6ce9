import type { GivenMonth } from '../../core/judgement/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { elementsOf, scaleComposition } from '../../core/solution/index.ts';
import {
  memo,
  mixOf,
  plainWater,
  waterNow,
  type BatchEntry,
  type Collection,
  type PotEntry,
  type Pouring,
  type WaterEntry,
} from '../collection/index.ts';

/** What is tipped out at the next visit where nobody measured it, share of the fill. House rule. */
const USUALLY_LEFT = 0.35;
/** Of a soak that is held, drained and flushed, what its pores kept of what they took up, share of what was poured. House rule. */
const SOAK_STAYS = 0.08;
const GIVEN = ['N', 'P', 'K', 'Ca', 'Mg', 'Si'] as const;
type Given = Readonly<Record<(typeof GIVEN)[number], number>>;
type Priced = Pick<Collection, 'waters' | 'bottles'>;

/**
 * What stayed in a pot, month by month, mg: what was poured less what was tipped out again. Mixes by their labels and their readings; a mix
 * nobody measured counts for nothing, since nobody knows it. Cost by today's prices.
 * @param days how far back
 */
export function givenTo(
  { pourings }: Pick<PotEntry, 'pourings'>,
  { waters, bottles }: Priced,
  today: string,
  days: number,
): readonly GivenMonth[] {
  return summed(pourings, waters, bottles, today, days);
}

const summed = memo(
  (
    pourings: readonly Pouring[],
    waters: Priced['waters'],
    bottles: Priced['bottles'],
    today: string,
    days: number,
  ): readonly GivenMonth[] => {
    const from = plusDays(today, -days);
    const months = new Map<string, { mg: Record<(typeof GIVEN)[number], number>; stillL: number; cost?: number }>();
    const wanted = pourings.filter(({ on }) => on >= from);
    for (const [i, pouring] of wanted.entries()) {
      const month = pouring.on.slice(0, 7);
      const sum: { mg: Record<(typeof GIVEN)[number], number>; stillL: number; cost?: number } = months.get(month) ?? {
        mg: { N: 0, P: 0, K: 0, Ca: 0, Mg: 0, Si: 0 },
        stillL: 0,
      };
      months.set(month, sum);
      const { batch, waterId, ml, flushWith } = pouring;
      const ofMix = batch ? batch.row.waterId : waterId;
      const stillMl =
        flushWith.reduce((all, f) => all + (isStill(waters.get(f.waterId)) ? f.ml : 0), 0) +
        (ofMix && isStill(waters.get(ofMix)) ? ml : 0);
      sum.stillL += stillMl / 1000;
      const perL = batch ? batchPerL(batch, waters, bottles) : (waters.get(waterId ?? '')?.row.costPerL ?? undefined);
      const priced = flushWith.flatMap((f) =>
        (waters.get(f.waterId)?.row.costPerL ?? undefined) !== undefined
          ? [(f.ml * waters.get(f.waterId)!.row.costPerL!) / 1000]
          : [],
      );
      if (perL !== undefined || priced.length > 0)
        sum.cost = (sum.cost ?? 0) + ((perL ?? 0) * ml) / 1000 + priced.reduce((all, cost) => all + cost, 0);
      const per = contentsOf(pouring, waters);
      if (!per) continue;
      const next = wanted.slice(i + 1).find(({ kind }) => kind === 'potFilled');
      const stays =
        pouring.kind === 'supplementStarted'
          ? SOAK_STAYS * ml
          : ml - Math.min(ml, next ? (next.leftMl ?? USUALLY_LEFT * ml) : 0);
      for (const element of GIVEN) sum.mg[element] += (per[element] * stays) / 1000;
    }
    return [...months].map(([month, sum]) => ({ month, ...sum }));
  },
);

const isStill = (water: WaterEntry | undefined) => water?.row.kind === 'still';

/** mg in a litre of what was poured. */
function contentsOf({ batch, waterId }: Pouring, waters: Priced['waters']): Given | undefined {
  if (batch) return inMix(batch);
  const water = waterId === null ? undefined : waters.get(waterId);
  return water && inWater(water);
}
const inMix = memo((batch: BatchEntry): Given => {
  const { total, standing } = mixOf(batch);
  return elementsOf(scaleComposition(total, standing.strength));
});
const inWater = memo((water: WaterEntry): Given => elementsOf(plainWater(waterNow(water)).composition));

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
