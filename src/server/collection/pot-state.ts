import type { PotDrawing } from '../../contract/common.ts';
import { gradeIn } from '../../contract/seen.ts';
import {
  asMade,
  courseOf,
  DAYS_AHEAD,
  DRY_SHARE,
  goOnFrom,
  litreOf,
  natureOf,
  playPot,
  type Course,
  type DoneSince,
  type PotKnowledge,
  type PotWater,
} from '../../core/drift/index.ts';
import {
  daysBetween,
  dueState,
  isDue,
  plusDays,
  soaksDueOn,
  wateringOf,
  type Due,
  type DueSoak,
  type PlantNow,
  type PotHistory,
  type Regimen,
  type SeasonSite,
  type Watering,
} from '../../core/regimen/index.ts';
import { plannedNext, soakWaits, soonestDays, type PlannedVisit } from '../../core/plan/index.ts';
import { GUESSED_SHARE_USED, standingNow, type SinceFilled, type StandingNow } from '../../core/reservoir/index.ts';
import type { Place, Pot, RegimenRow } from '../database/entities.ts';
import type { Collection } from './collection.ts';
import { inUse } from './in-use.ts';
import { knownOf } from './knowledge.ts';
import { memo } from './memo.ts';
import type { PotEntry, PotPlan } from './pots.ts';
import { readParams } from './regimens.ts';
import { siteOf } from './season-site.ts';
import { NO_VISITS, type Fill, type Looked, type Skip, type Supplement, type Visits } from './visits.ts';
import { plainWater, waterNow, type WaterEntry } from './waters.ts';

/** A pot and everything derived from its log as of today. */
export type PotState = Visits & {
  readonly entry: PotEntry;
  readonly pot: Pot;
  /** Lines of its log that cannot be understood and are left out: what is reckoned of it may be off. */
  readonly oddLines: number;
  readonly place: Place;
  readonly regimen: {
    readonly id: string;
    readonly name: string;
    readonly params: Regimen;
    readonly since: string;
    readonly reason: string;
  };
  readonly due: Due;
  /** When it is due by its own days, whatever the plan says. */
  readonly own: Due;
  /** The watering the plan that stands holds for it next; undefined where it goes by its own days. */
  readonly planned: PlannedVisit | undefined;
  readonly plant: PlantNow;
  readonly site: SeasonSite;
  /** What of its log decides on what is to come. */
  readonly history: PotHistory;
  /** What it is given at its next watering. */
  readonly watering: Watering;
  /** Soaks that are due at today's watering; none where it is not due. */
  readonly soaksDue: readonly DueSoak[];
  /** A soak it stands in. */
  readonly inSoak: Supplement | undefined;
  readonly lastFill: Fill | undefined;
  /** A skip after the last fill. */
  readonly openSkip: Skip | undefined;
  /** What the old reservoir should read today; what nobody can know is left out. */
  readonly expected: StandingNow;
  /** What its log says of how it behaves; undefined before it was filled with a mix that is known. */
  readonly known: PotKnowledge | undefined;
  /** As it stands since it was filled, or since something was done to it; undefined where what it was last filled with is not known. */
  readonly standing: Standing | undefined;
  /** Gross strength its feed should read, µS/cm. */
  readonly aimEcUsCm: number;
  readonly drawing: PotDrawing;
};

/** A pot from a day on, and its course from there, a figure a day. */
export type Standing = { readonly water: PotWater; readonly on: string; readonly course: Course };

/** Kept pots in shelf order with their derived state. @param today the grower's calendar day */
export const potStates = memo((collection: Collection, today: string): readonly PotState[] =>
  [...collection.pots.values()]
    .filter(({ pot }) => pot.retiredOn === null)
    .flatMap((entry) => stateOf(collection, entry, today) ?? [])
    .sort(
      (a, b) =>
        a.place.position - b.place.position || a.pot.position - b.pot.position || (a.pot.code < b.pot.code ? -1 : 1),
    ),
);

/**
 * One pot, kept or retired; undefined where it is on no place or follows nothing.
 * @param history its visits where more than the last ones are wanted
 */
export function potState(collection: Collection, potId: string, today: string, history?: Visits): PotState | undefined {
  const entry = collection.pots.get(potId);
  const state = entry && stateOf(collection, entry, today);
  return state && history ? { ...state, ...history } : state;
}

function stateOf(collection: Collection, entry: PotEntry, today: string): PotState | undefined {
  const spell = entry.follows.findLast((f) => f.fromDate <= today);
  const regimen = spell && collection.regimens.get(spell.regimenId);
  if (!spell || !regimen) return undefined;
  const { workingDays } = collection.settings;
  return derived(entry, knownOf(entry, collection.pots), regimen, workingDays, weakestAtHand(collection.waters), today);
}

