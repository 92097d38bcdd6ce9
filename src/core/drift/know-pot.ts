import { daysBetween } from '../regimen/index.ts';
import { FLUSH_EFFICIENCY, learnEfficiency, thirstOver, type EfficiencyBelief } from '../reservoir/index.ts';
import { spreadOf, type Gaussian } from '../statistics/index.ts';
import { borrow, CLAY_OF_POTS_AT_LARGE, clayPrior } from './borrow.ts';
import { scoreOf, type ForecastKind, type Score } from './calibration.ts';
import { HOT_TIMES, kindsOf, onTheWay, type Filling } from './fill-kinds.ts';
import { filledPot, restingAt, type Pores, type Stood } from './filled-pot.ts';
import {
  learnSoak,
  liveInterval,
  lnOf,
  natureOf,
  POTS_AT_LARGE,
  READING_SD,
  selfOf,
  type Foretold,
  type Interval,
  type Lived,
  type PotBelief,
} from './pot-belief.ts';
import type { FillSeen, PotLog, PouredMix } from './pot-log.ts';
import { courseOf, playPot, type Course, type PotWater } from './pot-path.ts';
import { strengthOf, type TitrationCurve } from './titration-curve.ts';

/*
 * What a pot's log says of it: its visits replayed through the chemistry, one after the other, each teaching what it read. Pots that stand in one clay then
 * lend each other what they know.
 */

/** An interval by the visit it ended on: what was read then, and what was foretold of it from what was known before. */
export type SeenInterval = Omit<Interval, 'water'> & {
  readonly filledMl: number;
  readonly endedOn: string;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
  /** What made it harder to foretell than most. */
  readonly kinds: readonly ForecastKind[];
  /** As {@link FillSeen} has it. */
  readonly byOutcome?: FillSeen['byOutcome'];
  readonly foretold: Foretold;
  /** Knowing what was left: strength, and pH where the filling's was read. A thirsty week is then no surprise. */
  readonly forecast: { readonly ecUsCm: number; readonly ph: number | undefined };
};
/** The same with what stood in the pot and what was known of it before: enough to draw its forecast again. */
export type FollowedInterval = SeenInterval & { readonly water: PotWater; readonly before: PotBelief };

/** A pot as it is known by itself, before it borrows from its clay. */
export type Alone = {
  readonly belief: PotBelief;
  readonly water: PotWater;
  readonly filledOn: string;
  /** The pH of the last filling was read, so that a forecast of pH stands on something. */
  readonly phKnown: boolean;
  /** How well a flush mixes with what stands in its pores. */
  readonly efficiency: EfficiencyBelief;
  /** From each filling to the visit it ended on, with what was read; oldest first. */
  readonly intervals: readonly SeenInterval[];
  /** How much drinking the days since it was filled invite. */
  readonly season: number;
  /** What makes this filling harder to foretell than most, as far as is known. */
  readonly kinds: readonly ForecastKind[];
  /** Its log as far as it was followed. */
  readonly followed: Followed;
};

/** What is known of a pot now: how it behaves, and what it was last filled with. `course`: from the day it was filled on, a figure a day. */
export type PotKnowledge = Alone & { readonly course: Course };

/** Days a pot is looked ahead from its filling: past the outer limit of every school. */
export const DAYS_AHEAD = 35;
/** What the week's alkali is counted over. */
const WEEK = 7;
/** Days whose thirst counts as one season. */
const SEASON_DAYS = 14;

type Filled = {
  readonly on: string;
  readonly mix: PouredMix;
  readonly water: PotWater;
  readonly kinds: readonly ForecastKind[];
  readonly flushed: FillSeen['flushed'];
};

/**
 * A pot by its own log alone.
 * @param before what was followed of the same log, or of one that began with the same fillings: it is gone on from there
 * @returns undefined where it was never filled with a mix that is known
 */
export function knowAlone(log: PotLog, before?: Followed): Alone | undefined {
  const followed = follow(log, before);
  const { intervals, last, efficiency } = followed;
  if (!last) return undefined;
  let { belief } = followed;
  const { water, on, mix, kinds } = last;
  for (const soak of log.soaks) belief = learnSoak(belief, { ...soak, fillMl: water.reservoirMl });
  const season = thirstOver(log.thirst, on, SEASON_DAYS, log.told);
  return {
    belief,
    water,
    filledOn: on,
    phKnown: mix.phKnown,
    efficiency,
    intervals,
    followed,
    season,
    kinds,
  };
}

/** From each filling to the visit it ended on, oldest first, as it was followed: with all that is needed to draw its forecast again. */
export function followedIntervals(log: PotLog): readonly FollowedInterval[] {
  const found: FollowedInterval[] = [];
  follow(log, undefined, (interval) => found.push(interval));
  return found;
}

/** A log as far as it was followed: enough to go on from. */
export type Followed = {
  /** Fillings it counts from, and up to. */
  readonly from: number;
  readonly until: number;
  readonly belief: PotBelief;
  readonly efficiency: EfficiencyBelief;
  readonly intervals: readonly SeenInterval[];
  readonly filled: Filled | undefined;
  readonly last: Filled | undefined;
  /** The filling before the last that was logged. */
  readonly before: Filling | undefined;
  readonly waits: readonly number[];
};

