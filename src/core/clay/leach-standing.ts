import { chanceOf, clayAt, spreadsOf, type ClayFit, type Spread } from './fit.ts';
import { playLeach, type LeachHistory } from './history.ts';
import { afterHours, flatPpm, hoursToFlat, standardPpm, type ClayParameters } from './stores.ts';

/** How a bath stands, by the model and its fit. Strengths in ppm over the water's base. */
export type LeachStanding = {
  /** Since the water on it now was poured on. */
  readonly hours: number;
  readonly readsNow: Spread;
  /** What it will read when another day adds less than a twentieth. */
  readonly flat: Spread;
  /** What this clay would come to in the standard soak, four weeks in as much still water: the gate is judged by this. */
  readonly standard: Spread;
  /** Share of the way to flat, 0 to 1, with its 90 %: early nobody can tell. */
  readonly along: Spread;
  /** Another day adds less than a twentieth. */
  readonly levelledOff: boolean;
  /** Hours from now until it has levelled off; 0 when it has. */
  readonly levelsInHours: number;
  /** How far along it was at its latest reading; undefined when this water was not read yet. */
  readonly readAlong: number | undefined;
};

/** The bath at a moment: of everything the middle of what may be. @param atHours since the first water, not before the last act */
export function leachStanding(fit: Pick<ClayFit, 'draws'>, history: LeachHistory, atHours: number): LeachStanding {
  const { clayL } = history;
  const lastChange = history.acts.findLastIndex((act) => act.kind === 'change');
  const from = lastChange < 0 ? 0 : history.acts[lastChange]!.atHours;
  const upTo = { ...history, acts: history.acts.slice(0, lastChange + 1) };
  const reading = history.acts.slice(lastChange + 1).findLast((act) => act.kind === 'reading');
  const hours = atHours - from;
  const readAt = reading === undefined ? 0 : reading.atHours - from;
  const [readsNow, flat, standard, along, readAlong, levels] = spreadsOf(fit, (clay) => {
    const { leach } = playLeach(clay, history, atHours);
    const start = playLeach(clay, upTo).leach;
    const end = flatPpm(clay, clayL, start);
    const alongAfter = (h: number) => alongOf(start.ppm, end, afterHours(clay, clayL, start, h).ppm);
    return [
      leach.ppm,
      flatPpm(clay, clayL, leach, hours),
      standardPpm(clay, clayL, leach),
      alongAfter(hours),
      alongAfter(readAt),
      hoursToFlat(clay, clayL, start),
    ];
  });
  return {
    hours,
    readsNow: readsNow!,
    flat: flat!,
    standard: standard!,
    along: along!,
    // A thousandth is what a range makes of nothing.
    levelledOff: hours >= levels!.mean - 0.01,
    levelsInHours: Math.max(0, Math.round(levels!.mean) - hours),
    readAlong: reading && readAlong!.mean,
  };
}

/** Share of the way from one reading to another; nothing left to take up is the whole way. */
function alongOf(from: number, to: number, now: number): number {
  return to - from < 0.5 ? 1 : Math.min(1, Math.max(0, (now - from) / (to - from)));
}

/** Plans are made for clay that is a little worse than the middle of what is believed. House rule. */
const CAREFUL = 0.65;
/** The clay to plan for: of those that may be, the one at which two in three come to no more. */
export const carefulClay = (fit: Pick<ClayFit, 'draws'>, history: LeachHistory, atHours: number): ClayParameters =>
  clayAt(fit, history, atHours, CAREFUL);

/** How sure it must be that the clay stays under the gate before it is called ready, and that the water stands still. */
export const SURE = Object.freeze({ low: 0.95, still: 0.9, stillDay: 0.1 });

export type ReadyChance = {
  /** That it stays under the gate in the standard soak. */
  readonly low: number;
  /** That another day adds less than a tenth to the water on it now. */
  readonly still: number;
  /** Sure enough of the first: no more changes, only waiting. */
  readonly lowEnough: boolean;
  readonly ready: boolean;
};

/**
 * How likely the clay is fit to plant. @param atHours since the first water @param read whether this water was read late enough to speak of:
 * without a reading of it nothing is called ready
 */
export function chanceReady(
  fit: Pick<ClayFit, 'draws'>,
  history: LeachHistory,
  atHours: number,
  gatePpm: number,
  read: boolean,
): ReadyChance {
  const { clayL } = history;
  const at = (clay: ClayParameters) => playLeach(clay, history, atHours).leach;
  const low = chanceOf(fit, (clay) => standardPpm(clay, clayL, at(clay)) <= gatePpm);
  const still = chanceOf(fit, (clay) => {
    const leach = at(clay);
    const later = afterHours(clay, clayL, leach, 24).ppm;
    return later - leach.ppm <= SURE.stillDay * later + 0.5;
  });
  const lowEnough = low >= SURE.low;
  return { low, still, lowEnough, ready: read && lowEnough && still >= SURE.still };
}
