import { FELL_BY } from './soak-rules.ts';
import { fillNormals, seededRandom, type Random } from '../statistics/index.ts';
import {
  alkaliAt,
  asMade,
  atRest,
  blendCurves,
  breathe,
  MIDDLE_INDEX,
  standAt,
  type PotSolution,
  type TitrationCurve,
} from './titration-curve.ts';

/*
 * A soak test: the holes taped, the pot filled, the pH read as the clay gives off its alkali. A jump of pH alone does not measure alkali: near-pure
 * water leaps at next to nothing, so what is not known of its carbon is carried along, and conductivity bounds the answer from above.
 */

/** What the pot was filled with. Still water is common and says least; the feed itself is buffered, so the same alkali is a readable move. */
export const SOAK_KINDS = ['still', 'feed', 'opened'] as const;
export type SoakKind = (typeof SOAK_KINDS)[number];

export type SoakTest = {
  /** `opened`: what was collected stood open and was stirred for a day before it was read: carbon is then at rest with the air. */
  readonly kind: SoakKind;
  readonly fill: { readonly curve: TitrationCurve; readonly standing: PotSolution; readonly ml: number };
  /** What stood in the pores before; undefined where nobody knows, and then nothing is carried over. */
  readonly carried?:
    { readonly curve: TitrationCurve; readonly standing: PotSolution; readonly ml: number } | undefined;
  /** Covered, or standing open to the air with half its CO2 gone in half a day. */
  readonly covered: boolean;
  /** 1 SD (log) of the inorganic carbon the filling began with; water aged in air is better known. */
  readonly carbonSd: number;
  /** `phSd`: 1 SD of a reading that is a range, such as a drop kit's; a pen's where left out. */
  readonly readings: readonly {
    readonly minutes: number;
    readonly ph: number;
    readonly phSd?: number | undefined;
    readonly ecUsCm?: number | undefined;
  }[];
  /** Water that leaked away, as a share of the fill. */
  readonly leaked?: number;
};

export type SoakResult =
  | { readonly ok: false; readonly why: 'tooFew' | 'fell' | 'outOfOrder'; readonly message: string }
  | {
      readonly ok: true;
      /** Given off in the first hour, µeq a pot: middle and 90 %, and one standard deviation. */
      readonly firstHourUeq: {
        readonly middle: number;
        readonly low: number;
        readonly high: number;
        readonly sd: number;
      };
      /** Minutes to two thirds of it. */
      readonly minutes: number;
      /** Poor: the range spans more than a factor of four. */
      readonly determined: 'well' | 'poorly';
      /** Still climbing at the last reading: more comes than was seen. */
      readonly stillRising: boolean;
      /** What the readings should have been at the middle, for the picture. */
      readonly course: readonly {
        readonly minutes: number;
        readonly ph: number;
        readonly low: number;
        readonly high: number;
      }[];
    };

const DRAWS = 2500;
/** Before the test: a pot gives 30 µeq in an hour, within a factor of eight nine times in ten, two thirds of it in 25 minutes. Common practice. */
const PRIOR = { lnUeq: Math.log(30), sdUeq: 1.25, lnMinutes: Math.log(25), sdMinutes: 0.5 };
/** How well a label tells how a feed is buffered, 1 SD (log): phosphate is seldom declared closely. House rule. */
const BUFFER_SD = 0.3;
const PEN = { ph: 0.05, offset: 0.05, share: 0.02, digitUsCm: 2 };
/** Conductivity of a meq/L of bicarbonate with its cation, µS/cm, and of neutral salts coming off beside it at most: their share is not known. */
const EC_PER_MEQ = 95;
/** Half a range's width for its standard deviation, anywhere in it alike. */
const HALF_OF_RANGE = Math.sqrt(3);
const POOR_FACTOR = 4;
const HOUR = 60;

/**
 * What a pot's clay gives off, from a soak test.
 * @returns the first hour's alkali with an honest range, or why the test says nothing
 */
