import type { MixAim } from '../../contract/round.ts';
import type { Watering } from '../../core/regimen/index.ts';
import {
  alkaliAt,
  asMade,
  curveOf,
  strengthOf,
  type PotSolution,
  type TitrationCurve,
} from '../../core/drift/index.ts';
import { addComposition, composition, type Composition } from '../../core/solution/index.ts';
import { UNLABELLED_EC_PER_ML_L } from '../../core/strength/index.ts';
import { readLabelText, type BatchEntry, type BatchPartThen } from './batches.ts';
import { memo } from './memo.ts';
import { plainWater, type PlainWater, type WaterThen, isInModel } from './waters.ts';

/** What the feed of a watering is aimed by: a dose, or a strength over the water on the grower's pen. */
export function mixAimOf(
  { dose, netEcUsCm }: Pick<Watering, 'dose' | 'netEcUsCm'>,
  ppm: (ecUsCm: number) => number,
): Exclude<MixAim, { kind: 'element' }> {
  if (dose) return dose.by === 'perL' ? { kind: 'perL', units: dose.units } : { kind: 'label', share: dose.share };
  return { kind: 'net', ppm: Math.max(1, Math.round(ppm(netEcUsCm))) };
}

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

/**
 * The mix of a batch by its water, labels and pens of its own day. Where nobody read its strength it is taken at what was planned.
 * @returns undefined where that is past what the chemistry reaches: a label or a reading is wrong, and nobody knows what it is
 */
export const mixOf = memo((batch: BatchEntry): Mix | undefined => {
  const { row, parts, pouredPh } = batch;
  const plain = plainWater(batch.water);
  const made = plain && madeOf(plain, ...parts.flatMap((part) => contentOf(part, row.netEcUsCm / parts.length)));
  if (!made) return undefined;
  const { total, curve } = made;
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
export const waterMix = (water: WaterThen): Mix | undefined => {
  const plain = plainWater(water);
  if (!plain) return undefined;
  const { curve, composition: total } = plain;
  return { curve, standing: asMade(curve), waterId: water.waterId, phKnown: false, total };
};

/** What a part brings, and how much of it. */
function contentOf({ label: text, unitsPerL, netEcUsCm }: BatchPartThen, usualNet: number): [Composition, number] {
  const label = text === null ? undefined : readLabelText(text);
  const units =
    unitsPerL ?? (label && label.ecPerUnitL > 0 && netEcUsCm !== null ? netEcUsCm / label.ecPerUnitL : undefined);
  if (label && units !== undefined) return [label.perUnit, units];
  // Measured out, of a make nobody knows: as such feeds are.
  const measured = unitsPerL === null ? usualNet : unitsPerL * UNLABELLED_EC_PER_ML_L;
  return [UNNAMED_PER_100, (netEcUsCm ?? measured) / 100];
}

/** Made once for the same water and contents: a curve takes two full solves, and a collection pours a few mixes all year. */
const madeOf = memo(
  (
    water: PlainWater,
    ...contents: (Composition | number)[]
  ): { total: Composition; curve: TitrationCurve } | undefined => {
    let total = water.composition;
    for (let i = 0; i < contents.length; i += 2)
      total = addComposition(total, contents[i] as Composition, contents[i + 1] as number);
    return isInModel(total) ? { total, curve: curveOf(total) } : undefined;
  },
);
