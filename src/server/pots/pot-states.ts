import type { EntityManager } from 'typeorm';
import type { Meters } from '../shelf/meter-states.ts';
import type { PotDrawing } from '../../contract/common.ts';
import {
  daysBetween,
  dueState,
  isDue,
  plusDays,
  soaksDueOn,
  wateringOf,
  type AskedSoak,
  type Due,
  type DueSoak,
  type PlantNow,
  type PotHistory,
  type Regimen,
  type SeasonSite,
  type Watering,
} from '../../core/regimen/index.ts';
import { DRY_SHARE } from '../../core/drift/index.ts';
import { GUESSED_SHARE_USED, standingNow, type PouredAndCameOut, type SinceFilled, type StandingNow } from '../../core/reservoir/index.ts';
import type { Place, Pot, RegimenRow } from '../database/entities.ts';
import { oddLinesOf } from '../database/ahead.ts';
import { keptRows } from '../database/kept-rows.ts';
import { lastBases } from '../shelf/shelf-reader.ts';
import { readSettings } from '../shell/settings.ts';
import { knownPots } from '../drift/known-pots.ts';
import type { PotKnowledge } from '../drift/pot-knowledge.ts';
import { readParams } from './regimen-values.ts';
import { gradeIn } from '../../contract/seen.ts';
import { askedSoaks } from './asked-soaks.ts';
import { siteOf } from './season-site.ts';
import { NO_VISITS, readVisits, recentVisits, type Fill, type Looked, type Reread, type Skip, type Supplement, type TopUp, type Visits } from './visits.ts';

/** A pot and everything derived from its log as of today. */
export type PotState = {
  pot: Pot;
  /** Lines of its log that cannot be understood and are left out: what is reckoned of it may be off. */
  oddLines: number;
  place: Place;
  regimen: { id: string; name: string; params: Regimen; since: string; reason: string };
  /** Newest last. */
  fills: readonly Fill[];
  skips: readonly Skip[];
  supplements: readonly Supplement[];
  topUps: readonly TopUp[];
  looks: readonly Looked[];
  rereads: readonly Reread[];
  due: Due;
  plant: PlantNow;
  site: SeasonSite;
  /** What of its log decides on what is to come. */
  history: PotHistory;
  /** What it is given at its next watering. */
  watering: Watering;
  /** Soaks that are due at today's watering; none where it is not due. */
  soaksDue: readonly DueSoak[];
  /** A soak it stands in. */
  inSoak: Supplement | undefined;
  lastFill: Fill | undefined;
  /** A skip after the last fill. */
  openSkip: Skip | undefined;
  intervals: readonly PouredAndCameOut[];
  /** What the old reservoir should read today; what nobody can know is left out. */
  expected: StandingNow;
  /** What its log says of how it behaves; undefined before it was filled with a mix that is known. */
  known: PotKnowledge | undefined;
  /** Gross strength its feed should read, µS/cm. */
  aimEcUsCm: number;
  drawing: PotDrawing;
};

/**
 * Reads pots in shelf order with their derived state.
 * @param today the grower's calendar day
 * @param only one pot, with its whole history
 */
export async function readPotStates(manager: EntityManager, meters: Meters, today: string, only?: string): Promise<PotState[]> {
  const { workingDays, latitude } = await readSettings(manager);
  const [places, pots, followed, regimens, bases] = await Promise.all([
    keptRows<Place>(manager, 'SELECT * FROM place ORDER BY position'),
    only
      ? manager.query<Pot[]>('SELECT * FROM pot WHERE id = ?', [only])
      : keptRows<Pot>(manager, 'SELECT * FROM pot WHERE retiredOn IS NULL ORDER BY position'),
    manager.query<{ potId: string; regimenId: string; fromDate: string; reason: string }[]>(
      'SELECT potId, regimenId, reason, max(fromDate) AS fromDate FROM pot_regimen WHERE fromDate <= ? GROUP BY potId',
      [today],
    ),
    keptRows<Pick<RegimenRow, 'id' | 'name' | 'kind' | 'params'>>(manager, 'SELECT id, name, kind, params FROM regimen'),
    lastBases(manager, meters),
  ]);
  const placeById = new Map(places.map((p) => [p.id, p]));
  const sites = new Map(places.map((p) => [p.id, siteOf(p, latitude)]));
  const follows = new Map(followed.map((f) => [f.potId, f]));
  const regimenById = new Map(regimens.map((r) => [r.id, { ...r, params: readParams(r) }]));
  const usualBase = Math.min(...bases.values(), 40);
  const everyPot = only ? await manager.query<Pot[]>('SELECT * FROM pot WHERE retiredOn IS NULL OR id = ?', [only]) : pots;
  const recent = await recentVisits(
    manager,
    meters,
    everyPot.map((pot) => pot.id),
  );
  const known = await knownPots(manager, meters, everyPot, placeById, recent, latitude);
  const visits = only ? new Map([[only, await readVisits(manager, meters, only)]]) : recent;

  const asked = await askedSoaks(manager);
  const odd = await oddLinesOf(manager);
  const states: PotState[] = [];
  for (const pot of pots) {
    const place = placeById.get(pot.placeId);
    const spell = follows.get(pot.id);
    const r = regimenById.get(spell?.regimenId ?? '');
    if (!place || !spell || !r) continue;
    const regimen = { id: r.id, name: r.name, params: r.params, since: spell.fromDate, reason: spell.reason };
    const stateWith = (of: Visits, knowledge: PotKnowledge | undefined) =>
      derive(pot, place, regimen, of, knowledge, today, usualBase, workingDays, sites.get(place.id)!, asked.get(pot.id) ?? []);
    const oddLines = odd.get(pot.id) ?? 0;
    try {
      states.push({ ...stateWith(visits.get(pot.id) ?? NO_VISITS, known.get(pot.id)), oddLines });
    } catch (error) {
      // One odd record is no reason for a room to fall: the pot stands as one of which nothing is known, and says so.
      console.error(`${pot.code} cannot be reckoned:`, error);
      states.push({ ...stateWith(NO_VISITS, undefined), oddLines: Math.max(1, oddLines) });
    }
  }
  return states.sort((a, b) => a.place.position - b.place.position || a.pot.position - b.pot.position);
}

