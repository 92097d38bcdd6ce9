import { plusDays } from '../../core/regimen/index.ts';
import type {
  WorkTime,
  AdviceAnswer,
  AwayRow,
  Bottle,
  PenAnswer,
  Place,
  RegimenRow,
  SeasonRow,
  Treatment,
  TrialPotRow,
  TrialRow,
} from '../database/entities.ts';
import { SEASON_ID } from '../database/entities/season.ts';
import { foldBatches, foldDrawn, foldProducts, momentOf, type BatchEntry, type ProductEntry } from './batches.ts';
import type { Collection } from './collection.ts';
import { foldMeters } from './meters.ts';
import { grouped } from './grouped.ts';
import { foldPots, type PotEntry, type PotsFolded } from './pots.ts';
import type { Rows } from './rows.ts';
import { foldSettings } from './settings.ts';
import { allAnew, byText, inOrder, inOrderOf, sameOr, withAnew } from './same.ts';
import { drawnAnew, foldMadeOn, foldTank, type Tank } from './tanks.ts';
import { touchedBy, type Touched } from './touched.ts';
import type { Fill } from './visits.ts';
import { ALWAYS, foldWaters, type WaterEntry } from './waters.ts';

/** How far back what was poured on a pot is kept for summing up, days. */
export const POURED_DAYS = 240;

type Folded = Omit<Collection, 'commit'>;

/** Things folded at one go: some milliseconds' worth. */
const POTS_A_STEP = 40;
const BATCHES_A_STEP = 250;

/**
 * The whole collection from the file, step by step.
 * @param before what stood there: what still says the same keeps its identity
 */
export function* foldAll(rows: Rows, before?: Collection): Generator<void, Folded> {
  const was = <K extends keyof Collection>(part: K): Collection[K] | undefined => before?.[part];
  const seq = lastLine(rows);
  const settings = sameOr(was('settings'), foldSettings(rows));
  const places = allAnew(was('places'), foldPlaces(rows));
  const meters = allAnew(was('meters'), foldMeters(rows));
  const waterIds = idsOf(rows, 'SELECT id FROM water ORDER BY position, id');
  const waters = allAnew(was('waters'), foldWaters(rows, meters, waterIds));
  yield;
  const products = allAnew(was('products'), foldProducts(rows));
  const batches = yield* inSteps(
    was('batches'),
    idsOf(rows, 'SELECT id FROM batch ORDER BY startedAt, id'),
    BATCHES_A_STEP,
    (ids) => foldBatches(rows, meters, waters, products, ids),
  );
  const named: PotsFolded = {
    meters,
    waters,
    batches,
    products,
    places,
    latitude: settings.latitude,
    oddLines: foldOddLines(rows),
  };
  const since = pouredSince(rows);
  const pots = yield* inSteps(
    was('pots'),
    idsOf(rows, 'SELECT id FROM pot ORDER BY position, id'),
    POTS_A_STEP,
    (ids) => foldPots(rows, named, ids, since),
  );
  const tanks = new Map<string, Tank>();
  for (const id of waterIds) {
    const tank = foldTank(rows, id);
    if (tank) tanks.set(id, tank);
    yield;
  }
  return {
    seq,
    settings,
    places,
    pots,
    regimens: allAnew(was('regimens'), foldById<RegimenRow>(rows, 'regimen')),
    waters,
    tanks: allAnew(was('tanks'), tanks),
    products,
    bottles: allAnew(was('bottles'), foldById<Bottle>(rows, 'bottle')),
    meters,
    batches,
    drawn: allAnew(was('drawn'), inOrderOf(foldDrawn(rows, stillDrawnOn(batches)), batches.keys())),
    unleached: sameOr(was('unleached'), foldUnleached(rows)),
    treatments: sameOr(was('treatments'), rows<Treatment>(TREATMENTS)),
    trials: sameOr(was('trials'), rows<TrialRow>(TRIALS)),
    trialPots: sameOr(was('trialPots'), rows<TrialPotRow>(TRIAL_POTS)),
    answers: allAnew(
      was('answers'),
      grouped(rows<AdviceAnswer>(ANSWERS), (a) => a.potId),
    ),
    penAnswers: sameOr(was('penAnswers'), rows<PenAnswer>('SELECT * FROM pen_answer ORDER BY rowid')),
    season: sameOr(was('season'), foldSeason(rows)),
    away: sameOr(was('away'), rows<AwayRow>(AWAY)),
    madeOn: sameOr(was('madeOn'), foldMadeOn(rows)),
    workTimes: sameOr(was('workTimes'), rows<WorkTime>(WORK_TIMES)),
  };
}

