import type { EntityManager } from 'typeorm';
import type { KnownMeter, Meters } from '../shelf/meter-states.ts';
import { readingMiddle, taintAt, taintSd, type Reading } from '../../core/quantity/index.ts';
import {
  feedAim,
  learnedFrom,
  openBottle,
  priorBelief,
  replayBench,
  type Aim,
  type BenchAct,
  type BenchSession,
  type PenNoise,
  type StrengthBelief,
} from '../../core/strength/index.ts';
import { batchEvents, type ReadCareEvent } from '../database/care-log.ts';
import { readMeters } from '../shelf/shelf-reader.ts';
import type { Batch, Bottle, Meter, Product } from '../database/entities.ts';

/** A batch replayed: its row, live events, and the session the core makes of them. */
export type ReplayedBatch = {
  batch: Batch;
  events: ReadCareEvent[];
  session: BenchSession;
  aim: Aim;
  before: StrengthBelief;
  pen: PenNoise;
  scale: number;
  batchesBefore: number;
  product: Product;
};

/** A pen as the estimator takes it to be: its own digit, 2 % of the reading. */
export function penNoise(meter: Meter | undefined): PenNoise {
  return { resolutionEcUsCm: (meter?.resolution ?? 1) / (meter?.scale ?? 0.5), relativeSd: 0.02 };
}

/** EC behind a ppm reading as entered, µS/cm; null where there is no figure. */
export function readingEc(reading: Reading | null, scale: number): number | null {
  const ppm = reading && readingMiddle(reading);
  return ppm === undefined || ppm === null ? null : ppm / scale;
}

/**
 * The log's events as the core's acts. Events that are not acts at the bench (started, poured) are left out; a reading of a pen later found
 * off carries by how much.
 */
export function toActs(events: readonly ReadCareEvent[], meter: KnownMeter | undefined): { eventId: string; act: BenchAct }[] {
  const acts: { eventId: string; act: BenchAct }[] = [];
  for (const event of events) {
    const act = toAct(event, meter?.scale ?? 0.5);
    const taint = meter && taintAt(meter.taints, event.at);
    if (act) acts.push({ eventId: event.id, act: taint ? { ...act, taintSd: taintSd(taint, 'ppm') } : act });
  }
  return acts;
}

function toAct(event: ReadCareEvent, scale: number): BenchAct | undefined {
  switch (event.kind) {
    case 'batchBase':
      return { kind: 'base', readingEcUsCm: readingEc(event.payload.reading, scale) };
    case 'batchPortion':
      return {
        kind: 'portion',
        doseMl: event.payload.dose.doseMl,
        relativeSd: event.payload.dose.relativeSd,
        readingEcUsCm: readingEc(event.payload.reading, scale),
        confirmedOdd: event.payload.confirmedOdd,
      };
    case 'batchReading':
      return { kind: 'reading', readingEcUsCm: readingEc(event.payload.reading, scale), confirmedOdd: event.payload.confirmedOdd };
    case 'batchThinned':
      return { kind: 'thin', pourOffL: event.payload.pourOffL, addL: event.payload.addL, readingEcUsCm: readingEc(event.payload.reading, scale) };
    case 'batchPh':
      return { kind: 'ph', ph: readingMiddle(event.payload.reading) ?? null };
    case 'batchCorrection':
      return { kind: 'correction', drops: event.payload.drops, ph: event.payload.reading ? (readingMiddle(event.payload.reading) ?? null) : null };
    default:
      return undefined;
  }
}

/** Knowledge of a product: the belief, the bottle it is about, and how many batches that bottle has taught. */
export type Known = { belief: StrengthBelief; bottleId: string | null; batches: number };

/**
 * What is known of a bottle's product before a batch: the typed guess, then every earlier closed batch of the product in order, starting
 * wide again at each new bottle. Goes on from the last batch whose knowledge is cached.
 */
