import type { PotDrawing } from '../../contract/common.ts';
import { gradeIn } from '../../contract/seen.ts';
import { DRY_SHARE, type PotKnowledge } from '../../core/drift/index.ts';
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
import { GUESSED_SHARE_USED, standingNow, type SinceFilled, type StandingNow } from '../../core/reservoir/index.ts';
import type { Place, Pot, RegimenRow } from '../database/entities.ts';
import type { Collection } from './collection.ts';
import { knownOf } from './knowledge.ts';
import { memo } from './memo.ts';
import type { PotEntry } from './pots.ts';
import { readParams } from './regimens.ts';
import { siteOf } from './season-site.ts';
import { NO_VISITS, type Fill, type Looked, type Skip, type Supplement, type Visits } from './visits.ts';
import { waterNow, type WaterEntry } from './waters.ts';

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
  /** Gross strength its feed should read, µS/cm. */
  readonly aimEcUsCm: number;
  readonly drawing: PotDrawing;
};

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
  return derived(entry, knownOf(entry, collection.pots), regimen, workingDays, usualBase(collection.waters), today);
}

/** The weakest water at hand, µS/cm: what an aim is counted over before a batch is begun. */
const usualBase = memo((waters: ReadonlyMap<string, WaterEntry>): number =>
  Math.min(...[...waters.values()].flatMap((water) => waterNow(water).ecUsCm ?? []), 40),
);

const derived = memo(
  (
    entry: PotEntry,
    known: PotKnowledge | undefined,
    regimen: RegimenRow,
    workingDays: readonly number[],
    baseEcUsCm: number,
    today: string,
  ): PotState => {
    try {
      return derive(entry, entry.visits, known, regimen, workingDays, baseEcUsCm, today);
    } catch (error) {
      // One odd record is no reason for a room to fall: the pot stands as one of which nothing is known, and says so.
      console.error(`${entry.pot.code} cannot be reckoned:`, error);
      return {
        ...derive(entry, NO_VISITS, undefined, regimen, workingDays, baseEcUsCm, today),
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
  baseEcUsCm: number,
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
  const plant: PlantNow = {
    stage: pot.stage,
    sensitivity: pot.sensitivity,
    crop: pot.grows === 'crop',
    heightCm: pot.heightCm,
  };
  const history: PotHistory = {
    lastFilledOn: lastFill?.on,
    turn: nextTurn(lastFill, regimen),
    lookAgainOn: openSkip?.payload.lookAgainOn,
    lastSoaks: Object.fromEntries(supplements.map((s) => [s.payload.what, s.on])),
    since: regimen.since,
    asked,
  };
  const byRota = dueState(regimen.params, history, today, workingDays);
  const dries =
    isDue(byRota) && !openSkip ? driesOn(regimen.params, plant, site, history, known, lastFill, today) : undefined;
  const due =
    dries === undefined ? byRota : dueState(regimen.params, { ...history, lookAgainOn: dries }, today, workingDays);
  const watering = wateringOf(regimen.params, plant, history.turn);
  const expected = standingNow(
    (day) => courseOn(known, lastFill, day),
    today,
    sinceFilled(lastFill, { topUps, rereads }),
    baseEcUsCm,
  );
  const target = watering.netEcUsCm + baseEcUsCm;
  const guessedMl = lastFill ? guessedLeftMl(lastFill, watering, today) : 0;
  return {
    ...visits,
    entry,
    pot,
    oddLines,
    place,
    regimen,
    due,
    plant,
    site,
    history,
    watering,
    soaksDue: isDue(due) ? soaksDueOn(regimen.params, plant, site, history, today) : [],
    inSoak: supplements.find((s) => s.endedAt === null),
    lastFill,
    openSkip,
    expected,
    known,
    aimEcUsCm: target,
    drawing: drawingOf(pot, expected, guessedMl, known, target, looks),
  };
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
  known: PotKnowledge | undefined,
  lastFill: Fill | undefined,
  today: string,
): string | undefined {
  if (
    !regimen.dryBeforeSoak ||
    !known ||
    !lastFill ||
    known.filledOn !== lastFill.on ||
    soaksDueOn(regimen, plant, site, history, today).length === 0
  )
    return undefined;
  const { freeMl } = known.course;
  const day = freeMl.findIndex((ml) => ml <= DRY_SHARE * known.water.reservoirMl);
  const dry = plusDays(lastFill.on, day < 0 ? freeMl.length : day);
  const limit = regimen.latestDays === null ? dry : plusDays(lastFill.on, regimen.latestDays);
  const on = dry < limit ? dry : limit;
  return on > today ? on : undefined;
}

/**
 * The reservoir on a day, by the pot's own course since it was filled. Strength and pH only where that filling's were read or planned, and a pH
 * only where the mix's was read: a figure nobody could know is left out, never invented.
 */
function courseOn(known: PotKnowledge | undefined, lastFill: Fill | undefined, today: string): StandingNow {
  // A mix that nobody knows was poured since: what is known is of an earlier filling.
  if (!known || !lastFill || lastFill.on !== known.filledOn) return {};
  const day = Math.min(known.course.ph.length - 1, Math.max(0, daysBetween(known.filledOn, today)));
  const { freeMl, ecUsCm, ph } = known.course;
  return { leftMl: freeMl[day]!, ecUsCm: ecUsCm[day]!, ...(known.phKnown ? { ph: ph[day]! } : {}) };
}

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

/** A pot that can be followed: what it was last filled with is known. */
export type Followed = PotState & { readonly known: PotKnowledge };
export const isFollowed = (s: PotState): s is Followed => s.known !== undefined && s.known.filledOn === s.lastFill?.on;

/** Days from today until a pot is down to its last; 0 where it is already, undefined where nobody knows or it is past what is looked ahead. */
export function daysUntilDry(s: PotState, today: string): number | undefined {
  if (!isFollowed(s)) return undefined;
  const { freeMl } = s.known.course;
  const from = Math.max(0, daysBetween(s.known.filledOn, today));
  if (from >= freeMl.length) return undefined;
  // What was poured on since, or found when it was read, is there or is not on every day to come.
  const more = (s.expected.leftMl ?? freeMl[from]!) - freeMl[from]!;
  for (let day = from; day < freeMl.length; day++)
    if (freeMl[day]! + more <= DRY_SHARE * s.known.water.reservoirMl) return day - from;
  return undefined;
}
