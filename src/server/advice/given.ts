import type { GivenMonth } from '../../core/judgement/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { elementsOf, scaleComposition } from '../../core/solution/index.ts';
import {
  memo,
  mixOf,
  plainWater,
  pouredCost,
  stillMlOf,
  waterNow,
  type BatchEntry,
  type PotEntry,
  type Pouring,
  type Priced,
  type WaterEntry,
} from '../collection/index.ts';

/** What is tipped out at the next visit where nobody measured it, share of the fill. House rule. */
const USUALLY_LEFT = 0.35;
/** Of a soak that is held, drained and flushed, what its pores kept of what they took up, share of what was poured. House rule. */
const SOAK_STAYS = 0.08;
const GIVEN = ['N', 'P', 'K', 'Ca', 'Mg', 'Si'] as const;
type Given = Readonly<Record<(typeof GIVEN)[number], number>>;

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
    const months = new Map<string, Sum>();
    const wanted = pourings.filter(({ on }) => on >= from);
    for (const [i, pouring] of wanted.entries()) {
      const month = pouring.on.slice(0, 7);
      const sum: Sum = months.get(month) ?? { mg: { N: 0, P: 0, K: 0, Ca: 0, Mg: 0, Si: 0 }, stillL: 0 };
      months.set(month, sum);
      sum.stillL += stillMlOf(pouring, waters) / 1000;
      const cost = pouredCost(pouring, waters, bottles);
      if (cost !== undefined) sum.cost = (sum.cost ?? 0) + cost;
      const per = contentsOf(pouring, waters);
      if (!per) continue;
      const stays = staysMl(
        pouring,
        wanted.slice(i + 1).find(({ kind }) => kind === 'potFilled'),
      );
      for (const element of GIVEN) sum.mg[element] += (per[element] * stays) / 1000;
    }
    return [...months].map(([month, sum]) => ({ month, ...sum }));
  },
);

type Sum = { mg: Record<(typeof GIVEN)[number], number>; stillL: number; cost?: number };

/** What of it stayed in the pot until it was tipped out, mL. */
function staysMl({ kind, ml }: Pouring, next: Pouring | undefined): number {
  if (kind === 'supplementStarted') return SOAK_STAYS * ml;
  return ml - Math.min(ml, next ? (next.leftMl ?? USUALLY_LEFT * ml) : 0);
}

/** mg in a litre of what was poured. */
function contentsOf({ batch, waterId }: Pouring, waters: Priced['waters']): Given | undefined {
  if (batch) return inMix(batch);
  const water = waterId === null ? undefined : waters.get(waterId);
  return water && inWater(water);
}
const inMix = memo((batch: BatchEntry): Given | undefined => {
  const mix = mixOf(batch);
  return mix && elementsOf(scaleComposition(mix.total, mix.standing.strength));
});
const inWater = memo((water: WaterEntry): Given | undefined => {
  const plain = plainWater(waterNow(water));
  return plain && elementsOf(plain.composition);
});