const idsOf = (rows: Rows, sql: string): string[] => rows<{ id: string }>(sql).map(({ id }) => id);

/** A map folded some entries at a time, in the order of its ids. */
function* inSteps<T>(
  before: ReadonlyMap<string, T> | undefined,
  ids: readonly string[],
  atOnce: number,
  fold: (ids: string[]) => Map<string, T>,
): Generator<void, ReadonlyMap<string, T>> {
  const now = new Map<string, T>();
  for (let i = 0; i < ids.length; i += atOnce) {
    for (const [id, entry] of fold(ids.slice(i, i + atOnce))) now.set(id, sameOr(before?.get(id), entry));
    yield;
  }
  return before ? allAnew(before, now) : now;
}

export const lastLine = (rows: Rows): number =>
  rows<{ seq: number }>('SELECT coalesce(max(seq), 0) AS seq FROM main.care_event')[0]!.seq;

/**
 * The collection with the lines after the last one in it: only what they touch is folded again, each subject from all its lines that stand.
 * @returns undefined where they touch everything: a pen with another scale, or found off, reads everything it ever read anew
 */
export function foldSince(rows: Rows, before: Collection): Folded | undefined {
  const touched = touchedBy(rows, before);
  const { tables } = touched;
  const ifTouched = <T>(table: string, kept: T, anew: () => T): T => (tables.has(table) ? anew() : kept);
  const meters = ['meter', 'setting', 'instrument'].some((table) => tables.has(table))
    ? allAnew(before.meters, foldMeters(rows))
    : before.meters;
  if (readsOtherwise(before.meters, meters)) return undefined;
  const settings = ifTouched('setting', before.settings, () => sameOr(before.settings, foldSettings(rows)));
  const places = ifTouched('place', before.places, () => allAnew(before.places, foldPlaces(rows)));
  const waters = watersAnew(rows, before, touched);
  const products = inOrder(
    withAnew(before.products, orGone(touched.products, foldProducts(rows, [...touched.products]))),
    byPosition,
  );
  const { batches, changed } = batchesAnew(rows, { ...before, meters }, waters, products, touched);
  const potIds = new Set(touched.pots);
  for (const entry of before.pots.values())
    if (leansOn(entry, before.waters, waters, changed) || leansByTold(entry, before.waters, waters, touched.products))
      potIds.add(entry.pot.id);
  const named: PotsFolded = {
    meters,
    waters,
    batches,
    products,
    places,
    latitude: settings.latitude,
    oddLines: foldOddLines(rows),
  };
  const folded = inOrder(
    withAnew(before.pots, orGone(potIds, foldPots(rows, named, [...potIds], pouredSince(rows)))),
    asPlaced,
  );
  return {
    seq: lastLine(rows),
    settings,
    places,
    pots:
      settings === before.settings && places === before.places ? folded : placedAnew(folded, places, settings.latitude),
    regimens: ifTouched('regimen', before.regimens, () =>
      allAnew(before.regimens, foldById<RegimenRow>(rows, 'regimen')),
    ),
    waters,
    tanks: inOrderOf(tanksAnew(rows, before, touched), waters.keys()),
    products,
    bottles: ifTouched('bottle', before.bottles, () => allAnew(before.bottles, foldById<Bottle>(rows, 'bottle'))),
    meters,
    batches,
    drawn:
      touched.batches.size > 0
        ? inOrderOf(
            withAnew(before.drawn, orGone(touched.batches, foldDrawn(rows, stillDrawnOn(batches, touched.batches)))),
            batches.keys(),
          )
        : before.drawn,
    unleached: ifTouched('clay_batch', before.unleached, () => sameOr(before.unleached, foldUnleached(rows))),
    treatments: ifTouched('treatment', before.treatments, () => sameOr(before.treatments, rows<Treatment>(TREATMENTS))),
    trials: ifTouched('trial', before.trials, () => sameOr(before.trials, rows<TrialRow>(TRIALS))),
    trialPots: ifTouched('trial_pot', before.trialPots, () => sameOr(before.trialPots, rows<TrialPotRow>(TRIAL_POTS))),
    answers: ifTouched('advice_answer', before.answers, () =>
      allAnew(
        before.answers,
        grouped(rows<AdviceAnswer>(ANSWERS), (a) => a.potId),
      ),
    ),
    penAnswers: ifTouched('pen_answer', before.penAnswers, () =>
      sameOr(before.penAnswers, rows<PenAnswer>('SELECT * FROM pen_answer ORDER BY rowid')),
    ),
    season: ifTouched('season', before.season, () => sameOr(before.season, foldSeason(rows))),
    away: ifTouched('away', before.away, () => sameOr(before.away, rows<AwayRow>(AWAY))),
    madeOn: ifTouched('made_day', before.madeOn, () => sameOr(before.madeOn, foldMadeOn(rows))),
    workTimes: ifTouched('work_time', before.workTimes, () => sameOr(before.workTimes, rows<WorkTime>(WORK_TIMES))),
  };
}