/** The weakest water at hand, µS/cm; where none was read, such as still waters usually are. */
const weakestAtHand = memo((waters: ReadonlyMap<string, WaterEntry>): number => {
  const read = inUse(waters).flatMap((water) => waterNow(water).ecUsCm ?? []);
  return read.length === 0 ? USUAL_STILL_EC : Math.min(...read);
});
const USUAL_STILL_EC = 40;

/** What an aim is counted over before a batch is begun, µS/cm: the water a pot's feed was last mixed with, for what is mixed with tap reads so much more. */
function usualBase(fills: readonly Fill[], weakest: number): number {
  const mixed = fills.findLast((fill) => fill.batch !== undefined)?.batch;
  return mixed?.baseEcUsCm ?? mixed?.water.ecUsCm ?? weakest;
}

const derived = memo(
  (
    entry: PotEntry,
    known: PotKnowledge | undefined,
    regimen: RegimenRow,
    workingDays: readonly number[],
    weakestEcUsCm: number,
    today: string,
  ): PotState => {
    try {
      return derive(entry, entry.visits, known, regimen, workingDays, weakestEcUsCm, today);
    } catch (error) {
      // One odd record is no reason for a room to fall: the pot stands as one of which nothing is known, and says so.
      console.error(`${entry.pot.code} cannot be reckoned:`, error);
      return {
        ...derive(entry, NO_VISITS, undefined, regimen, workingDays, weakestEcUsCm, today),
        oddLines: Math.max(1, entry.oddLines),
      };
    }
  },
);

const paramsOf = memo(readParams);
const siteAt = memo(siteOf);

function derive(
  entry: PotEntry,
  visits: Visits,
  known: PotKnowledge | undefined,
  row: RegimenRow,
  workingDays: readonly number[],
  weakestEcUsCm: number,
  today: string,
): PotState {
  const { pot, place, latitude, asked, oddLines } = entry;
  const { fills, skips, supplements, topUps, looks, rereads } = visits;
  const spell = entry.follows.findLast((f) => f.fromDate <= today)!;
  const regimen = { id: row.id, name: row.name, params: paramsOf(row), since: spell.fromDate, reason: spell.reason };
  const site = siteAt(place, latitude);
  const lastFill = fills[fills.length - 1];
  const lastSkip = skips[skips.length - 1];
  const openSkip = lastSkip && (!lastFill || lastSkip.seq > lastFill.seq) ? lastSkip : undefined;
  const plant = plantOf(pot);
  const history: PotHistory = {
    lastFilledOn: lastFill?.on,
    turn: nextTurn(lastFill, regimen),
    lookAgainOn: openSkip?.payload.lookAgainOn,
    lastSoaks: Object.fromEntries(supplements.map((s) => [s.payload.what, s.on])),
    since: regimen.since,
    asked,
  };
  const since = { topUps, rereads };
  const standing =
    known && lastFill?.on === known.filledOn ? standsSince(known, lastFill, since, weakestEcUsCm) : undefined;
  const expected = standing
    ? courseOn(standing, known!, since, lastFill!, today)
    : standingNow(() => ({}), today, sinceFilled(lastFill, since), weakestEcUsCm);
  const { own, due, planned } = dueOf(
    entry.plan,
    openSkip,
    { params: regimen.params, plant, site, history, standing },
    workingDays,
    today,
  );
  const watering = wateringOf(regimen.params, plant, history.turn);
  const target = watering.netEcUsCm + usualBase(fills, weakestEcUsCm);
  const guessedMl = lastFill ? guessedLeftMl(lastFill, watering, today) : 0;
  return {
    ...visits,
    entry,
    pot,
    oddLines,
    place,
    regimen,
    due,
    own,
    planned: planned?.visit,
    plant,
    site,
    history,
    watering,
    soaksDue: isDue(due) ? soaksNow(regimen.params, plant, site, history, today, entry.plan, planned?.visit) : [],
    inSoak: supplements.find((s) => s.endedAt === null),
    lastFill,
    openSkip,
    expected,
    known,
    standing,
    aimEcUsCm: target,
    drawing: drawingOf(pot, expected, guessedMl, known, target, looks),
  };
}

/** When a pot is due: by its own days, and by the plan that stands where one holds for it. */
function dueOf(
  plan: PotPlan | undefined,
  openSkip: Skip | undefined,
  of: {
    readonly params: Regimen;
    readonly plant: PlantNow;
    readonly site: SeasonSite;
    readonly history: PotHistory;
    readonly standing: Standing | undefined;
  },
  workingDays: readonly number[],
  today: string,
) {
  const { params, history } = of;
  const onDay = (lookAgainOn: string) => dueState(params, { ...history, lookAgainOn }, today, workingDays);
  const byRota = dueState(params, history, today, workingDays);
  const dries =
    isDue(byRota) && !openSkip ? driesOn(params, of.plant, of.site, history, of.standing, today) : undefined;
  const own = dries === undefined ? byRota : onDay(dries);
  const planned = plannedOf(plan, openSkip, params, history, own, today);
  return { own, due: planned ? onDay(planned.dueOn) : own, planned };
}

