import type { EntityManager } from 'typeorm';
import { readingMiddle, taintAt, taintSd, type Reading } from '../../core/quantity/index.ts';
import {
  learnedFrom,
  openBottle,
  priorBelief,
  replayBench,
  type BenchAct,
  type BenchPart,
  type BenchSession,
  type BenchSetup,
  type PenNoise,
  type StrengthBelief,
  UNLABELLED_EC_PER_ML_L,
  unlabelledBelief,
} from '../../core/strength/index.ts';
import { readCareEvent, type ReadCareEvent } from '../database/care-log.ts';
import type { Batch, BatchPart, Bottle, CareEvent, Meter, Product } from '../database/entities.ts';
import { labelOf } from './label-of.ts';
import { type KnownMeter, type Meters, scaleOf } from './meters.ts';
import { metersOf } from './while-writing.ts';
import { rowsFor } from './holder.ts';
import { DRAWN_ML, leftMlOf } from './left.ts';

/** A part of a batch with what is known of its product. */
export type KnownPart = { row: BatchPart; product: Product; bottle: Bottle; before: Known };
/** A batch replayed: its row and parts, live events, and the session the core makes of them. */
export type ReplayedBatch = {
  batch: Batch;
  parts: KnownPart[];
  events: ReadCareEvent[];
  setup: BenchSetup;
  session: BenchSession;
  pen: PenNoise;
  scale: number;
};

/** A pen as the estimator takes it to be: its own digit, 2 % of the reading. */
export function penNoise(meter: Meter | undefined): PenNoise {
  return { resolutionEcUsCm: (meter?.resolution ?? 1) / scaleOf(meter), relativeSd: 0.02 };
}

/** EC behind a ppm reading as entered, µS/cm; null where there is no figure. */
export function readingEc(reading: Reading | null, scale: number): number | null {
  const ppm = reading && readingMiddle(reading);
  return ppm === undefined || ppm === null ? null : ppm / scale;
}

/** A base nobody measured is taken as last read, 1 SD as a share: waters wander. */
const THOUGHT_SD = 0.2;

/**
 * The log's events as the core's acts. Events that are not acts at the bench (started, poured) are left out; a reading of a pen later found
 * off carries by how much.
 */
export function toActs(
  events: readonly ReadCareEvent[],
  meter: KnownMeter | undefined,
): { eventId: string; act: BenchAct }[] {
  const acts: { eventId: string; act: BenchAct }[] = [];
  for (const event of events) {
    const act = toAct(event, scaleOf(meter));
    const taint = meter && taintAt(meter.taints, event.at);
    if (act?.kind === 'base' && event.kind === 'batchBase' && readingEc(event.payload.reading, 1) === null)
      acts.push({ eventId: event.id, act: { ...act, taintSd: event.payload.thoughtSd ?? THOUGHT_SD } });
    else if (act) acts.push({ eventId: event.id, act: taint ? { ...act, taintSd: taintSd(taint, 'ppm') } : act });
  }
  return acts;
}

function toAct(event: ReadCareEvent, scale: number): BenchAct | undefined {
  switch (event.kind) {
    case 'batchBase':
      return { kind: 'base', readingEcUsCm: readingEc(event.payload.reading, scale) ?? event.payload.thoughtEcUsCm };
    case 'batchPortion':
      return {
        kind: 'portion',
        part: event.payload.part,
        byRecipe: event.payload.byRecipe,
        notMeasured: event.payload.reading?.kind === 'notMeasured',
        doseMl: event.payload.dose.doseMl,
        relativeSd: event.payload.dose.relativeSd,
        readingEcUsCm: readingEc(event.payload.reading, scale),
        confirmedOdd: event.payload.confirmedOdd,
      };
    case 'batchReading':
      return {
        kind: 'reading',
        readingEcUsCm: readingEc(event.payload.reading, scale),
        confirmedOdd: event.payload.confirmedOdd,
      };
    case 'batchPartLeft':
      return { kind: 'leave', part: event.payload.part };
    case 'batchThinned':
      return {
        kind: 'thin',
        pourOffL: event.payload.pourOffL,
        addL: event.payload.addL,
        readingEcUsCm: readingEc(event.payload.reading, scale),
      };
    case 'batchPh':
      return { kind: 'ph', ph: readingMiddle(event.payload.reading) ?? null };
    case 'batchCorrection':
      return {
        kind: 'correction',
        steps: event.payload.dose.steps,
        ph: event.payload.reading ? (readingMiddle(event.payload.reading) ?? null) : null,
      };
    default:
      return undefined;
  }
}

