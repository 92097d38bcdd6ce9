import type { EntityManager } from 'typeorm';
import type { BenchStep, StartBatch } from '../../contract/bench.ts';
import type { CareKind, CarePayload } from '../../contract/care.ts';
import { ecFromPpm, readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { bottleStrength, feedAim, MOST_CORRECTIONS, takeReading, thinningRatio } from '../../core/strength/index.ts';
import { addPortion } from '../../core/strength/index.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Batch, Bottle, Product, ToolRow, Vessel, Water } from '../database/entities.ts';
import { runOver } from '../shelf/product-facts.ts';
import { isDosingTool, readMeters, toTool } from '../shelf/shelf-reader.ts';
import { afterAcidOf } from './predicted.ts';
import { beliefBefore, keepKnown, leftOfBatch, readingEc, replayBatch, type ReplayedBatch } from './batch-reader.ts';

export type ActAt = { at: Date; localDate: string };

/**
 * Starts a batch with the id the client chose. The same request again changes nothing.
 * @throws AppError `vessel-too-small`, `invalid-request`, `id-reused`
 */
export async function startBatchOf(manager: EntityManager, batchId: string, request: StartBatch, when: ActAt): Promise<void> {
  const existing = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (existing) {
    if (existing.name === request.name && existing.volumeL === request.volumeL && existing.bottleId === request.bottleId) return;
    throw new AppError('id-reused', 'A batch with this number already exists. Reload the bench and start again.');
  }
  const field = (path: string, message: string) => new AppError('invalid-request', message, { errors: [{ path, message }] });
  const vessel = await manager.getRepository<Vessel>('vessel').findOneBy({ id: request.vesselId });
  if (!vessel) throw field('vesselId', 'Choose what to mix in.');
  if (request.volumeL > vessel.capacityL) {
    const message = `The ${vessel.name.toLowerCase()} holds ${vessel.capacityL} L, and this is ${request.volumeL} L. Take a larger vessel or make two batches.`;
    throw new AppError('vessel-too-small', message, { errors: [{ path: 'vesselId', message }] });
  }
  const meters = await readMeters(manager);
  const meter = meters.get(request.ppmMeterId);
  if (meter?.quantity !== 'ppm') throw field('ppmMeterId', 'Choose a TDS pen.');
  const bottle = await manager.getRepository<Bottle>('bottle').findOneBy({ id: request.bottleId });
  const product = bottle && (await manager.getRepository<Product>('product').findOneBy({ id: bottle.productId }));
  if (!bottle || !product || product.kind === 'acid' || product.kind === 'base') throw field('bottleId', 'Choose a feed.');
  const over = await runOver(manager, bottle, product, when.localDate);
  if (over)
    throw field(
      'bottleId',
      `${product.name} slows growth, and its run of ${product.longestDays} days was over on ${over}. It rests for a fortnight: choose another.`,
    );
  if (!(await manager.getRepository<Water>('water').findOneBy({ id: request.waterId }))) throw field('waterId', 'Choose a water.');
  if (request.phMeterId !== null && meters.get(request.phMeterId)?.quantity !== 'pH') throw field('phMeterId', 'Choose a pH pen, or none.');
  if (request.phLow > request.phHigh) throw field('phLow', 'The lower pH is above the upper. Swap them.');
  const tools = (await manager.query<ToolRow[]>('SELECT * FROM tool')).filter((t) => request.toolIds.includes(t.id) && isDosingTool(t)).map(toTool);
  if (tools.length === 0) throw field('toolIds', 'Choose a dropper or a syringe.');
  const netEcUsCm = ecFromPpm(request.netPpm, meter.scale ?? 0.5);
  const { belief } = await beliefBefore(manager, product, bottle.id, when.at.toISOString(), meters);
  const thinRatio = thinningRatio(bottleStrength(belief).ecPerMlL, request.volumeL, feedAim(netEcUsCm), tools);
  await manager.getRepository<Batch>('batch').insert({
    id: batchId,
    name: request.name,
    status: 'open',
    mixKey: request.mixKey,
    startedAt: when.at.toISOString(),
    startedOn: when.localDate,
    waterId: request.waterId,
    vesselId: vessel.id,
    bottleId: bottle.id,
    ppmMeterId: meter.id,
    phMeterId: request.phMeterId,
    toolIds: JSON.stringify(request.toolIds),
    volumeL: request.volumeL,
    thinRatio,
    netEcUsCm,
    phLow: request.phLow,
    phHigh: request.phHigh,
    pouredVolumeL: null,
    pouredEcUsCm: null,
    afterAcidEcUsCm: null,
    pouredPh: null,
    pouredAt: null,
    emptied: false,
    knownAfter: null,
  });
  await log(manager, batchId, startEventId(batchId), 'batchStarted', { volumeL: request.volumeL }, when);
}

/** The started-event's id follows from the batch's, so that starting twice is one start: same UUID with its last digit turned. */
function startEventId(batchId: string): string {
  const last = batchId.slice(-1).toLowerCase();
  return batchId.slice(0, -1) + ((parseInt(last, 16) + 1) % 16).toString(16);
}

/**
 * Logs one act at the bench.
 * @throws AppError when it is out of order, below the base, over the vessel, a fourth correction, or odd and not confirmed
 */
export async function actAtBench(manager: EntityManager, batchId: string, eventId: string, step: BenchStep, when: ActAt): Promise<{ repeated: boolean }> {
  const meters = await readMeters(manager);
  const replayed = await replayBatch(manager, batchId, meters);
  if (!replayed) throw new AppError('not-found', 'There is no such batch. It may have been made in the other collection.');
  if (replayed.events.some((event) => event.id === eventId)) return { repeated: true };
  if (step.kind === 'empty') return emptyLeftover(manager, replayed, eventId, step.to, when);
  if (replayed.batch.status !== 'open')
    throw new AppError('batch-closed', 'This batch was already poured or thrown away. Take that back in the Book to go on with it.');
  const { session } = replayed;
  const started = session.batch !== undefined;
  if (step.kind !== 'base' && step.kind !== 'abandon' && !started)
    throw new AppError('batch-step-order', 'Read the plain water first: everything is counted over its own reading.');
  switch (step.kind) {
    case 'base': {
      if (session.portionsUsed > 0) throw new AppError('batch-step-order', 'The water cannot be read again now that feed is in it.');
      if (readingEc(step.reading, replayed.scale) === null) throw readingProblem('Read the plain water: the aim is counted over it.');
      return log(manager, batchId, eventId, 'batchBase', { reading: step.reading }, when);
    }
    case 'portion': {
      if (session.awaitingReading) throw new AppError('batch-step-order', 'The last portion has not been read yet. Dip the pen before adding more.');
      if (!(JSON.parse(replayed.batch.toolIds) as string[]).includes(step.dose.toolId)) {
        throw new AppError('invalid-request', 'That tool was not chosen for this batch.', {
          errors: [{ path: 'dose.toolId', message: 'Choose one of the tools of this batch.' }],
        });
      }
      checkReading(replayed, step.reading, step.confirmedOdd, { doseMl: step.dose.doseMl, relativeSd: step.dose.relativeSd });
      return log(manager, batchId, eventId, 'batchPortion', { dose: step.dose, reading: step.reading, confirmedOdd: step.confirmedOdd }, when);
    }
    case 'reading': {
      if (readingEc(step.reading, replayed.scale) === null && step.reading.kind !== 'overRange')
        throw readingProblem('Type what the pen reads; the coach goes by it.');
      checkReading(replayed, step.reading, step.confirmedOdd);
      return log(manager, batchId, eventId, 'batchReading', { reading: step.reading, confirmedOdd: step.confirmedOdd }, when);
    }
    case 'thin': {
      const vessel = await manager.getRepository<Vessel>('vessel').findOneByOrFail({ id: replayed.batch.vesselId });
      const after = session.volumeL - step.pourOffL + step.addL;
      if (!(step.pourOffL < session.volumeL))
        throw new AppError('invalid-request', 'That would pour all of it away.', {
          errors: [{ path: 'pourOffL', message: 'That would pour all of it away. Throw the batch out instead.' }],
        });
      // A cupful of grace over the brim mark: capacities are read off buckets.
      if (after > vessel.capacityL + 0.05) {
        const message = `The ${vessel.name.toLowerCase()} holds ${vessel.capacityL} L and would stand at ${after.toFixed(1)} L. Pour some off first.`;
        throw new AppError('vessel-too-small', message, { errors: [{ path: 'addL', message }] });
      }
      return log(manager, batchId, eventId, 'batchThinned', { pourOffL: step.pourOffL, addL: step.addL, reading: step.reading }, when);
    }
    case 'ph': {
      if (readingMiddle(step.reading) === undefined) throw readingProblem('Type what the pH pen reads.');
      return log(manager, batchId, eventId, 'batchPh', { reading: step.reading }, when);
    }
    case 'correction': {
      if (session.corrections >= MOST_CORRECTIONS) {
        throw new AppError(
          'too-many-corrections',
          'Three corrections are the most: each one adds salts, and a fourth rarely lands. Start the batch again; this one can water garden plants.',
        );
      }
      if (session.latestPh === undefined) throw new AppError('batch-step-order', 'Read the pH first, so that the drops have something to be judged by.');
      await requireDropsOf(manager, step.productId, step.toolId);
      return log(
        manager,
        batchId,
        eventId,
        'batchCorrection',
        { productId: step.productId, toolId: step.toolId, drops: step.drops, reading: step.reading },
        when,
      );
    }
    case 'pour': {
      if (session.portionsUsed === 0)
        throw new AppError('batch-step-order', 'Nothing has been added to this water yet. Add a portion first, or throw the batch out.');
      const payload: CarePayload<'batchPoured'> = {
        volumeL: session.volumeL,
        readsEcUsCm: session.awaitingReading ? null : (session.lastReadingEcUsCm ?? null),
        ph: session.latestPh ?? null,
      };
      const done = await log(manager, batchId, eventId, 'batchPoured', payload, when);
      await manager.getRepository<Batch>('batch').update(batchId, {
        status: 'poured',
        pouredVolumeL: payload.volumeL,
        pouredEcUsCm: payload.readsEcUsCm,
        afterAcidEcUsCm: await afterAcidOf(manager, replayed, await readMeters(manager)),
        pouredPh: payload.ph,
        pouredAt: when.at.toISOString(),
      });
      await keepKnown(manager, replayed);
      return done;
    }
    case 'abandon': {
      const done = await log(manager, batchId, eventId, 'batchAbandoned', { volumeL: session.volumeL, reason: step.reason }, when);
      await manager.getRepository<Batch>('batch').update(batchId, { status: 'abandoned' });
      await keepKnown(manager, replayed);
      return done;
    }
  }
}

/** Corrections are drops of an acid or a base on the shelf, from a dropper on the shelf. */
async function requireDropsOf(manager: EntityManager, productId: string, toolId: string): Promise<void> {
  const product = await manager.getRepository<Product>('product').findOneBy({ id: productId });
  const tool = await manager.getRepository<ToolRow>('tool').findOneBy({ id: toolId });
  const at = (path: string, message: string) => new AppError('invalid-request', message, { errors: [{ path, message }] });
  if (product?.kind !== 'acid' && product?.kind !== 'base') throw at('productId', 'Choose a pH-down or pH-up.');
  if (tool?.kind !== 'dropper') throw at('toolId', 'Choose the dropper the drops come from.');
}

async function emptyLeftover(manager: EntityManager, { batch }: ReplayedBatch, eventId: string, to: string, when: ActAt): Promise<{ repeated: boolean }> {
  if (batch.status !== 'poured' || batch.emptied) throw new AppError('batch-closed', 'There is nothing left of this batch.');
  const leftMl = await leftOfBatch(manager, batch);
  const done = await log(manager, batch.id, eventId, 'batchEmptied', { leftMl, to }, when);
  await manager.getRepository<Batch>('batch').update(batch.id, { emptied: true });
  return done;
}

/** Refuses a reading under the water's own, and questions one more than three standard deviations off, once. */
function checkReading(
  { session, scale, pen }: ReplayedBatch,
  reading: Reading | null,
  confirmedOdd: boolean,
  portion?: { doseMl: number; relativeSd: number },
): void {
  const ec = readingEc(reading, scale);
  if (ec === null || !session.batch || session.baseEcUsCm === undefined) return;
  const ppm = Math.round(ec * scale);
  const basePpm = Math.round(session.baseEcUsCm * scale);
  // A digit of grace: the pen may flicker one under the base when nearly nothing was added.
  if (ec < session.baseEcUsCm - 1.5 * pen.resolutionEcUsCm) {
    const message = `${ppm} ppm is below the water's own ${basePpm}. Rinse the pen and read again; if the water was read wrong, take the steps back and read it again.`;
    throw new AppError('reading-below-base', message, { errors: [{ path: 'reading', message }] });
  }
  const before = portion ? addPortion(session.batch, portion.doseMl, portion.relativeSd) : session.batch;
  const { odd, z } = takeReading(before, ec, pen);
  if (odd && !confirmedOdd) {
    const message = `${ppm} ppm is far ${z > 0 ? 'above' : 'below'} what was expected. Stir, rinse the pen and read again. Keep it once more if it stands.`;
    throw new AppError('reading-odd', message, { errors: [{ path: 'reading', message }] });
  }
}

function readingProblem(message: string): AppError {
  return new AppError('invalid-request', message, { errors: [{ path: 'reading', message }] });
}

async function log<K extends CareKind>(
  manager: EntityManager,
  batchId: string,
  eventId: string,
  kind: K,
  payload: CarePayload<K>,
  when: ActAt,
): Promise<{ repeated: boolean }> {
  const { repeated } = await appendCareEvent(manager, { id: eventId, kind, at: when.at, localDate: when.localDate, batchId, payload });
  return { repeated };
}
