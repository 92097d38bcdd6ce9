import type { DataSource, EntityManager } from 'typeorm';
import { isTainted, type Meters } from '../shelf/meter-states.ts';
import type { CareKind, CarePayload } from '../../contract/care.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import type { PouredAndCameOut, StandingNow } from '../../core/reservoir/index.ts';
import { lookFromSeen, type Look } from '../../contract/seen.ts';
import type { CareEvent } from '../database/entities.ts';

export type TaintedFigure = 'pouredPpm' | 'pouredPh' | 'cameOutPpm' | 'cameOutPh';
/** A visit that filled the pot, with what its mix read. EC in µS/cm. */
export type Fill = {
  eventId: string;
  seq: number;
  at: string;
  on: string;
  payload: CarePayload<'potFilled'>;
  /** As read, before the acid. */
  pouredEcUsCm: number | undefined;
  /** After the acid, by the chemistry; what the old reservoir is compared with. */
  afterAcidEcUsCm: number | undefined;
  pouredPh: number | undefined;
  cameOutEcUsCm: number | undefined;
  cameOutPh: number | undefined;
  /** What ran off at the end of the flush. */
  runOffEcUsCm: number | undefined;
  /** Which of its figures a pen gave that was later found off. */
  tainted: readonly TaintedFigure[];
  /** The payload it corrects. */
  was: CarePayload<'potFilled'> | undefined;
};
export type Skip = {
  eventId: string;
  seq: number;
  at: string;
  on: string;
  payload: CarePayload<'potSkipped'>;
  was: CarePayload<'potSkipped'> | undefined;
};

/** A supplement given as a soak or a spray. */
export type Supplement = {
  eventId: string;
  seq: number;
  at: string;
  on: string;
  batchId: string | null;
  /** What its mix read, µS/cm. */
  pouredEcUsCm: number | undefined;
  payload: CarePayload<'supplementStarted'>;
  /** When the pot was drained; null while it stands. A spray is over at once. */
  endedAt: string | null;
};
export type TopUp = { eventId: string; seq: number; at: string; on: string; payload: CarePayload<'potToppedUp'> };
/** The reservoir read where it stands; EC in µS/cm. Figures of a pen later found off are tainted. */
export type Reread = {
  eventId: string;
  at: string;
  on: string;
  payload: CarePayload<'potReread'>;
  ecUsCm: number | undefined;
  /** What of it counts: not what a pen gave that was later found off. */
  found: StandingNow;
  tainted: readonly TaintedFigure[];
  was: CarePayload<'potReread'> | undefined;
};
/** A look at the pot, with a filling or by itself. */
export type Looked = { eventId: string; at: string; on: string; look: Look };

/** What was logged of one pot, oldest first. */
export type Visits = {
  readonly fills: readonly Fill[];
  readonly skips: readonly Skip[];
  readonly supplements: readonly Supplement[];
  readonly topUps: readonly TopUp[];
  readonly looks: readonly Looked[];
  readonly rereads: readonly Reread[];
  /** From each filling to the next. */ readonly intervals: readonly PouredAndCameOut[];
};
type EventRow = CareEvent & {
  pouredEcUsCm: number | null;
  pouredPh: number | null;
  afterAcidEcUsCm: number | null;
  ppmMeterId: string | null;
  phMeterId: string | null;
  pouredAt: string | null;
  wasPayload: string | null;
};

/** Visits read back per pot for the lists; a pot's own page reads them all. */
const VISITS_FOR_LISTS = 8;
export const NO_VISITS: Visits = { fills: [], skips: [], supplements: [], topUps: [], looks: [], rereads: [], intervals: [] };

/** A pot's whole history. */
export async function readVisits(manager: EntityManager, meters: Meters, potId: string): Promise<Visits> {
  return (await query(manager, meters, Number.MAX_SAFE_INTEGER, [potId])).get(potId) ?? NO_VISITS;
}

/**
 * The last visits of every pot. Kept in memory from one look to the next, and read anew only for the pots that events since then are about:
 * with 500 pots reading and parsing them all took 60 ms of every look at the round.
 */
export async function recentVisits(manager: EntityManager, meters: Meters, potIds: readonly string[]): Promise<ReadonlyMap<string, Visits>> {
  const kept = keptFor(manager.connection);
  const events = await manager.query<Since[]>(
    `SELECT seq, kind, potId, corrects, json_extract(payload, '$.targetKind') AS targetKind, json_extract(payload, '$.group') AS "group" FROM care_event WHERE seq > ? ORDER BY seq`,
    [kept.seq],
  );
  if (kept.seq < 0 || events.some(changesEverything)) kept.byPot.clear();
  for (const event of events) if (event.potId) kept.byPot.delete(event.potId);
  kept.seq = events.at(-1)?.seq ?? Math.max(kept.seq, 0);
  const missing = potIds.filter((id) => !kept.byPot.has(id));
  if (missing.length > 0) {
    const read = await query(manager, meters, VISITS_FOR_LISTS, missing);
    for (const id of missing) kept.byPot.set(id, read.get(id) ?? NO_VISITS);
  }
  return kept.byPot;
}

