import type { CareKind, CarePayload } from '../../contract/care.ts';
import { lookFromSeen, type Look } from '../../contract/seen.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import type { PouredAndCameOut, StandingNow } from '../../core/reservoir/index.ts';
import type { CareEvent } from '../database/entities.ts';
import type { BatchEntry } from './batches.ts';
import { isTainted, phOffset, phSdOf, type Meters, scaleOf } from './meters.ts';
import type { Named } from './named.ts';
import { toldBatch } from './told-mix.ts';
import { listed, type Rows } from './rows.ts';
import { waterAt, type WaterThen } from './waters.ts';

export type TaintedFigure = 'pouredPpm' | 'pouredPh' | 'cameOutPpm' | 'cameOutPh';
/** A visit that filled the pot, with what its mix read. EC in µS/cm. */
export type Fill = {
  readonly eventId: string;
  readonly seq: number;
  readonly at: string;
  readonly on: string;
  readonly payload: CarePayload<'potFilled'>;
  /** The mix, or the plain water as it was then; both undefined where nobody knows. */
  readonly batch: BatchEntry | undefined;
  readonly water: WaterThen | undefined;
  /** What it was flushed with, as those waters were then; where nobody said, the water of the mix. */
  readonly flushed: readonly { readonly water: WaterThen; readonly ml: number }[];
  /** As read, before the acid. */
  readonly pouredEcUsCm: number | undefined;
  /** After the acid, by the chemistry; what the old reservoir is compared with. */
  readonly afterAcidEcUsCm: number | undefined;
  readonly pouredPh: number | undefined;
  readonly cameOutEcUsCm: number | undefined;
  readonly cameOutPh: number | undefined;
  /** 1 SD of how that pH was read. */
  readonly cameOutPhSd: number;
  /** What ran off at the end of the flush. */
  readonly runOffEcUsCm: number | undefined;
  /** Which of its figures a pen gave that was later found off. */
  readonly tainted: readonly TaintedFigure[];
  /** What its pH pen is known to show too much; 0 too where nobody knows by how much it is off. */
  readonly phOffset: number;
  /** The payload it corrects. */
  readonly was: CarePayload<'potFilled'> | undefined;
};
export type Skip = {
  readonly eventId: string;
  readonly seq: number;
  readonly at: string;
  readonly on: string;
  readonly payload: CarePayload<'potSkipped'>;
  readonly was: CarePayload<'potSkipped'> | undefined;
};

/** A supplement given as a soak or a spray. */
export type Supplement = {
  readonly eventId: string;
  readonly seq: number;
  readonly at: string;
  readonly on: string;
  readonly batchId: string | null;
  /** What its mix read, µS/cm. */
  readonly pouredEcUsCm: number | undefined;
  readonly payload: CarePayload<'supplementStarted'>;
  /** When the pot was drained; null while it stands. A spray is over at once. */
  readonly endedAt: string | null;
};
export type TopUp = {
  readonly eventId: string;
  readonly seq: number;
  readonly at: string;
  readonly on: string;
  readonly payload: CarePayload<'potToppedUp'>;
  /** What was poured on, as it was then; undefined where nobody said. */
  readonly water: WaterThen | undefined;
};
/** The reservoir read where it stands; EC in µS/cm. Figures of a pen later found off are tainted. */
export type Reread = {
  readonly eventId: string;
  readonly at: string;
  readonly on: string;
  readonly payload: CarePayload<'potReread'>;
  readonly ecUsCm: number | undefined;
  /** What of it counts: not what a pen gave that was later found off. */
  readonly found: StandingNow;
  /** 1 SD of how its pH was read. */
  readonly phSd: number;
  readonly tainted: readonly TaintedFigure[];
  readonly was: CarePayload<'potReread'> | undefined;
};
/** A look at the pot, with a filling or by itself. */
export type Looked = { readonly eventId: string; readonly at: string; readonly on: string; readonly look: Look };

