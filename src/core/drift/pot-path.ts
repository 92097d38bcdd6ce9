import { asMade, breathe, standAt, type Standing, type TitrationCurve } from './titration-curve.ts';

/*
 * A pot between two visits: water leaves, salts stay behind less what roots take, the clay gives alkali (or roots take it), carbon finds its
 * rest with the air. Reservoir and the water in the pores are one body.
 */

/** What stands in a pot just after it was filled. */
export type PotWater = {
  readonly curve: TitrationCurve;
  readonly standing: Standing;
  /** Free water and water in the pores, mL. */
  readonly reservoirMl: number;
  readonly poreMl: number;
};

/** How a pot behaves. */
export type PotNature = {
  /** Water that leaves, mL a day, this season. */
  readonly useMlDay: number;
  /** How much of the strength stays when water leaves: 1 all of it (half the water gone is twice the strength), 0 roots take as it comes. */
  readonly saltsStay: number;
  /** Salts given off or piling up beside that, a share of the strength a day. */
  readonly saltsGainDay: number;
  /** Alkali the clay gives at once, and what clay and roots then give a day, µeq a pot. */
  readonly atOnceUeq: number;
  readonly dailyUeq: number;
};

/** `carbonOver`: inorganic carbon against what it would be at rest with the air; above 1 while water leaves faster than CO2. */
export type PotDay = { readonly day: number; readonly freeMl: number; readonly ecUsCm: number; readonly ph: number; readonly carbonOver: number };

/** What no wick and no root gets out of the reservoir: a film on its floor, as a share of the fill. */
const FLOOR = 0.05;
/** A meq/L of bicarbonate with its cation conducts so much, µS/cm (limiting conductivities: HCO3 44.5 and a cation of 50 to 70). */
const EC_PER_MEQ = 95;
/** Steps of a day. Carbon is half way to rest in half a day; two steps a day follow it within some hundredths of a pH. */
export const STEPS_A_DAY = 2;
/** What the clay gives at once is given within the first day. */
const AT_ONCE_DAYS = 1;

/**
 * The pot from day to day.
 * @param days ≥ 0, whole
 * @returns `days` + 1 points, the first as it was filled
 */
export function potPath(water: PotWater, nature: PotNature, days: number): PotDay[] {
  const path: PotDay[] = [];
  walk(water, nature, days, (day) => path.push(day));
  return path;
}

/** The same without keeping it: calls `see` for each whole day. Allocates nothing else, for the many draws of a forecast. */
export function walk(water: PotWater, nature: PotNature, days: number, see: (day: PotDay) => void): void {
  const { curve, reservoirMl, poreMl } = water;
  const start = water.standing;
  const whole = reservoirMl + poreMl;
  const step = 1 / STEPS_A_DAY;
  let alkali = start.alkaliMeqL;
  let carbon = start.carbonMmolL;
  let body = whole;
  let strength = start.strength;
  let { ph, at } = standAt(curve, start);
  const gained = () => Math.max(0, alkali - (start.alkaliMeqL * strength) / start.strength);
  const over = () => (carbon * curve.carbonGas[at]!) / curve.restCo2MmolL;
  see({ day: 0, freeMl: reservoirMl, ecUsCm: curve.ecUsCm * strength, ph, carbonOver: over() });
  for (let n = 1; n <= days * STEPS_A_DAY; n++) {
    const t = n * step;
    const free = Math.max(FLOOR * reservoirMl, reservoirMl - nature.useMlDay * t);
    const after = free + poreMl;
    const next = start.strength * (whole / after) ** nature.saltsStay * (1 + nature.saltsGainDay * t);
    const thicker = next / strength;
    const gain = (t <= AT_ONCE_DAYS ? nature.atOnceUeq * (step / AT_ONCE_DAYS) : 0) + nature.dailyUeq * step;
    alkali = alkali * thicker + gain / after;
    carbon = breathe(curve, carbon * (body / after), at, step);
    strength = next;
    body = after;
    ({ ph, at } = standAt(curve, { strength, alkaliMeqL: alkali, carbonMmolL: carbon }, at));
    if (n % STEPS_A_DAY === 0) see({ day: n / STEPS_A_DAY, freeMl: free, ecUsCm: curve.ecUsCm * strength + EC_PER_MEQ * gained(), ph, carbonOver: over() });
  }
}

/** A pot filled with a solution as it was made, nothing of it known to stand in the pores. */
export function filledWith(curve: TitrationCurve, reservoirMl: number, poreMl: number): PotWater {
  return { curve, standing: asMade(curve), reservoirMl, poreMl };
}
