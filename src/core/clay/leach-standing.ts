import { spreadsOf, type ClayPrior, type Spread } from './fit.ts';
import { playLeach, type LeachHistory } from './history.ts';
import { afterHours, flatPpm, type ClayParameters } from './pools.ts';

/** A bath has levelled off once it came this share of the way from what it began with to its flat reading. House rule. */
export const LEVELLED_OFF = 0.9;
/** A reading taken this far along says what the flat one will be; earlier ones pass falsely. House rule. */
export const TELLS_OF_FLAT = 0.6;

/** How a bath stands, by the model and its fit. Strengths in ppm over the water's base. */
export type LeachStanding = {
  /** Since the water on it now was poured on. */
  readonly hours: number;
  readonly readsNow: Spread;
  /** What it will read when it stands for ever: the gate is judged by this. */
  readonly flat: Spread;
  /** Share of the way to flat, 0 to 1. */
  readonly along: number;
  readonly levelledOff: boolean;
  /** Hours from now until it has levelled off; 0 when it has. */
  readonly levelsInHours: number;
  /** How far along it was at its latest reading; undefined when this water was not read yet. */
  readonly readAlong: number | undefined;
};

/** The bath at a moment. @param atHours since the first water, not before the last act */
export function leachStanding(
  fit: ClayPrior & { readonly clay: ClayParameters },
  history: LeachHistory,
  atHours: number,
): LeachStanding {
  const changes = history.acts.flatMap((act, i) => (act.kind === 'change' ? [i] : []));
  const from = changes.length > 0 ? history.acts[changes.at(-1)!]!.atHours : 0;
  const upTo = { ...history, acts: history.acts.slice(0, (changes.at(-1) ?? -1) + 1) };
  const [readsNow, flat] = spreadsOf(fit, (clay) => {
    const { leach } = playLeach(clay, history, atHours);
    return [leach.ppm, flatPpm(clay, history.clayL, leach)];
  });
  const start = playLeach(fit.clay, upTo).leach;
  const end = flatPpm(fit.clay, history.clayL, start);
  const along = (hours: number) => alongAfter(fit.clay, history.clayL, start, end, hours);
  const reading = history.acts.slice(upTo.acts.length).findLast((act) => act.kind === 'reading');
  const hours = atHours - from;
  const levels = hoursUntil((h) => along(h) >= LEVELLED_OFF);
  return {
    hours,
    readsNow: readsNow!,
    flat: flat!,
    along: along(hours),
    levelledOff: hours >= levels,
    levelsInHours: Math.max(0, levels - hours),
    readAlong: reading && along(reading.atHours - from),
  };
}

/** Hours after which a bath that begins so has levelled off. */
export function hoursToLevel(clay: ClayParameters, clayL: number, start: Parameters<typeof flatPpm>[2]): number {
  const end = flatPpm(clay, clayL, start);
  return hoursUntil((h) => alongAfter(clay, clayL, start, end, h) >= LEVELLED_OFF);
}

function alongAfter(
  clay: ClayParameters,
  clayL: number,
  start: Parameters<typeof flatPpm>[2],
  end: number,
  hours: number,
): number {
  const way = end - start.ppm;
  // Nothing left to take up: as flat as it gets from the start.
  if (way < 0.5) return 1;
  return Math.min(1, Math.max(0, (afterHours(clay, clayL, start, hours).ppm - start.ppm) / way));
}

const LONGEST_H = 24 * 30;
/** The first moment, to a tenth of an hour, from which it holds; a month at the most. */
function hoursUntil(holds: (hours: number) => boolean): number {
  let [low, high] = [0, LONGEST_H];
  if (holds(0)) return 0;
  if (!holds(high)) return high;
  while (high - low > 0.1) {
    const middle = (low + high) / 2;
    if (holds(middle)) high = middle;
    else low = middle;
  }
  return high;
}
