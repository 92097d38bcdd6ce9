import { chanceOf, spreadsOf, type ClayFit, type Spread } from './fit.ts';
import { playLeach, type LeachHistory } from './history.ts';
import { afterHours, flatPpm, hoursToFlat, standardPpm, type ClayParameters, type LeachState } from './stores.ts';

/** How a bath stands, by the model and its fit. Strengths in ppm over the water's base. */
export type LeachStanding = {
  /** Since the water on it now was poured on. */
  readonly hours: number;
  readonly readsNow: Spread;
  /** What it will read when another day adds less than a twentieth. */
  readonly flat: Spread;
  /** What this clay would come to in the standard soak, four weeks in as much still water: the gate is judged by this. */
  readonly standard: Spread;
  /** Share of the way to flat, 0 to 1. */
  readonly along: number;
  /** Another day adds less than a twentieth. */
  readonly levelledOff: boolean;
  /** Hours from now until it has levelled off; 0 when it has. */
  readonly levelsInHours: number;
  /** How far along it was at its latest reading; undefined when this water was not read yet. */
  readonly readAlong: number | undefined;
};

/** The bath at a moment. @param atHours since the first water, not before the last act */
export function leachStanding(fit: ClayFit, history: LeachHistory, atHours: number): LeachStanding {
  const changes = history.acts.flatMap((act, i) => (act.kind === 'change' ? [i] : []));
  const from = changes.length > 0 ? history.acts[changes.at(-1)!]!.atHours : 0;
  const upTo = { ...history, acts: history.acts.slice(0, (changes.at(-1) ?? -1) + 1) };
  const [readsNow, flat, standard] = spreadsOf(fit, (clay) => {
    const { leach } = playLeach(clay, history, atHours);
    return [leach.ppm, flatPpm(clay, history.clayL, leach, atHours - from), standardPpm(clay, history.clayL, leach)];
  });
  const start = playLeach(fit.clay, upTo).leach;
  const along = (hours: number) => alongAfter(fit.clay, history.clayL, start, hours);
  const reading = history.acts.slice(upTo.acts.length).findLast((act) => act.kind === 'reading');
  const hours = atHours - from;
  const levels = hoursToFlat(fit.clay, history.clayL, start);
  return {
    hours,
    readsNow: readsNow!,
    flat: flat!,
    standard: standard!,
    along: along(hours),
    levelledOff: hours >= levels,
    levelsInHours: Math.max(0, levels - hours),
    readAlong: reading && along(reading.atHours - from),
  };
}

/** Plans are made for clay that is a little worse than the middle of what is believed. House rule. */
const CAREFUL = 0.65;
/** The clay to plan for: of those that may be, the one at which two in three come to no more. */
export function carefulClay({ draws }: Pick<ClayFit, 'draws'>, history: LeachHistory, atHours: number): ClayParameters {
  const by = draws.map((clay) => ({
    clay,
    comesTo: standardPpm(clay, history.clayL, playLeach(clay, history, atHours).leach),
  }));
  return by.sort((a, b) => a.comesTo - b.comesTo)[Math.floor(CAREFUL * by.length)]!.clay;
}

function alongAfter(clay: ClayParameters, clayL: number, start: LeachState, hours: number): number {
  const way = flatPpm(clay, clayL, start) - start.ppm;
  // Nothing left to take up: as flat as it gets from the start.
  if (way < 0.5) return 1;
  return Math.min(1, Math.max(0, (afterHours(clay, clayL, start, hours).ppm - start.ppm) / way));
}

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
