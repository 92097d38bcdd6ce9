import { conditioned, spreadOf, standardCrowd, Z90, type Crowd } from '../statistics/index.ts';
import { BODIES, withLogs, type Bodies } from './bodies.ts';
import { natureAt, QUANTITY_NAMES, type PotNature, type QuantityName } from './pot-quantities.ts';
import {
  bodiesOf,
  courseOf,
  playPot,
  potPath,
  type Course,
  type PotDay,
  type PotSelf,
  type PotWater,
} from './pot-path.ts';
import { habitShare, heard, NO_VOICES, type Voices } from './voices.ts';

/*
 * What the log says of a pot's nature: how fast it drinks, what stays of its salts and where, what alkali its clay and roots give. A crowd of
 * pots that could be this one, each living the same fillings; every reading moves them towards those that foretold it (ensemble Kalman filter).
 * A pot with no reading stands where its clay batch, or pots at large, stand.
 */

/** Belief about a pot. */
export type PotBelief = {
  /** Pots that could be this one: each quantity in units of what was not known of it at first. */
  readonly crowd: Crowd;
  /** Readings that taught each. */
  readonly seen: { readonly drinks: number; readonly salts: number; readonly alkali: number };
  /** Who has foretold its pH better: the model, or the pot's own habit. */
  readonly voices: Voices;
};

export const MEMBERS = 64;
const SEED = 90210;
export const QUANTITIES_OF_POT = QUANTITY_NAMES.length;

/** Pots at large, before anything was read. */
export const POTS_AT_LARGE: PotBelief = Object.freeze({
  crowd: standardCrowd(MEMBERS, QUANTITIES_OF_POT, SEED),
  seen: { drinks: 0, salts: 0, alkali: 0 },
  voices: NO_VOICES,
});

/** 1 SD of pens and eyes: strength as a share, pH, what is left as a share of the fill; and of a colour read against a card. */
export const READING_SD = Object.freeze({ share: 0.03, ph: 0.06, left: 0.04, kitPh: 0.25 });
/** 1 SD from one interval to the next that no pen explains: thirst by the weather (ln), and strength and alkali by what was never logged. From memory. */
export const BETWEEN = Object.freeze({ drinks: 0.13, salts: 0.03, alkaliMeq: 0.01 });
/** Between two fillings a pot changes by so much of what was not known of it at first. */
const WALKS = 0.05;
/** Readings further off than so many SD are taken for slips in the measure of how far. */
const WILD = 2.5;

/** From one filling to the next: what stood in the pot when it was filled, and what was read when it was tipped out. */
export type Interval = {
  readonly water: PotWater;
  readonly days: number;
  /** How much drinking these days invite against the year's mean: season, and heat that was told. */
  readonly season: number;
  readonly leftMl: number | undefined;
  readonly cameOutEcUsCm: number | undefined;
  readonly cameOutPh: number | undefined;
  /** 1 SD of how that pH is read; a pen's where left out. */
  readonly phSd?: number | undefined;
  /** The pour, the flush or the wait was not the pot's usual. */
  readonly changed?: boolean;
};

/** What was foretold of a visit from what was known before it: the middle, and half of the 90 % range, of what would be read. Share of the fill, ln µS/cm, pH. */
export type Foretold = Readonly<Record<'left' | 'ec' | 'ph', { readonly middle: number; readonly half: number }>>;
export type Lived = {
  readonly belief: PotBelief;
  /** What stood in its bodies at the visit, by each member. */
  readonly old: Crowd;
  readonly foretold: Foretold;
  /** Knowing what was left: how strong the rest would be, and its pH. */
  readonly knowingLeft: { readonly ecUsCm: number; readonly ph: number };
};

/** What was left tells how fast it drank only where there was some left, and some gone. */
const tellsDrinking = (share: number) => share > 0.07 && share < 0.97;

/** The last of a reservoir, less than this share of it: wicks draw it unevenly, roots and clay change so little water by much. */
const DREGS_BELOW = 0.15;
/** 1 SD, ln and pH, of what no model says of the very last of it. House rules. */
export const DREGS_SD = Object.freeze({ ec: 0.35, ph: 0.7 });

/** How much of {@link DREGS_SD} counts: nothing while there is some left, all of it on the floor. @param left share of the reservoir */
export const dregsOf = (left: number): number => Math.min(1, Math.max(0, 1 - left / DREGS_BELOW));

/** What one interval teaches. Whatever was not read teaches nothing. */
export function learnInterval(belief: PotBelief, interval: Interval): PotBelief {
  return interval.days > 0 ? liveInterval(belief, interval).belief : belief;
}