/** What was logged of one pot, oldest first. */
export type Visits = {
  readonly fills: readonly Fill[];
  readonly skips: readonly Skip[];
  readonly supplements: readonly Supplement[];
  readonly topUps: readonly TopUp[];
  readonly looks: readonly Looked[];
  readonly rereads: readonly Reread[];
  /** From each filling to the next. */
  readonly intervals: readonly PouredAndCameOut[];
};
export const NO_VISITS: Visits = {
  fills: [],
  skips: [],
  supplements: [],
  topUps: [],
  looks: [],
  rereads: [],
  intervals: [],
};

type EventRow = CareEvent & { wasPayload: string | null };

/** Visits of each sort kept per pot for the lists; a pot's own page reads them all. */
const VISITS_FOR_LISTS = 8;
/** Acts on a pot that its visits are made of, each sort with its own count: looks do not crowd out a soak. A soak is two lines. */
const SORTS: readonly (readonly [readonly string[], number])[] = [
  [['potFilled', 'potSkipped'], VISITS_FOR_LISTS],
  [['supplementStarted', 'supplementEnded'], 2 * VISITS_FOR_LISTS],
  [['potToppedUp', 'potLooked', 'potReread'], VISITS_FOR_LISTS],
];

/** Visits by pot. @param all the whole history, else the last of each sort */
export function foldVisits(rows: Rows, named: Named, potIds: readonly string[], all = false): Map<string, Visits> {
  const visits = new Map<string, Gathered>();
  for (const [kinds, last] of SORTS)
    for (const row of all ? everyLineOf(rows, potIds, kinds) : linesOf(rows, potIds, kinds, last)) {
      const mine = visits.get(row.potId!) ?? {
        fills: [],
        skips: [],
        supplements: [],
        topUps: [],
        looks: [],
        rereads: [],
      };
      visits.set(row.potId!, mine);
      put(mine, row, named);
    }
  const byTime = (a: Looked, b: Looked) => (a.at < b.at ? -1 : 1);
  return new Map(
    [...visits].map(([potId, mine]) => [
      potId,
      { ...mine, looks: mine.looks.sort(byTime), intervals: intervalsOf(mine.fills, mine.topUps) },
    ]),
  );
}

const FIELDS = 'e.*, c.payload AS wasPayload';
const IN_TIME = 'ORDER BY e.at, coalesce(e.standsAt, e.seq)';

/** The last lines of some kinds for each pot, oldest first: of each kind the last by the index, then of those the last. */
function linesOf(rows: Rows, potIds: readonly string[], kinds: readonly string[], last: number): EventRow[] {
  const newest = 'ORDER BY at DESC, coalesce(standsAt, seq) DESC LIMIT ?2';
  const ofKind = (kind: string) =>
    `SELECT * FROM (SELECT seq, at, standsAt FROM care_event WHERE potId = p.value AND kind = '${kind}' AND voidedBy IS NULL ${newest})`;
  return rows<EventRow>(
    `SELECT ${FIELDS} FROM json_each(?1) p
     JOIN care_event e ON e.seq IN (SELECT seq FROM (${kinds.map(ofKind).join(' UNION ALL ')}) ${newest})
     LEFT JOIN care_event c ON c.id = e.corrects ${IN_TIME}`,
    listed(potIds),
    last,
  );
}

/** Every line of some kinds of these pots, oldest first. */
const everyLineOf = (rows: Rows, potIds: readonly string[], kinds: readonly string[]): EventRow[] =>
  rows<EventRow>(
    `SELECT ${FIELDS} FROM care_event e LEFT JOIN care_event c ON c.id = e.corrects
     WHERE e.potId IN (SELECT value FROM json_each(?1)) AND e.kind IN (SELECT value FROM json_each(?2)) AND e.voidedBy IS NULL ${IN_TIME}`,
    listed(potIds),
    listed(kinds),
  );

type Gathered = {
  fills: Fill[];
  skips: Skip[];
  supplements: Supplement[];
  topUps: TopUp[];
  looks: Looked[];
  rereads: Reread[];
};