export function fitSoak(test: SoakTest, seed = 1): SoakResult {
  const { readings } = test;
  if (readings.length < 2)
    return {
      ok: false,
      why: 'tooFew',
      message: 'One reading tells no move: read at the start and at least once more.',
    };
  if (readings.some((r, i) => i > 0 && r.minutes <= readings[i - 1]!.minutes))
    return {
      ok: false,
      why: 'outOfOrder',
      message: 'The minutes run backwards: put the readings in the order they were taken.',
    };
  const [first, last] = [readings[0]!, readings.at(-1)!];
  // A kit's range may hold a rise its middle does not.
  const slack = HALF_OF_RANGE * ((first.phSd ?? 0) + (last.phSd ?? 0));
  if (last.ph + slack < first.ph - FELL_BY)
    return {
      ok: false,
      why: 'fell',
      message: 'The pH fell, and clay does not do that: check the pen in a standard, or what was left in the pot.',
    };
  const body = bodyOf(test);
  const random = seededRandom(seed);
  // Readings that surprise leave hardly a draw of the prior standing: so the readings are let in by and by, each time drawing round where they point.
  let from: Proposal = { mean: [0, 0, 0, 0], sd: [1, 1, 1, 1] };
  let weighted: Weighted[] = [];
  for (const share of LET_IN) {
    weighted = draw(test, body, from, share, random);
    from = proposalOf(weighted);
  }
  const hour = weightedQuantiles(weighted.map((d) => [d.givenUeq, d.weight]));
  const sum = weighted.reduce((s, d) => s + d.weight, 0);
  const mean = weighted.reduce((s, d) => s + d.weight * d.givenUeq, 0) / sum;
  const sd = Math.sqrt(weighted.reduce((s, d) => s + d.weight * (d.givenUeq - mean) ** 2, 0) / sum);
  const minutes = weightedQuantiles(weighted.map((d) => [d.minutes, d.weight])).middle;
  const course = Array.from({ length: 13 }, (_, i) => (i / 12) * Math.max(HOUR, last.minutes)).map((at) => {
    const { middle, low, high } = weightedQuantiles(
      weighted.map((d) => [phAt(test, body, d.hourUeq, d.minutes, d.carbon, at), d.weight]),
    );
    return { minutes: at, ph: middle, low, high };
  });
  return {
    ok: true,
    firstHourUeq: { ...hour, sd },
    minutes,
    determined: hour.high > POOR_FACTOR * hour.low ? 'poorly' : 'well',
    stillRising: test.kind !== 'opened' && last.minutes < 2 * minutes,
    course,
  };
}

/** Share of the readings' weight that counts in each pass; the last counts in full. */
const LET_IN = [0.05, 0.3, 1];
/** The proposal is drawn wider than what it was learned from, so that its tails are covered. */
const WIDER = 1.5;

/** Four standard deviates: alkali of the hour, its minutes, the carbon at the start, the pen's offset. */
type Proposal = { readonly mean: readonly number[]; readonly sd: readonly number[] };
type Weighted = {
  readonly z: readonly number[];
  readonly hourUeq: number;
  readonly givenUeq: number;
  readonly minutes: number;
  readonly carbon: number;
  readonly offset: number;
  readonly weight: number;
};

function draw(test: SoakTest, body: Body, { mean, sd }: Proposal, share: number, random: Random): Weighted[] {
  const normals = new Float64Array(mean.length + 1);
  const draws: (Omit<Weighted, 'weight'> & { log: number })[] = [];
  for (let d = 0; d < DRAWS; d++) {
    fillNormals(random, normals);
    const z = mean.map((m, i) => m + sd[i]! * normals[i]!);
    const hourUeq = Math.exp(PRIOR.lnUeq + PRIOR.sdUeq * z[0]!);
    const minutes = Math.exp(PRIOR.lnMinutes + PRIOR.sdMinutes * z[1]!);
    const carbon = body.standing.carbonMmolL * Math.exp(test.carbonSd * z[2]!);
    const offset = PEN.offset * z[3]!;
    // Were the filling better buffered than its label says, the same move would have taken so much more.
    const givenUeq = hourUeq * Math.exp((test.kind === 'feed' ? BUFFER_SD : 0) * normals[mean.length]!);
    // Prior over proposal, both normal in z.
    const toPrior = z.reduce((sum, value, i) => sum - value ** 2 / 2 + normals[i]! ** 2 / 2, 0);
    const log = toPrior + share * logLikelihood(test, body, hourUeq, minutes, carbon, offset);
    draws.push({ z, hourUeq, givenUeq, minutes, carbon, offset, log });
  }
  const most = Math.max(...draws.map((d) => d.log));
  return draws.map(({ log, ...d }) => ({ ...d, weight: Math.exp(log - most) })).filter((d) => d.weight > 1e-6);
}