/** A pot lived through an interval: what was foretold, what was read, what it taught. */
export function liveInterval(belief: PotBelief, interval: Interval): Lived {
  const { water, leftMl, cameOutEcUsCm, cameOutPh, season } = interval;
  const days = Math.max(1, Math.round(interval.days));
  const crowd: Crowd = { ...belief.crowd, at: walked(belief) };
  const course = courseOf(days);
  const before = playAll(crowd, water, course, (nature, m) => ({
    uses: usesOf(nature, season) * Math.exp(BETWEEN.drinks * CHANCE.at[m]!),
  }));
  const foretold = foretoldOf(before, belief, interval);
  const seen = { ...belief.seen };
  const left = leftMl === undefined ? undefined : Math.min(1, Math.max(0, leftMl / water.reservoirMl));
  if (left !== undefined && tellsDrinking(left)) {
    seen.drinks++;
    learn([crowd], before.left, left, READING_SD.left);
  }
  // What was left is known: how strong and how alkaline the rest is, is foretold from there.
  const now =
    left === undefined
      ? before
      : playAll(crowd, water, course, () => ({ uses: (1 - Math.max(LEAST_LEFT, left)) / days, evenly: true }));
  const dregs = dregsOf(spreadOf(now.left).mean);
  const knowingLeft = { ecUsCm: Math.exp(spreadOf(now.ln).mean), ph: spreadOf(now.ph).mean };
  if (cameOutEcUsCm !== undefined) {
    seen.salts++;
    const phs: Crowd = { members: crowd.members, columns: 1, at: now.ph };
    const sd = Math.hypot(READING_SD.share, BETWEEN.salts, DREGS_SD.ec * dregs);
    withLogs(now.old, () => learn([crowd, now.old, phs], now.ln, lnOf(cameOutEcUsCm), sd));
  }
  if (cameOutPh !== undefined) {
    seen.alkali++;
    withLogs(now.old, () =>
      learn([crowd, now.old], now.ph, cameOutPh, Math.hypot(readingPhSd(interval), DREGS_SD.ph * dregs)),
    );
  }
  const voices =
    cameOutPh === undefined
      ? belief.voices
      : heard(belief.voices, cameOutPh, foretold.model, interval.changed ?? false);
  return { belief: { crowd, seen, voices }, old: now.old, foretold, knowingLeft };
}

/** No reading is nearer than its tenth and what the pot itself differs by from one dip to the next. */
const readingPhSd = ({ phSd }: Pick<Interval, 'phSd'>) => Math.max(READING_SD.ph, phSd ?? 0);
const LEAST_LEFT = 0.05;
/** Chance of the weather, a member each: the same for every interval, since what is foretold is their spread alone. */
const CHANCE = standardCrowd(MEMBERS, 2, SEED + 1);

/** ln of a strength; a pen's 0, as good still water gives, is pure water in air. @param ecUsCm ≥ 0 */
export const lnOf = (ecUsCm: number): number => Math.log(Math.max(1, ecUsCm));

type Played = {
  readonly left: Float64Array;
  readonly ln: Float64Array;
  readonly ph: Float64Array;
  readonly old: Crowd;
};

/** Every member lives the interval. */
function playAll(
  crowd: Crowd,
  water: PotWater,
  course: Course,
  use: (nature: PotNature, member: number) => Pick<PotSelf, 'uses' | 'evenly'>,
): Played {
  const { members, columns, at } = crowd;
  const last = course.ph.length - 1;
  const played = {
    left: new Float64Array(members),
    ln: new Float64Array(members),
    ph: new Float64Array(members),
    old: { members, columns: BODIES, at: new Float64Array(members * BODIES) },
  };
  for (let m = 0; m < members; m++) {
    const nature = natureAt(at, m * columns);
    const self: PotSelf = {
      nature,
      bodies: bodiesOf(water, nature, m),
      givesMore: (BETWEEN.alkaliMeq / Math.sqrt(last)) * CHANCE.at[MEMBERS + m]!,
      ...use(nature, m),
    };
    played.old.at.set(playPot(water, self, course), m * BODIES);
    played.left[m] = course.freeMl[last]! / water.reservoirMl;
    played.ln[m] = lnOf(course.ecUsCm[last]!);
    played.ph[m] = course.ph[last]!;
  }
  return played;
}

/** Water that leaves a day in a season, a share of the fill. */
export const usesOf = (nature: PotNature, season: number): number => nature.loses * season ** nature.season;

