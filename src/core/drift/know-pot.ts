import { daysBetween } from '../regimen/index.ts';
import {
  FLUSH_EFFICIENCY,
  learnEfficiency,
  shareLeft,
  thirstOver,
  type EfficiencyBelief,
  type ToldDay,
} from '../reservoir/index.ts';
import { spreadOf, type Crowd, type Gaussian } from '../statistics/index.ts';
import { fillBodies, BODIES, flushBodies, litreOf, type Litre } from './bodies.ts';
import { borrow, CLAY_OF_POTS_AT_LARGE, clayPrior } from './borrow.ts';
import { scoreOf, type ForecastKind, type Score } from './calibration.ts';
import {
  learnSoak,
  liveInterval,
  natureOf,
  POTS_AT_LARGE,
  selfOf,
  type Foretold,
  type Interval,
  type Lived,
  type PotBelief,
} from './pot-belief.ts';
import { bodiesOf, courseOf, playPot, type Course, type PotWater } from './pot-path.ts';
import { natureAt } from './pot-quantities.ts';
import {
  alkaliAt,
  asMade,
  blendCurves,
  restCarbon,
  standAt,
  strengthOf,
  type PotSolution,
  type TitrationCurve,
} from './titration-curve.ts';

/*
 * What a pot's log says of it: its visits replayed through the chemistry, one after the other, each teaching what it read. Pots that stand in one clay then
 * lend each other what they know.
 */

/** What was poured into a pot. */
export type PouredMix = {
  readonly curve: TitrationCurve;
  readonly standing: PotSolution;
  /** Pinned to a pH that was read. */ readonly phKnown: boolean;
};

/** A filling, with what the visit read first. Figures of pens that cannot be trusted are left out; µS/cm, mL. */
export type FillSeen = {
  readonly on: string;
  readonly pouredMl: number;
  /** Undefined where nobody knows what it was: what follows cannot be followed. */
  readonly mix: PouredMix | undefined;
  /** What it was flushed with, in this order. */
  readonly flushed: readonly { readonly water: TitrationCurve; readonly ml: number }[];
  /** Something was poured on since the filling before: what stood in it is not that filling's own course. */
  readonly toppedUp: boolean;
  readonly leftMl: number | undefined;
  readonly cameOutEcUsCm: number | undefined;
  readonly cameOutPh: number | undefined;
  /** 1 SD of how that pH was read. */
  readonly phSd: number;
  readonly runOffEcUsCm: number | undefined;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
};

/** An interval by the visit it ended on: what was read then, and what was foretold of it from what was known before. */
export type SeenInterval = Omit<Interval, 'water'> & {
  readonly filledMl: number;
  readonly endedOn: string;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
  /** What made it harder to foretell than most. */
  readonly kinds: readonly ForecastKind[];
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

/** What the log says of a pot, oldest first, since it was last repotted: another clay is another nature. */
export type PotLog = {
  readonly poreMl: number;
  /** Thirst by month on its place. */
  readonly thirst: readonly number[];
  /** Days there that were otherwise than their month. */
  readonly told: readonly ToldDay[];
  readonly fills: readonly FillSeen[];
  /** It was potted into new clay at the first of them. */
  readonly fresh: boolean;
  /** Soak tests that told something: first hour, µeq with 1 SD. */
  readonly soaks: readonly { readonly ueq: number; readonly sdUeq: number; readonly driedSince: boolean }[];
};

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
};
type Pores = { readonly curve: TitrationCurve; readonly standing: PotSolution };

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
      kinds: kindsOf(fill, i > from ? fills[i - 1] : undefined),
      water: filledPot({ ...fill, mix: fill.mix }, stood, log.poreMl, efficiency.mean, belief),
    };
    now = { ...now, filled, last: filled ?? now.last };
  }
  return { ...now, intervals, until: fills.length };
}

/** Filled anew on the day it was filled: what stands in its bodies is that filling. */
const asFilled = (filled: Filled | undefined): Stood =>
  filled
    ? { pores: { curve: filled.water.curve, standing: filled.water.standing }, old: filled.water.bodies }
    : { pores: undefined, old: undefined };
type Stood = { readonly pores: Pores | undefined; readonly old: Crowd | undefined };

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
    foretold,
    forecast: { ecUsCm: knowingLeft.ecUsCm, ph: mix.phKnown ? knowingLeft.ph : undefined },
  };
}

/** More than so much ammonium and alkalinity make a mix another kind of mix, mmol/L and mmol/L of carbon. */
const MUCH_AMMONIUM = 0.15;
const HARD_CARBON = 0.8;
/** A pour, a flush or a wait that differs from the last by more than this is a change: pH, and times. */
const CHANGED_PH = 0.35;
const CHANGED_TIMES = 1.35;
const CHANGED_FLUSH = 1.7;
const OVERDUE = 1.6;
/** Thirstier than its months by this much, a wait was a hot one. */
const HOT_TIMES = 1.2;
/** A pH that is read more coarsely than this was read by eye. */
const COLOUR_SD = 0.15;
/** Until so many visits were read a pot, or its new clay, is new. */
const NEW_VISITS = 3;

/** What is special about a filling. */
function kindsOf(fill: FillSeen, before: FillSeen | undefined): ForecastKind[] {
  const kinds: ForecastKind[] = [];
  const { mix } = fill;
  if (!mix) return kinds;
  const { curve, standing } = mix;
  if (standing.strength * curve.ammoniumMmolL > MUCH_AMMONIUM) kinds.push('ammonium');
  if (standing.carbonMmolL > HARD_CARBON) kinds.push('hard');
  if (before?.mix && isChanged(fill, before, mix, before.mix)) kinds.push('changed');
  return kinds;
}

