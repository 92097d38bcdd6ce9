import { requirePositive } from '../quantity/index.ts';
import { spreadsOf, type ClayFit, type ReadingError, type Spread } from './fit.ts';
import { playLeach, type LeachAct, type LeachHistory } from './history.ts';
import { CLAY_AT_LARGE, type ClayPrior } from './prior.ts';
import { AMOUNTS, SHAPES } from './shapes.ts';
import { afterHours, changeWater, dry, saltIn, type ClayParameters, type LeachState } from './stores.ts';

/*
 * The clay in a pot that was planted unleached: the same stores, filled to the brim for an hour with the holes taped. Unproven as a
 * remedy, so every hold is read and the readings teach the model.
 */

/** One filling of a pot with its holes taped. Readings are net of the water's base, by minutes since it was filled. */
export type ClayHold = {
  /** Hours since the first hold of the series. */
  readonly atHours: number;
  readonly waterL: number;
  readonly minutes: number;
  readonly readings: readonly { readonly afterMinutes: number; readonly netPpm: number }[];
  /** Strength of what stood in the pot before it was filled, over the base; undefined straight after another hold. */
  readonly fedNetPpm?: number | undefined;
};

/** Room between and in the pebbles that water fills, L per L of clay, where a pot's brim is not known. Common practice. */
export const BRIM_PER_CLAY = 0.5;
/** What a drained hold is followed by, L per L of clay: nothing but the drops that still run together. */
const DROPS = 0.001;
/**
 * Amounts in clay in use, before anything was read: the pores at about 600 ppm, anything from nothing to twice that and more; no dust left, and
 * what dissolves slowly halfway gone. House rule.
 */
const IN_USE = [
  { mean: 600, sd: 500 },
  { mean: 0, sd: 0.5 },
  { mean: 30, sd: 40 },
] as const;
/** 1 SD of a reading in a pot against the model: water lies in layers there, and the model follows the first minutes badly. */
export const POT_ERROR: ReadingError = Object.freeze({ ppm: 3, share: 0.06, ofBath: 0.1 });
/** A salt check is read after so many minutes: sooner, the model cannot follow it. House rule. */
export const CHECK_MINUTES = 30;

/** What is known of a pot's clay before its first salt check: clay at large, but nobody knows how much salt is still in it. */
export function potPrior(clay: ClayPrior): ClayPrior {
  const amount = (i: number) => (i < SHAPES ? undefined : { own: IN_USE[i - SHAPES]!, unit: AMOUNTS[i - SHAPES]! });
  return {
    mean: clay.mean.map((m, i) => {
      const of = amount(i);
      return of ? (of.own.mean - of.unit.mean) / of.unit.sd : m;
    }),
    covariance: clay.covariance.map((row, a) =>
      row.map((c, b) => {
        const of = amount(a);
        if (!of && b < SHAPES) return c;
        return of && a === b ? (of.own.sd / of.unit.sd) ** 2 : 0;
      }),
    ),
  };
}

/** The clay in a pot, of which nobody knows what bag it came from. */
export const POT_AT_LARGE: ClayPrior = Object.freeze(potPrior(CLAY_AT_LARGE));

/** Holds as the model plays them: filled, read, drained; fed again in between unless one follows straight on another. */
export function holdHistory(clayL: number, holds: readonly ClayHold[], fedNetPpm = 0): LeachHistory {
  requirePositive(clayL, 'the clay in the pot');
  const acts: LeachAct[] = [];
  for (const [i, hold] of holds.entries()) {
    if (i > 0) {
      if (hold.fedNetPpm !== undefined) acts.push({ kind: 'fed', atHours: hold.atHours, netPpm: hold.fedNetPpm });
      acts.push({ kind: 'change', atHours: hold.atHours, freshL: hold.waterL });
    }
    const readings = [...hold.readings].sort((a, b) => a.afterMinutes - b.afterMinutes);
    for (const r of readings)
      acts.push({ kind: 'reading', atHours: hold.atHours + r.afterMinutes / 60, netPpm: r.netPpm });
    acts.push({
      kind: 'change',
      atHours: hold.atHours + Math.max(hold.minutes, readings.at(-1)?.afterMinutes ?? 0) / 60,
      freshL: DROPS * clayL,
    });
  }
  return {
    clayL,
    firstL: holds[0]?.waterL ?? BRIM_PER_CLAY * clayL,
    acts,
    fedNetPpm: holds[0]?.fedNetPpm ?? fedNetPpm,
  };
}

export type HoldPlan = {
  readonly waterL: number;
  readonly minutes: number;
  /** After so many minutes a salt check is read. */
  readonly checkMinutes: number;
  /** What the pot is fed, over the base. */
  readonly fedNetPpm: number;
};
/** A check a round after the holds: the inner pores have given to the outer ones again. */
const CHECKED_AFTER_H = 7 * 24;

/**
 * What a salt check would read at the top now, and a week after each of so many holds.
 * @param atHours now, since the first hold of the history
 * @returns one spread for now, then one for each hold; ppm over the water's base
 */
