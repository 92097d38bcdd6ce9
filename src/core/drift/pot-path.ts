import {
  asMade,
  breathe,
  indexOf,
  MIDDLE_INDEX,
  phOfIndex,
  type PotSolution,
  type TitrationCurve,
} from './titration-curve.ts';

/*
 * A pot between two visits: water leaves, salts stay behind less what roots take, the clay gives alkali (or roots take it), carbon finds its
 * rest with the air. Reservoir and the water in the pores are one body.
 */

/** What stands in a pot just after it was filled. */
export type PotWater = {
  readonly curve: TitrationCurve;
  readonly standing: PotSolution;
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

export type PotDay = { readonly day: number; readonly freeMl: number; readonly ecUsCm: number; readonly ph: number };

/** What no wick and no root gets out of the reservoir: a film on its floor, as a share of the fill. */
const FLOOR = 0.05;
/** A meq/L of bicarbonate with its cation conducts so much, µS/cm (limiting conductivities: HCO3 44.5 and a cation of 50 to 70). */
const EC_PER_MEQ = 95;
/** Half-day steps while carbon settles after the filling, whole days then: within some hundredths of a pH of the smooth course. */
const HALF_STEPS = 4;
/** What the clay gives at once is given within the first day. */
const AT_ONCE_DAYS = 1;

/** A course to write into, one figure a day, the first as it was filled. `carbonOver`: inorganic carbon at the end against what it would be at rest with the air; above 1 while water leaves faster than CO2. */
export type Course = {
  readonly freeMl: Float64Array;
  readonly ecUsCm: Float64Array;
  readonly ph: Float64Array;
  carbonOver: number;
};

/** An empty course for so many days. */
export function courseOf(days: number): Course {
  return {
    freeMl: new Float64Array(days + 1),
    ecUsCm: new Float64Array(days + 1),
    ph: new Float64Array(days + 1),
    carbonOver: 1,
  };
}

/**
 * The pot from day to day.
 * @param days ≥ 0, whole
 * @returns `days` + 1 points, the first as it was filled
 */
export function potPath(water: PotWater, nature: PotNature, days: number): PotDay[] {
  const course = courseOf(days);
  playPot(water, nature, course);
  return Array.from(course.ph, (ph, day) => ({ day, freeMl: course.freeMl[day]!, ecUsCm: course.ecUsCm[day]!, ph }));
}

/**
 * Plays a pot for as many days as the course has room for, and writes it there. Plain numbers throughout: a forecast plays each pot two hundred times.
 */
export function playPot(
  { curve, standing: start, reservoirMl, poreMl }: PotWater,
  nature: PotNature,
  course: Course,
): void {
  const { useMlDay, saltsStay, saltsGainDay, atOnceUeq, dailyUeq } = nature;
  const { freeMl, ecUsCm, ph } = course;
  const days = ph.length - 1;
  const floor = FLOOR * reservoirMl;
  const startLog = Math.log(start.strength);
  const whole = reservoirMl + poreMl;
  let alkali = start.alkaliMeqL;
  let carbon = start.carbonMmolL;
  let body = whole;
  let strength = start.strength;
  let at = indexOf(curve, strength, alkali, carbon, MIDDLE_INDEX);
  freeMl[0] = reservoirMl;
  ecUsCm[0] = curve.ecUsCm * strength;
  ph[0] = phOfIndex(at);
  let t = 0;
  for (let n = 1; t < days; n++) {
    const step = n <= HALF_STEPS ? 0.5 : 1;
    t += step;
    let free = reservoirMl - useMlDay * t;
    if (free < floor) free = floor;
    const after = free + poreMl;
    const log = saltsStay * Math.log(whole / after) + saltsGainDay * t;
    const next = start.strength * Math.exp(log);
    const gain = (t <= AT_ONCE_DAYS ? atOnceUeq * (step / AT_ONCE_DAYS) : 0) + dailyUeq * step;
    alkali = alkali * (next / strength) + gain / after;
    const share = Math.min(2, Math.max(-1, (startLog + log) / Math.LN2));
    carbon = breathe(curve, next, alkali, carbon * (body / after), at, step, share);
    strength = next;
    body = after;
    at = indexOf(curve, strength, alkali, carbon, at, share);
    if (n < HALF_STEPS && n % 2 === 1) continue;
    const gained = alkali - (start.alkaliMeqL * strength) / start.strength;
    freeMl[t] = free;
    ecUsCm[t] = curve.ecUsCm * strength + EC_PER_MEQ * (gained > 0 ? gained : 0);
    ph[t] = phOfIndex(at);
  }
  course.carbonOver = (carbon * curve.carbonGas[(at + 0.5) | 0]!) / curve.restCo2MmolL;
}

/** A pot filled with a solution as it was made, nothing of it known to stand in the pores. */
export function filledWith(curve: TitrationCurve, reservoirMl: number, poreMl: number): PotWater {
  return { curve, standing: asMade(curve), reservoirMl, poreMl };
}