const foldSeason = (rows: Rows) => rows<SeasonRow>(`SELECT * FROM season WHERE id = ? AND madeAt <> ''`, SEASON_ID)[0];
const AWAY = 'SELECT * FROM away WHERE droppedOn IS NULL ORDER BY fromDate, id';
const WORK_TIMES = 'SELECT * FROM work_time WHERE minutes IS NOT NULL ORDER BY id';
const TRIALS = 'SELECT * FROM trial ORDER BY endedOn IS NOT NULL, startOn DESC, id';
const TRIAL_POTS = 'SELECT * FROM trial_pot ORDER BY trialId, pair, arm, id';
const TREATMENTS = 'SELECT * FROM treatment ORDER BY toDate IS NOT NULL, fromDate DESC, id';
/** Newest first. */
const ANSWERS = 'SELECT * FROM advice_answer ORDER BY onDate DESC, rowid DESC';

function foldPlaces(rows: Rows): Map<string, Place> {
  return new Map(rows<Place>('SELECT * FROM place ORDER BY position, id').map((row) => [row.id, row]));
}

function foldById<T extends { id: string }>(rows: Rows, table: 'regimen' | 'bottle'): Map<string, T> {
  return new Map(rows<T>(`SELECT * FROM "${table}" ORDER BY rowid`).map((row) => [row.id, row]));
}

function foldUnleached(rows: Rows): string[] {
  return rows<{ name: string }>(`SELECT lower(name) AS name FROM clay_batch WHERE prep = 'unleached' ORDER BY 1`).map(
    ({ name }) => name,
  );
}

/** Batches something may still be poured from; of the others nothing is left. */
function stillDrawnOn(batches: ReadonlyMap<string, BatchEntry>, ids: Iterable<string> = batches.keys()): string[] {
  return [...ids].filter((id) => {
    const row = batches.get(id)?.row;
    return row !== undefined && row.pouredVolumeL !== null && !row.emptied;
  });
}

/** How many lines of each pot's log are left out because they cannot be understood. */
function foldOddLines(rows: Rows): Map<string, number> {
  if (rows(`SELECT 1 FROM sqlite_temp_master WHERE name = 'odd_line'`).length === 0) return new Map();
  const found = rows<{ potId: string; n: number }>(
    'SELECT e.potId, count(*) AS n FROM temp.odd_line o JOIN main.care_event e ON e.seq = o.seq WHERE e.potId IS NOT NULL GROUP BY e.potId',
  );
  return new Map(found.map(({ potId, n }) => [potId, n]));
}

