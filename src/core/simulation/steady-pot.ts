import type { Random } from '../statistics/index.ts';
import { normal } from '../statistics/index.ts';
import { fillSim, flushSim, passDays, type SimPot, type SimPotNature } from './sim-pot.ts';
import { PURE, type SimSolution } from './sim-solution.ts';

/** The pots the demo lives with, as a world to be judged in: a reservoir and pores to which so much alkali is given or taken each day, whatever stands in them. */
export type SteadyPot = { readonly world: 'steady'; readonly nature: SimPotNature };
export type SteadyNow = { readonly free: number; readonly pot: SimPot };

/** A fill is a litre here, so that millilitres are thousandths of it. */
const FILL_ML = 1000;
/** What stays in a pot that was tipped out, of a fill. */
const FILM = 0.03;
/** Chance is the weather's, and counts in `thirst`: such draws make a normal deviate of nothing. */
const EVEN: Random = () => 0.25;
const spread = (random: Random, middle: number, sd: number) => middle * Math.exp(sd * normal(random));

/** Three pots in ten have clay that pushes; the others' roots take more than it gives. */
export function drawSteady(random: Random): SteadyPot {
  return {
    world: 'steady',
    nature: {
      ...clayOf(random),
      reservoirMl: FILL_ML,
      poreMl: FILL_ML * spread(random, 0.3, 0.25),
      evaporatedMlDay: FILL_ML * spread(random, 0.03, 0.3),
      drunkMlDay: FILL_ML * spread(random, 0.055, 0.35),
      uptakeShare: Math.min(1, spread(random, 0.85, 0.2)),
      flushLeaves: 0.3,
    },
  };
}

function clayOf(random: Random): Pick<SimPotNature, 'alkalinityUeqDay' | 'quickUeq' | 'clayEcUsLDay'> {
  const pushes = random() < 0.3;
  return {
    alkalinityUeqDay: pushes ? spread(random, 14, 0.5) : -spread(random, 3.5, 0.4),
    quickUeq: pushes ? spread(random, 60, 0.5) : 0,
    clayEcUsLDay: spread(random, 0.4, 0.5),
  };
}

/** The same plant in another clay. */
export const steadyInNewClay = ({ nature, ...pot }: SteadyPot, random: Random): SteadyPot => ({
  ...pot,
  nature: { ...nature, ...clayOf(random) },
});

export const setUpSteady = (): SteadyNow => ({ free: 0, pot: { volumeMl: 0, reservoir: PURE, pores: PURE } });
const nowOf = (pot: SimPot): SteadyNow => ({ free: pot.volumeMl / FILL_ML, pot });

/** A day goes by. @param thirst against the pot's usual day */
export function steadyDay({ nature }: SteadyPot, { pot }: SteadyNow, thirst: number): SteadyNow {
  const thirsty = {
    ...nature,
    evaporatedMlDay: nature.evaporatedMlDay * thirst,
    drunkMlDay: nature.drunkMlDay * thirst,
  };
  return nowOf(passDays(pot, thirsty, 1, EVEN));
}

/** @param flush in fills; none: only tipped out */
export function flushSteady(
  { nature }: SteadyPot,
  { pot }: SteadyNow,
  water: SimSolution,
  flush: number,
): { readonly now: SteadyNow; readonly runOff: SimSolution } {
  const flushed = flushSim(pot, nature, water, FILL_ML * flush, EVEN);
  const film = { ...flushed, volumeMl: FILM * FILL_ML, reservoir: flush > 0 ? flushed.pores : pot.reservoir };
  return { now: nowOf(film), runOff: flushed.pores };
}

/** @param fill in fills, > 0 */
export const fillSteady = ({ nature }: SteadyPot, { pot }: SteadyNow, mix: SimSolution, fill: number): SteadyNow =>
  nowOf(fillSim(pot, nature, mix, FILL_ML * fill));
