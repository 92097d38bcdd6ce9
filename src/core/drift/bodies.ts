import type { Crowd } from '../statistics/index.ts';
import type { PotNature } from './pot-quantities.ts';
import {
  restIndex,
  shieldingAt,
  strengthOf,
  MIDDLE_INDEX,
  phOfIndex,
  type PotSolution,
  type TitrationCurve,
} from './titration-curve.ts';

/*
 * The three bodies of water in a pot: reservoir, pores, and the water inside the grains, each with its strength, the charge of its strong ions and
 * its ammonium. All three are kept as amounts a litre that mix by volume, so that nothing is made or lost by moving between bodies or fillings.
 */

/** µS/cm, meq/L, mmol/L of the reservoir, the pores and the grains, in this order. Written in place: a forecast moves them a hundred thousand times. */
export type Bodies = Float64Array;
export const BODY = 3;
const [R, P, G] = [0, BODY, 2 * BODY];
export const BODIES = 3 * BODY;

/** What is poured: a litre of it as the bodies are kept. */
export type Litre = { readonly ecUsCm: number; readonly strongIonsMeqL: number; readonly ammoniumMmolL: number };

/** A litre of a solution as it stands on its curve. */
export function litreOf(curve: TitrationCurve, { strength, alkaliMeqL }: PotSolution): Litre {
  return {
    ecUsCm: strength * curve.ecUsCm,
    strongIonsMeqL: strength * curve.strongIonsMeqL + alkaliMeqL,
    ammoniumMmolL: strength * curve.ammoniumMmolL,
  };
}

/** A film on the floor that no tipping out and no wick takes. */
export const FILM = 0.03;

/** Newly potted clay was leached: it holds about this much of the first feed, ln, and nobody knows how much within so many times what is not known elsewhere. */
const LEACHED = { around: -1.6, times: 2 };

/** Plain water in a glass holds a film beside itself. */
const LEAST_HELD = 0.002;
const poresIn = (nature: PotNature, drained: number) => Math.max(LEAST_HELD, nature.pores * drained);

/** A pot before its first known filling: pores and grains hold about what it is filled with; in newly potted clay hardly any of it. */
export function atFirst(nature: PotNature, litre: Litre, fresh: boolean): Bodies {
  const times = Math.exp(fresh ? LEACHED.around + LEACHED.times * nature.before : nature.before);
  const held = [times * litre.ecUsCm, times * litre.strongIonsMeqL, times * litre.ammoniumMmolL];
  return Float64Array.from([...held, ...held, ...held]);
}

/** Water goes through the pores from the top. @param times the fill */
export function flushBodies(b: Bodies, nature: PotNature, litre: Litre, times: number, drained: number): void {
  if (!(times > 0)) return;
  const left = Math.exp((-nature.flushing * (1 - nature.bypass) * times) / poresIn(nature, drained));
  const water = [litre.ecUsCm, litre.strongIonsMeqL, litre.ammoniumMmolL];
  for (let k = 0; k < BODY; k++) {
    b[P + k] = water[k]! + (b[P + k]! - water[k]!) * left;
    // What stays on the floor is what ran off last.
    b[R + k] = b[P + k]!;
  }
}

/** How much of a litre poured is in a litre of the reservoir, and of the pores, once the pot is filled. */
export function fillShares(nature: PotNature, drained: number): { readonly reservoir: number; readonly pores: number } {
  const pores = poresIn(nature, drained);
  const mixes = 1 - Math.exp(-nature.through / pores);
  return { reservoir: (1 - FILM) * (1 - pores * mixes), pores: mixes };
}

/** The tipped pot is filled: part of the pour goes through the pores and brings their water down. */
export function fillBodies(b: Bodies, nature: PotNature, litre: Litre, drained: number): void {
  const poured = [litre.ecUsCm, litre.strongIonsMeqL, litre.ammoniumMmolL];
  const { reservoir, pores: mixes } = fillShares(nature, drained);
  for (let k = 0; k < BODY; k++) {
    const [pour, old] = [poured[k]!, b[P + k]!];
    b[P + k] = old + (pour - old) * mixes;
    b[R + k] = reservoir * pour + (1 - FILM - reservoir) * old + FILM * b[R + k]!;
  }
}

/** A meq/L of bicarbonate with its cation conducts so much, µS/cm (limiting conductivities: HCO3 44.5 and a cation of 50 to 70). */
const EC_PER_MEQ = 95;
/** Where clay gives no more: at rest with lime and its silicates. Value from memory. */
const CLAY_ENDS_PH = 8.7;
/** Of a reservoir three quarters full and pores of half a fill, the volume that decides how soon they are at one strength. */
const USUAL_BETWEEN = 0.3;
/** Past their whole contents roots take nothing. */
const MOST_TAKEN = 0.5;

/** Place of the pores' pH on the axis, and what clay, roots and microbes gave so far, meq a litre of the fill. */
export type DayTold = { near: number; gaveMeq: number };
/** What every day of a pot has in common. */
export type EachDay = {
  readonly nature: PotNature;
  readonly curve: TitrationCurve;
  /** In fills. */
  readonly pores: number;
  readonly grains: number;
  /** Shares of what lies between pores and grains that pass in a day, and of the ammonium that is taken or turned. */
  readonly seeps: number;
  readonly turns: number;
  readonly nitratePerUs: number;
};

