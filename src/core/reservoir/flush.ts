import { DomainError, requirePositive } from '../quantity/index.ts';

/*
 * Water poured through a pot: it mixes with what stands in the pores and carries it out. What is deep inside the grains hardly moves, which
 * is why a flush does not replace a leach.
 */

/** How well a flush mixes with what stands in the pores before it is learned per pot: 1 would be a stirred jug. House rule (science.md). */
export const FLUSH_EFFICIENCY = Object.freeze({ mean: 0.6, sd: 0.2 });
/** Water that stays in the pores of a drained pot, mL for each mL of its reservoir. Common practice: 60 mL in a pot that takes 250. */
export const PORES_PER_RESERVOIR = 0.24;

/**
 * Share of what stood in the pores that a flush leaves behind.
 * @param flushMl ≥ 0 @param poreMl > 0 @param efficiency of mixing, 0 to 1
 * @example shareLeft(600, 60, 0.6) // next to nothing
 */
export function shareLeft(flushMl: number, poreMl: number, efficiency: number): number {
  requirePositive(poreMl, 'the water in the pores');
  return Math.exp((-efficiency * Math.max(0, flushMl)) / poreMl);
}

/** What runs off at the end of a flush, and what then stands in the pores, µS/cm: C_in + (C_0 − C_in)·e^(−E·V/V_p). */
export function afterFlush(
  poresEcUsCm: number,
  waterEcUsCm: number,
  flushMl: number,
  poreMl: number,
  efficiency: number,
): number {
  return waterEcUsCm + (poresEcUsCm - waterEcUsCm) * shareLeft(flushMl, poreMl, efficiency);
}

/** Water to flush with: what it conducts, and what a litre of it is worth to the grower against the others. */
export type FlushWater = { readonly id: string; readonly ecUsCm: number; readonly scarce: boolean };
export type FlushPlan = {
  readonly stages: readonly { readonly waterId: string; readonly ml: number }[];
  /** What runs off at the end, µS/cm. */
  readonly runOffEcUsCm: number;
  readonly scarceMl: number;
};

/** More than so many times the pores is poured away for nothing: the last salts come out of the grains, and slowly. House rule. */
const MOST_TIMES = 12;
/** A finish is measured in steps, mL. */
const STEP_ML = 25;

/**
 * Least scarce water that brings the run-off to a wanted strength: the plentiful water alone where it is weak enough itself, otherwise as much
 * of it as helps and a finish of the scarce one.
 * @param wantedEcUsCm above what the weakest water conducts @param leastMl poured in any case: less does not wet all the clay
 * @returns undefined where no water here is weak enough
 * @throws DomainError on an efficiency outside 0 to 1
 */
export function planFlush(
  pores: { readonly ecUsCm: number; readonly ml: number; readonly efficiency: number },
  waters: readonly FlushWater[],
  wantedEcUsCm: number,
  leastMl = 0,
): FlushPlan | undefined {
  const { efficiency } = pores;
  if (!(efficiency > 0 && efficiency <= 1))
    throw new DomainError('out-of-range', 'The efficiency of a flush lies between 0 and 1', efficiency, 'Take 0.6.');
  if (pores.ecUsCm <= wantedEcUsCm && leastMl === 0) return { stages: [], runOffEcUsCm: pores.ecUsCm, scarceMl: 0 };
  let best: FlushPlan | undefined;
  let least = Infinity;
  for (const { cost, plan } of flushesOf(pores, waters, wantedEcUsCm, leastMl)) {
    if (cost > least || (best && cost === least && plan.runOffEcUsCm >= best.runOffEcUsCm)) continue;
    best = plan;
    least = cost;
  }
  return best;
}

type Pores = { readonly ecUsCm: number; readonly ml: number; readonly efficiency: number };