type Since = Pick<CareEvent, 'seq' | 'kind' | 'potId' | 'corrects'> & { targetKind: string | null; group: string | null };
type Kept = { seq: number; byPot: Map<string, Visits> };
const caches = new WeakMap<DataSource, Kept>();

function keptFor(source: DataSource): Kept {
  const kept = caches.get(source) ?? { seq: -1, byPot: new Map<string, Visits>() };
  caches.set(source, kept);
  return kept;
}

/** What changes what a batch read changes every pot filled from it; a pen's scale, or that it was found off, changes them all. */
function changesEverything(event: Since): boolean {
  if (event.kind === 'undone') return !VISIT_KINDS.includes(event.targetKind ?? '');
  if (event.kind === 'meterChecked' || event.kind === 'meterMarkedOff') return true;
  return (event.kind.startsWith('batch') && event.corrects !== null) || (event.kind === 'recordsChanged' && event.group === 'Shelf');
}

/** Acts on a pot that its visits are made of. */
const MAIN_KINDS = ['potFilled', 'potSkipped'];
const OTHER_KINDS = ['supplementStarted', 'supplementEnded', 'potToppedUp', 'potLooked', 'potReread'];
const VISIT_KINDS = [...MAIN_KINDS, ...OTHER_KINDS];
const listed = (kinds: readonly string[]) => kinds.map((kind) => `'${kind}'`).join(', ');