function proposalOf(weighted: readonly Weighted[]): Proposal {
  const whole = weighted.reduce((sum, d) => sum + d.weight, 0);
  const mean = [0, 1, 2, 3].map((i) => weighted.reduce((sum, d) => sum + d.weight * d.z[i]!, 0) / whole);
  const sd = mean.map(
    (m, i) =>
      WIDER * Math.max(0.1, Math.sqrt(weighted.reduce((sum, d) => sum + d.weight * (d.z[i]! - m) ** 2, 0) / whole)),
  );
  return { mean, sd };
}

/** `ph`: as it stands before the clay gives anything. */
type Body = {
  readonly curve: TitrationCurve;
  readonly standing: PotSolution;
  readonly ml: number;
  readonly ph: number;
};

/** What fills the pot, with what was carried over in the pores, less what leaked. */
function bodyOf({ fill, carried, leaked }: SoakTest): Body {
  const kept = fill.ml * (1 - (leaked ?? 0));
  if (!carried || carried.ml <= 0)
    return { curve: fill.curve, standing: fill.standing, ml: kept, ph: standAt(fill.curve, fill.standing) };
  const curve = blendCurves([
    { volume: kept, of: fill.curve, standing: fill.standing },
    { volume: carried.ml, of: carried.curve, standing: carried.standing },
  ]);
  return { curve, standing: asMade(curve), ml: kept + carried.ml, ph: standAt(curve, asMade(curve)) };
}

/** Share of the first hour's alkali given by a minute. */
function given(at: number, minutes: number): number {
  return (1 - Math.exp(-at / minutes)) / (1 - Math.exp(-HOUR / minutes));
}

function phAt(
  test: SoakTest,
  { curve, standing, ml, ph }: Body,
  hourUeq: number,
  minutes: number,
  carbon: number,
  at: number,
): number {
  // The water's pH is known and its carbon is not: with more carbon there was more alkali to begin with.
  const alkali = alkaliAt(curve, standing.strength, carbon, ph) + (hourUeq * given(at, minutes)) / ml;
  if (test.kind === 'opened') return atRest(curve, standing.strength, alkali).ph;
  if (test.covered) return standAt(curve, { strength: standing.strength, alkaliMeqL: alkali, carbonMmolL: carbon });
  const breathed = breathe(curve, standing.strength, alkali, carbon, MIDDLE_INDEX, at / (24 * 60));
  return standAt(curve, { strength: standing.strength, alkaliMeqL: alkali, carbonMmolL: breathed });
}

function logLikelihood(
  test: SoakTest,
  body: Body,
  hourUeq: number,
  minutes: number,
  carbon: number,
  offset: number,
): number {
  let log = 0;
  const start = test.readings[0]!;
  for (const reading of test.readings) {
    const expected = phAt(test, body, hourUeq, minutes, carbon, reading.minutes) + offset;
    const sd = Math.max(reading.phSd ?? 0, body.curve.ecUsCm < PURE_BELOW ? PURE_PH : PEN.ph);
    log -= ((reading.ph - expected) / sd) ** 2 / 2;
    if (reading.ecUsCm === undefined || start.ecUsCm === undefined || reading === start) continue;
    // Neutral salts come off too, so conductivity bounds the alkali from above: only what would have to show more than it did counts against it.
    const shows = EC_PER_MEQ * ((hourUeq * given(reading.minutes, minutes)) / body.ml);
    const rose = reading.ecUsCm - start.ecUsCm;
    const ecSd = Math.hypot(PEN.share * reading.ecUsCm, PEN.digitUsCm);
    if (shows > rose) log -= ((shows - rose) / ecSd) ** 2 / 2;
  }
  return log;
}

/** A glass electrode wanders where hardly anything conducts, µS/cm; 1 SD there. */
const PURE_BELOW = 50;
const PURE_PH = 0.2;

function weightedQuantiles(values: readonly (readonly [number, number])[]): {
  middle: number;
  low: number;
  high: number;
} {
  const sorted = [...values].sort((a, b) => a[0] - b[0]);
  const whole = sorted.reduce((sum, [, w]) => sum + w, 0);
  const at = (share: number) => {
    let run = 0;
    for (const [value, weight] of sorted) if ((run += weight) >= share * whole) return value;
    return sorted.at(-1)![0];
  };
  return { middle: at(0.5), low: at(0.05), high: at(0.95) };
}