/** What the plan holds for a pot; a skip said after the plan was made is the later word. */
function plannedOf(
  plan: PotPlan | undefined,
  openSkip: Skip | undefined,
  regimen: Regimen,
  history: PotHistory,
  own: Due,
  today: string,
): ReturnType<typeof plannedNext> {
  if (!plan || (openSkip && openSkip.at > plan.madeAt)) return undefined;
  const n = regimen.feeds.length;
  const { days } = regimen.feeds[((((history.turn ?? 0) - 1) % n) + n) % n]!;
  const since = { lastFilledOn: history.lastFilledOn, ownDueOn: own.dueOn, pins: plan.pins.map(({ on }) => on) };
  return plannedNext(plan.visits, { ...since, soonestDays: soonestDays(days) }, today);
}

/** Soaks due at today's watering, without those the plan gives at a later one of the month. */
function soaksNow(
  regimen: Regimen,
  plant: PlantNow,
  site: SeasonSite,
  history: PotHistory,
  today: string,
  plan: PotPlan | undefined,
  planned: PlannedVisit | undefined,
): readonly DueSoak[] {
  const due = soaksDueOn(regimen, plant, site, history, today);
  return plan && planned ? due.filter(({ soak }) => !soakWaits(plan.visits, planned, soak.what)) : due;
}

/** What is left by what pots at large drink. */
const guessedLeftMl = (fill: Fill, watering: Watering, today: string): number =>
  fill.payload.pouredMl * Math.max(0, 1 - (GUESSED_SHARE_USED * daysBetween(fill.on, today)) / watering.everyDays);

function drawingOf(
  pot: Pot,
  expected: StandingNow,
  guessedMl: number,
  known: PotKnowledge | undefined,
  target: number,
  looks: readonly Looked[],
): PotDrawing {
  return {
    level: Math.min(1, Math.max(0, (expected.leftMl ?? guessedMl) / pot.reservoirMl)),
    // Of a pot whose leftovers were never noted it is what pots at large drink.
    levelIsGuess: !known || known.belief.seen.drinks === 0,
    ...(expected.ecUsCm !== undefined && target > 0 ? { ratio: expected.ecUsCm / target } : {}),
    ...(expected.ph !== undefined ? { ph: expected.ph } : {}),
    phLow: 5.5,
    phHigh: 6.5,
    salts: crustSeen(looks),
    stage: pot.stage,
    form: pot.medium,
  };
}

/**
 * The day a pot whose soak is due will have drunk its water, where its regimen lets it dry before a soak and it has not yet; no later than its outer
 * limit. Undefined where it need not wait, or nobody knows.
 */
function driesOn(
  regimen: Regimen,
  plant: PlantNow,
  site: SeasonSite,
  history: PotHistory,
  standing: Standing | undefined,
  today: string,
): string | undefined {
  if (!regimen.dryBeforeSoak || !standing || soaksDueOn(regimen, plant, site, history, today).length === 0)
    return undefined;
  const { freeMl } = standing.course;
  const day = freeMl.findIndex((ml) => ml <= DRY_SHARE * standing.water.reservoirMl);
  const dry = plusDays(standing.on, day < 0 ? freeMl.length : day);
  const filledOn = history.lastFilledOn ?? standing.on;
  const limit = regimen.latestDays === null ? dry : plusDays(filledOn, regimen.latestDays);
  const on = dry < limit ? dry : limit;
  return on > today ? on : undefined;
}

type Since = Pick<Visits, 'topUps' | 'rereads'>;

/** A pot since it was filled, with all that was done to it. */
function standsSince(known: PotKnowledge, lastFill: Fill, since: Since, baseEcUsCm: number): Standing {
  const { belief, water, season, filledOn } = known;
  const done = doneSince(lastFill, since, baseEcUsCm);
  if (done.length === 0) return { water, on: filledOn, course: known.course };
  const gone = goOnFrom(belief, water, season, done);
  const course = courseOf(DAYS_AHEAD);
  playPot(gone.water, natureOf(belief, gone.water, season), course);
  return { water: gone.water, on: plusDays(filledOn, gone.day), course: fromFound(course, done.at(-1)!) };
}

/** A course that begins at what was read, to the digit. */
function fromFound(course: Course, last: DoneSince): Course {
  if (last.kind !== 'read') return course;
  const { ecUsCm, ph, leftMl } = last.found;
  const by = (found: number | undefined, figures: Float64Array) => (found === undefined ? 0 : found - figures[0]!);
  const [more, higher] = [by(leftMl, course.freeMl), by(ph, course.ph)];
  const times = ecUsCm === undefined ? 1 : ecUsCm / Math.max(1e-6, course.ecUsCm[0]!);
  return {
    ...course,
    freeMl: course.freeMl.map((ml) => Math.max(0, ml + more)),
    ecUsCm: course.ecUsCm.map((ec) => ec * times),
    ph: course.ph.map((v) => v + higher),
  };
}