/** @param drained water that stays in the drained pot, in fills */
export function eachDayOf(nature: PotNature, curve: TitrationCurve, drained: number): EachDay {
  return {
    nature,
    curve,
    pores: poresIn(nature, drained),
    grains: Math.max(LEAST_HELD, nature.grains * drained),
    seeps: 1 - Math.exp(-nature.seeping),
    turns: 1 - Math.exp(-nature.nitrogen),
    nitratePerUs: curve.nitrateMmolL / Math.max(1, curve.ecUsCm),
  };
}

/**
 * A day.
 * @param leaves water that leaves, and `free` what is left of it, in fills @param first the first day after a filling, on which the clay gives at once
 * @param to is told what the day gave; its place on the axis is where the search begins
 */
export function bodiesDay(b: Bodies, of: EachDay, leaves: number, free: number, first: boolean, to: DayTold): void {
  const { nature, curve, pores, grains } = of;
  // Clay, by the pH that stands on it.
  const strength = strengthOf(curve, b[P]!);
  const alkali = b[P + 1]! - strength * curve.strongIonsMeqL;
  const place = restIndex(curve, strength, alkali, nature.co2, to.near, shieldingAt(strength));
  const ph = phOfIndex(place);
  const quicker = Math.exp(Math.LN10 * nature.order * (7 - ph));
  const clay = nature.clay * quicker * (1 - Math.exp(Math.LN10 * Math.min(MOST_PAST_END, ph - CLAY_ENDS_PH)));
  const gives = (clay + (first ? nature.atOnce : 0)) / (pores + grains);
  const salts = nature.gives * curve.ecUsCm + EC_PER_MEQ * Math.max(0, gives);
  b[P + 1]! += gives;
  b[G + 1]! += gives;
  b[P] = Math.max(0, b[P]! + salts);
  b[G] = Math.max(0, b[G]! + salts);
  const taken = Math.min(leaves * (1 - nature.vapour) * nature.uptake, MOST_TAKEN * pores);
  let gaveMeq = nature.roots * taken * b[P] * of.nitratePerUs;
  // Water rises and leaves from the pores; what is dissolved comes with it, less what roots take.
  b[P + 1]! += (leaves * b[R + 1]! + gaveMeq) / pores;
  b[P + 2]! += (leaves * b[R + 2]!) / pores;
  b[P] = Math.max(0, b[P] + (leaves * b[R]! - taken * b[P]) / pores);
  const room = Math.max(FILM, free);
  // Through a given surface so much passes whatever the volumes: little water is sooner at one strength. Grains are so each for itself.
  const between = (room * pores) / (room + pores);
  meet(b, R, room, P, pores, 1 - Math.exp((-nature.mixing * USUAL_BETWEEN) / between));
  meet(b, P, pores, G, grains, of.seeps);
  // Ammonium, wherever it is: roots take it at any pH, microbes hardly in acid.
  const turns =
    of.turns * (BY_ROOTS + (1 - BY_ROOTS) / (1 + Math.exp(Math.LN10 * STEEP * (HALF_AT_PH - phOfIndex(place)))));
  gaveMeq +=
    turn(b, R, room, turns, nature.acid) +
    turn(b, P, pores, turns, nature.acid) +
    turn(b, G, grains, turns, nature.acid);
  to.near = place;
  to.gaveMeq += gaveMeq + gives * (pores + grains);
}
/** Of the ammonium's way the share that is the roots', and the pH at which microbes are down to half: nitrification nearly ends under 5. Values from memory. */
const BY_ROOTS = 0.3;
const HALF_AT_PH = 5.4;
const STEEP = 1.5;
/** Over its end clay takes alkali back, but no faster than at so much over it, pH. */
const MOST_PAST_END = 0.3;

/** Ammonium of a body that is taken or turned. @returns the alkali it gave, below nothing: acid */
function turn(b: Bodies, at: number, volume: number, share: number, acid: number): number {
  const lost = b[at + 2]! * share;
  b[at + 2]! -= lost;
  b[at + 1]! -= acid * lost;
  return -acid * lost * volume;
}

/** Two bodies go towards each other by a share of what lies between them. */
function meet(b: Bodies, a: number, volumeA: number, other: number, volumeB: number, share: number): void {
  const passes = (share * volumeA * volumeB) / (volumeA + volumeB);
  for (let k = 0; k < BODY; k++) {
    const flow = passes * (b[other + k]! - b[a + k]!);
    b[a + k]! += flow / volumeA;
    b[other + k]! -= flow / volumeB;
  }
}

/** Changes a crowd's bodies with their strengths as logarithms: those that lie far apart do not pass nought, and none is below nothing afterwards. */
export function withLogs({ at, members }: Crowd, change: () => void): void {
  const strengths = [R, P, G];
  for (let m = 0; m < members; m++)
    for (const k of strengths) at[m * BODIES + k] = Math.log(Math.max(LEAST_US_CM, at[m * BODIES + k]!));
  change();
  for (let m = 0; m < members; m++)
    for (const k of strengths) {
      at[m * BODIES + k] = Math.exp(at[m * BODIES + k]!);
      at[m * BODIES + k + 2] = Math.max(0, at[m * BODIES + k + 2]!);
    }
}
/** Pure water, µS/cm: a strength that a logarithm can be taken of. */
const LEAST_US_CM = 0.5;

/** Where a search of the pores' pH begins. */
export const FIRST_PLACE = MIDDLE_INDEX;