function derive(
  pot: Pot,
  place: Place,
  regimen: PotState['regimen'],
  { fills, skips, supplements, topUps, looks, rereads, intervals }: Visits,
  known: PotKnowledge | undefined,
  today: string,
  baseEcUsCm: number,
  workingDays: readonly number[],
  site: SeasonSite,
  asked: readonly AskedSoak[],
): Omit<PotState, 'oddLines'> {
  const lastFill = fills[fills.length - 1];
  const lastSkip = skips[skips.length - 1];
  const openSkip = lastSkip && (!lastFill || lastSkip.seq > lastFill.seq) ? lastSkip : undefined;
  const plant: PlantNow = { stage: pot.stage, sensitivity: pot.sensitivity, crop: pot.grows === 'crop', heightCm: pot.heightCm };
  const history: PotHistory = {
    lastFilledOn: lastFill?.on,
    turn: nextTurn(lastFill, regimen),
    lookAgainOn: openSkip?.payload.lookAgainOn,
    lastSoaks: Object.fromEntries(supplements.map((s) => [s.payload.what, s.on])),
    since: regimen.since,
    asked,
  };
  const byRota = dueState(regimen.params, history, today, workingDays);
  const dries = isDue(byRota) && !openSkip ? driesOn(regimen.params, plant, site, history, known, lastFill, today) : undefined;
  const due = dries === undefined ? byRota : dueState(regimen.params, { ...history, lookAgainOn: dries }, today, workingDays);
  const watering = wateringOf(regimen.params, plant, history.turn);
  const expected = standingNow((day) => expectedOn(known, lastFill, day), today, sinceFilled(lastFill, { topUps, rereads }), baseEcUsCm);
  const target = watering.netEcUsCm + baseEcUsCm;
  const days = lastFill ? daysBetween(lastFill.on, today) : 0;
  const guessedMl = lastFill ? lastFill.payload.pouredMl * Math.max(0, 1 - (GUESSED_SHARE_USED * days) / watering.everyDays) : 0;
  return {
    pot,
    place,
    regimen,
    fills,
    skips,
    supplements,
    topUps,
    looks,
    rereads,
    due,
    plant,
    site,
    history,
    watering,
    soaksDue: isDue(due) ? soaksDueOn(regimen.params, plant, site, history, today) : [],
    inSoak: supplements.find((s) => s.endedAt === null),
    lastFill,
    openSkip,
    intervals,
    expected,
    known,
    aimEcUsCm: target,
    drawing: {
      level: Math.min(1, Math.max(0, (expected.leftMl ?? guessedMl) / pot.reservoirMl)),
      // Of a pot whose leftovers were never noted it is what pots at large drink.
      levelIsGuess: !known || known.belief.seen.drinks.intervals === 0,
      ...(expected.ecUsCm !== undefined && target > 0 ? { ratio: expected.ecUsCm / target } : {}),
      ...(expected.ph !== undefined ? { ph: expected.ph } : {}),
      phLow: 5.5,
      phHigh: 6.5,
      salts: crustSeen(looks),
      stage: pot.stage,
      form: pot.medium,
    },
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
  if (!regimen.dryBeforeSoak || !known || !lastFill || known.filledOn !== lastFill.on || soaksDueOn(regimen, plant, site, history, today).length === 0)
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
function expectedOn(known: PotKnowledge | undefined, lastFill: Fill | undefined, today: string): StandingNow {
  // A mix that nobody knows was poured since: what is known is of an earlier filling.
  if (!known || !lastFill || lastFill.on !== known.filledOn) return {};
  const day = Math.min(known.course.ph.length - 1, Math.max(0, daysBetween(known.filledOn, today)));
  const { freeMl, ecUsCm, ph } = known.course;
  return { leftMl: freeMl[day]!, ecUsCm: ecUsCm[day]!, ...(known.phKnown ? { ph: ph[day]! } : {}) };
}

/** Since it was last filled, in the order it happened; a figure of a pen found off tells nothing. */
function sinceFilled(lastFill: Fill | undefined, { topUps, rereads }: Pick<Visits, 'topUps' | 'rereads'>): SinceFilled[] {
  const events = [
    ...topUps.map((t): { at: string; event: SinceFilled } => ({ at: t.at, event: { kind: 'toppedUp', on: t.on, ml: t.payload.ml } })),
    ...rereads.map((r): { at: string; event: SinceFilled } => ({ at: r.at, event: { kind: 'read', on: r.on, found: r.found } })),
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
