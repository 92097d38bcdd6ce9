import type { EntityManager } from 'typeorm';
import {
  alkaliAt,
  asMade,
  blendCurves,
  clayPrior,
  learnInterval,
  natureOf,
  potPath,
  POTS_AT_LARGE,
  restCarbon,
  type Interval,
  type PotBelief,
  type PotWater,
  type Standing,
  type TitrationCurve,
} from '../../core/drift/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { FLUSH_EFFICIENCY, PORES_PER_RESERVOIR, shareLeft } from '../../core/reservoir/index.ts';
import { phOffset } from '../bench/predicted.ts';
import type { PotState } from '../pots/pot-states.ts';
import type { Fill } from '../pots/visits.ts';
import type { Meters } from '../shelf/meter-states.ts';
import { mixesOf, waterCurves, type Mix, type PlainWater } from './mixes.ts';

/** What is known of a pot now: how it behaves, and what it was last filled with. */
export type PotKnowledge = {
  readonly belief: PotBelief;
  readonly water: PotWater;
  readonly filledOn: string;
  /** The pH of the last filling was read, so that a forecast of pH stands on something. */
  readonly phKnown: boolean;
  /** Share of the body that was fresh mix. */
  readonly freshShare: number;
};

/** Water that stays in a drained pot by what it grows in, mL for each mL of its reservoir. */
const PORES: Readonly<Record<string, number>> = { clay: PORES_PER_RESERVOIR, bark: 0.15, water: 0.02, basket: PORES_PER_RESERVOIR };

/** Knowledge of every pot that was ever filled with a mix that is known; pots borrow from the others in their clay. */
export async function knowPots(manager: EntityManager, meters: Meters, states: readonly PotState[]): Promise<Map<string, PotKnowledge>> {
  const mixes = await mixesOf(
    manager,
    meters,
    states.flatMap((s) => s.fills.flatMap((f) => (f.payload.batchId ? [f.payload.batchId] : []))),
  );
  const waters = await waterCurves(manager, meters);
  const know = (state: PotState, prior: PotBelief) => knowPot(state, prior, mixes, waters, meters);
  const alone = new Map(states.map((s) => [s.pot.id, know(s, POTS_AT_LARGE)]));
  const byClay = new Map<string, PotState[]>();
  for (const s of states) {
    const clay = (s.pot.clay ?? '').trim().toLowerCase();
    byClay.set(clay, [...(byClay.get(clay) ?? []), s]);
  }
  const found = new Map<string, PotKnowledge>();
  for (const [clay, pots] of byClay) {
    const beliefs = pots.flatMap((s) => alone.get(s.pot.id)?.belief ?? []);
    const prior = clay === '' ? POTS_AT_LARGE : clayPrior(beliefs);
    for (const s of pots) {
      const known = prior === POTS_AT_LARGE ? alone.get(s.pot.id) : know(s, prior);
      if (known) found.set(s.pot.id, known);
    }
  }
  return found;
}

type Pores = { readonly curve: TitrationCurve; readonly standing: Standing };

function knowPot(
  state: PotState,
  prior: PotBelief,
  mixes: ReadonlyMap<string, Mix>,
  waters: ReadonlyMap<string, PlainWater>,
  meters: Meters,
): PotKnowledge | undefined {
  const poreMl = Math.max(1, (PORES[state.pot.medium] ?? PORES_PER_RESERVOIR) * state.pot.reservoirMl);
  let belief = prior;
  let filled: { fill: Fill; mix: Mix; water: PotWater } | undefined;
  for (const fill of state.fills) {
    let pores: Pores | undefined;
    if (filled) {
      const interval = intervalOf(filled.water, filled.fill, fill, meters);
      belief = learnInterval(belief, interval);
      pores = oldWater(interval, belief);
    }
    const mix = fill.payload.batchId === null ? undefined : mixes.get(fill.payload.batchId);
    // A mix nobody knows ends what can be followed; the next known one begins anew.
    filled = mix && { fill, mix, water: fillWith(mix, fill, pores, poreMl, waters) };
  }
  if (!filled) return undefined;
  const { water, fill, mix } = filled;
  return { belief, water, filledOn: fill.on, phKnown: mix.phKnown, freshShare: water.reservoirMl / (water.reservoirMl + water.poreMl) };
}

/** The pot just filled: the mix, and in the pores what the flush left of the old water, with the water it was flushed with. */
function fillWith(mix: Mix, fill: Fill, pores: Pores | undefined, poreMl: number, waters: ReadonlyMap<string, PlainWater>): PotWater {
  const { pouredMl, flushMl } = fill.payload;
  const left = pores ? shareLeft(flushMl, poreMl, FLUSH_EFFICIENCY.mean) : 0;
  const plain = waters.get(mix.waterId)?.curve;
  const curve = blendCurves([
    { volume: pouredMl, of: mix.curve, standing: mix.standing },
    ...(pores && left > 0 ? [{ volume: poreMl * left, of: pores.curve, standing: pores.standing }] : []),
    ...(flushMl > 0 && plain ? [{ volume: poreMl * (1 - left), of: plain }] : []),
  ]);
  return { curve, standing: asMade(curve), reservoirMl: pouredMl, poreMl };
}

function intervalOf(water: PotWater, from: Fill, to: Fill, meters: Meters): Interval {
  const sound = (figure: 'cameOutPpm' | 'cameOutPh') => !to.tainted.includes(figure);
  const offset = to.payload.phMeterId === null ? 0 : phOffset(meters.get(to.payload.phMeterId), to.at);
  // A pen known to be off by so much is put right by it; off by nobody knows how much, it teaches nothing.
  const ph = to.cameOutPh === undefined || (!sound('cameOutPh') && offset === 0) ? undefined : to.cameOutPh - offset;
  return {
    water,
    days: daysBetween(from.on, to.on),
    season: 1,
    leftMl: to.payload.oldReservoir.leftMl ?? undefined,
    cameOutEcUsCm: sound('cameOutPpm') ? to.cameOutEcUsCm : undefined,
    cameOutPh: ph,
  };
}

/** The old water at a visit: as read, and where it was not, as it most likely stood. */
function oldWater({ water, days, season, cameOutEcUsCm, cameOutPh }: Interval, belief: PotBelief): Pores {
  const { curve } = water;
  const likely = potPath(water, natureOf(belief, water, season), Math.max(0, days)).at(-1)!;
  const strength = (cameOutEcUsCm ?? likely.ecUsCm) / curve.ecUsCm;
  const ph = cameOutPh ?? likely.ph;
  const carbonMmolL = restCarbon(curve, ph);
  return { curve, standing: { strength, carbonMmolL, alkaliMeqL: alkaliAt(curve, strength, carbonMmolL, ph) } };
}
