import {
  alkaliAt,
  asMade,
  curveOf,
  strengthOf,
  type PotSolution,
  type TitrationCurve,
} from '../../core/drift/index.ts';
import { addComposition, composition, scaleComposition, solve, type Composition } from '../../core/solution/index.ts';
import { readLabelText, type BatchEntry, type BatchPartThen } from './batches.ts';
import { memo } from './memo.ts';
import { plainWater, type PlainWater, type WaterThen } from './waters.ts';

/** What a pot was filled with, as the reduced chemistry knows it. `phKnown`: pinned to a pH that was read. `total`: before any acid, at strength 1. */
export type Mix = {
  readonly curve: TitrationCurve;
  readonly standing: PotSolution;
  readonly waterId: string;
  readonly phKnown: boolean;
  readonly total: Composition;
};

/** A dilute feed where no label says what is in it, for 100 µS/cm over its water: nitrate with potassium and some calcium, a tenth of it phosphate. */
const UNNAMED_PER_100 = composition({ Ca: 0.12, Mg: 0.05, K: 0.55, NH4: 0.06, NO3: 0.62, PO4: 0.12, SO4: 0.05 });

/** The mix of a batch by its water, labels and pens of its own day. Where nobody read its strength it is taken at what was planned. */
export const mixOf = memo((batch: BatchEntry): Mix => {
  const { row, parts, pouredPh } = batch;
  const { total, curve } = madeOf(
    plainWater(batch.water),
    ...parts.flatMap((part) => contentOf(part, row.netEcUsCm / parts.length)),
  );
  const strength = strengthOf(curve, row.afterAcidEcUsCm ?? row.pouredEcUsCm ?? curve.ecUsCm);
  const { carbonMmolL } = curve;
  return {
    curve,
    waterId: row.waterId,
    phKnown: pouredPh !== undefined,
    total,
    standing: {
      strength,
      carbonMmolL,
      alkaliMeqL: pouredPh === undefined ? 0 : alkaliAt(curve, strength, carbonMmolL, pouredPh),
    },
  };
});

/** A water poured as it is, as a mix. */
export const waterMix = (water: WaterThen): Mix => {
  const { curve, composition: total } = plainWater(water);
  return { curve, standing: asMade(curve), waterId: water.waterId, phKnown: false, total };
};

/** What a part brings, and how much of it. */
function contentOf({ label: text, unitsPerL, netEcUsCm }: BatchPartThen, usualNet: number): [Composition, number] {
  const label = text === null ? undefined : readLabelText(text);
  const units =
    unitsPerL ?? (label && label.ecPerUnitL > 0 && netEcUsCm !== null ? netEcUsCm / label.ecPerUnitL : undefined);
  return label && units !== undefined ? [label.perUnit, units] : [UNNAMED_PER_100, (netEcUsCm ?? usualNet) / 100];
}

/** Made once for the same water and contents: a curve takes two full solves, and a collection pours a few mixes all year. */
const madeOf = memo(
  (water: PlainWater, ...contents: (Composition | number)[]): { total: Composition; curve: TitrationCurve } => {
    let total = water.composition;
    for (let i = 0; i < contents.length; i += 2)
      total = addComposition(total, contents[i] as Composition, contents[i + 1] as number);
    const inside = inModel(total);
    return { total: inside, curve: curveOf(inside) };
  },
);

/** Past what the chemistry reaches it is thinned until it is within: a guard, for what a label got wrong. */
function inModel(total: Composition): Composition {
  const reaches = solve(total).ok && solve(scaleComposition(total, 2)).ok;
  return reaches ? total : inModel(scaleComposition(total, 0.5));
}
