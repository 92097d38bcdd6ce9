import { observe, type Gaussian } from '../statistics/index.ts';
import { courseOf, playPot, potPath, type PotDay, type PotNature, type PotWater } from './pot-path.ts';
import { alkaliAt, restCarbon, standAt, strengthOf, type TitrationCurve } from './titration-curve.ts';

/*
 * What the log says of a pot's nature: how fast it drinks, how its strength climbs, what alkali its clay and roots give. Each interval from
 * one filling to the next adds what was read of it; a pot with none stands where its clay batch, or pots at large, stand.
 */

/** Belief about a pot. Each part is a joint normal; see {@link DRINKS}, {@link SALTS} and {@link ALKALI} for the order of its quantities. */
export type PotBelief = {
  /** Natural logarithm of the share of its reservoir that leaves a day in a season of 1, and how closely that follows the season: 1 all the way, 0 not at all. */
  readonly drinks: Gaussian;
  /** Salts that stay as water leaves, and the share gained a day. */
  readonly salts: Gaussian;
  /** µeq per 100 mL of body at once, µeq per 100 mL a day, and how much too high the pH pen reads. */
  readonly alkali: Gaussian;
  /** Intervals that taught each, and how they missed: sum of squares against what was expected of them. */
  readonly seen: { readonly drinks: Misses; readonly salts: Misses; readonly alkali: Misses };
};
export type Misses = { readonly intervals: number; readonly squares: number };

/** How unsteady a pot is against pots at large: learned from how its intervals missed, two of them at large counted in. */
export function unsteadiness({ intervals, squares }: Misses): number {
  return Math.sqrt((AT_LARGE_COUNTS + squares) / (AT_LARGE_COUNTS + intervals));
}
const AT_LARGE_COUNTS = 2;
const UNSEEN: Misses = Object.freeze({ intervals: 0, squares: 0 });

/** 1 SD from one interval to the next that no pen explains: weather, a missed drip, roots that grew. House rules. */
export const DRINKS_NOISE = 0.09;
export const SALTS_NOISE = 0.06;
export const ALKALI_NOISE = { share: 0.15, per100Ml: 0.4 };
/** 1 SD of pens: strength as a share, pH. */
const PEN_SHARE = 0.03;
const PEN_PH = 0.05;
/** 1 SD of what is poured and left, as a share of the fill: measured by eye at the window. */
const LEFT_SHARE = 0.035;

const diagonal = (sds: readonly number[]) => sds.map((sd, i) => sds.map((_, j) => (i === j ? sd ** 2 : 0)));

/**
 * Pots at large, before anything was read. Common practice (three quarters gone in a week; fed at 5.5 to 6 and read at 6.5 to 7 in two to four
 * weeks; half the volume gone, twice the strength) and the spread of simulated pots.
 */
export const POTS_AT_LARGE: PotBelief = Object.freeze({
  drinks: { mean: [Math.log(0.1), 0.5], covariance: diagonal([0.45, 0.3]) },
  salts: { mean: [0.7, 0.004], covariance: diagonal([0.3, 0.01]) },
  alkali: { mean: [1.5, 0.4], covariance: diagonal([2.5, 1.2]) },
  seen: { drinks: UNSEEN, salts: UNSEEN, alkali: UNSEEN },
} satisfies PotBelief);
/** 1 SD of a pH pen's own offset since its last good check. */
export const PEN_OFFSET_SD = 0.05;

/** From one filling to the next: what stood in the pot when it was filled, and what was read when it was tipped out. */
export type Interval = {
  readonly water: PotWater;
  readonly days: number;
  /** How much drinking this season invites against the year's mean: see the climate of its place. */
  readonly season: number;
  readonly leftMl: number | undefined;
  readonly cameOutEcUsCm: number | undefined;
  readonly cameOutPh: number | undefined;
};

/** Water that is not there cannot be drunk: what was left this low says only that at least so much left. */
const EMPTY_SHARE = 0.07;

const tellsDrinking = (left: number, { reservoirMl }: PotWater) =>
  left > EMPTY_SHARE * reservoirMl && left < 0.97 * reservoirMl;