function pouredSince(rows: Rows): string {
  const [last] = rows<{ on: string | null }>('SELECT localDate AS "on" FROM care_event ORDER BY at DESC LIMIT 1');
  return last?.on ? plusDays(last.on, -POURED_DAYS - 2) : '';
}

/** Ids folded to nothing are gone. */
function orGone<T>(ids: Iterable<string>, folded: ReadonlyMap<string, T>): Map<string, T | undefined> {
  return new Map([...ids].map((id) => [id, folded.get(id)]));
}

function readsOtherwise(before: Collection['meters'], now: Collection['meters']): boolean {
  return [...now.values()].some((meter) => {
    const old = before.get(meter.id);
    return (
      old !== undefined &&
      old !== meter &&
      (old.scale !== meter.scale || sameOr(old.taints, meter.taints) !== old.taints)
    );
  });
}

function watersAnew(rows: Rows, before: Collection, { waters }: Touched): ReadonlyMap<string, WaterEntry> {
  const anew = new Map<string, WaterEntry | undefined>();
  for (const [id, from] of waters) {
    const entry = foldWaters(rows, before.meters, [id], from).get(id);
    const old = before.waters.get(id);
    const upTo = <T extends { at: string }>(lines: readonly T[]) => lines.filter(({ at }) => at < from);
    anew.set(
      id,
      entry && old
        ? { ...entry, bases: [...upTo(old.bases), ...entry.bases], phs: [...upTo(old.phs), ...entry.phs] }
        : entry,
    );
  }
  return inOrder(withAnew(before.waters, anew), byPosition);
}

function batchesAnew(
  rows: Rows,
  before: Collection,
  waters: ReadonlyMap<string, WaterEntry>,
  products: ReadonlyMap<string, ProductEntry>,
  touched: Touched,
): { batches: ReadonlyMap<string, BatchEntry>; changed: ReadonlySet<string> } {
  const ids = new Set(touched.batches);
  const otherWater = new Map(
    [...touched.waters.keys()].map((id) => [id, otherFrom(before.waters.get(id), waters.get(id))]),
  );
  const otherLabel = new Map(
    [...touched.products].map((id) => [id, labelFrom(before.products.get(id), products.get(id))]),
  );
  for (const { row, parts } of before.batches.values()) {
    const otherThen = momentOf(row) >= (otherWater.get(row.waterId) ?? PAST_ALL);
    if (otherThen || parts.some((part) => row.startedAt >= (otherLabel.get(part.productId) ?? PAST_ALL)))
      ids.add(row.id);
  }
  const anew = orGone(ids, foldBatches(rows, before.meters, waters, products, [...ids]));
  const batches = withAnew(before.batches, anew);
  const changed = new Set([...ids].filter((id) => batches.get(id) !== before.batches.get(id)));
  return { batches: inOrder(batches, asStarted), changed };
}

/** After every moment, {@link ALWAYS} too. */
const PAST_ALL = `${ALWAYS}~`;

const asStarted = (a: BatchEntry, b: BatchEntry) =>
  byText(a.row.startedAt, b.row.startedAt) || byText(a.row.id, b.row.id);
const byPosition = <T extends { readonly row: { readonly position: number; readonly id: string } }>(a: T, b: T) =>
  a.row.position - b.row.position || byText(a.row.id, b.row.id);
const asPlaced = (a: PotEntry, b: PotEntry) => a.pot.position - b.pot.position || byText(a.pot.id, b.pot.id);

/** The moment from which a water is known to have been otherwise than was thought. */
function otherFrom(old: WaterEntry | undefined, now: WaterEntry | undefined): string {
  if (!old || !now || old.row.kind !== now.row.kind) return '';
  const firstOther = <T extends { at: string }>(a: readonly T[], b: readonly T[]): string => {
    const i = a.findIndex((line, at) => sameOr(line, b[at] as T) !== line);
    const at = i >= 0 ? i : a.length;
    return [a[at]?.at, b[at]?.at].reduce<string>(
      (first, one) => (one !== undefined && one < first ? one : first),
      PAST_ALL,
    );
  };
  const times = [firstOther(old.bases, now.bases), firstOther(old.phs, now.phs), versionsFrom(old.tests, now.tests)];
  return times.reduce((first, one) => (one < first ? one : first));
}

