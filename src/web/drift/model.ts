import type { PotModelWire } from '../../contract/drift.ts';
import {
  advisePour,
  asMade,
  courseOf,
  drawForecast,
  natureOf,
  playPot,
  pouredAt,
  pourOutcome,
  type ForecastDay,
  type PotBelief,
  type PotToPour,
  type PotWater,
  type PourAdvice,
  type PourAim,
  type PourOutcome,
  type TitrationCurve,
} from '../../core/drift/index.ts';
import { seededRandom, seedOf, type Crowd } from '../../core/statistics/index.ts';

/* From the wire to the core's models, and what the room asks of them. Plain functions, so that a worker and a test can call them alike. */

const DRAWS = 192;
/** Poured at another pH than this from what it would be, the pot's habit says little. */
const CHANGED_PH = 0.35;

/** A pot's water as it came over the wire. */
export function waterOf({ curve, reservoirMl, poreMl, bodies, free, poured }: PotModelWire): PotWater {
  const table = (figures: readonly number[]) => Float64Array.from(figures);
  const made: TitrationCurve = {
    ...curve,
    strong: table(curve.strong),
    strongAtTwice: table(curve.strongAtTwice),
    carbonCharge: table(curve.carbonCharge),
    carbonChargeAtTwice: table(curve.carbonChargeAtTwice),
    carbonGas: table(curve.carbonGas),
    rest: table(curve.rest),
    restAtTwice: table(curve.restAtTwice),
    water: table(curve.water),
  };
  return {
    curve: made,
    standing: asMade(made),
    reservoirMl,
    poreMl,
    ...(bodies ? { bodies: crowdOf(bodies) } : {}),
    ...(free ? { free: Float64Array.from(free), gone: true } : {}),
    ...(poured ? { poured } : {}),
  };
}

const crowdOf = ({ members, columns, at }: PotModelWire['belief']['crowd']): Crowd => ({
  members,
  columns,
  at: Float64Array.from(at),
});

function beliefOf({ belief: { crowd, seen, voices } }: PotModelWire): PotBelief {
  return { crowd: crowdOf(crowd), seen, voices: { ...voices, habit: voices.habit } };
}

function toPour(model: PotModelWire, days: number): PotToPour {
  return {
    id: model.potId,
    water: waterOf(model),
    belief: beliefOf(model),
    season: model.season,
    days,
    window: model.window,
  };
}

export type PourQuestion = {
  readonly model: PotModelWire;
  readonly days: number;
  readonly horizon: number;
  readonly ph: number | undefined;
  readonly aim: PourAim;
};
export type PourAnswer = {
  readonly advice: PourAdvice;
  /** The pH that is drawn: the one asked for, or the advised. */
  readonly ph: number;
  readonly outcome: PourOutcome;
  readonly bands: readonly ForecastDay[];
  /** Other pours beside it: their mean paths. */
  readonly others: readonly { readonly ph: number; readonly path: readonly number[]; readonly outcome: PourOutcome }[];
  readonly path: readonly number[];
};

/** Everything the room draws of the filling that comes. */
export function answerPour({ model, days, horizon, ph: asked, aim }: PourQuestion): PourAnswer {
  const pot = toPour(model, days);
  const advice = advisePour([pot], aim)!;
  const ph = asked ?? advice.pourPh;
  const path = (at: number) => {
    const course = courseOf(horizon);
    const water = pouredAt(pot, at);
    playPot(water, natureOf(pot.belief, water, pot.season), course);
    return [...course.ph];
  };
  const bands = drawForecast(
    pouredAt(pot, ph),
    pot.belief,
    pot.season,
    horizon,
    DRAWS,
    seededRandom(seedOf(model.potId)),
    { read: false, widths: model.widths, changed: model.changed || Math.abs(ph - advice.pourPh) > CHANGED_PH },
  );
  // The line is the middle of its own band; the others lie beside it by what the model makes of another pour.
  const [middle, own] = [bands.map((day) => day.ph.middle), path(ph)];
  const others = besides(ph, advice.pourPh).map((at) => ({
    ph: at,
    path: path(at).map((v, day) => v + middle[day]! - own[day]!),
    outcome: pourOutcome(pot, at),
  }));
  return { advice, ph, outcome: pourOutcome(pot, ph), bands, others, path: middle };
}

/** Pours worth a line beside the chosen one: the advised, the usual, one low and one high; none too near another. */
function besides(ph: number, advised: number): number[] {
  const kept: number[] = [];
  for (const candidate of [advised, 5.8, 4.8, 6.2, 5.3])
    if ([ph, ...kept].every((other) => Math.abs(other - candidate) > 0.25) && kept.length < 3) kept.push(candidate);
  return kept.sort((a, b) => a - b);
}

/** A pot from its filling on, with its bands, as it will be read. Index 0 is the day it was filled. */
export function bandsOf(model: PotModelWire, daysAhead: number): readonly ForecastDay[] {
  const random = seededRandom(seedOf(model.potId));
  const { widths, changed, phSd } = model;
  return drawForecast(waterOf(model), beliefOf(model), model.season, model.daysGone + daysAhead, DRAWS, random, {
    widths,
    changed,
    phSd,
  });
}
