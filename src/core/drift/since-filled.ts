import { conditioned, spreadOf, type Crowd } from '../statistics/index.ts';
import { BODIES, withLogs, type Litre } from './bodies.ts';
import { BETWEEN, lnOf, READING_SD, selfOf, type PotBelief } from './pot-belief.ts';
import { courseOf, playPot, type PotWater } from './pot-path.ts';
import { MIDDLE_INDEX, phOfIndex, restIndex, shieldingAt, strengthOf, type TitrationCurve } from './titration-curve.ts';

/*
 * A pot between two fillings in which something was done: plain water poured on, or the reservoir read where it stands. It goes on from there, with
 * all that could be known of it: what was poured on mixes with what stands in the reservoir, and by and by with pores and grains; a level that was
 * read alone says how strong the rest must be. What is learned of the pot's nature stays with its fillings.
 */

/** What was done on a day after the filling. */
export type DoneSince =
  | { readonly kind: 'toppedUp'; readonly day: number; readonly ml: number; readonly litre: Litre }
  | {
      readonly kind: 'read';
      readonly day: number;
      readonly found: { readonly ecUsCm?: number; readonly ph?: number; readonly leftMl?: number };
      readonly phSd?: number;
    };

/** A pot as it stands after what was done, and on which day after its filling that was. */
export type GoneOn = { readonly water: PotWater; readonly day: number };

/** @param done in the order it happened @returns as it stands after the last of it */
export function goOnFrom(belief: PotBelief, filled: PotWater, season: number, done: readonly DoneSince[]): GoneOn {
  return done.reduce<GoneOn>(
    (at, event) => {
      const water = lived(belief, at.water, season, Math.max(0, event.day - at.day));
      const next = event.kind === 'toppedUp' ? toppedUp(water, event) : asFound(belief, water, event);
      return { water: next, day: Math.max(at.day, event.day) };
    },
    { water: filled, day: 0 },
  );
}

/** The pot so many days later, by each member. */
function lived(belief: PotBelief, water: PotWater, season: number, days: number): PotWater {
  const { members } = belief.crowd;
  const course = courseOf(days);
  const bodies = { members, columns: BODIES, at: new Float64Array(members * BODIES) };
  const free = new Float64Array(members);
  for (let m = 0; m < members; m++) {
    bodies.at.set(playPot(water, selfOf(belief, water, season, m), course), m * BODIES);
    free[m] = course.freeMl[days]! / water.reservoirMl;
  }
  // Filled and read on the same day it is still as it was poured.
  return days === 0 && !water.gone ? { ...water, bodies, free } : { ...water, bodies, free, gone: true };
}

/** Poured on: what goes over the brim runs off, mixed. */
function toppedUp(water: PotWater, { ml, litre }: DoneSince & { kind: 'toppedUp' }): PotWater {
  const { members, at } = water.bodies!;
  const bodies = Float64Array.from(at);
  const free = Float64Array.from(water.free!);
  const added = ml / water.reservoirMl;
  for (let m = 0; m < members; m++) {
    const share = added / (free[m]! + added);
    const to = [litre.ecUsCm, litre.strongIonsMeqL, litre.ammoniumMmolL];
    for (const [k, figure] of to.entries()) bodies[m * BODIES + k]! += share * (figure - bodies[m * BODIES + k]!);
    free[m] = Math.min(Math.max(1, free[m]!), free[m]! + added);
  }
  return { ...water, bodies: { ...water.bodies!, at: bodies }, free, gone: true };
}

/** Read where it stands: every member moves towards what was found, and the middle of all to it. A reading here is what stands, however odd. */
function asFound(belief: PotBelief, water: PotWater, { found, phSd }: DoneSince & { kind: 'read' }): PotWater {
  const { members } = belief.crowd;
  const { curve } = water;
  const bodies: Crowd = { ...water.bodies!, at: Float64Array.from(water.bodies!.at) };
  const free: Crowd = { members, columns: 1, at: Float64Array.from(water.free!) };
  const natures = Array.from({ length: members }, (_, m) => selfOf(belief, water, 1, m).nature);
  const all = (tell: (m: number) => number) => Float64Array.from({ length: members }, (_, m) => tell(m));
  const left = () => Float64Array.from(free.at);
  const ln = () => all((m) => lnOf(bodies.at[m * BODIES]!) + natures[m]!.strengthOff);
  const ph = () => all((m) => restingPh(curve, bodies.at, m, natures[m]!.co2) + natures[m]!.phOff);
  const learn = (foretold: Float64Array, read: number, sd: number) => {
    withLogs(bodies, () => conditioned([bodies, free], foretold, read, sd * sd));
  };
  const missing = (foretold: Float64Array, read: number) => read - spreadOf(foretold).mean;
  const share = found.leftMl === undefined ? undefined : found.leftMl / water.reservoirMl;
  const lnRead = found.ecUsCm === undefined ? undefined : lnOf(found.ecUsCm);
  if (share !== undefined) learn(left(), share, READING_SD.left);
  if (lnRead !== undefined) learn(ln(), lnRead, Math.hypot(READING_SD.share, BETWEEN.salts));
  if (found.ph !== undefined) learn(ph(), found.ph, phSd ?? READING_SD.ph);
  // Crowds bend where the reading is far out, and stop short of it: the rest of the way all go together.
  if (share !== undefined) {
    const by = missing(left(), share);
    for (let m = 0; m < members; m++) free.at[m] = Math.max(0.01, free.at[m]! + by);
  }
  if (lnRead !== undefined) {
    const times = Math.exp(missing(ln(), lnRead));
    for (let m = 0; m < members; m++) bodies.at[m * BODIES]! *= times;
  }
  if (found.ph !== undefined) {
    const by = missing(ph(), found.ph);
    for (let m = 0; m < members; m++) moveAlkali(curve, bodies.at, m, natures[m]!.co2, by);
  }
  return { ...water, bodies, free: free.at, gone: true };
}

function restingPh(curve: TitrationCurve, at: Float64Array, m: number, co2: number): number {
  const strength = strengthOf(curve, Math.max(0, at[m * BODIES]!));
  const alkali = at[m * BODIES + 1]! - strength * curve.strongIonsMeqL;
  return phOfIndex(restIndex(curve, strength, alkali, co2, MIDDLE_INDEX, shieldingAt(strength)));
}

/** Alkali of the reservoir that moves its pH by so much: halved in until it does. */
function moveAlkali(curve: TitrationCurve, at: Float64Array, m: number, co2: number, by: number): void {
  const from = at[m * BODIES + 1]!;
  const to = restingPh(curve, at, m, co2) + by;
  let [low, high] = [from - MOST_MEQ, from + MOST_MEQ];
  for (let i = 0; i < 30; i++) {
    at[m * BODIES + 1] = (low + high) / 2;
    if (restingPh(curve, at, m, co2) < to) low = at[m * BODIES + 1]!;
    else high = at[m * BODIES + 1]!;
  }
}
const MOST_MEQ = 12;