/** A pot is known by its last fillings: at least so many, and in steps of half of them, so that what was followed can mostly be gone on from. */
const FEWEST_FILLS = 26;
const FILLS_STEP = 13;

/** The filling a log of so many counts from. */
export const countsFrom = (fills: number): number =>
  fills <= FEWEST_FILLS + FILLS_STEP ? 0 : FILLS_STEP * Math.floor((fills - FEWEST_FILLS) / FILLS_STEP);

const NOTHING_FOLLOWED = {
  belief: POTS_AT_LARGE,
  efficiency: FLUSH_EFFICIENCY as EfficiencyBelief,
  intervals: [],
  filled: undefined,
  last: undefined,
  before: undefined,
  waits: [],
};

function follow(log: PotLog, before?: Followed, tell?: (interval: FollowedInterval) => void): Followed {
  const { fills } = log;
  const from = countsFrom(fills.length);
  const goesOn = before && before.from === from && before.until <= fills.length;
  let now: Followed = goesOn ? before : { ...NOTHING_FOLLOWED, from, until: from };
  const intervals = [...now.intervals];
  for (let i = now.until; i < fills.length; i++) {
    const fill = fills[i]!;
    const passed = now.filled && passedUntil(log, now, now.filled, fill);
    if (passed) {
      intervals.push(passed.seen);
      tell?.({ ...passed.seen, water: now.filled!.water, before: now.belief });
      now = { ...now, belief: passed.belief, efficiency: passed.efficiency, waits: [...now.waits, passed.seen.days] };
    }
    const { belief, efficiency } = now;
    const stood = { ...(passed ?? asFilled(now.filled)), fresh: log.fresh && i === 0 };
    // A mix nobody knows ends what can be followed; the next known one begins anew.
    const filled = fill.mix && {
      on: fill.on,
      mix: fill.mix,
      flushed: fill.flushed,
      kinds: kindsOf(fill, fills.slice(Math.max(from, i - 2), i)),
      water: filledPot({ ...fill, mix: fill.mix }, stood, log.poreMl, efficiency.mean, belief),
    };
    now = { ...now, filled, last: filled ?? now.last, before: i > from ? fills[i - 1] : undefined };
  }
  return { ...now, intervals, until: fills.length };
}

/** Filled anew on the day it was filled: what stands in its bodies is that filling. */
const asFilled = (filled: Filled | undefined): Stood =>
  filled
    ? { pores: { curve: filled.water.curve, standing: filled.water.standing }, old: filled.water.bodies }
    : { pores: undefined, old: undefined };

/** A filling lived until the visit it ended on; undefined where that was on the same day. */
function passedUntil(log: PotLog, now: Followed, filled: Filled, fill: FillSeen) {
  const days = daysBetween(filled.on, fill.on);
  if (days <= 0) return undefined;
  const { poreMl, thirst, told } = log;
  const season = thirstOver(thirst, filled.on, days, told);
  const hot = season > HOT_TIMES * thirstOver(thirst, filled.on, days);
  const kinds = [...filled.kinds, ...onTheWay(fill, days, now.waits), ...(hot ? (['hot'] as const) : [])];
  const interval = intervalOf(filled, fill, season, kinds);
  const lived = liveInterval(now.belief, interval);
  const pores = oldWater(filled.water.curve, fill, lived.knowingLeft);
  return {
    seen: seenInterval(interval, filled, fill, kinds, lived),
    belief: lived.belief,
    old: lived.old,
    pores,
    efficiency: learnFlush(now.efficiency, fill, pores, poreMl),
  };
}

/** What stood in it each time is large, and wanted of few pots: it is not kept here. */
function seenInterval(
  { water, ...read }: Interval,
  { mix }: Filled,
  fill: FillSeen,
  kinds: readonly ForecastKind[],
  { foretold, knowingLeft }: Lived,
): SeenInterval {
  return {
    ...read,
    filledMl: water.reservoirMl,
    endedOn: fill.on,
    ppmMeterId: fill.ppmMeterId,
    phMeterId: fill.phMeterId,
    kinds,
    ...(fill.byOutcome && fill.byOutcome.length > 0 ? { byOutcome: fill.byOutcome } : {}),
    foretold,
    forecast: { ecUsCm: knowingLeft.ecUsCm, ph: mix.phKnown ? knowingLeft.ph : undefined },
  };
}

/** Alkali that clay, roots and microbes give in a week of this filling, µeq a pot: mean and 1 SD over the members. */
export function weekUeqOf({ belief, water, season }: Pick<Alone, 'belief' | 'water' | 'season'>): {
  readonly mean: number;
  readonly sd: number;
} {
  const course = courseOf(WEEK);
  const gave = Array.from({ length: belief.crowd.members }, (_, m) => {
    playPot(water, selfOf(belief, water, season, m), course);
    return course.gaveUeq;
  });
  return spreadOf(gave);
}

