import { spreadsOf, type ClayFit, type Spread } from './fit.ts';
import { playLeach, type LeachHistory } from './history.ts';
import { carefulClay } from './leach-standing.ts';
import { afterHours, changeWater, flatPpm, hoursToFlat, standardPpm, type ClayParameters } from './stores.ts';

/** A change that is still to come. `inHours` from now. */
export type ComingChange = { readonly inHours: number; readonly freshL: number };
export type PathPoint = Spread & { readonly atHours: number };
/** A bath on the saw-tooth: what it reads along the way, and what it would come to. */
export type ForecastBath = {
  readonly fromHours: number;
  readonly toHours: number;
  /** Fresh water poured on at its start; undefined for the one that stands now. */
  readonly freshL: number | undefined;
  readonly points: readonly PathPoint[];
  readonly flat: Spread;
  /** What the clay in it would come to in the standard soak: the gate is judged by this. */
  readonly standard: Spread;
};
export type LeachForecast = {
  /** What was, by the fit: one run of points a bath, the one that stands last. */
  readonly past: readonly ForecastBath[];
  /** The water on it now, from now until the next change; empty when that is due. */
  readonly standing: readonly PathPoint[];
  readonly coming: readonly ForecastBath[];
  readonly ready: ReadyForecast;
};
/** When the clay passes the gate, if the changes come as planned. Undefined where not even the longest look ahead gets there. */
export type ReadyForecast = {
  /** Changes still to make: 0 when the water on it now will do. */
  readonly changes: number | undefined;
  readonly litres: number | undefined;
  /** Since the first water: the change and the time for that bath to level off. */
  readonly atHours: number | undefined;
  readonly earliestHours: number | undefined;
  readonly latestHours: number | undefined;
};

const POINTS_A_BATH = 14;
/** A bath after the only change is drawn so long: enough to level off. */
const LONE_BATH_H = 36;
/** Changes looked at past the planned ones for the latest day. */
const LOOK_PAST = 6;

/**
 * The saw-tooth: what the water took up so far, and what it will with the changes to come, with the central 90 % of each.
 * @param atHours now, since the first water
 * @param changes to come; past the last one the same wait and volume go on, for the latest day
 * @param standsHours how long the water on it now is looked ahead: until the next change, where none is said
 */
export function forecastLeach(
  fit: ClayFit,
  history: LeachHistory,
  atHours: number,
  changes: readonly ComingChange[],
  gatePpm: number,
  standsHours = changes[0]?.inHours ?? 0,
): LeachForecast {
  const starts = [0, ...history.acts.filter((act) => act.kind === 'change').map((act) => act.atHours)];
  const pastHours = starts.map((from, i) => spaced(from, i + 1 < starts.length ? starts[i + 1]! : atHours));
  const standHours = standsHours > 0 ? spaced(atHours, atHours + standsHours) : [];
  const longer = extended(changes, LOOK_PAST);
  const comingHours = longer.map((change, i) => {
    const from = atHours + change.inHours;
    return spaced(from, i + 1 < longer.length ? atHours + longer[i + 1]!.inHours : from + lastWait(longer));
  });
  const all = spreadsOf(fit, (clay) => pathOf(clay, history, atHours, longer, pastHours, standHours, comingHours));
  let at = 0;
  const take = (hours: readonly number[], freshL: number | undefined): ForecastBath => {
    const points = hours.map((h) => ({ atHours: h, ...all[at++]! }));
    return { fromHours: hours[0]!, toHours: hours.at(-1)!, freshL, points, flat: all[at++]!, standard: all[at++]! };
  };
  const past = pastHours.map((hours) => take(hours, undefined));
  const standing = standHours.map((h) => ({ atHours: h, ...all[at++]! }));
  const coming = comingHours.map((hours, i) => take(hours, longer[i]!.freshL));
  return {
    past,
    standing,
    coming: coming.slice(0, changes.length),
    ready: readyOf(carefulClay(fit, history, atHours), history, past, coming, gatePpm),
  };
}