export function forecastHolds(
  fit: Pick<ClayFit, 'draws'>,
  history: LeachHistory,
  atHours: number,
  plan: HoldPlan,
  most: number,
): Spread[] {
  return spreadsOf(
    fit,
    (clay) => Array.from({ length: most + 1 }, (_, holds) => checkAfter(clay, history, atHours, plan, holds)),
    POT_ERROR.ofBath,
  );
}

/** What a check would read of the feed alone, that the clay holds back: salt that belongs there. */
export function feedInCheck(fit: Pick<ClayFit, 'clay'>, fedNetPpm: number): number {
  const { retained } = fit.clay;
  return (retained * fedNetPpm) / (1 + retained);
}

function checkAfter(
  clay: ClayParameters,
  history: LeachHistory,
  atHours: number,
  plan: HoldPlan,
  holds: number,
): number {
  let leach = resting(clay, history, atHours, plan.fedNetPpm);
  for (let i = 0; i < holds; i++) leach = drained(clay, history.clayL, held(clay, history.clayL, leach, plan));
  if (holds > 0) leach = fed(clay, history.clayL, leach, plan.fedNetPpm);
  return afterHours(clay, history.clayL, changeWater(clay, leach, plan.waterL).leach, plan.checkMinutes / 60).ppm;
}

/** The drained and fed pot at a moment. */
function resting(clay: ClayParameters, history: LeachHistory, atHours: number, fedNetPpm: number): LeachState {
  const last = history.acts.at(-1);
  if (last) return { ...playLeach(clay, history, Math.max(atHours, last.atHours)).leach, ppm: fedNetPpm };
  return { ppm: fedNetPpm, waterL: clay.retained * history.firstL, ...dry(clay) };
}
const held = (clay: ClayParameters, clayL: number, leach: LeachState, plan: HoldPlan) =>
  afterHours(clay, clayL, changeWater(clay, leach, plan.waterL).leach, plan.minutes / 60);
const drained = (clay: ClayParameters, clayL: number, leach: LeachState) =>
  changeWater(clay, leach, DROPS * clayL).leach;
/** A week of use: the pores even out, and the water between the pebbles is feed when the check is made. */
const fed = (clay: ClayParameters, clayL: number, leach: LeachState, netPpm: number): LeachState => ({
  ...afterHours(clay, clayL, { ...leach, ppm: netPpm }, CHECKED_AFTER_H),
  ppm: netPpm,
});

/** What a pass of water takes: of all the salt in the pot, and of that inside the pebbles. Shares, 0 to 1. */
export type SaltTaken = { readonly ofAll: number; readonly fromInside: number };

/**
 * Why a flush is not a leach: what each takes off. A flush passes in minutes, cup by cup, and changes the water between the pebbles; a hold
 * leaves one filling standing, and draws on what is inside them.
 */
export function flushAgainstHold(
  fit: Pick<ClayFit, 'clay'>,
  history: LeachHistory,
  atHours: number,
  flush: { readonly litres: number; readonly minutes: number },
  hold: HoldPlan,
): { flush: SaltTaken; hold: SaltTaken } {
  const { clay } = fit;
  const { clayL } = history;
  const start = resting(clay, history, atHours, hold.fedNetPpm);
  const CUPS = 8;
  let flushed = start;
  for (let i = 0; i < CUPS; i++) {
    flushed = afterHours(clay, clayL, changeWater(clay, flushed, flush.litres / CUPS).leach, flush.minutes / CUPS / 60);
  }
  const taken = (end: LeachState): SaltTaken => {
    const after = drained(clay, clayL, end);
    const inside = (leach: LeachState) => saltIn(clay, clayL, leach) - leach.ppm * leach.waterL;
    return {
      ofAll: 1 - saltIn(clay, clayL, after) / saltIn(clay, clayL, start),
      fromInside: 1 - inside(after) / inside(start),
    };
  };
  return { flush: taken(flushed), hold: taken(held(clay, clayL, start, hold)) };
}

/** More holds than this and repotting into leached clay is less work and surer. House rule. */
export const MOST_HOLDS = 3;
export type HoldVerdict =
  | { readonly kind: 'clean' }
  | { readonly kind: 'hold'; readonly holds: number; readonly litres: number }
  | { readonly kind: 'repot'; readonly litres: number };

/** Holds needed until a check would pass the gate, against repotting. @param bars of `forecastHolds`, with at least `MOST_HOLDS` holds */
export function holdVerdict(bars: readonly Spread[], gatePpm: number, waterL: number): HoldVerdict {
  // Three times in four, not only by the middle: a hold is work, and a pot that fails its check is hurt.
  const holds = bars.slice(0, MOST_HOLDS + 1).findIndex((bar) => (bar.mean + bar.high) / 2 <= gatePpm);
  if (holds === 0) return { kind: 'clean' };
  if (holds < 0) return { kind: 'repot', litres: MOST_HOLDS * waterL };
  return { kind: 'hold', holds, litres: holds * waterL };
}
