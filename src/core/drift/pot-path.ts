import type { Crowd } from '../statistics/index.ts';
import {
  atFirst,
  bodiesDay,
  eachDayOf,
  BODIES,
  fillBodies,
  FIRST_PLACE,
  litreOf,
  type Bodies,
  type Litre,
} from './bodies.ts';
import type { PotNature } from './pot-quantities.ts';
import {
  asMade,
  carbonAtIndex,
  indexOf,
  MIDDLE_INDEX,
  phOfIndex,
  restIndex,
  shieldingAt,
  strengthOf,
  CARBON_HALF_DAYS,
  type PotSolution,
  type TitrationCurve,
} from './titration-curve.ts';

/*
 * A pot between two visits: water leaves, salts stay behind less what roots take, clay and roots give alkali, microbes take it, carbon finds its
 * rest with the air of the pot. Reservoir, pores and grains are three bodies.
 */

/** What stands in a pot just after it was filled. */
export type PotWater = {
  /** What fills it, with what stood in its pores, by volume: what pH its salts make of its alkali. */
  readonly curve: TitrationCurve;
  readonly standing: PotSolution;
  /** Free water, and water that stays when it is drained, mL. */
  readonly reservoirMl: number;
  readonly poreMl: number;
  /** What stands in its three bodies by each member of what is believed of it; where it is left out, this filling in all of them. */
  readonly bodies?: Crowd;
  /** The clay is new: what is not known of it is what was left in it by its leach. */
  readonly fresh?: boolean;
  /** Share of the fill that is left, by each member, where it stands since a while and something was done to it; 1 where it was just filled. */
  readonly free?: Float64Array;
  /** It has stood for days: its carbon is at rest, what is not known of it has grown, and the clay has given what it gives at once. */
  readonly gone?: boolean;
  /** A litre of what was poured, without what stood in the pores, and its pH as it was poured. */
  readonly poured?: Litre & { readonly ph: number };
};

/** A pot as one member of a belief has it, or the middle of all: how it behaves, and what stands in it. */
export type PotSelf = {
  readonly nature: PotNature;
  readonly bodies: Bodies;
  /** Water that leaves, a share of the fill a day, this season. */
  readonly uses: number;
  /** Share of the fill that is there at first; all of it where it was just filled. */
  readonly free?: number;
  /** Alkali beside what its nature gives, meq a litre of the fill a day: chance, and what is tried out. */
  readonly givesMore?: number;
  /** It is known what was left: water left evenly until then. */
  readonly evenly?: boolean;
};

export type PotDay = { readonly day: number; readonly freeMl: number; readonly ecUsCm: number; readonly ph: number };

/** What no wick and no root gets out of the reservoir, a share of the fill; and from what share on it comes ever slower. */
const FLOOR = 0.05;
const SLOWS_FROM = 0.17;
/** What nobody knows of the old water grows over so many days and then stays. */
const GROWS_DAYS = 4;
/** Of the carbon that is off its rest, what stays so after a day. */
const CARBON_STAYS = Math.exp(-Math.LN2 / CARBON_HALF_DAYS);

/** A course to write into, one figure a day, the first as it was filled. `gaveUeq`: alkali that clay, roots and microbes gave until its end, µeq a pot. */
export type Course = {
  readonly freeMl: Float64Array;
  readonly ecUsCm: Float64Array;
  readonly ph: Float64Array;
  gaveUeq: number;
};

/** An empty course for so many days. */
export function courseOf(days: number): Course {
  return {
    freeMl: new Float64Array(days + 1),
    ecUsCm: new Float64Array(days + 1),
    ph: new Float64Array(days + 1),
    gaveUeq: 0,
  };
}

/** The pot from day to day. @param days ≥ 0, whole @returns `days` + 1 points, the first as it was filled */
export function potPath(water: PotWater, self: PotSelf, days: number): PotDay[] {
  const course = courseOf(days);
  playPot(water, self, course);
  return Array.from(course.ph, (ph, day) => ({ day, freeMl: course.freeMl[day]!, ecUsCm: course.ecUsCm[day]!, ph }));
}