/** What one interval teaches. Whatever was not read teaches nothing. */
export function learnInterval(
  belief: PotBelief,
  interval: Interval,
  pens: { readonly offsetSd: number } = { offsetSd: PEN_OFFSET_SD },
): PotBelief {
  const { water, days, leftMl, cameOutEcUsCm, cameOutPh } = interval;
  if (!(days > 0)) return belief;
  let { drinks, salts, alkali } = belief;
  const seen = { ...belief.seen };
  const left = leftMl === undefined ? undefined : Math.min(water.reservoirMl, Math.max(0, leftMl));
  if (left !== undefined && tellsDrinking(left, water)) {
    const share = (water.reservoirMl - left) / water.reservoirMl;
    const sd = Math.hypot(DRINKS_NOISE, LEFT_SHARE / share);
    ({ state: drinks, misses: seen.drinks } = learn(
      drinks,
      [1, Math.log(interval.season)],
      Math.log(share / days),
      sd,
      seen.drinks,
    ));
  }
  const nature = natureOf({ ...belief, drinks }, water, interval.season);
  const course = courseOf(Math.max(1, Math.round(days)));
  playPot(water, nature, course);
  const free = left ?? course.freeMl.at(-1)!;
  const thicker = Math.log((water.reservoirMl + water.poreMl) / (free + water.poreMl));
  const filledEc = water.curve.ecUsCm * water.standing.strength;
  if (cameOutEcUsCm !== undefined && cameOutEcUsCm > 0 && filledEc > 0) {
    const sd = Math.hypot(SALTS_NOISE, Math.SQRT2 * PEN_SHARE, left === undefined ? 0.15 : LEFT_SHARE);
    ({ state: salts, misses: seen.salts } = learn(
      salts,
      [thicker, days],
      Math.log(cameOutEcUsCm / filledEc),
      sd,
      seen.salts,
    ));
  }
  if (cameOutPh !== undefined) {
    const strength =
      cameOutEcUsCm === undefined || filledEc <= 0
        ? water.standing.strength * Math.exp(thicker * nature.saltsStay)
        : strengthOf(water.curve, cameOutEcUsCm);
    const body = free + water.poreMl;
    const gainAt = (offset: number) => gainOf(water, course.carbonOver, strength, body, cameOutPh, offset);
    const gain = gainAt(0);
    const perOffset = (gainAt(0.1) - gain) / 0.1;
    const per100 = 100 / (water.reservoirMl + water.poreMl);
    // By what was expected, not by what was read: else a small gain would count for more than a large one.
    const expected = alkali.mean[0]! + alkali.mean[1]! * days;
    const sd = Math.hypot(
      ALKALI_NOISE.share * expected,
      ALKALI_NOISE.per100Ml,
      slopeOf(water.curve, strength, cameOutPh) * body * per100 * PEN_PH,
    );
    const withPen: Gaussian = alkali.mean.length === 3 ? alkali : withOffset(alkali, pens.offsetSd);
    ({ state: alkali, misses: seen.alkali } = learn(
      withPen,
      [1, days, -perOffset * per100],
      gain * per100,
      sd,
      seen.alkali,
    ));
  }
  return { drinks, salts, alkali, seen };
}

/** What a soak test gives in an hour is, give or take so much, what the clay gives at once after a filling. House rules: more after drying. */
const SOAK_TO_FILLING = 0.35;
const DRIED_TIMES = 2;

/**
 * What a soak test teaches: the quick part of what the clay gives. What roots and slow clay do is not in it.
 * @param soak first hour, µeq a pot with 1 SD; the pot's body in mL; whether it dried out since
 */
export function learnSoak(
  belief: PotBelief,
  soak: { readonly ueq: number; readonly sdUeq: number; readonly bodyMl: number; readonly driedSince: boolean },
): PotBelief {
  const per100 = 100 / soak.bodyMl;
  const sd = Math.hypot(soak.sdUeq, SOAK_TO_FILLING * soak.ueq) * per100 * (soak.driedSince ? DRIED_TIMES : 1);
  const h = [1, 0, 0].slice(0, belief.alkali.mean.length);
  return { ...belief, alkali: observe(belief.alkali, h, soak.ueq * per100, sd ** 2).state };
}