/** Every point and every flat reading in one list, in the order in which they are taken off again. */
function pathOf(
  clay: ClayParameters,
  history: LeachHistory,
  atHours: number,
  changes: readonly ComingChange[],
  pastHours: readonly (readonly number[])[],
  standHours: readonly number[],
  comingHours: readonly (readonly number[])[],
): number[] {
  const values: number[] = [];
  const { clayL } = history;
  let leach = playLeach(clay, { ...history, acts: [] }).leach;
  let from = 0;
  let at = 0;
  const goOn = (toHours: number) => {
    leach = afterHours(clay, clayL, leach, Math.max(0, toHours - at), at - from);
    at = Math.max(at, toHours);
    return leach.ppm;
  };
  const run = (hours: readonly number[]) => {
    const begun = leach;
    for (const h of hours) values.push(goOn(h));
    const reached = { leach, at };
    [leach, at] = [begun, from];
    values.push(flatPpm(clay, clayL, leach), standardPpm(clay, clayL, leach));
    ({ leach, at } = reached);
  };
  const turn = (toHours: number, freshL: number, pouredOffL?: number) => {
    goOn(toHours);
    leach = changeWater(clay, leach, freshL, pouredOffL).leach;
    [from, at] = [toHours, toHours];
  };
  run(pastHours[0]!);
  let i = 1;
  for (const act of history.acts) {
    if (act.kind !== 'change') continue;
    turn(act.atHours, act.freshL, act.pouredOffL);
    run(pastHours[i++]!);
  }
  for (const h of standHours) values.push(goOn(h));
  for (const [k, change] of changes.entries()) {
    turn(atHours + change.inHours, change.freshL);
    run(comingHours[k]!);
  }
  return values;
}

function readyOf(
  clay: ClayParameters,
  history: LeachHistory,
  past: readonly ForecastBath[],
  coming: readonly ForecastBath[],
  gatePpm: number,
): ReadyForecast {
  const baths = [past.at(-1)!, ...coming];
  const first = (of: (standard: Spread) => number) => {
    const k = baths.findIndex((bath) => of(bath.standard) <= gatePpm);
    return k < 0 ? undefined : k;
  };
  // The gate is passed when the bath has levelled off: that reading proves it.
  const provenAt = (k: number | undefined) => {
    if (k === undefined) return undefined;
    const acts = coming
      .slice(0, k)
      .map((leach) => ({ kind: 'change' as const, atHours: leach.fromHours, freshL: leach.freshL! }));
    const upTo = playLeach(clay, {
      ...history,
      acts: [...history.acts.filter((act) => act.kind === 'change'), ...acts],
    }).leach;
    const levelled = baths[k]!.fromHours + hoursToFlat(clay, history.clayL, upTo);
    return k === 0 ? Math.max(levelled, past.at(-1)!.toHours) : levelled;
  };
  // Sure enough is nineteen in twenty, and the readings to come narrow it: half of the doubt that is left now.
  const middle = first((standard) => (standard.mean + standard.high) / 2);
  return {
    changes: middle,
    litres: middle === undefined ? undefined : coming.slice(0, middle).reduce((sum, leach) => sum + leach.freshL!, 0),
    atHours: provenAt(middle),
    earliestHours: provenAt(first((standard) => standard.low)),
    latestHours: provenAt(first((standard) => standard.high)),
  };
}

const lastWait = (changes: readonly ComingChange[]) => {
  const last = changes.at(-1);
  if (changes.length < 2) return Math.max(LONE_BATH_H, last?.inHours ?? 0);
  return Math.max(6, last!.inHours - changes.at(-2)!.inHours);
};

function extended(changes: readonly ComingChange[], more: number): ComingChange[] {
  const last = changes.at(-1);
  if (!last) return [];
  const wait = lastWait(changes);
  return [
    ...changes,
    ...Array.from({ length: more }, (_, i) => ({ inHours: last.inHours + wait * (i + 1), freshL: last.freshL })),
  ];
}

/** Hours from start to end, closer together at the start, where a bath climbs fastest. */
function spaced(from: number, to: number): number[] {
  return Array.from(
    { length: POINTS_A_BATH },
    (_, i) => from + (Math.max(0, to - from) * i * i) / (POINTS_A_BATH - 1) ** 2,
  );
}
