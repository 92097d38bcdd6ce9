import { afterFlush, planFlush, type EfficiencyBelief, type FlushPlan, type FlushWater } from './flush.ts';

/** A pot that is about to be flushed and filled. Conductivities µS/cm, volumes mL. */
export type PotToFlush = {
  /** What stands in its pores: the old reservoir as it reads, or as it should. */
  readonly poresEcUsCm: number;
  readonly poreMl: number;
  readonly reservoirMl: number;
  readonly fillMl: number;
  readonly efficiency: EfficiencyBelief;
  /** What the mix reads, water and all. */
  readonly mixEcUsCm: number;
  /** By its regimen, times the reservoir; 0 where it is not flushed. */
  readonly habitTimes: number;
  /** What to set beside it, mL: as it was flushed lately, or by the rule of thumb. */
  readonly compareMl: number;
};

export type FlushForPot = FlushPlan & {
  readonly totalMl: number;
  /** What the pot reads once filled: the mix with what is left in the pores. */
  readonly afterFillEcUsCm: number;
  /** Flushed with what it is set beside, of the plentiful water: the run-off, and the pot once filled. */
  readonly compared: { readonly ml: number; readonly runOffEcUsCm: number; readonly afterFillEcUsCm: number };
  /** `salts`: the salts ask for it; `habit`: it is flushed at every watering; `none`: nothing to flush out; `notEnough`: no flush brings it there. */
  readonly why: 'salts' | 'habit' | 'none' | 'notEnough';
};

/** A flush ends when what runs off is within a fifth of the mix: the top of the feed's own band. */
const WANTED_TIMES = 1.2;
/** Less than the reservoir once over does not wet all the clay. House rule. */
const LEAST_TIMES = 1;
/** More than so many times the reservoir is not asked for at once. */
const MOST_RESERVOIRS = 5;

/** The efficiency a flush is planned with: on the careful side of what is known. */
export function carefulEfficiency({ mean, sd }: EfficiencyBelief): number {
  return Math.min(1, Math.max(0.1, mean - sd));
}

/**
 * Which waters to flush a pot with, and how much of each: as much as its salts ask for, at the least what wets the clay.
 * @param waters at hand @returns undefined where there is no water
 */
export function flushForPot(pot: PotToFlush, waters: readonly FlushWater[]): FlushForPot | undefined {
  const plentiful = [...waters].sort((a, b) => Number(a.scarce) - Number(b.scarce) || a.ecUsCm - b.ecUsCm)[0];
  if (!plentiful) return undefined;
  const wanted = WANTED_TIMES * pot.mixEcUsCm;
  const efficiency = carefulEfficiency(pot.efficiency);
  const filled = (pores: number) => (pot.fillMl * pot.mixEcUsCm + pot.poreMl * pores) / (pot.fillMl + pot.poreMl);
  const runOff = afterFlush(pot.poresEcUsCm, plentiful.ecUsCm, pot.compareMl, pot.poreMl, efficiency);
  const compared = { ml: pot.compareMl, runOffEcUsCm: runOff, afterFillEcUsCm: filled(runOff) };
  const salty = pot.poresEcUsCm > wanted;
  const done = (plan: FlushPlan, why: FlushForPot['why']): FlushForPot => ({
    ...plan,
    totalMl: plan.stages.reduce((sum, stage) => sum + stage.ml, 0),
    afterFillEcUsCm: filled(plan.runOffEcUsCm),
    compared,
    why,
  });
  if (!salty && pot.habitTimes === 0) return done({ stages: [], runOffEcUsCm: pot.poresEcUsCm, scarceMl: 0 }, 'none');
  const plan = planFlush(
    { ecUsCm: pot.poresEcUsCm, ml: pot.poreMl, efficiency },
    waters,
    wanted,
    LEAST_TIMES * pot.reservoirMl,
  );
  if (plan) return done(plan, salty ? 'salts' : 'habit');
  const weakest = [...waters].sort((a, b) => a.ecUsCm - b.ecUsCm)[0]!;
  const ml = Math.round((MOST_RESERVOIRS * pot.reservoirMl) / 50) * 50;
  const runOffEcUsCm = afterFlush(pot.poresEcUsCm, weakest.ecUsCm, ml, pot.poreMl, efficiency);
  return done({ stages: [{ waterId: weakest.id, ml }], runOffEcUsCm, scarceMl: weakest.scarce ? ml : 0 }, 'notEnough');
}
