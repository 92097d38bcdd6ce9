import { Z90 } from '../statistics/index.ts';
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
  /** `salts`: the salts ask for it; `habit`: it is flushed at every watering; `usual`: as it is
   * flushed anyhow, for more would make no difference a pen could tell; `none`: nothing to flush out; `notEnough`: no flush brings it there. */
  readonly why: 'salts' | 'habit' | 'usual' | 'none' | 'notEnough';
};

/** Why so much, as it is said. */
export const FLUSH_WHY: Readonly<Record<FlushForPot['why'], string>> = {
  salts: 'until its salts run off',
  habit: 'wets all the clay',
  usual: 'as usual: more would make no difference a pen could tell',
  none: 'not by its regimen, and its salts ask for none',
  notEnough: 'no flush brings it there, the salt sits in the grains: leach it in the pot',
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
  const usual = !salty && plan && compared.ml > 0 && plan.stages.length > 0 && asUsual(plan, compared, filled);
  if (usual)
    return done(
      {
        stages: [{ waterId: plentiful.id, ml: compared.ml }],
        runOffEcUsCm: runOff,
        scarceMl: plentiful.scarce ? compared.ml : 0,
      },
      'usual',
    );
  if (plan) return done(plan, salty ? 'salts' : 'habit');
  const weakest = [...waters].sort((a, b) => a.ecUsCm - b.ecUsCm)[0]!;
  const ml = Math.round((MOST_RESERVOIRS * pot.reservoirMl) / 50) * 50;
  const runOffEcUsCm = afterFlush(pot.poresEcUsCm, weakest.ecUsCm, ml, pot.poreMl, efficiency);
  return done({ stages: [{ waterId: weakest.id, ml }], runOffEcUsCm, scarceMl: weakest.scarce ? ml : 0 }, 'notEnough');
}

/** Two readings nearer than this cannot be told apart by a pen in order: twice a reading's 3 %. House rule. */
const TOLD_APART = 0.06;
/** Whether what it is flushed with anyhow, being less, leaves the pot as the plan would. */
function asUsual(plan: FlushPlan, compared: FlushForPot['compared'], filled: (poresEcUsCm: number) => number): boolean {
  const totalMl = plan.stages.reduce((sum, stage) => sum + stage.ml, 0);
  return totalMl > compared.ml && compared.afterFillEcUsCm <= (1 + TOLD_APART) * filled(plan.runOffEcUsCm);
}

export type FlushRange = {
  /** What runs off at the end, and what the pot reads once filled: nine times in ten, in the unit of the waters. */
  readonly runOff: { readonly low: number; readonly high: number };
  readonly filled: { readonly low: number; readonly high: number };
};

/** Hardly anyone reads a pot right after a flush, so that its doubt is reckoned and not learned: that much wider. House rule. */
const UNLEARNED = 1.25;

/**
 * Between what a flush ends, by how well it may mix and how well it is known what stands in the pores: the ends of both, put together by squares.
 * @param poresSd of the pores' strength, 1 SD of its logarithm
 */
export function flushRange(
  pot: PotToFlush,
  stages: FlushPlan['stages'],
  waters: readonly FlushWater[],
  poresSd: number,
): FlushRange {
  const ecOf = (id: string) => waters.find((w) => w.id === id)?.ecUsCm ?? 0;
  const runOffBy = (z: { pores: number; efficiency: number }) => {
    const efficiency = Math.min(1, Math.max(0.1, pot.efficiency.mean + z.efficiency * pot.efficiency.sd));
    return stages.reduce(
      (pores, stage) => afterFlush(pores, ecOf(stage.waterId), stage.ml, pot.poreMl, efficiency),
      pot.poresEcUsCm * Math.exp(z.pores * poresSd),
    );
  };
  const middle = runOffBy({ pores: 0, efficiency: 0 });
  const reach = (side: 1 | -1) => {
    // Better mixing brings weaker run-off, unless the water is the stronger.
    const ends = [
      runOffBy({ pores: side * Z90, efficiency: 0 }),
      runOffBy({ pores: 0, efficiency: Z90 }),
      runOffBy({ pores: 0, efficiency: -Z90 }),
    ].map((end) => Math.max(0, side * (end - middle)));
    return UNLEARNED * Math.hypot(ends[0]!, Math.max(ends[1]!, ends[2]!));
  };
  const runOff = { low: Math.max(0, middle - reach(-1)), high: middle + reach(1) };
  const filled = (pores: number) => (pot.fillMl * pot.mixEcUsCm + pot.poreMl * pores) / (pot.fillMl + pot.poreMl);
  return {
    runOff,
    filled: { low: filled(runOff.low) * (1 - MIX_SHARE), high: filled(runOff.high) * (1 + MIX_SHARE) },
  };
}

/** What a mix may read beside what it should. House rule. */
const MIX_SHARE = 0.03;
