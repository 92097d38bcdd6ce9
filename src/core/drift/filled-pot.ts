import { shareLeft } from '../reservoir/index.ts';
import type { Crowd } from '../statistics/index.ts';
import { BODIES, fillBodies, flushBodies, litreOf, type Litre } from './bodies.ts';
import { natureOf, selfOf, type PotBelief } from './pot-belief.ts';
import type { FillSeen, PouredMix } from './pot-log.ts';
import { bodiesOf, courseOf, playPot, type PotWater } from './pot-path.ts';
import { natureAt } from './pot-quantities.ts';
import {
  alkaliAt,
  asMade,
  blendCurves,
  restCarbon,
  standAt,
  type PotSolution,
  type TitrationCurve,
} from './titration-curve.ts';

/** Water that stands in the pores, and what stands in the bodies by each member; undefined where nothing is known of it. */
export type Pores = { readonly curve: TitrationCurve; readonly standing: PotSolution };
export type Stood = { readonly pores: Pores | undefined; readonly old: Crowd | undefined };

/** The pot as it stands once filled: the mix, and in its bodies what each stage of the flush left of what stood there before it. */
export function filledPot(
  fill: {
    readonly pouredMl: number;
    readonly mix: Pick<PouredMix, 'curve' | 'standing'>;
    readonly flushed: FillSeen['flushed'];
  },
  before: Stood & { readonly fresh: boolean },
  poreMl: number,
  efficiency: number,
  belief: PotBelief,
): PotWater {
  const { pouredMl, flushed, mix } = fill;
  let inPores = before.pores ? [{ volume: poreMl, of: before.pores.curve, standing: before.pores.standing }] : [];
  for (const { water, ml } of flushed) {
    const left = inPores.length > 0 ? shareLeft(ml, poreMl, efficiency) : 0;
    inPores = [
      ...inPores.map((part) => ({ ...part, volume: part.volume * left })),
      { volume: poreMl * (1 - left), of: water, standing: asMade(water) },
    ];
  }
  const curve = blendCurves([
    { volume: pouredMl, of: mix.curve, standing: mix.standing },
    ...inPores.filter((part) => part.volume > 0.001 * poreMl),
  ]);
  const water = { curve, standing: asMade(curve), reservoirMl: pouredMl, poreMl, fresh: before.fresh };
  const litre = litreOf(mix.curve, mix.standing);
  return {
    ...water,
    poured: { ...litre, ph: standAt(mix.curve, mix.standing) },
    bodies: filledBodies(belief, water, before.old, litre, flushed),
  };
}

/**
 * What each member has standing in its bodies once the pot was flushed and filled.
 * @param old at the visit, before anything was done; undefined where nothing is known of it
 */
export function filledBodies(
  { crowd }: PotBelief,
  water: PotWater,
  old: Crowd | undefined,
  poured: Litre,
  flushed: readonly { readonly water: TitrationCurve; readonly ml: number }[],
): Crowd {
  const { members, columns } = crowd;
  const drained = water.poreMl / water.reservoirMl;
  const at = new Float64Array(members * BODIES);
  for (let m = 0; m < members; m++) {
    const nature = natureAt(crowd.at, m * columns);
    const b = old ? old.at.slice(m * BODIES, (m + 1) * BODIES) : bodiesOf(water, nature, m);
    for (const stage of flushed)
      flushBodies(b, nature, litreOf(stage.water, asMade(stage.water)), stage.ml / water.reservoirMl, drained);
    fillBodies(b, nature, poured, drained);
    at.set(b, m * BODIES);
  }
  return { members, columns: BODIES, at };
}

/** What stands in a pot after so many days, by each member, and as it most likely reads. */
export function standsAfter(
  belief: PotBelief,
  water: PotWater,
  season: number,
  days: number,
): { readonly old: Crowd; readonly ecUsCm: number; readonly ph: number } {
  const course = courseOf(days);
  const { members } = belief.crowd;
  const at = new Float64Array(members * BODIES);
  for (let m = 0; m < members; m++) at.set(playPot(water, selfOf(belief, water, season, m), course), m * BODIES);
  playPot(water, natureOf(belief, water, season), course);
  return { old: { members, columns: BODIES, at }, ecUsCm: course.ecUsCm[days]!, ph: course.ph[days]! };
}

/** Old water at a strength and a pH: its carbon is at rest with the air. */
export function restingAt(curve: TitrationCurve, strength: number, ph: number): PotSolution {
  const carbonMmolL = restCarbon(curve, ph);
  return { strength, carbonMmolL, alkaliMeqL: alkaliAt(curve, strength, carbonMmolL, ph) };
}