/** One reading: what it teaches, by how steady the pot has been, and how far it missed. @param sd of pots at large */
function learn(
  state: Gaussian,
  h: readonly number[],
  y: number,
  sd: number,
  misses: Misses,
): { state: Gaussian; misses: Misses } {
  const { innovation, innovationSd } = observe(state, h, y, sd ** 2);
  const learned = observe(state, h, y, (sd * unsteadiness(misses)) ** 2).state;
  // One wild reading is a slip, not the pot's nature.
  const square = Math.min(WILD ** 2, (innovation / innovationSd) ** 2);
  return { state: learned, misses: { intervals: misses.intervals + 1, squares: misses.squares + square } };
}
const WILD = 3;

function withOffset({ mean, covariance }: Gaussian, sd: number): Gaussian {
  return { mean: [...mean, 0], covariance: [...covariance.map((row) => [...row, 0]), [...mean.map(() => 0), sd ** 2]] };
}

/** Alkali a pot gained since it was filled, µeq, when what came out showed a pH on a pen that reads so much too high. @param carbonOver as the path has it */
function gainOf(
  water: PotWater,
  carbonOver: number,
  strength: number,
  bodyMl: number,
  shownPh: number,
  offset: number,
): number {
  const { curve, standing } = water;
  const ph = shownPh - offset;
  const thicker = strength / standing.strength;
  const alkali = alkaliAt(curve, strength, restCarbon(curve, ph) * carbonOver, ph);
  // The pour was read with the same pen: it stood so much more acid than was thought.
  const started = standing.alkaliMeqL - offset * slopeOf(curve, standing.strength, standAt(curve, standing));
  // What was gained early has since gone the way of the salts: half of what they lost.
  const kept = Math.max(0.3, (thicker * (bodyMl / (water.reservoirMl + water.poreMl)) + 1) / 2);
  return ((alkali - started * thicker) * bodyMl) / kept;
}

/** meq/L that move a solution at rest with the air by one pH. */
function slopeOf(curve: TitrationCurve, strength: number, ph: number): number {
  const at = (p: number) => alkaliAt(curve, strength, restCarbon(curve, p), p);
  return Math.max(0.005, (at(ph + 0.1) - at(ph - 0.1)) / 0.2);
}

/** A pot as it most likely behaves in a season, for a body of water. */
export function natureOf(
  belief: PotBelief,
  { reservoirMl, poreMl }: Pick<PotWater, 'reservoirMl' | 'poreMl'>,
  season: number,
): PotNature {
  return natureFrom(belief.drinks.mean, belief.salts.mean, belief.alkali.mean, reservoirMl, poreMl, season);
}

/**
 * How a pot most likely stands at the end of an interval, by what was known before it. Where what was left of its water is known too, strength and
 * pH are those of so much water: a thirsty week is then no surprise.
 */
export function forecastAt(
  { water, days, season, leftMl }: Pick<Interval, 'water' | 'days' | 'season' | 'leftMl'>,
  belief: PotBelief,
): PotDay {
  const nature = natureOf(belief, water, season);
  const known = leftMl !== undefined && days > 0 && leftMl > EMPTY_SHARE * water.reservoirMl;
  const useMlDay = known ? Math.max(0, water.reservoirMl - leftMl) / days : nature.useMlDay;
  return potPath(water, { ...nature, useMlDay }, Math.max(0, days)).at(-1)!;
}

/** A pot's nature from quantities in the belief's own order and units. */
export function natureFrom(
  drinks: readonly number[],
  salts: readonly number[],
  alkali: readonly number[],
  reservoirMl: number,
  poreMl: number,
  season: number,
): PotNature {
  const per100 = (reservoirMl + poreMl) / 100;
  return {
    useMlDay: Math.exp(drinks[0]! + drinks[1]! * Math.log(season)) * reservoirMl,
    saltsStay: Math.min(1.3, Math.max(-0.3, salts[0]!)),
    saltsGainDay: salts[1]!,
    atOnceUeq: alkali[0]! * per100,
    dailyUeq: alkali[1]! * per100,
  };
}