/**
 * Knowledge of a product: the belief, what it is about (a bottle, or one making-up of a stock), and how many batches that has taught.
 */
export type Known = { belief: StrengthBelief; source: string | null; batches: number };

/** Whether a product's strength follows from its label or from a mix that was read, before any batch taught it. */
export const isStrengthKnown = (product: Product): boolean =>
  product.guessEcPerMlL !== null || labelOf(product) !== undefined;

/** Guess of a product's strength before any reading, µS/cm for a mL (g) in a litre: as typed, else by its label, else a usual liquid. */
export function guessedStrength(product: Product): number {
  return product.guessEcPerMlL ?? labelOf(product)?.ecPerUnitL ?? UNLABELLED_EC_PER_ML_L;
}

/** The belief before the first batch: by its label or a remembered mix, or, with neither, from doubt. */
const firstBelief = (product: Product) =>
  isStrengthKnown(product) ? priorBelief(guessedStrength(product)) : unlabelledBelief();

/**
 * What is known of a product before a moment: the guess, then every earlier closed batch with it in order, starting wide again at each new
 * source. Goes on from the last batch whose knowledge is cached.
 * @param memo what this look into the log worked out already: batches of several products ask for each other's knowledge
 */
export function beliefBefore(
  manager: EntityManager,
  product: Product,
  source: string,
  startedAt: string,
  meters: Meters,
  memo = newMemo(),
): Known {
  const parts = rowsFor(manager)<{ batchId: string; position: number; knownAfter: string | null; startedAt: string }>(
    `SELECT p.batchId, p.position, p.knownAfter, b.startedAt FROM batch_part p JOIN bottle o ON o.id = p.bottleId JOIN batch b ON b.id = p.batchId
     WHERE o.productId = ? AND b.startedAt < ? AND b.status <> 'open' ORDER BY b.startedAt DESC`,
    product.id,
    startedAt,
  );
  const cached = parts.findIndex((part) => part.knownAfter !== null);
  let known: Known =
    cached === -1
      ? { belief: firstBelief(product), source: null, batches: 0 }
      : (JSON.parse(parts[cached]!.knownAfter!) as Known);
  for (const part of parts.slice(0, cached === -1 ? undefined : cached).reverse()) {
    const replayed = replayBatch(manager, part.batchId, meters, memo, { position: part.position, known });
    if (replayed) known = knownAfter(replayed, part.position);
  }
  return aboutSource(known, source);
}

type Memo = Map<string, ReplayedBatch>;
const newMemo = (): Memo => new Map();

/** What is known of a part's product after its batch. */
export function knownAfter({ session, setup, parts }: ReplayedBatch, position: number): Known {
  const { before, row } = parts[position]!;
  return {
    belief: learnedFrom(session, setup, position),
    source: row.source,
    // A batch nobody read of teaches nothing.
    batches: before.batches + (session.snapshots.some((s) => s.part === position && s.ecPerMlL !== null) ? 1 : 0),
  };
}

function aboutSource(known: Known, source: string): Known {
  if (known.source === null || known.source === source) return { ...known, source };
  return { belief: openBottle(known.belief), source, batches: 0 };
}

/** Caches what is known after a batch that closes; batches started after it learn anew from here. */
export async function keepKnown(manager: EntityManager, { batch }: ReplayedBatch): Promise<void> {
  await forgetKnown(manager, batch.startedAt);
  const replayed = replayBatch(manager, batch.id, metersOf(manager));
  for (const { row } of replayed?.parts ?? []) {
    await manager.query('UPDATE batch_part SET knownAfter = ? WHERE id = ?', [
      JSON.stringify(knownAfter(replayed!, row.position)),
      row.id,
    ]);
  }
}

/** Caches what every closed batch taught that is not cached yet, oldest first. */
export async function rememberAll(manager: EntityManager): Promise<void> {
  const meters = metersOf(manager);
  const batches = rowsFor(manager)<{ id: string }>(
    `SELECT b.id FROM batch b WHERE b.status <> 'open' AND EXISTS (SELECT 1 FROM batch_part p WHERE p.batchId = b.id AND p.knownAfter IS NULL) ORDER BY b.startedAt`,
  );
  for (const { id } of batches) {
    const replayed = replayBatch(manager, id, meters);
    for (const { row } of replayed?.parts ?? [])
      await manager.query('UPDATE batch_part SET knownAfter = ? WHERE id = ?', [
        JSON.stringify(knownAfter(replayed!, row.position)),
        row.id,
      ]);
  }
}