/** How a forecast that is still to be read is told: by what it was read with last, and what is special about it until a day. */
export type Ahead = { readonly kinds: readonly ForecastKind[]; readonly phSd: number };

/** Of what stands in the pot, until a day. */
export function aheadOf(known: Alone, days: number, toppedUp: boolean): Ahead {
  const phSd = phSdOf(known);
  return { kinds: [...known.kinds, ...onTheWay({ phSd, toppedUp }, days, known.followed.waits)], phSd };
}

/** Of a filling still to come, so many days after it. */
export function aheadOfNext(known: Alone, next: Filling, days: number): Ahead {
  const { last, before, waits } = known.followed;
  const standing = last && { mix: last.mix, flushed: last.flushed, pouredMl: last.water.reservoirMl };
  const phSd = phSdOf(known);
  return { kinds: [...kindsOf(next, [before, standing]), ...onTheWay({ phSd, toppedUp: false }, days, waits)], phSd };
}

/** 1 SD of how its pH was last read. */
const phSdOf = ({ intervals }: Alone) => intervals.findLast((i) => i.cameOutPh !== undefined)?.phSd ?? READING_SD.ph;

/** What a run-off says of how well this pot is flushed: only a flush of one water can be told. */
function learnFlush(
  belief: EfficiencyBelief,
  { flushed, runOffEcUsCm }: FillSeen,
  pores: Pores,
  poreMl: number,
): EfficiencyBelief {
  const [stage, more] = flushed;
  if (runOffEcUsCm === undefined || !stage || more) return belief;
  const poresEcUsCm = pores.curve.ecUsCm * pores.standing.strength;
  return learnEfficiency(belief, {
    poresEcUsCm,
    waterEcUsCm: stage.water.ecUsCm,
    flushMl: stage.ml,
    poreMl,
    runOffEcUsCm,
  });
}

function intervalOf(
  { water, on, mix }: Filled,
  to: FillSeen,
  season: number,
  kinds: readonly ForecastKind[],
): Interval {
  const days = daysBetween(on, to.on);
  const { leftMl, cameOutEcUsCm, cameOutPh, phSd } = to;
  const changed = kinds.includes('changed') || kinds.includes('overdue');
  return to.toppedUp
    ? { water, days, season, leftMl: undefined, cameOutEcUsCm: undefined, cameOutPh: undefined, changed }
    : // Filled with a pH nobody read, what came out tells nothing of the clay.
      { water, days, season, leftMl, cameOutEcUsCm, cameOutPh: mix.phKnown ? cameOutPh : undefined, phSd, changed };
}

/** The old water at a visit: as read, and where it was not, as it most likely stood. */
function oldWater(
  curve: TitrationCurve,
  { cameOutEcUsCm, cameOutPh, toppedUp }: FillSeen,
  likely: { readonly ecUsCm: number; readonly ph: number },
): Pores {
  const read = toppedUp ? {} : { ecUsCm: cameOutEcUsCm, ph: cameOutPh };
  return {
    curve,
    standing: restingAt(curve, strengthOf(curve, read.ecUsCm ?? likely.ecUsCm), read.ph ?? likely.ph),
  };
}

/** Each visit that was read, against what had been foretold of it; without what was read because of how another reading came out. */
export function scoresOf(potId: string, intervals: readonly SeenInterval[]): Score[] {
  return intervals.flatMap(
    ({ endedOn: on, kinds, foretold, leftMl, cameOutEcUsCm, cameOutPh, filledMl, byOutcome }) => {
      const off = scoreOf(foretold, {
        left: leftMl === undefined ? undefined : leftMl / filledMl,
        ec: cameOutEcUsCm === undefined || byOutcome?.includes('ec') ? undefined : lnOf(cameOutEcUsCm),
        ph: byOutcome?.includes('ph') ? undefined : cameOutPh,
      });
      return Object.keys(off).length === 0 ? [] : [{ potId, on, kinds, off }];
    },
  );
}

const STEPS = 20;
/**
 * What a clay says of a pot in it before that pot was read, to twentieths: nobody knows it nearer, and so what is logged of one pot does not move
 * the forecasts of all its neighbours by nothing.
 */
export function priorOfClay(read: readonly Gaussian[]): Gaussian {
  const prior = clayPrior(read);
  if (prior === CLAY_OF_POTS_AT_LARGE) return prior;
  const told = (figure: number) => Math.round(figure * STEPS) / STEPS;
  return { mean: prior.mean.map(told), covariance: prior.covariance.map((row) => row.map(told)) };
}

/** A pot with what it borrows from its clay, and its course from the day it was filled on. @param prior as {@link priorOfClay} gives it */
export function knowInClay(alone: Alone, prior: Gaussian): PotKnowledge {
  const belief = borrow(alone.belief, prior);
  const course = courseOf(DAYS_AHEAD);
  const { water, season } = alone;
  playPot(water, natureOf(belief, water, season), course);
  return { ...alone, belief, course };
}
