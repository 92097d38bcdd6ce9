import { daysBetween } from '../regimen/index.ts';
import { FLUSH_EFFICIENCY, learnEfficiency, shareLeft, thirstOver, type EfficiencyBelief } from '../reservoir/index.ts';
import { borrow, clayPrior } from './borrow.ts';
import {
  forecastAt,
  learnInterval,
  learnSoak,
  natureOf,
  POTS_AT_LARGE,
  type Interval,
  type PotBelief,
} from './pot-belief.ts';
import { courseOf, playPot, type Course, type PotWater } from './pot-path.ts';
import {
  alkaliAt,
  asMade,
  blendCurves,
  restCarbon,
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
  readonly runOffEcUsCm: number | undefined;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
};

/** An interval by the visit it ended on: what was read then, and what was forecast for it from what was known before. */
export type SeenInterval = Omit<Interval, 'water'> & {
  readonly endedOn: string;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
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
  /** Share of the body that was fresh mix. */
  readonly freshShare: number;
  /** How well a flush mixes with what stands in its pores. */
  readonly efficiency: EfficiencyBelief;
  /** From each filling to the visit it ended on, with what was read; oldest first. */
  readonly intervals: readonly SeenInterval[];
  /** How much drinking the days since it was filled invite. */
  readonly season: number;
};

/** What is known of a pot now: how it behaves, and what it was last filled with. `course`: from the day it was filled on, a figure a day. */
export type PotKnowledge = Alone & { readonly course: Course };

/** What the log says of a pot, oldest first, since it was last repotted: another clay is another nature. */
export type PotLog = {
  readonly poreMl: number;
  /** Thirst by month on its place. */
  readonly thirst: readonly number[];
  readonly fills: readonly FillSeen[];
  /** Soak tests that told something: first hour, µeq with 1 SD. */
  readonly soaks: readonly { readonly ueq: number; readonly sdUeq: number; readonly driedSince: boolean }[];
};

/** Days a pot is looked ahead from its filling: past the outer limit of every school. */
export const DAYS_AHEAD = 35;
/** Days whose thirst counts as one season. */
const SEASON_DAYS = 14;

type Filled = { readonly on: string; readonly mix: PouredMix; readonly water: PotWater };
type Pores = { readonly curve: TitrationCurve; readonly standing: PotSolution };

/**
 * A pot by its own log alone.
 * @returns undefined where it was never filled with a mix that is known
 */
export function knowAlone(log: PotLog): Alone | undefined {
  const { intervals, last, efficiency, belief: followed } = follow(log);
  if (!last) return undefined;
  let belief = followed;
  const { water, on, mix } = last;
  for (const soak of log.soaks) belief = learnSoak(belief, { ...soak, bodyMl: water.reservoirMl + log.poreMl });
  return {
    belief,
    water,
    filledOn: on,
    phKnown: mix.phKnown,
    freshShare: water.reservoirMl / (water.reservoirMl + water.poreMl),
    efficiency,
    // What stood in it each time is large, and wanted of few pots: followed again for them.
    intervals: intervals.map(({ water: _water, before: _before, ...seen }) => seen),
    season: thirstOver(log.thirst, on, SEASON_DAYS),
  };
}

/** From each filling to the visit it ended on, oldest first, as it was followed. */
export const followedIntervals = (log: PotLog): readonly FollowedInterval[] => follow(log).intervals;

function follow({ poreMl, thirst, fills }: PotLog): {
  readonly belief: PotBelief;
  readonly efficiency: EfficiencyBelief;
  readonly intervals: readonly FollowedInterval[];
  readonly last: Filled | undefined;
} {
  let belief = POTS_AT_LARGE;
  let efficiency: EfficiencyBelief = FLUSH_EFFICIENCY;
  const intervals: FollowedInterval[] = [];
  let filled: Filled | undefined;
  let last: Filled | undefined;
  for (const fill of fills) {
    let pores: Pores | undefined;
    if (filled) {
      const interval = intervalOf(filled, fill, thirst);
      const forecast = forecastAt(interval, belief);
      const { ppmMeterId, phMeterId } = fill;
      intervals.push({
        ...interval,
        before: belief,
        endedOn: fill.on,
        ppmMeterId,
        phMeterId,
        forecast: { ecUsCm: forecast.ecUsCm, ph: filled.mix.phKnown ? forecast.ph : undefined },
      });
      belief = learnInterval(belief, interval);
      pores = oldWater(interval, belief);
      efficiency = learnFlush(efficiency, fill, pores, poreMl);
    }
    // A mix nobody knows ends what can be followed; the next known one begins anew.
    filled = fill.mix && {
      on: fill.on,
      mix: fill.mix,
      water: filledWith(fill, fill.mix, pores, poreMl, efficiency.mean),
    };
    last = filled ?? last;
  }
  return { belief, efficiency, intervals, last };
}

/** The pot just filled: the mix, and in the pores what each stage of the flush left of what stood there before it. */
function filledWith(
  { pouredMl, flushed }: FillSeen,
  mix: PouredMix,
  pores: Pores | undefined,
  poreMl: number,
  efficiency: number,
): PotWater {
  let inPores = pores ? [{ volume: poreMl, of: pores.curve, standing: pores.standing }] : [];
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
  return { curve, standing: asMade(curve), reservoirMl: pouredMl, poreMl };
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

function intervalOf({ water, on }: Filled, to: FillSeen, thirst: readonly number[]): Interval {
  const days = daysBetween(on, to.on);
  const season = thirstOver(thirst, on, days);
  const { leftMl, cameOutEcUsCm, cameOutPh } = to;
  return to.toppedUp
    ? { water, days, season, leftMl: undefined, cameOutEcUsCm: undefined, cameOutPh: undefined }
    : { water, days, season, leftMl, cameOutEcUsCm, cameOutPh };
}

/** The old water at a visit: as read, and where it was not, as it most likely stood. */
function oldWater(interval: Interval, belief: PotBelief): Pores {
  const { water, cameOutEcUsCm, cameOutPh } = interval;
  const { curve } = water;
  const likely = forecastAt(interval, belief);
  return {
    curve,
    standing: restingAt(curve, strengthOf(curve, cameOutEcUsCm ?? likely.ecUsCm), cameOutPh ?? likely.ph),
  };
}

/** Old water at a strength and a pH: its carbon is at rest with the air. */
export function restingAt(curve: TitrationCurve, strength: number, ph: number): PotSolution {
  const carbonMmolL = restCarbon(curve, ph);
  return { strength, carbonMmolL, alkaliMeqL: alkaliAt(curve, strength, carbonMmolL, ph) };
}

/**
 * What a clay says of a pot in it before that pot was read, to hundredths: nobody knows it nearer, and so what is logged of one pot does not move
 * the forecasts of all its neighbours by nothing.
 */
export function priorOfClay(beliefs: readonly PotBelief[]): PotBelief {
  const prior = clayPrior(beliefs);
  if (prior === POTS_AT_LARGE) return prior;
  const told = (figure: number) => Math.round(figure * 100) / 100;
  const { mean, covariance } = prior.alkali;
  return { ...prior, alkali: { mean: mean.map(told), covariance: covariance.map((row) => row.map(told)) } };
}

/** A pot with what it borrows from its clay, and its course from the day it was filled on. @param prior as {@link priorOfClay} gives it */
export function knowInClay(alone: Alone, prior: PotBelief): PotKnowledge {
  const belief = borrow(alone.belief, prior);
  const course = courseOf(DAYS_AHEAD);
  playPot(alone.water, natureOf(belief, alone.water, alone.season), course);
  return { ...alone, belief, course };
}