function isChanged(fill: FillSeen, before: FillSeen, mix: PouredMix, was: PouredMix): boolean {
  const times = (a: number, b: number) => Math.max((a + 1e-9) / (b + 1e-9), (b + 1e-9) / (a + 1e-9));
  const ec = ({ curve, standing }: PouredMix) => Math.max(1, curve.ecUsCm * standing.strength);
  const flushMl = ({ flushed }: FillSeen) => flushed.reduce((sum, { ml }) => sum + ml, 0);
  return (
    Math.abs(standAt(mix.curve, mix.standing) - standAt(was.curve, was.standing)) > CHANGED_PH ||
    times(ec(mix), ec(was)) > CHANGED_TIMES ||
    times(flushMl(fill) + 0.2 * fill.pouredMl, flushMl(before) + 0.2 * before.pouredMl) > CHANGED_FLUSH
  );
}

/** What came to be special until it was read. */
function onTheWay(fill: FillSeen, days: number, waits: readonly number[]): ForecastKind[] {
  const usual = waits.length === 0 ? days : waits.reduce((sum, w) => sum + w, 0) / waits.length;
  return [
    ...(waits.length < NEW_VISITS ? (['new'] as const) : []),
    ...(days > OVERDUE * usual ? (['overdue'] as const) : []),
    ...(fill.phSd > COLOUR_SD ? (['kit'] as const) : []),
    ...(fill.toppedUp ? (['toppedUp'] as const) : []),
  ];
}

/** The pot as it stands once filled: the mix, and in its bodies what each stage of the flush left of what stood there before it. */
export function filledPot(
  fill: {
    readonly pouredMl: number;
    readonly mix: Pick<PouredMix, 'curve' | 'standing'>;
    readonly flushed: FillSeen['flushed'];
  },
  before: Stood & { readonly fresh: boolean },
  poreMl: number,
  efficiency: number,
  belief: PotBelief,
): PotWater {
  const { pouredMl, flushed, mix } = fill;
  let inPores = before.pores ? [{ volume: poreMl, of: before.pores.curve, standing: before.pores.standing }] : [];
  for (const { water, ml } of flushed) {
    const left = inPores.length > 0 ? shareLeft(ml, poreMl, efficiency) : 0;
    inPores = [
      ...inPores.map((part) => ({ ...part, volume: part.volume * left })),
      { volume: poreMl * (1 - left), of: water, standing: asMade(water) },
    ];
  }
  const curve = blendCurves([
    { volume: pouredMl, of: mix.curve, standing: mix.standing },
    ...inPores.filter((part) => part.volume > 0.001 * poreMl),
  ]);
  const water = { curve, standing: asMade(curve), reservoirMl: pouredMl, poreMl, fresh: before.fresh };
  const litre = litreOf(mix.curve, mix.standing);
  return {
    ...water,
    poured: { ...litre, ph: standAt(mix.curve, mix.standing) },
    bodies: filledBodies(belief, water, before.old, litre, flushed),
  };
}

/**
 * What each member has standing in its bodies once the pot was flushed and filled.
 * @param old at the visit, before anything was done; undefined where nothing is known of it
 */
export function filledBodies(
  { crowd }: PotBelief,
  water: PotWater,
  old: Crowd | undefined,
  poured: Litre,
  flushed: readonly { readonly water: TitrationCurve; readonly ml: number }[],
): Crowd {
  const { members, columns } = crowd;
  const drained = water.poreMl / water.reservoirMl;
  const at = new Float64Array(members * BODIES);
  for (let m = 0; m < members; m++) {
    const nature = natureAt(crowd.at, m * columns);
    const b = old ? old.at.slice(m * BODIES, (m + 1) * BODIES) : bodiesOf(water, nature, m);
    for (const stage of flushed)
      flushBodies(b, nature, litreOf(stage.water, asMade(stage.water)), stage.ml / water.reservoirMl, drained);
    fillBodies(b, nature, poured, drained);
    at.set(b, m * BODIES);
  }
  return { members, columns: BODIES, at };
}

/** What stands in a pot after so many days, by each member, and as it most likely reads. */
export function standsAfter(
  belief: PotBelief,
  water: PotWater,
  season: number,
  days: number,
): { readonly old: Crowd; readonly ecUsCm: number; readonly ph: number } {
  const course = courseOf(days);
  const { members } = belief.crowd;
  const at = new Float64Array(members * BODIES);
  for (let m = 0; m < members; m++) at.set(playPot(water, selfOf(belief, water, season, m), course), m * BODIES);
  playPot(water, natureOf(belief, water, season), course);
  return { old: { members, columns: BODIES, at }, ecUsCm: course.ecUsCm[days]!, ph: course.ph[days]! };
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

/** Each visit that was read, against what had been foretold of it. */
export function scoresOf(potId: string, intervals: readonly SeenInterval[]): Score[] {
  return intervals.flatMap(({ endedOn: on, kinds, foretold, leftMl, cameOutEcUsCm, cameOutPh, filledMl }) => {
    const off = scoreOf(foretold, {
      left: leftMl === undefined ? undefined : leftMl / filledMl,
      ec: cameOutEcUsCm ? Math.log(cameOutEcUsCm) : undefined,
      ph: cameOutPh,
    });
    return Object.keys(off).length === 0 ? [] : [{ potId, on, kinds, off }];
  });
}

/** Old water at a strength and a pH: its carbon is at rest with the air. */
export function restingAt(curve: TitrationCurve, strength: number, ph: number): PotSolution {
  const carbonMmolL = restCarbon(curve, ph);
  return { strength, carbonMmolL, alkaliMeqL: alkaliAt(curve, strength, carbonMmolL, ph) };
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