/** Every first water (or none) by every finish that reaches what is wanted, with its cost. */
function* flushesOf(
  pores: Pores,
  waters: readonly FlushWater[],
  wantedEcUsCm: number,
  leastMl: number,
): Generator<{ cost: number; plan: FlushPlan }> {
  const helps = (first: FlushWater) => !first.scarce && (leastMl > 0 || first.ecUsCm < pores.ecUsCm);
  for (const finish of waters.filter((w) => w.ecUsCm < wantedEcUsCm)) {
    const firsts = waters.filter((w) => w.id !== finish.id && helps(w));
    for (const first of [undefined, ...firsts])
      for (const times of first ? FIRST_TIMES : NO_FIRST) {
        const found = flushBy(pores, { first, times, finish }, wantedEcUsCm, leastMl);
        if (found) yield found;
      }
  }
}

function flushBy(
  pores: Pores,
  { first, times, finish }: { first: FlushWater | undefined; times: number; finish: FlushWater },
  wantedEcUsCm: number,
  leastMl: number,
): { cost: number; plan: FlushPlan } | undefined {
  const { efficiency } = pores;
  const firstMl = Math.round((times * pores.ml) / STEP_ML) * STEP_ML;
  const then = first ? afterFlush(pores.ecUsCm, first.ecUsCm, firstMl, pores.ml, efficiency) : pores.ecUsCm;
  const reach = toReach(then, finish.ecUsCm, wantedEcUsCm, pores.ml, efficiency);
  if (firstMl + reach > MOST_TIMES * pores.ml) return undefined;
  const ml = Math.max(reach, toStep(leastMl - firstMl));
  const scarceMl = finish.scarce ? ml : 0;
  const stages = [
    ...(first && firstMl > 0 ? [{ waterId: first.id, ml: firstMl }] : []),
    ...(ml > 0 ? [{ waterId: finish.id, ml }] : []),
  ];
  // Of equals the one that pours less: a tenth of the plentiful water counts as much as the scarce. And of those the weaker: strong water
  // leaves its minerals and its alkali in the pores.
  const cost = scarceMl + 0.1 * (firstMl + ml - scarceMl);
  return { cost, plan: { stages, runOffEcUsCm: afterFlush(then, finish.ecUsCm, ml, pores.ml, efficiency), scarceMl } };
}

/** Times the pores that a first water is poured, before the finish. */
const FIRST_TIMES = [2, 4, 6, 8];
const NO_FIRST = [0];

function toReach(from: number, water: number, wanted: number, poreMl: number, efficiency: number): number {
  if (from <= wanted) return 0;
  const ml = (poreMl / efficiency) * Math.log((from - water) / (wanted - water));
  return toStep(ml);
}

const toStep = (ml: number) => Math.max(0, Math.ceil(ml / STEP_ML) * STEP_ML);

/** Belief about how well flushes mix in one pot. */
export type EfficiencyBelief = { readonly mean: number; readonly sd: number };

/**
 * Learns from a run-off read after a flush.
 * @param poresEcUsCm what stood in the pores before it (the old reservoir's reading) @param penShare 1 SD of a reading, as a share
 * @returns the belief unchanged where the reading says nothing: nothing was poured, or the water was as strong as the pot
 */
export function learnEfficiency(
  belief: EfficiencyBelief,
  seen: {
    readonly poresEcUsCm: number;
    readonly waterEcUsCm: number;
    readonly flushMl: number;
    readonly poreMl: number;
    readonly runOffEcUsCm: number;
  },
  penShare = 0.05,
): EfficiencyBelief {
  const span = seen.poresEcUsCm - seen.waterEcUsCm;
  if (!(seen.flushMl > 0) || Math.abs(span) < 20) return belief;
  const left = Math.min(0.98, Math.max(0.02, (seen.runOffEcUsCm - seen.waterEcUsCm) / span));
  const times = seen.flushMl / seen.poreMl;
  const implied = -Math.log(left) / times;
  // Near the water's own strength a digit of the pen is a world of mixing: the error grows as what is left shrinks.
  const sd = Math.hypot((penShare * Math.max(seen.runOffEcUsCm, 20)) / Math.abs(span) / left / times, 0.1);
  const gain = belief.sd ** 2 / (belief.sd ** 2 + sd ** 2);
  return {
    mean: Math.min(1, Math.max(0.05, belief.mean + gain * (implied - belief.mean))),
    sd: Math.sqrt(1 - gain) * belief.sd,
  };
}