function put(mine: Gathered, row: EventRow, named: Named): void {
  const { id: eventId, at, localDate: on } = row;
  const event = { eventId, seq: row.standsAt ?? row.seq, at, on };
  const payload = <K extends CareKind>() => JSON.parse(row.payload) as CarePayload<K>;
  switch (row.kind) {
    case 'potFilled':
      return putFill(mine, toFill(row, named));
    case 'potSkipped':
      mine.skips.push({
        ...event,
        payload: payload<'potSkipped'>(),
        was: row.wasPayload === null ? undefined : (JSON.parse(row.wasPayload) as CarePayload<'potSkipped'>),
      });
      return;
    case 'supplementStarted':
      mine.supplements.push(
        supplementOf(event, row.batchId, named.batches.get(row.batchId ?? ''), payload<'supplementStarted'>()),
      );
      return;
    case 'supplementEnded':
      return endSupplement(mine, payload<'supplementEnded'>().supplementId, at);
    case 'potToppedUp':
      mine.topUps.push(toTopUp(event, payload<'potToppedUp'>(), named));
      return;
    case 'potLooked':
      mine.looks.push({ eventId, at, on, look: payload<'potLooked'>().look });
      return;
    case 'potReread':
      mine.rereads.push(toReread(row, named.meters));
  }
}

function putFill(mine: Gathered, fill: Fill): void {
  mine.fills.push(fill);
  const { eventId, at, on } = fill;
  const look = lookOf(fill.payload);
  if (look) mine.looks.push({ eventId, at, on, look });
}

function endSupplement({ supplements }: Gathered, id: string, at: string): void {
  const i = supplements.findIndex((s) => s.eventId === id);
  if (i >= 0) supplements[i] = { ...supplements[i]!, endedAt: at };
}

const supplementOf = (
  event: Pick<Supplement, 'eventId' | 'seq' | 'at' | 'on'>,
  batchId: string | null,
  batch: BatchEntry | undefined,
  payload: CarePayload<'supplementStarted'>,
): Supplement => ({
  ...event,
  batchId,
  pouredEcUsCm: batch?.row.pouredEcUsCm ?? undefined,
  payload,
  endedAt: payload.way === 'spray' ? event.at : null,
});

/** What a filling says of how the pot looked; undefined where nobody looked. */
export function lookOf({ look, seen }: Pick<CarePayload<'potFilled'>, 'look' | 'seen'>): Look | undefined {
  return look ?? (seen === null ? undefined : lookFromSeen(seen));
}

/** Whether anything was poured on between two visits: then what came out and what was left say nothing of the pot. */
export const pouredOnBetween = (topUps: readonly TopUp[], before: Fill, fill: Fill): boolean =>
  topUps.some((t) => t.at > before.at && t.at < fill.at);

