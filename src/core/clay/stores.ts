import { DomainError, requirePositive } from '../quantity/index.ts';
import { RATES } from './spectrum.ts';

/**
 * Clay as stores side by side that exchange with the water round them, each at its own rate of {@link RATES}: diffusion out of spheres, through
 * a skin, out of grains of many sizes, all are such sums. Capacities are litres of water that hold as much as the store at the same strength,
 * per litre of clay; strengths are ppm over the water's base on one pen's scale; salts on the surface and undissolved ones are ppm·L per
 * litre of clay.
 */
export type ClayParameters = {
  readonly capacities: readonly number[];
  /** Strength of the water in the pores before the first bath. */
  readonly porePpm: number;
  /** Dust and what lies on the surface, and how fast it dissolves. */
  readonly dust: number;
  readonly dustHours: number;
  /** Salt that only dissolves slowly, whatever the water. */
  readonly source: number;
  readonly sourceHours: number;
  /** Share of the bath that stays on the clay when it is poured off. */
  readonly retained: number;
};

/** A bath at a moment: the water, the stores, and what is not dissolved yet. */
export type LeachState = {
  readonly ppm: number;
  readonly waterL: number;
  /** Strength in each store, ppm. */
  readonly stores: readonly number[];
  readonly dust: number;
  readonly source: number;
};

/** Clay before any water: its stores and salts. */
export const dry = (clay: ClayParameters): Pick<LeachState, 'stores' | 'dust' | 'source'> => ({
  stores: clay.capacities.map(() => clay.porePpm),
  dust: clay.dust,
  source: clay.source,
});

/** The first water on a batch, before it took anything. @throws DomainError on a bath or a batch without volume */
export function firstWater(clay: ClayParameters, clayL: number, waterL: number): LeachState {
  requirePositive(clayL, 'the batch');
  requirePositive(waterL, 'the soak');
  return { ppm: 0, waterL, ...dry(clay) };
}

/** A stretch of time as the stores go through it: what of each stays, and how much it follows the water at the stretch's end. */
export type Stretch = { readonly hours: number; readonly stays: Float64Array; readonly follows: Float64Array };
const KEPT = 4096;
const stretches = new Map<number, Stretch>();
/** @internal */
export function stretchOf(hours: number): Stretch {
  const known = stretches.get(hours);
  if (known) return known;
  const stays = new Float64Array(RATES.length);
  const follows = new Float64Array(RATES.length);
  for (let k = 0; k < RATES.length; k++) {
    const x = RATES[k]! * hours;
    const e = Math.exp(-x);
    stays[k] = e;
    follows[k] = x < 1e-4 ? x / 2 : 1 - (1 - e) / x;
  }
  if (stretches.size >= KEPT) stretches.clear();
  const made = { hours, stays, follows };
  stretches.set(hours, made);
  return made;
}
/** Steps grow as the bath slows down; the water's strength goes in a straight line through each. */
const FIRST_STEP_H = 0.06;
const GROWS = 1.7;
const LONGEST_STEP_H = 48;

/** The steps of some hours of standing. @param sinceHours how long the water has stood already: what goes on slowly takes long steps */
export function stretchesOf(hours: number, sinceHours: number): Stretch[] {
  const steps: Stretch[] = [];
  let step = Math.min(LONGEST_STEP_H, Math.max(FIRST_STEP_H, sinceHours / 2));
  for (let left = hours; left > 0; left -= steps.at(-1)!.hours) {
    steps.push(stretchOf(Math.min(step, left)));
    step = Math.min(LONGEST_STEP_H, step * GROWS);
  }
  return steps;
}

/**
 * The bath after some hours, by an exponential integrator: within a step the water's strength is a straight line, each store follows it
 * exactly, and what they give is in the water, so that salt is conserved to rounding.
 * @param hours ≥ 0 @param sinceHours how long this water has stood already
 */
