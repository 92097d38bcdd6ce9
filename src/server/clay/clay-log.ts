import type { EntityManager } from 'typeorm';
import { z } from 'zod';
import type { CarePayload } from '../../contract/care.ts';
import { toldBag, type ToldBag } from '../../contract/clay.ts';
import {
  CLAY_AT_LARGE,
  isBelief,
  priorFromBags,
  withMeasuredShares,
  type ClayFit,
  type ClayPrior,
  type LeachAct,
  type LeachHistory,
} from '../../core/clay/index.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import type { ReadCareEvent } from '../database/care-log.ts';
import { readCareEvent } from '../database/care-log.ts';
import type { CareEvent, ClayBatch } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { ecOf, isTainted, type Meters, metersOf, rowsFor } from '../collection/index.ts';
import { fitOf, fitAhead } from './fits.ts';
import { isMeasured } from './clay-common.ts';

export type ClayEvent = ReadCareEvent<
  'clayFilled' | 'clayRead' | 'clayDrained' | 'clayDried' | 'potPotted' | 'recordsChanged'
>;
/** The model works at the half scale: µS/cm ÷ 2. */
export const HALF = 0.5;

/** Everything logged of each batch, in order of time; of one, or of all. */
export function readClayEvents(manager: EntityManager, clayId?: string): Map<string, ClayEvent[]> {
  const rows = rowsFor(manager)<CareEvent & { subject: string }>(
    `SELECT e.*, t.subject FROM event_touch t JOIN care_event e ON e.id = t.eventId
     WHERE ${clayId ? 't.subject = ?' : `t.subject LIKE 'clay_batch:%'`} AND e.voidedBy IS NULL ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
    ...(clayId ? [`clay_batch:${clayId}`] : []),
  );
  const byClay = new Map<string, ClayEvent[]>();
  for (const row of rows) {
    const id = row.subject.slice('clay_batch:'.length);
    byClay.set(id, [...(byClay.get(id) ?? []), readCareEvent<ClayEvent['kind']>(row)]);
  }
  return byClay;
}

/** A batch in water, as the log tells it. */
export type Leach = {
  readonly startedAt: string;
  readonly lastFilledAt: string;
  readonly drainedAt: string | null;
  readonly waterId: string;
  /** By what was poured on and off, L. */
  readonly waterL: number;
  readonly changes: number;
  /** Of the water on it now, as last read before it was poured on, µS/cm; null where nobody read it. */
  readonly baseEcUsCm: number | null;
  readonly readSinceFilled: boolean;
  readonly history: LeachHistory;
  /** Shares held back at each measured change. */
  readonly shares: readonly number[];
};

const HOUR_MS = 3_600_000;

/** The bath of a batch, drained or not; undefined where no water was ever poured on. */
export function leachOf(
  batch: Pick<ClayBatch, 'volumeL'>,
  events: readonly ClayEvent[],
  meters: Meters,
): Leach | undefined {
  const first = events.find((e) => e.kind === 'clayFilled');
  if (first?.kind !== 'clayFilled') return undefined;
  const so: SoFar = {
    first,
    last: first,
    acts: [],
    shares: [],
    waterL: 0,
    drained: undefined,
    changes: -1,
    readSinceFilled: false,
  };
  for (const event of events) takeIn(so, event, meters);
  const { last, waterL, drained, changes, readSinceFilled, acts, shares } = so;
  return {
    startedAt: first.at,
    lastFilledAt: last.at,
    drainedAt: drained?.at ?? null,
    waterId: last.payload.waterId,
    waterL,
    changes: Math.max(0, changes),
    baseEcUsCm: last.payload.baseEcUsCm,
    readSinceFilled,
    history: { clayL: batch.volumeL, firstL: first.payload.freshL, acts },
    shares,
  };
}

type Filled = Extract<ClayEvent, { kind: 'clayFilled' }>;
/** A leach as far as its log was read. */
type SoFar = {
  readonly first: Filled;
  last: Filled;
  readonly acts: LeachAct[];
  readonly shares: number[];
  waterL: number;
  drained: { readonly at: string; readonly pouredOffL: number; readonly measured: boolean } | undefined;
  changes: number;
  readSinceFilled: boolean;
};

function takeIn(so: SoFar, event: ClayEvent, meters: Meters): void {
  const atHours = (Date.parse(event.at) - Date.parse(so.first.at)) / HOUR_MS;
  if (event.kind === 'clayFilled') return fillAnew(so, event, atHours);
  if (event.kind === 'clayDrained') {
    const { pouredOffL } = event.payload;
    const measured = isMeasured(event.payload);
    if (so.waterL > 0 && measured) so.shares.push(1 - pouredOffL / so.waterL);
    so.waterL -= pouredOffL;
    so.drained = { at: event.at, pouredOffL, measured };
  }
  if (event.kind !== 'clayRead') return;
  const netPpm = netHalfPpm(event, so.last.payload.baseEcUsCm ?? 0, meters);
  if (netPpm === undefined) return;
  so.readSinceFilled = true;
  if (!isTainted(meters.get(event.payload.ppmMeterId ?? ''), event.at))
    so.acts.push({ kind: 'reading', atHours, netPpm });
}

function fillAnew(so: SoFar, event: Filled, atHours: number): void {
  const { pouredOffL: off, freshL } = event.payload;
  const drainedL = so.drained?.pouredOffL ?? 0;
  if (so.changes >= 0) {
    const pouredOffL = off + drainedL;
    const before = so.waterL + drainedL;
    // What nobody measured is what is thought to drain: a prediction is never learned from as if it had been read.
    const measured = isMeasured(event.payload) && (so.drained?.measured ?? true);
    so.acts.push({ kind: 'change', atHours, freshL, ...(measured ? { pouredOffL } : {}) });
    if (before > 0 && measured) so.shares.push(1 - pouredOffL / before);
  }
  so.waterL += freshL - off;
  so.changes++;
  so.last = event;
  so.drained = undefined;
  so.readSinceFilled = false;
}

/** A reading's conductivity at 25 °C, µS/cm; undefined where the pen told none. */
export function ecOfRead({ payload }: { payload: CarePayload<'clayRead'> }, meters: Meters): number | undefined {
  const shown = readingMiddle(payload.ppm);
  return shown === undefined ? undefined : ecOf(shown, meters.get(payload.ppmMeterId ?? ''), payload.temperatureC);
}

/** What a reading says of the clay alone, at the half scale. */
function netHalfPpm(
  event: Extract<ClayEvent, { kind: 'clayRead' }>,
  baseEcUsCm: number,
  meters: Meters,
): number | undefined {
  const ec = ecOfRead(event, meters);
  return ec === undefined ? undefined : Math.max(0, ec - baseEcUsCm) * HALF;
}

/** Bags leached this far teach the next one: fewer readings say little that clay at large does not. */
const READINGS_THAT_TEACH = 3;
export type FittedBatch = {
  readonly batch: ClayBatch;
  readonly leach: Leach | undefined;
  readonly prior: ClayPrior;
  readonly ownBags: number;
  readonly told: readonly ToldBag[];
  readonly fit: ClayFit;
};

/** Every batch, or one, with what is believed of it: before its readings by clay at large and the grower's other bags, and after them. */
export function fitBatches(
  batches: readonly ClayBatch[],
  events: ReadonlyMap<string, readonly ClayEvent[]>,
  meters: Meters,
  only?: ClayBatch,
): FittedBatch[] {
  const leaches = leachesOf(batches, events, meters);
  return leaches.filter(isAsked(only)).map((of) => {
    const others = before(leaches, of).map((other) => fitOf(aloneOf(other)));
    const prior = priorOf(of, others);
    return {
      ...of,
      prior,
      ownBags: others.length,
      told: toldOf(of.batch),
      fit: fitOf({ prior, history: historyOf(of) }),
    };
  });
}

const isAsked =
  (only: ClayBatch | undefined) =>
  ({ batch }: BatchLeach): boolean =>
    only === undefined || batch === only;

type BatchLeach = { readonly batch: ClayBatch; readonly leach: Leach | undefined };
const leachesOf = (
  batches: readonly ClayBatch[],
  events: ReadonlyMap<string, readonly ClayEvent[]>,
  meters: Meters,
): BatchLeach[] => batches.map((batch) => ({ batch, leach: leachOf(batch, events.get(batch.id) ?? [], meters) }));

/** A bag is judged by what was known when it had its first water: later ones change nothing of it. */
const before = (leaches: readonly BatchLeach[], { batch, leach }: BatchLeach) =>
  leaches.filter(
    (other) => other.batch !== batch && teaches(other) && (!leach || other.leach.startedAt < leach.startedAt),
  );
const readingsOf = ({ leach }: Pick<BatchLeach, 'leach'>) =>
  leach?.history.acts.filter((act) => act.kind === 'reading').length ?? 0;
const teaches = <T extends Pick<BatchLeach, 'leach'>>(of: T): of is T & { readonly leach: Leach } =>
  readingsOf(of) >= READINGS_THAT_TEACH;
const historyOf = ({ batch, leach }: BatchLeach): LeachHistory =>
  leach?.history ?? { clayL: batch.volumeL, firstL: batch.volumeL, acts: [] };
const aloneOf = (of: BatchLeach) => ({
  prior: withMeasuredShares(CLAY_AT_LARGE, of.leach?.shares ?? []),
  history: historyOf(of),
});
const priorOf = ({ batch, leach }: BatchLeach, others: readonly ClayFit[]) =>
  withMeasuredShares(priorFromBags(CLAY_AT_LARGE, others, toldOf(batch)), leach?.shares ?? []);

const toldBags = z.array(toldBag);
/** What other growers' bags were found to do; what cannot be understood, or is no belief, is left out. */
export const toldOf = ({ told }: Pick<ClayBatch, 'told'>): ToldBag[] =>
  told === null ? [] : (readJson(toldBags, told) ?? []).filter(isBelief);

/** What a bag by itself was found to do, for another grower; undefined where too little was read of it. */
export function cardOf(of: Pick<FittedBatch, 'batch' | 'leach'>): Omit<ToldBag, 'name'> | undefined {
  if (!teaches(of)) return undefined;
  const { mean, covariance } = fitOf(aloneOf(of));
  return {
    bagId: of.batch.id,
    readings: readingsOf(of),
    changes: Math.max(0, of.leach.changes),
    mean: [...mean],
    covariance: covariance.map((row) => [...row]),
  };
}

/** Fits every batch, or one, off the main thread, those that teach others first. */
export async function fitBatchesAhead(
  batches: readonly ClayBatch[],
  events: ReadonlyMap<string, readonly ClayEvent[]>,
  meters: Meters,
  only?: ClayBatch,
): Promise<void> {
  const leaches = leachesOf(batches, events, meters);
  const asked = leaches.filter(isAsked(only));
  // Each by itself: what it teaches the others, and what may be shared of it.
  const teachers = only ? asked.flatMap((of) => before(leaches, of)) : leaches.filter(teaches);
  await fitAhead(teachers.map(aloneOf));
  await fitAhead(
    asked.map((of) => ({
      prior: priorOf(
        of,
        before(leaches, of).map((other) => fitOf(aloneOf(other))),
      ),
      history: historyOf(of),
    })),
  );
}

/** One batch as it is believed now, with what all the grower's bags say of it. */
export function fittedBatch(manager: EntityManager, clayId: string): FittedBatch {
  const all = rowsFor(manager)<ClayBatch>('SELECT * FROM clay_batch');
  return fitBatches(all, readClayEvents(manager), metersOf(manager)).find((f) => f.batch.id === clayId)!;
}