function intervalsOf(fills: readonly Fill[], topUps: readonly TopUp[]): PouredAndCameOut[] {
  return fills.slice(1).map((fill, i): PouredAndCameOut => {
    const before = fills[i]!;
    const own = !pouredOnBetween(topUps, before, fill);
    // What a pen that was off read tells nothing of the pot; left out, it is as if it was not measured.
    const sound = (of: Fill, figure: TaintedFigure, value: number | undefined) =>
      of.tainted.includes(figure) ? undefined : value;
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

type FilledPayload = ReturnType<typeof filledOf>;
type Then = (waterId: string) => WaterThen | undefined;

/** The water it was filled with as it is, as that read then. */
function plainOf({ batchId, waterId, waterEcUsCm }: FilledPayload, then: Then): WaterThen | undefined {
  const plain = batchId === null && waterId !== null ? then(waterId) : undefined;
  return plain && { ...plain, ecUsCm: waterEcUsCm ?? plain.ecUsCm };
}

function flushedWith({ flushWith, flushMl }: FilledPayload, then: Then, usual: WaterThen | undefined): Fill['flushed'] {
  if (flushWith.length > 0)
    return flushWith.flatMap(({ waterId, ml }) => {
      const water = then(waterId);
      return water ? [{ water, ml }] : [];
    });
  return usual && flushMl > 0 ? [{ water: usual, ml: flushMl }] : [];
}

/** What a pot was filled with read, µS/cm: before the acid, and after it by the chemistry. */
export const pouredFigures = (
  batch: BatchEntry | undefined,
  { waterEcUsCm }: Pick<FilledPayload, 'waterEcUsCm'>,
): Pick<Fill, 'pouredEcUsCm' | 'afterAcidEcUsCm' | 'pouredPh'> => ({
  pouredEcUsCm: batch?.row.pouredEcUsCm ?? waterEcUsCm ?? undefined,
  afterAcidEcUsCm: batch?.row.afterAcidEcUsCm ?? undefined,
  pouredPh: batch?.row.pouredPh ?? undefined,
});

const taintedOf = (batch: BatchEntry | undefined): TaintedFigure[] => [
  ...(batch?.ppmTainted ? (['pouredPpm'] as const) : []),
  ...(batch?.phTainted ? (['pouredPh'] as const) : []),
];

function toTopUp(
  event: Pick<TopUp, 'eventId' | 'seq' | 'at' | 'on'>,
  payload: TopUp['payload'],
  { waters }: Named,
): TopUp {
  const entry = payload.waterId === null ? undefined : waters.get(payload.waterId);
  return { ...event, payload, water: entry && waterAt(entry, event.at) };
}

/** What old water about conducts where its strength was not read. */
const USUAL_EC_US_CM = 300;

function toFill(row: EventRow, named: Named): Fill {
  const { meters, waters, batches } = named;
  const payload = filledOf(row.payload);
  const batch =
    payload.batchId === null ? toldBatch({ ...row, on: row.localDate }, payload, named) : batches.get(payload.batchId);
  const then = (id: string): WaterThen | undefined => {
    const entry = waters.get(id);
    return entry && waterAt(entry, row.at);
  };
  const water = plainOf(payload, then);
  const ppm = readingMiddle(payload.oldReservoir.ppm);
  const runOff = readingMiddle(payload.runOffPpm);
  const scale = scaleOf(meters.get(payload.ppmMeterId ?? ''));
  const phMeter = payload.phMeterId === null ? undefined : meters.get(payload.phMeterId);
  const off = (meterId: string | null) => meterId !== null && isTainted(meters.get(meterId), row.at);
  return {
    eventId: row.id,
    seq: row.standsAt ?? row.seq,
    at: row.at,
    on: row.localDate,
    payload,
    was: row.wasPayload === null ? undefined : filledOf(row.wasPayload),
    batch,
    water,
    flushed: flushedWith(payload, then, batch?.water ?? water),
    ...pouredFigures(batch, payload),
    cameOutEcUsCm: ppm === undefined ? undefined : ppm / scale,
    cameOutPh: readingMiddle(payload.oldReservoir.ph),
    cameOutPhSd: phSdOf(payload.oldReservoir.ph, phMeter, ppm === undefined ? USUAL_EC_US_CM : ppm / scale),
    runOffEcUsCm: runOff === undefined ? undefined : runOff / scale,
    tainted: [
      ...taintedOf(batch),
      ...(off(payload.ppmMeterId) ? (['cameOutPpm'] as const) : []),
      ...(off(payload.phMeterId) ? (['cameOutPh'] as const) : []),
    ],
    phOffset: phOffset(phMeter, row.at),
  };
}

function toReread(row: EventRow, meters: Meters): Reread {
  const payload = JSON.parse(row.payload) as CarePayload<'potReread'>;
  const ppm = readingMiddle(payload.ppm);
  const ecUsCm = ppm === undefined ? undefined : ppm / scaleOf(meters.get(payload.ppmMeterId ?? ''));
  const ph = readingMiddle(payload.ph);
  const off = (meterId: string | null) => meterId !== null && isTainted(meters.get(meterId), row.at);
  const [ppmOff, phOff] = [off(payload.ppmMeterId), off(payload.phMeterId)];
  const phMeter = payload.phMeterId === null ? undefined : meters.get(payload.phMeterId);
  return {
    eventId: row.id,
    at: row.at,
    on: row.localDate,
    payload,
    ecUsCm,
    phSd: phSdOf(payload.ph, phMeter, ecUsCm ?? USUAL_EC_US_CM),
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
const NOT_ASKED_OF = Object.entries(NOT_ASKED);
/** A filling as logged; what was not asked for when it was logged is not known. */
export function filledOf(payload: string): CarePayload<'potFilled'> {
  const filled = JSON.parse(payload) as Record<string, unknown>;
  // Onto what was read, not into a copy: of a long log the copies are most of the time.
  for (const [key, value] of NOT_ASKED_OF) if (!(key in filled)) filled[key] = value;
  return filled as CarePayload<'potFilled'>;
}
