import type { Random } from '../statistics/index.ts';
import {
  drawLayered,
  fillLayered,
  flushLayered,
  layeredDay,
  layeredReservoir,
  setUpLayered,
  type LayeredNow,
  type LayeredPot,
  type LayeredWorld,
  type WorldMix,
} from './layered-pot.ts';
import type { SimSolution } from './sim-solution.ts';
import {
  drawSteady,
  fillSteady,
  flushSteady,
  setUpSteady,
  steadyDay,
  steadyInNewClay,
  type SteadyNow,
  type SteadyPot,
} from './steady-pot.ts';

/*
 * Pots of five different makes, for judging what is foretold of them: none of them is the estimator's, no prior is taken from any. Volumes in
 * units of the fill.
 */

export type PotWorld = LayeredWorld | 'steady';
export const LAYERED_WORLDS: readonly LayeredWorld[] = ['stirred', 'layers', 'ions', 'crust'];
/** `crust` is used for nothing but judging; `steady` is the one the demo lives in. */
export const POT_WORLDS: readonly PotWorld[] = [...LAYERED_WORLDS, 'steady'];

export type { WorldMix };
/** A pot of a world with how it stands; the two are always of one world. */
export type LivingPot =
  | { readonly pot: LayeredPot; readonly now: LayeredNow; readonly free: number }
  | { readonly pot: SteadyPot; readonly now: SteadyNow; readonly free: number };

const layered = (pot: LayeredPot, now: LayeredNow): LivingPot => ({ pot, now, free: now.free });
const steady = (pot: SteadyPot, now: SteadyNow): LivingPot => ({ pot, now, free: now.free });
const isSteady = (living: LivingPot): living is Extract<LivingPot, { pot: SteadyPot }> => living.pot.world === 'steady';

/** A pot of a world, newly set up in clay that was leached. @param weather 1 SD of a day's thirst where it stands */
export function drawPot(world: PotWorld, random: Random, weather: number): LivingPot {
  if (world === 'steady') return steady(drawSteady(random), setUpSteady());
  const pot = drawLayered(world, random, weather);
  return layered(pot, setUpLayered(pot));
}

/** The same plant in other clay, newly set up. */
export function repotted(living: LivingPot, random: Random): LivingPot {
  if (isSteady(living)) return steady(steadyInNewClay(living.pot, random), setUpSteady());
  const { clay, exchange } = drawLayered(living.pot.world, random, living.pot.weather);
  const pot = { ...living.pot, clay, exchange };
  return layered(pot, setUpLayered(pot));
}

/** A day goes by. @param thirst against the pot's usual day: season, heat and chance together */
export const worldDay = (living: LivingPot, thirst: number): LivingPot =>
  isSteady(living)
    ? steady(living.pot, steadyDay(living.pot, living.now, thirst))
    : layered(living.pot, layeredDay(living.pot, living.now, thirst));

/** The reservoir is tipped out and the clay flushed from the top. @param flush in fills; none: only tipped out */
export function tipAndFlush(
  living: LivingPot,
  water: WorldMix,
  flush: number,
): { readonly tipped: LivingPot; readonly runOff: SimSolution } {
  if (isSteady(living)) {
    const { now, runOff } = flushSteady(living.pot, living.now, water, flush);
    return { tipped: steady(living.pot, now), runOff };
  }
  const { now, runOff } = flushLayered(living.pot, living.now, water, flush);
  return { tipped: layered(living.pot, now), runOff };
}

/** Fills the tipped pot. @param fill in fills, > 0 */
export const fillWorld = (living: LivingPot, mix: WorldMix, fill = 1): LivingPot =>
  isSteady(living)
    ? steady(living.pot, fillSteady(living.pot, living.now, mix, fill))
    : layered(living.pot, fillLayered(living.pot, living.now, mix, fill));

/** Whatever stands in the reservoir, as a pen would find it. */
export const reservoirOf = (living: LivingPot): SimSolution =>
  isSteady(living) ? living.now.pot.reservoir : layeredReservoir(living.now);