/** Drops the cached knowledge from a moment on: of every product, for batches of several tie them together. */
export async function forgetKnown(manager: EntityManager, from: string): Promise<void> {
  await manager.query(
    'UPDATE batch_part SET knownAfter = NULL WHERE knownAfter IS NOT NULL AND batchId IN (SELECT id FROM batch WHERE startedAt >= ?)',
    [from],
  );
}

/** What a part asks of the core. */
export function coreAim(row: BatchPart): BenchPart['aim'] {
  if (row.unitsPerL !== null) return { by: 'measure', unitsPerL: row.unitsPerL };
  return {
    by: 'pen',
    aim: {
      netEcUsCm: row.netEcUsCm!,
      lowEcUsCm: row.lowEcUsCm!,
      highEcUsCm: row.highEcUsCm!,
      hardEcUsCm: row.hardEcUsCm!,
    },
  };
}

/**
 * Reads and replays one batch; undefined when there is none of that id.
 * @param about saves asking again what was known of one of its products before it
 */
export function replayBatch(
  manager: EntityManager,
  batchId: string,
  meters: Meters,
  memo = newMemo(),
  about?: { position: number; known: Known },
): ReplayedBatch | undefined {
  const done = memo.get(batchId);
  if (done) return done;
  const [row] = rowsFor(manager)<Batch>('SELECT * FROM batch WHERE id = ?', batchId);
  if (!row) return undefined;
  // SQLite keeps yes and no as 1 and 0.
  const batch = { ...row, byRecipe: Boolean(row.byRecipe), emptied: Boolean(row.emptied) };
  const parts: KnownPart[] = [];
  for (const row of partsOf(manager, batchId)) {
    const bottle = rowsFor(manager)<Bottle>('SELECT * FROM "bottle" WHERE id = ?', row.bottleId)[0]!;
    const product = rowsFor(manager)<Product>('SELECT * FROM "product" WHERE id = ?', bottle.productId)[0]!;
    const before =
      about?.position === row.position
        ? aboutSource(about.known, row.source)
        : beliefBefore(manager, product, row.source, batch.startedAt, meters, memo);
    parts.push({ row, product, bottle, before });
  }
  const meter = meters.get(batch.ppmMeterId ?? '');
  const events = batchEvents(manager, batchId);
  const setup: BenchSetup = {
    volumeL: batch.volumeL,
    parts: parts.map(({ row, before }) => ({ belief: before.belief, mlPerUnit: row.mlPerUnit, aim: coreAim(row) })),
    pen: penNoise(meter),
  };
  const session = replayBench(
    setup,
    toActs(events, meter).map(({ act }) => act),
  );
  const replayed: ReplayedBatch = { batch, parts, events, setup, session, pen: setup.pen, scale: scaleOf(meter) };
  memo.set(batchId, replayed);
  return replayed;
}

/** A batch's parts in their order. */
export function partsOf(manager: EntityManager, batchId: string): BatchPart[] {
  return rowsFor(manager)<BatchPart>('SELECT * FROM batch_part WHERE batchId = ? ORDER BY position', batchId);
}

/** What is left of a poured batch, mL: what it came to, less every live fill drawn from it. */
export function leftOfBatch(manager: EntityManager, batch: Batch): number {
  const [row] = rowsFor(manager)<{ drawnMl: number }>(
    `SELECT ${DRAWN_ML} AS drawnMl FROM batch b WHERE b.id = ?`,
    batch.id,
  );
  return leftMlOf(batch, row?.drawnMl ?? 0);
}

/** What was learned with a pen is learned anew: its taints changed. */
export async function forgetLearnedWith(manager: EntityManager, meterId: string): Promise<void> {
  // From the first batch it read on, whatever pen read the later ones: each builds on those before.
  await manager.query(
    `UPDATE batch_part SET knownAfter = NULL WHERE batchId IN (
       SELECT id FROM batch WHERE startedAt >= (SELECT min(startedAt) FROM batch WHERE ppmMeterId = ?))`,
    [meterId],
  );
}

/** Live (not taken back) events of a batch, in order; a correction stands where the act it corrects stood. */
export function batchEvents(manager: EntityManager, batchId: string): ReadCareEvent[] {
  const rows = rowsFor(manager)<CareEvent>(
    `SELECT * FROM care_event WHERE batchId = ? AND voidedBy IS NULL AND kind LIKE 'batch%' ORDER BY coalesce(standsAt, seq)`,
    batchId,
  );
  return rows.map((row) => readCareEvent(row));
}