async function query(manager: EntityManager, meters: Meters, last: number, potIds: readonly string[]): Promise<Map<string, Visits>> {
  const visits = new Map<string, Gathered>();
  // Each pot's newest by the index on pot and time; numbering all visits over the whole log took five times as long.
  const read = (kinds: readonly string[]) =>
    manager.query<EventRow[]>(
      `SELECT e.*, b.pouredEcUsCm, b.pouredPh, b.afterAcidEcUsCm, b.ppmMeterId, b.phMeterId, b.pouredAt, c.payload AS wasPayload FROM json_each(?) p JOIN care_event e ON e.seq IN (
       SELECT seq FROM care_event WHERE potId = p.value AND kind IN (${listed(kinds)}) AND voidedBy IS NULL
       ORDER BY at DESC, coalesce(standsAt, seq) DESC LIMIT ?)
     LEFT JOIN batch b ON b.id = e.batchId LEFT JOIN care_event c ON c.id = e.corrects
     ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
      [JSON.stringify(potIds), last],
    );
  for (const row of [...(await read(MAIN_KINDS)), ...(await read(OTHER_KINDS))]) {
    const mine = visits.get(row.potId!) ?? { fills: [], skips: [], supplements: [], topUps: [], looks: [], rereads: [] };
    visits.set(row.potId!, mine);
    put(mine, row, meters);
  }
  const byTime = (a: Looked, b: Looked) => (a.at < b.at ? -1 : 1);
  return new Map([...visits].map(([potId, mine]) => [potId, { ...mine, looks: mine.looks.sort(byTime), intervals: intervalsOf(mine.fills, mine.topUps) }]));
}

type Gathered = { fills: Fill[]; skips: Skip[]; supplements: Supplement[]; topUps: TopUp[]; looks: Looked[]; rereads: Reread[] };

function put(mine: Gathered, row: EventRow, meters: Meters): void {
  const { id: eventId, at, localDate: on } = row;
  const event = { eventId, seq: row.standsAt ?? row.seq, at, on };
  const payload = <K extends CareKind>() => JSON.parse(row.payload) as CarePayload<K>;
  switch (row.kind) {
    case 'potFilled': {
      const fill = toFill(row, meters);
      mine.fills.push(fill);
      const look = lookOf(fill.payload);
      if (look) mine.looks.push({ eventId, at, on, look });
      return;
    }
    case 'potSkipped':
      mine.skips.push(toSkip(row));
      return;
    case 'supplementStarted': {
      const started = payload<'supplementStarted'>();
      mine.supplements.push({
        ...event,
        batchId: row.batchId,
        pouredEcUsCm: row.pouredEcUsCm ?? undefined,
        payload: started,
        endedAt: started.way === 'spray' ? at : null,
      });
      return;
    }
    case 'supplementEnded': {
      const of = mine.supplements.find((s) => s.eventId === payload<'supplementEnded'>().supplementId);
      if (of) of.endedAt = at;
      return;
    }
    case 'potToppedUp':
      mine.topUps.push({ ...event, payload: payload<'potToppedUp'>() });
      return;
    case 'potLooked':
      mine.looks.push({ eventId, at, on, look: payload<'potLooked'>().look });
      return;
    case 'potReread':
      mine.rereads.push(toReread(row, meters));
  }
}

/** What a filling says of how the pot looked; undefined where nobody looked. */
export function lookOf({ look, seen }: Pick<CarePayload<'potFilled'>, 'look' | 'seen'>): Look | undefined {
  return look ?? (seen === null ? undefined : lookFromSeen(seen));
}

function intervalsOf(fills: readonly Fill[], topUps: readonly TopUp[]): PouredAndCameOut[] {
  return fills.slice(1).map((fill, i): PouredAndCameOut => {
    const before = fills[i]!;
    // With something poured on in between, what came out and what was left say nothing of the pot.
    const own = !topUps.some((t) => t.at > before.at && t.at < fill.at);
    // What a pen that was off read tells nothing of the pot; left out, it is as if it was not measured.
    const sound = (of: Fill, figure: TaintedFigure, value: number | undefined) => (of.tainted.includes(figure) ? undefined : value);
    return {
      pouredEcUsCm: sound(before, 'pouredPpm', before.afterAcidEcUsCm ?? before.pouredEcUsCm),
      pouredPh: sound(before, 'pouredPh', before.pouredPh),
      pouredMl: before.payload.pouredMl,
      cameOutEcUsCm: own ? sound(fill, 'cameOutPpm', fill.cameOutEcUsCm) : undefined,
      cameOutPh: own ? sound(fill, 'cameOutPh', fill.cameOutPh) : undefined,
      leftMl: own ? (fill.payload.oldReservoir.leftMl ?? undefined) : undefined,
      days: daysBetween(before.on, fill.on),
    };
  });
}

function toFill(row: EventRow, meters: Meters): Fill {
  const payload = filledOf(row.payload);
  const ppm = readingMiddle(payload.oldReservoir.ppm);
  const runOff = readingMiddle(payload.runOffPpm);
  const scale = (payload.ppmMeterId && meters.get(payload.ppmMeterId)?.scale) || 0.5;
  return {
    eventId: row.id,
    seq: row.standsAt ?? row.seq,
    at: row.at,
    on: row.localDate,
    payload,
    was: row.wasPayload === null ? undefined : filledOf(row.wasPayload),
    pouredEcUsCm: row.pouredEcUsCm ?? payload.waterEcUsCm ?? undefined,
    afterAcidEcUsCm: row.afterAcidEcUsCm ?? undefined,
    pouredPh: row.pouredPh ?? undefined,
    cameOutEcUsCm: ppm === undefined ? undefined : ppm / scale,
    cameOutPh: readingMiddle(payload.oldReservoir.ph),
    runOffEcUsCm: runOff === undefined ? undefined : runOff / scale,
    tainted: taintedOf(row, payload, meters),
  };
}

function toReread(row: EventRow, meters: Meters): Reread {
  const payload = JSON.parse(row.payload) as CarePayload<'potReread'>;
  const ppm = readingMiddle(payload.ppm);
  const ecUsCm = ppm === undefined ? undefined : ppm / (meters.get(payload.ppmMeterId ?? '')?.scale ?? 0.5);
  const ph = readingMiddle(payload.ph);
  const off = (meterId: string | null) => meterId !== null && isTainted(meters.get(meterId), row.at);
  const [ppmOff, phOff] = [off(payload.ppmMeterId), off(payload.phMeterId)];
  return {
    eventId: row.id,
    at: row.at,
    on: row.localDate,
    payload,
    ecUsCm,
    found: {
      ...(ecUsCm === undefined || ppmOff ? {} : { ecUsCm }),
      ...(ph === undefined || phOff ? {} : { ph }),
      ...(payload.leftMl === null ? {} : { leftMl: payload.leftMl }),
    },
    tainted: [...(ppmOff ? (['cameOutPpm'] as const) : []), ...(phOff ? (['cameOutPh'] as const) : [])],
    was: row.wasPayload === null ? undefined : (JSON.parse(row.wasPayload) as CarePayload<'potReread'>),
  };
}

const NOT_ASKED: Partial<CarePayload<'potFilled'>> = {
  flushWith: [],
  runOffPpm: { kind: 'notMeasured' },
  seen: null,
  look: null,
  waterId: null,
  waterEcUsCm: null,
  turn: null,
};
/** A filling as logged; what was not asked for when it was logged is not known. */
function filledOf(payload: string): CarePayload<'potFilled'> {
  return { ...NOT_ASKED, ...(JSON.parse(payload) as Partial<CarePayload<'potFilled'>>) } as CarePayload<'potFilled'>;
}

function taintedOf(row: EventRow, payload: CarePayload<'potFilled'>, meters: Meters): TaintedFigure[] {
  const off = (meterId: string | null, at: string) => meterId !== null && isTainted(meters.get(meterId), at);
  const mixedAt = row.pouredAt ?? row.at;
  const figures: [TaintedFigure, boolean][] = [
    ['pouredPpm', off(row.ppmMeterId, mixedAt)],
    ['pouredPh', off(row.phMeterId, mixedAt)],
    ['cameOutPpm', off(payload.ppmMeterId, row.at)],
    ['cameOutPh', off(payload.phMeterId, row.at)],
  ];
  return figures.filter(([, is]) => is).map(([figure]) => figure);
}

function toSkip(row: EventRow): Skip {
  const was = row.wasPayload === null ? undefined : (JSON.parse(row.wasPayload) as CarePayload<'potSkipped'>);
  return { eventId: row.id, seq: row.standsAt ?? row.seq, at: row.at, on: row.localDate, payload: JSON.parse(row.payload) as CarePayload<'potSkipped'>, was };
}