const labelFrom = (old: ProductEntry | undefined, now: ProductEntry | undefined): string =>
  old && now ? versionsFrom(old.labels, now.labels) : '';

/** The moment from which versions differ. What is known after a stretch in which nothing was holds for that stretch as well. */
function versionsFrom(old: WaterEntry['tests'], now: WaterEntry['tests']): string {
  let first = 0;
  while (first < now.length && old[first]?.from === now[first]!.from && old[first]?.value === now[first]!.value)
    first++;
  if (first === now.length && first === old.length) return PAST_ALL;
  const [a = PAST_ALL, b = PAST_ALL] = [old[first]?.from, now[first]?.from];
  let from = a < b ? a : b;
  for (let i = first - 1; i >= 0 && now[i]!.value === null; i--) from = now[i]!.from;
  return from;
}

/** The same of what older records tell it was filled with. */
function leansByTold(
  { visits, pourings }: PotEntry,
  before: ReadonlyMap<string, WaterEntry>,
  waters: ReadonlyMap<string, WaterEntry>,
  products: ReadonlySet<string>,
): boolean {
  if (waters === before && products.size === 0) return false;
  return [...visits.fills, ...pourings].some(
    ({ batch }) =>
      batch?.told &&
      (waters.get(batch.row.waterId) !== before.get(batch.row.waterId) ||
        batch.parts.some((part) => products.has(part.productId))),
  );
}

/** Whether anything a pot's lines name is another than it was. */
function leansOn(
  { visits, pourings, soakTests }: PotEntry,
  before: ReadonlyMap<string, WaterEntry>,
  waters: ReadonlyMap<string, WaterEntry>,
  changed: ReadonlySet<string>,
): boolean {
  if (changed.size > 0) {
    const is = (id: string | null | undefined) => id !== null && id !== undefined && changed.has(id);
    if (
      visits.fills.some((f) => is(f.payload.batchId)) ||
      visits.supplements.some((s) => is(s.batchId)) ||
      pourings.some((p) => is(p.batch?.row.id))
    )
      return true;
    if (soakTests.some((s) => is(s.batchId) || is(s.before?.batch.row.id))) return true;
  }
  if (waters === before) return false;
  const other = (id: string | null, at: string) =>
    id !== null && waters.get(id) !== before.get(id) && at >= otherFrom(before.get(id), waters.get(id));
  const named = (f: Fill) => [f.payload.waterId, ...f.payload.flushWith.map((w) => w.waterId)];
  return (
    visits.fills.some((f) => named(f).some((id) => other(id, f.at))) ||
    visits.topUps.some((t) => other(t.payload.waterId, t.at)) ||
    soakTests.some((s) => other(s.started.waterId, s.at))
  );
}

/** Pots on places that were changed, or elsewhere on the earth. */
function placedAnew(
  pots: ReadonlyMap<string, PotEntry>,
  places: ReadonlyMap<string, Place>,
  latitude: number,
): ReadonlyMap<string, PotEntry> {
  const anew = new Map<string, PotEntry>();
  for (const [id, entry] of pots) {
    const place = places.get(entry.place.id) ?? entry.place;
    if (place !== entry.place || latitude !== entry.latitude) anew.set(id, { ...entry, place, latitude });
  }
  return withAnew(pots, anew);
}

function tanksAnew(rows: Rows, before: Collection, { counted, drawnOn, batches }: Touched): ReadonlyMap<string, Tank> {
  const anew = new Map<string, Tank | undefined>();
  for (const id of counted) anew.set(id, foldTank(rows, id));
  if (drawnOn.size > 0 || batches.size > 0)
    for (const [id, tank] of before.tanks) if (!counted.has(id)) anew.set(id, drawnAnew(rows, id, tank, drawnOn));
  return withAnew(before.tanks, anew);
}