/** What is left after a day, in fills. */
export function freeAfter(free: number, { uses, evenly }: Pick<PotSelf, 'uses' | 'evenly'>): number {
  const slows = evenly ? 1 : Math.min(1, Math.max(0, (free - FLOOR) / (SLOWS_FROM - FLOOR)));
  return Math.max(Math.min(free, FLOOR), free - uses * slows);
}

/**
 * Plays a pot for as many days as the course has room for, and writes it there. Plain numbers throughout: a forecast plays each pot two hundred times.
 * @returns what stands in its bodies at the end
 */
export function playPot(water: PotWater, self: PotSelf, course: Course): Bodies {
  const { curve, standing, reservoirMl, poreMl, gone = false } = water;
  const { nature } = self;
  const { freeMl, ecUsCm, ph } = course;
  const b = Float64Array.from(self.bodies);
  const of = eachDayOf(nature, curve, poreMl / reservoirMl);
  const more = self.givesMore ?? 0;
  let free = self.free ?? 1;
  let carbon = gone ? restingCarbon(curve, b[0]!, b[1]!, nature.co2) : standing.carbonMmolL;
  const told = { near: FIRST_PLACE, gaveMeq: 0 };
  let at = readAt(curve, b, carbon, MIDDLE_INDEX);
  freeMl[0] = free * reservoirMl;
  ecUsCm[0] = b[0]! * (gone ? Math.exp(nature.strengthOff) : 1);
  ph[0] = phOfIndex(at) + (gone ? nature.phOff : 0);
  for (let day = 1; day < ph.length; day++) {
    const after = freeAfter(free, self);
    bodiesDay(b, of, free - after, after, day === 1 && !gone, told);
    b[1]! += more;
    free = after;
    const strength = strengthOf(curve, b[0]!);
    const rests = restIndex(
      curve,
      strength,
      b[1]! - strength * curve.strongIonsMeqL,
      nature.co2,
      at,
      shieldingAt(strength),
    );
    const rest = carbonAtIndex(curve, rests, nature.co2);
    carbon = rest + (carbon - rest) * CARBON_STAYS;
    at = readAt(curve, b, carbon, rests);
    const off = gone ? 1 : Math.min(1, day / GROWS_DAYS);
    freeMl[day] = free * reservoirMl;
    ecUsCm[day] = b[0]! * Math.exp(nature.strengthOff * off);
    ph[day] = phOfIndex(at) + nature.phOff * off;
  }
  course.gaveUeq = (told.gaveMeq + more * (ph.length - 1)) * reservoirMl;
  return b;
}

/** Place on the pH axis at which the reservoir stands. */
function readAt(curve: TitrationCurve, b: Bodies, carbonMmolL: number, near: number): number {
  const strength = strengthOf(curve, b[0]!);
  return indexOf(curve, strength, b[1]! - strength * curve.strongIonsMeqL, carbonMmolL, near);
}

/** A pot filled with a solution as it was made, nothing else known to stand in it. */
export function filledWith(curve: TitrationCurve, reservoirMl: number, poreMl: number): PotWater {
  return { curve, standing: asMade(curve), reservoirMl, poreMl };
}

/** What stands in a pot's bodies by one member of a belief. */
export function bodiesOf(water: PotWater, nature: PotNature, member: number): Bodies {
  const { bodies, curve, standing, poreMl, reservoirMl, fresh = false } = water;
  if (bodies) return bodies.at.slice(member * BODIES, (member + 1) * BODIES);
  const litre = litreOf(curve, standing);
  const b = atFirst(nature, litre, fresh);
  fillBodies(b, nature, litre, poreMl / reservoirMl);
  return b;
}

/** Inorganic carbon of a reservoir that has stood for days in its pot, mmol/L. */
function restingCarbon(curve: TitrationCurve, ecUsCm: number, strongIonsMeqL: number, co2: number): number {
  const strength = strengthOf(curve, Math.max(0, ecUsCm));
  const alkali = strongIonsMeqL - strength * curve.strongIonsMeqL;
  return carbonAtIndex(curve, restIndex(curve, strength, alkali, co2, MIDDLE_INDEX, shieldingAt(strength)), co2);
}