function foretoldOf(
  { left, ln, ph }: Played,
  { voices }: PotBelief,
  { phSd, changed }: Interval,
): Foretold & { readonly model: number } {
  const of = (values: Float64Array, sd: number) => {
    const spread = spreadOf(values);
    return { middle: spread.mean, half: Z90 * Math.hypot(spread.sd, sd) };
  };
  const dregs = dregsOf(spreadOf(left).mean);
  const model = of(ph, Math.hypot(readingPhSd({ phSd }), DREGS_SD.ph * dregs));
  const habit = habitShare(voices, changed ?? false);
  return {
    left: of(left, READING_SD.left),
    ec: of(ln, Math.hypot(READING_SD.share, BETWEEN.salts, DREGS_SD.ec * dregs)),
    ph: { middle: model.middle + habit * ((voices.habit ?? 0) - model.middle), half: model.half },
    model: model.middle,
  };
}

/** One reading moves the crowds towards the members that foretold it. @param sd of the reading */
function learn(crowds: readonly Crowd[], foretold: Float64Array, read: number, sd: number): void {
  const { mean, sd: own } = spreadOf(foretold);
  // One wild reading is a slip, not the pot's nature.
  const wild = Math.max(1, Math.abs(read - mean) / Math.hypot(own, sd) / WILD);
  conditioned(crowds, Float64Array.from(foretold), read, (sd * wild) ** 2 + (wild ** 2 - 1) * own ** 2);
}

/** A pot changes a little from filling to filling. */
function walked({ crowd, seen }: PotBelief): Float64Array {
  const steps = WALK[(seen.drinks + seen.salts + seen.alkali) % WALK.length]!;
  return crowd.at.map((z, i) => z + WALKS * steps.at[i]!);
}
const WALK = Array.from({ length: 8 }, (_, i) => standardCrowd(MEMBERS, QUANTITIES_OF_POT, SEED + 2 + i));

/** What a soak test gives in an hour is, give or take so much, what the clay gives at once after a filling. House rules: more after drying. */
const SOAK_TO_FILLING = 0.35;
const DRIED_TIMES = 2;

/**
 * What a soak test teaches: the quick part of what the clay gives. What roots and slow clay do is not in it.
 * @param soak first hour, µeq a pot with 1 SD; its fill in mL; whether it dried out since
 */
export function learnSoak(
  belief: PotBelief,
  soak: { readonly ueq: number; readonly sdUeq: number; readonly fillMl: number; readonly driedSince: boolean },
): PotBelief {
  const sd = (Math.hypot(soak.sdUeq, SOAK_TO_FILLING * soak.ueq) / soak.fillMl) * (soak.driedSince ? DRIED_TIMES : 1);
  const crowd = { ...belief.crowd, at: Float64Array.from(belief.crowd.at) };
  learn([crowd], quantityOf(crowd, 'atOnce'), soak.ueq / soak.fillMl, sd);
  return { ...belief, crowd };
}

/** A quantity of each member, in its natural unit. */
export function quantityOf({ members, columns, at }: Crowd, name: QuantityName): Float64Array {
  return Float64Array.from({ length: members }, (_, m) => natureAt(at, m * columns)[name]);
}

/** A member of a belief as a pot. */
export function selfOf({ crowd }: PotBelief, water: PotWater, season: number, member: number): PotSelf {
  const nature = natureAt(crowd.at, member * crowd.columns);
  const free = water.free?.[member];
  return {
    nature,
    bodies: bodiesOf(water, nature, member),
    uses: usesOf(nature, season),
    ...(free === undefined ? {} : { free }),
  };
}

/** A pot as it most likely behaves in a season: the middle of its crowd. */
export function natureOf(belief: PotBelief, water: PotWater, season: number): PotSelf {
  const { members, columns, at } = belief.crowd;
  const middle = new Float64Array(columns);
  for (let i = 0; i < at.length; i++) middle[i % columns]! += at[i]! / members;
  const nature = natureAt(middle);
  const free = water.free && spreadOf(water.free).mean;
  return {
    nature,
    bodies: middleBodies(water, nature),
    uses: usesOf(nature, season),
    ...(free === undefined ? {} : { free }),
  };
}

function middleBodies(water: PotWater, nature: PotNature): Bodies {
  if (!water.bodies) return bodiesOf(water, nature, 0);
  const { members, at } = water.bodies;
  const middle = new Float64Array(BODIES);
  for (let i = 0; i < at.length; i++) middle[i % BODIES]! += at[i]! / members;
  return middle;
}

/** How a pot most likely stands at the end of so many days. */
export function forecastAt(
  { water, days, season }: Pick<Interval, 'water' | 'days' | 'season'>,
  belief: PotBelief,
): PotDay {
  return potPath(water, natureOf(belief, water, season), Math.max(0, Math.round(days))).at(-1)!;
}