export function afterHours(
  clay: ClayParameters,
  clayL: number,
  leach: LeachState,
  hours: number,
  sinceHours = 0,
): LeachState {
  if (!(hours >= 0))
    throw new DomainError('negative', 'Time does not run backwards', hours, 'Check the order of the readings.');
  if (hours === 0) return leach;
  const stores = Float64Array.from(leach.stores);
  const waterL = leach.waterL / clayL;
  let { ppm, dust, source } = leach;
  for (const { hours: h, stays, follows } of stretchesOf(hours, sinceHours)) {
    const dusty = dust * Math.exp(-h / clay.dustHours);
    const undissolved = source * Math.exp(-h / clay.sourceHours);
    // V c₁ + Σ a q₁ = V c₀ + Σ a q₀ + what dissolved, with q₁ = q₀ e + c₀ (1 − e − f) + c₁ f.
    let salt = waterL * ppm + (dust - dusty) + (source - undissolved);
    let takes = waterL;
    for (let k = 0; k < stores.length; k++) {
      const a = clay.capacities[k]!;
      const lags = stores[k]! * stays[k]! + ppm * (1 - stays[k]! - follows[k]!);
      salt += a * (stores[k]! - lags);
      takes += a * follows[k]!;
      stores[k] = lags;
    }
    const next = salt / takes;
    for (let k = 0; k < stores.length; k++) stores[k]! += next * follows[k]!;
    ppm = next;
    dust = dusty;
    source = undissolved;
  }
  return { ppm, waterL: leach.waterL, stores: [...stores], dust, source };
}

/** Salt in the water and the clay, ppm·L. */
export function saltIn(clay: ClayParameters, clayL: number, leach: LeachState): number {
  const inside = clay.capacities.reduce((sum, a, k) => sum + a * leach.stores[k]!, leach.dust + leach.source);
  return leach.ppm * leach.waterL + clayL * inside;
}

/** Another day that adds less than this share is no climb: the water is flat. Common practice. */
export const FLAT_DAY = 0.05;
const DAY_H = 24;
/** Looked for at most so many days. */
const FLAT_DAYS = 7;

/** Hours until another day adds less than a twentieth, by whole looks of half a day; seven days at most. */
export function hoursToFlat(clay: ClayParameters, clayL: number, leach: LeachState, sinceHours = 0): number {
  return toFlat(clay, clayL, leach, sinceHours).hours;
}

/** What the water reads once it is flat: another day adds less than a twentieth. */
export function flatPpm(clay: ClayParameters, clayL: number, leach: LeachState, sinceHours = 0): number {
  return toFlat(clay, clayL, leach, sinceHours).ppm;
}

function toFlat(clay: ClayParameters, clayL: number, leach: LeachState, sinceHours: number) {
  const half = DAY_H / 2;
  let now = leach;
  let next = afterHours(clay, clayL, now, half, sinceHours);
  for (let hours = 0; hours < FLAT_DAYS * DAY_H; hours += half) {
    const later = afterHours(clay, clayL, next, half, sinceHours + hours + half);
    if (later.ppm - now.ppm <= FLAT_DAY * later.ppm + 0.25) return { hours, ppm: now.ppm };
    [now, next] = [next, later];
  }
  return { hours: FLAT_DAYS * DAY_H, ppm: now.ppm };
}

/** The standard soak: drained, as much still water as clay poured on, for four weeks. What a bag is fit for is judged by this, since "for ever" cannot be known. */
export const STANDARD_SOAK = Object.freeze({ waterPerClay: 1, hours: 672 });

/** What clay in this state would read after the standard soak in still water. */
export function standardPpm(clay: ClayParameters, clayL: number, leach: LeachState): number {
  const held = clay.retained * leach.waterL;
  const waterL = STANDARD_SOAK.waterPerClay * clayL;
  const soak = { ...leach, waterL: waterL + held, ppm: (leach.ppm * held) / (waterL + held) };
  return afterHours(clay, clayL, soak, STANDARD_SOAK.hours).ppm;
}

/**
 * Pours off all but what clings to the clay, or as much as was measured, and fills with fresh still water.
 * @param freshL L, > 0 @param measuredL poured off, L, where somebody measured it
 * @returns the new bath, and the litres and salt poured off
 */
export function changeWater(
  clay: ClayParameters,
  leach: LeachState,
  freshL: number,
  measuredL?: number,
): { leach: LeachState; pouredOffL: number; saltOff: number } {
  requirePositive(freshL, 'the fresh water');
  const pouredOffL =
    measuredL === undefined ? (1 - clay.retained) * leach.waterL : Math.min(Math.max(0, measuredL), leach.waterL);
  const staysL = leach.waterL - pouredOffL;
  const waterL = staysL + freshL;
  return {
    leach: { ...leach, waterL, ppm: (leach.ppm * staysL) / waterL },
    pouredOffL,
    saltOff: leach.ppm * pouredOffL,
  };
}
