import type { EntityManager } from 'typeorm';
import { daysBetween, localDateOf } from '../../core/regimen/index.ts';
import {
  fillSim,
  flushSim,
  mixSim,
  passDays,
  PURE,
  replaySimBatch,
  seededRandom,
  seedOf,
  type SimBag,
  type SimBatch,
  type SimBatchAct,
  type SimPen,
  type SimPot,
  type SimPotNature,
  type SimProduct,
  type SimSolution,
} from '../../core/simulation/index.ts';
import { batchEvents } from '../collection/index.ts';
import { readCareEvent, type ReadCareEvent } from '../database/care-log.ts';
import type { Batch, BatchPart, CareEvent, SimulatedTruth } from '../database/entities.ts';
import type { Random } from '../../core/statistics/index.ts';
import type { CarePayload } from '../../contract/care.ts';

/*
 * The hidden truth that simulated pens read. Only this folder and the demo's maker touch it; nothing that estimates may.
 */

/** A pot's truth at an instant, from which it is played on through the log. */
export type PotTruth = { nature: SimPotNature; state: SimPot; asOf: string; flushWaterId: string };
/** A pen; its noise is `noise` plus a share of the truth. */
export type PenTruth = SimPen & { noiseShare: number };

type Truths = {
  clay: SimBag;
  potClay: { bag: SimBag; porePpm: number };
  water: SimSolution;
  bottle: SimProduct;
  product: SimProduct;
  pot: PotTruth;
  pen: PenTruth;
};

/** Stores one truth. Demo only. */
export async function writeTruth<K extends keyof Truths>(
  manager: EntityManager,
  kind: K,
  id: string,
  truth: Truths[K],
): Promise<void> {
  await manager.query(
    'INSERT INTO simulated_truth (subject, payload) VALUES (?, ?) ON CONFLICT (subject) DO UPDATE SET payload = excluded.payload',
    [`${kind}:${id}`, JSON.stringify(truth)],
  );
}

/** Reads one truth; undefined where there is no simulation behind it. */
export async function readTruth<K extends keyof Truths>(
  manager: EntityManager,
  kind: K,
  id: string,
): Promise<Truths[K] | undefined> {
  const [row] = await manager.query<SimulatedTruth[]>('SELECT * FROM simulated_truth WHERE subject = ?', [
    `${kind}:${id}`,
  ]);
  return row && (JSON.parse(row.payload) as Truths[K]);
}

/** What is truly in a batch now: replayed from its live acts. */
export async function trueBatch(manager: EntityManager, batchId: string): Promise<SimBatch | undefined> {
  const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (!batch) return undefined;
  const water = (await readTruth(manager, 'water', batch.waterId)) ?? PURE;
  const parts = await manager.query<Pick<BatchPart, 'position' | 'bottleId' | 'mlPerUnit'>[]>(
    'SELECT position, bottleId, mlPerUnit FROM batch_part WHERE batchId = ?',
    [batchId],
  );
  const acts: SimBatchAct[] = [];
  for (const event of batchEvents(manager, batchId)) {
    if (event.kind === 'batchPortion') {
      const part = parts.find((p) => p.position === event.payload.part);
      const product = part && (await readTruth(manager, 'bottle', part.bottleId));
      if (product)
        acts.push({ id: event.id, kind: 'dose', product, doseMl: event.payload.dose.doseMl / part.mlPerUnit });
    }
    if (event.kind === 'batchThinned')
      acts.push({ id: event.id, kind: 'thin', pourOffL: event.payload.pourOffL, addL: event.payload.addL });
    if (event.kind === 'batchCorrection') {
      const product = await readTruth(manager, 'product', event.payload.productId);
      if (product)
        acts.push({ id: event.id, kind: 'dose', product, doseMl: event.payload.dose.doseMl / event.payload.ratio });
    }
  }
  return replaySimBatch(batchId, water, batch.volumeL, acts);
}

type TruthOfPot = NonNullable<Awaited<ReturnType<typeof readTruth<'pot'>>>>;

type WaterOf = (id: string | null) => Promise<SimSolution | undefined>;

async function filledAnew(
  truth: TruthOfPot,
  state: SimPot,
  { flushWith, flushMl, waterId, pouredMl }: CarePayload<'potFilled'>,
  batch: SimSolution | undefined,
  waterOf: WaterOf,
  random: Random,
): Promise<SimPot> {
  const stages = flushWith?.length ? flushWith : [{ waterId: truth.flushWaterId, ml: flushMl }];
  let flushed = state;
  for (const stage of stages)
    flushed = flushSim(flushed, truth.nature, (await waterOf(stage.waterId)) ?? PURE, stage.ml, random);
  return fillSim(flushed, truth.nature, batch ?? (await waterOf(waterId ?? null)) ?? PURE, pouredMl);
}

const toppedUp = (state: SimPot, poured: SimSolution, ml: number): SimPot => ({
  ...state,
  reservoir: mixSim(state.reservoir, state.volumeMl, poured, ml),
  volumeMl: state.volumeMl + ml,
});

/** What an act on the pot makes of it. */
async function given(
  manager: EntityManager,
  truth: TruthOfPot,
  state: SimPot,
  event: ReadCareEvent,
  random: Random,
): Promise<SimPot> {
  const batch = event.batchId ? (await trueBatch(manager, event.batchId))?.solution : undefined;
  const waterOf: WaterOf = async (id) => (id === null ? undefined : readTruth(manager, 'water', id));
  if (event.kind === 'potToppedUp')
    return toppedUp(state, batch ?? (await waterOf(event.payload.waterId)) ?? PURE, event.payload.ml);
  // A soak goes through all the clay and is drained again: what stays is what the pores keep of it.
  if (event.kind === 'supplementStarted' && event.payload.way === 'soak')
    return flushSim(state, truth.nature, batch ?? PURE, event.payload.pouredMl, random);
  return event.kind === 'potFilled' ? filledAnew(truth, state, event.payload, batch, waterOf, random) : state;
}

/** Where a pot's reservoir truly stands at an instant: from its stored truth through every fill logged since. */
export async function truePot(
  manager: EntityManager,
  potId: string,
  at: Date,
  zone: string,
): Promise<SimPot | undefined> {
  const truth = await readTruth(manager, 'pot', potId);
  if (!truth) return undefined;
  const random = seededRandom(seedOf(`${potId}:${truth.asOf}`));
  const rows = await manager.query<CareEvent[]>(
    `SELECT * FROM care_event WHERE potId = ? AND kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND voidedBy IS NULL AND at > ? ORDER BY at`,
    [potId, truth.asOf],
  );
  let state = truth.state;
  let day = localDateOf(new Date(truth.asOf), zone);
  for (const row of rows) {
    const event = readCareEvent(row);
    state = passDays(state, truth.nature, Math.max(0, daysBetween(day, row.localDate)), random);
    day = row.localDate;
    state = await given(manager, truth, state, event, random);
  }
  return passDays(state, truth.nature, Math.max(0, daysBetween(day, localDateOf(at, zone))), random);
}