/**
 * The reservoir on a day, by the pot's own course. pH only where the mix's was read, or the reservoir's own since: a figure nobody could know is left
 * out, never invented.
 */
function courseOn(
  { on, course }: Standing,
  known: PotKnowledge,
  since: Since,
  lastFill: Fill,
  today: string,
): StandingNow {
  const day = Math.min(course.ph.length - 1, Math.max(0, daysBetween(on, today)));
  const phKnown = known.phKnown || since.rereads.some((r) => r.at > lastFill.at && r.found.ph !== undefined);
  const { freeMl, ecUsCm, ph } = course;
  return { leftMl: freeMl[day]!, ecUsCm: ecUsCm[day]!, ...(phKnown ? { ph: ph[day]! } : {}) };
}

/** What was done to a pot since it was filled, in the terms of the chemistry. @param baseEcUsCm of water nobody named */
function doneSince(lastFill: Fill, { topUps, rereads }: Since, baseEcUsCm: number): DoneSince[] {
  const dayOf = (on: string) => Math.max(0, daysBetween(lastFill.on, on));
  const events = [
    ...topUps.map(({ at, on, payload, water }): { at: string; done: DoneSince } => {
      const curve = water && plainWater(water)?.curve;
      const litre = curve ? litreOf(curve, asMade(curve)) : { ...NOBODY_NAMED, ecUsCm: baseEcUsCm };
      return { at, done: { kind: 'toppedUp', day: dayOf(on), ml: payload.ml, litre } };
    }),
    // What counts for nothing, since its pen was found off, is as if it had not been read.
    ...rereads
      .filter(({ found }) => Object.keys(found).length > 0)
      .map(({ at, on, found, phSd }): { at: string; done: DoneSince } => ({
        at,
        done: { kind: 'read', day: dayOf(on), found, phSd },
      })),
  ];
  return events
    .filter(({ at }) => at > lastFill.at)
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map(({ done }) => done);
}
/** Soft water: hardly any alkali, no ammonium. */
const NOBODY_NAMED = { strongIonsMeqL: 0.05, ammoniumMmolL: 0 };

/** Since it was last filled, in the order it happened; a figure of a pen found off tells nothing. */
function sinceFilled(
  lastFill: Fill | undefined,
  { topUps, rereads }: Pick<Visits, 'topUps' | 'rereads'>,
): SinceFilled[] {
  const events = [
    ...topUps.map((t): { at: string; event: SinceFilled } => ({
      at: t.at,
      event: { kind: 'toppedUp', on: t.on, ml: t.payload.ml },
    })),
    ...rereads.map((r): { at: string; event: SinceFilled } => ({
      at: r.at,
      event: { kind: 'read', on: r.on, found: r.found },
    })),
  ];
  return events
    .filter(({ at }) => lastFill && at > lastFill.at)
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map(({ event }) => event);
}

/** Of a rota the watering after the last one; of a regimen it came to since, the first. */
function nextTurn(lastFill: Fill | undefined, { params, since }: PotState['regimen']): number {
  const last = lastFill && lastFill.on >= since ? lastFill.payload.turn : null;
  return last === null ? 0 : (last + 1) % params.feeds.length;
}

/** How many looks in a row, up to three, found a crust. */
function crustSeen(all: readonly Looked[]): number {
  const looks = all.slice(-3).reverse();
  const clean = looks.findIndex(({ look }) => gradeIn(look, 'crust') === 'none');
  return clean === -1 ? looks.length : clean;
}

/** What of a pot's plant changes what it is given. */
export const plantOf = ({ stage, sensitivity, grows, heightCm }: Pot): PlantNow => ({
  stage,
  sensitivity,
  crop: grows === 'crop',
  heightCm,
});

/** A pot that can be followed: what it was last filled with is known. */
export type Followed = PotState & { readonly known: PotKnowledge; readonly standing: Standing };
export const isFollowed = (s: PotState): s is Followed => s.known !== undefined && s.standing !== undefined;

/** Days from today until a pot is down to its last; 0 where it is already, undefined where nobody knows or it is past what is looked ahead. */
export function daysUntilDry(s: PotState, today: string): number | undefined {
  if (!isFollowed(s)) return undefined;
  const { course, on, water } = s.standing;
  const from = Math.max(0, daysBetween(on, today));
  for (let day = from; day < course.freeMl.length; day++)
    if (course.freeMl[day]! <= DRY_SHARE * water.reservoirMl) return day - from;
  return undefined;
}