export async function beliefBefore(manager: EntityManager, product: Product, bottleId: string, startedAt: string, meters: Meters): Promise<Known> {
  const closed = `FROM batch b JOIN bottle o ON o.id = b.bottleId WHERE o.productId = ? AND b.startedAt < ? AND b.status <> 'open'`;
  const [cached] = await manager.query<Batch[]>(`SELECT b.* ${closed} AND b.knownAfter IS NOT NULL ORDER BY b.startedAt DESC LIMIT 1`, [product.id, startedAt]);
  let known: Known = cached ? (JSON.parse(cached.knownAfter!) as Known) : { belief: priorBelief(product.guessEcPerMlL ?? 300), bottleId: null, batches: 0 };
  const rest = await manager.query<Batch[]>(`SELECT b.* ${closed} AND b.startedAt > ? ORDER BY b.startedAt`, [product.id, startedAt, cached?.startedAt ?? '']);
  for (const batch of rest) known = knownAfterBatch(known, batch, await batchEvents(manager, batch.id), meters);
  return aboutBottle(known, bottleId);
}

/** Knowledge after one more batch. */
export function knownAfterBatch(before: Known, batch: Batch, events: readonly ReadCareEvent[], meters: Meters): Known {
  const known = aboutBottle(before, batch.bottleId);
  const meter = meters.get(batch.ppmMeterId);
  const acts = toActs(events, meter).map(({ act }) => act);
  const session = replayBench(known.belief, batch.volumeL, batch.thinRatio, feedAim(batch.netEcUsCm), penNoise(meter), acts);
  return { belief: learnedFrom(session, batch.thinRatio, known.belief), bottleId: batch.bottleId, batches: known.batches + (session.portionsUsed > 0 ? 1 : 0) };
}

function aboutBottle(known: Known, bottleId: string): Known {
  if (known.bottleId === null || known.bottleId === bottleId) return { ...known, bottleId };
  return { belief: openBottle(known.belief), bottleId, batches: 0 };
}

/** Caches what is known after a batch that closes; batches started after it learn anew from here. */
export async function keepKnown(manager: EntityManager, replayed: ReplayedBatch): Promise<void> {
  const { batch, events, before, batchesBefore } = replayed;
  const known = knownAfterBatch({ belief: before, bottleId: batch.bottleId, batches: batchesBefore }, batch, events, await readMeters(manager));
  await forgetKnown(manager, replayed.product.id, batch.startedAt);
  await manager.getRepository<Batch>('batch').update(batch.id, { knownAfter: JSON.stringify(known) });
}

/** Drops the cached knowledge of a product from a moment on. */
export async function forgetKnown(manager: EntityManager, productId: string, from: string): Promise<void> {
  await manager.query('UPDATE batch SET knownAfter = NULL WHERE startedAt >= ? AND bottleId IN (SELECT id FROM bottle WHERE productId = ?)', [from, productId]);
}

/** Reads and replays one batch; undefined when there is none of that id. `known` saves asking again what was known before it. */
export async function replayBatch(manager: EntityManager, batchId: string, meters: Meters, known?: Known): Promise<ReplayedBatch | undefined> {
  const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (!batch) return undefined;
  const bottle = await manager.getRepository<Bottle>('bottle').findOneByOrFail({ id: batch.bottleId });
  const product = await manager.getRepository<Product>('product').findOneByOrFail({ id: bottle.productId });
  const events = await batchEvents(manager, batchId);
  const meter = meters.get(batch.ppmMeterId);
  const scale = meter?.scale ?? 0.5;
  const { belief, batches } = known ? aboutBottle(known, batch.bottleId) : await beliefBefore(manager, product, batch.bottleId, batch.startedAt, meters);
  const aim = feedAim(batch.netEcUsCm);
  const pen = penNoise(meter);
  const acts = toActs(events, meter).map(({ act }) => act);
  const session = replayBench(belief, batch.volumeL, batch.thinRatio, aim, pen, acts);
  return { batch, events, session, aim, before: belief, pen, scale, batchesBefore: batches, product };
}

/** What is left of a poured batch, mL: what it came to, less every live fill drawn from it. */
export async function leftOfBatch(manager: EntityManager, batch: Batch): Promise<number> {
  if (batch.pouredVolumeL === null || batch.emptied) return 0;
  const rows = await manager.query<{ drawn: number | null }[]>(
    `SELECT sum(json_extract(payload, '$.pouredMl')) AS drawn FROM care_event WHERE batchId = ? AND kind = 'potFilled' AND voidedBy IS NULL`,
    [batch.id],
  );
  return Math.max(0, batch.pouredVolumeL * 1000 - (rows[0]?.drawn ?? 0));
}
