import type { EntityManager } from 'typeorm';
import type { BenchStepRead } from '../../contract/bench.ts';
import type { CareKind, CarePayload } from '../../contract/care.ts';
import { expectPh, isOddPh, MOST_CORRECTIONS } from '../../core/correction/index.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { OPEN, solve } from '../../core/solution/index.ts';
import { addPortion, takeReading } from '../../core/strength/index.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Batch, Product, Vessel } from '../database/entities.ts';
import type { ActAt } from './start-batch.ts';
import {
  afterAcidOf,
  basesOf,
  chemistryOf,
  keepKnown,
  leftOfBatch,
  type Meters,
  metersOf,
  phOffset,
  readingEc,
  replayBatch,
  type ReplayedBatch,
  stirredBy,
} from '../collection/index.ts';

/**
 * Logs one act at the bench.
 * @throws AppError when it is out of order, below the base, over the vessel, a fourth correction, or odd and not confirmed
 */
export async function actAtBench(
  manager: EntityManager,
  batchId: string,
  eventId: string,
  step: BenchStepRead,
  when: ActAt,
): Promise<{ repeated: boolean }> {
  const meters = metersOf(manager);
  const replayed = replayBatch(manager, batchId, meters);
  if (!replayed)
    throw new AppError('not-found', 'There is no such batch. It may have been made in the other collection.');
  if (replayed.events.some((event) => event.id === eventId)) return { repeated: true };
  if (step.kind === 'empty') return emptyLeftover(manager, replayed, eventId, step.to, when);
  if (step.kind === 'assign') return assignLeftover(manager, replayed, eventId, step.mixKey, when);
  if (replayed.batch.status !== 'open')
    throw new AppError(
      'batch-closed',
      'This batch was already poured or thrown away. Take that back in the Book to go on with it.',
    );
  const { session } = replayed;
  const started = session.batch !== undefined;
  if (step.kind !== 'base' && step.kind !== 'abandon' && !started)
    throw new AppError('batch-step-order', 'Read the plain water first: everything is counted over its own reading.');
  switch (step.kind) {
    case 'base': {
      if (session.portionsUsed > 0)
        throw new AppError('batch-step-order', 'The water cannot be read again now that feed is in it.');
      const read = readingEc(step.reading, replayed.scale);
      const thoughtEcUsCm =
        read === null && step.reading.kind === 'notMeasured'
          ? (basesOf(manager, meters).get(replayed.batch.waterId) ?? null)
          : null;
      if (read === null && thoughtEcUsCm === null)
        throw readingProblem('Read the plain water: the aim is counted over it.');
      const usual = await usualBase(manager, replayed.batch.waterId, meters);
      if (read !== null && usual !== undefined && !step.confirmedOdd && isFarFrom(read, usual)) {
        const message = `${Math.round(read * replayed.scale)} ppm is far from the ${Math.round(usual * replayed.scale)} this water usually reads. Is it this water, and every digit right? Keep it once more if it stands.`;
        throw new AppError('reading-odd', message, { errors: [{ path: 'reading', message }] });
      }
      return log(
        manager,
        batchId,
        eventId,
        'batchBase',
        { reading: step.reading, thoughtEcUsCm, confirmedOdd: step.confirmedOdd },
        when,
      );
    }
    case 'portion': {
      if (session.awaitingReading)
        throw new AppError(
          'batch-step-order',
          'The last portion has not been read yet. Dip the pen before adding more.',
        );
      const part = replayed.parts[step.part];
      if (!part) throw fieldProblem('part', 'There is no such part in this batch.');
      if (session.parts.some((p, i) => i > step.part && p.portionsUsed > 0))
        throw new AppError(
          'batch-step-order',
          `Something went in after the ${part.product.name} already. Take that back first.`,
        );
      if (step.part > session.at)
        throw new AppError('batch-step-order', `The ${replayed.parts[session.at]!.product.name} comes before it.`);
      if (step.byRecipe && !replayed.batch.byRecipe)
        throw new AppError(
          'batch-step-order',
          'This batch is made by the pen: read it, or leave the part as it stands.',
        );
      const counted = part.row.method === 'granules';
      if (
        counted
          ? step.dose.toolId !== null
          : !(JSON.parse(replayed.batch.toolIds) as string[]).includes(step.dose.toolId ?? '')
      )
        throw fieldProblem('dose.toolId', 'Choose one of the tools of this batch.');
      checkReading(replayed, step.reading, step.confirmedOdd, step);
      const { part: index, dose, reading, confirmedOdd, byRecipe } = step;
      return log(
        manager,
        batchId,
        eventId,
        'batchPortion',
        { part: index, dose, reading, confirmedOdd, byRecipe },
        when,
      );
    }
    case 'leave': {
      if (!session.parts[step.part]) throw fieldProblem('part', 'There is no such part in this batch.');
      if (step.part !== session.at && !session.awaitingReading)
        throw new AppError('batch-step-order', 'That part is done, or its turn has not come.');
      return log(manager, batchId, eventId, 'batchPartLeft', { part: step.part, why: step.why }, when);
    }
    case 'reading': {
      if (readingEc(step.reading, replayed.scale) === null && step.reading.kind !== 'overRange')
        throw readingProblem('Type what the pen reads; the coach goes by it.');
      checkReading(replayed, step.reading, step.confirmedOdd);
      return log(
        manager,
        batchId,
        eventId,
        'batchReading',
        { reading: step.reading, confirmedOdd: step.confirmedOdd },
        when,
      );
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
      const keepAs = step.keepAs !== null && step.pourOffL >= LEAST_KEPT_L ? step.keepAs : null;
      if (keepAs) await keepPouredOff(manager, replayed, keepAs, step.pourOffL, when);
      return log(
        manager,
        batchId,
        eventId,
        'batchThinned',
        { pourOffL: step.pourOffL, addL: step.addL, reading: step.reading, to: step.to, keepAs },
        when,
      );
    }
    case 'ph': {
      if (readingMiddle(step.reading) === undefined) throw readingProblem('Type what the pH pen reads.');
      await checkPh(manager, replayed, step, meters, when.at);
      return log(
        manager,
        batchId,
        eventId,
        'batchPh',
        { reading: step.reading, confirmedOdd: step.confirmedOdd },
        when,
      );
    }
    case 'correction': {
      if (session.corrections >= MOST_CORRECTIONS) {
        throw new AppError(
          'too-many-corrections',
          'Three corrections are the most: each one adds salts, and a fourth rarely lands. Start the batch again; this one can water garden plants.',
        );
      }
      if (session.latestPh === undefined)
        throw new AppError('batch-step-order', 'Read the pH first, so that the drops have something to be judged by.');
      await requireDoseOf(manager, replayed, step.productId, step.dose.toolId);
      const { productId, dose, ratio, reading, confirmedOdd } = step;
      await checkPh(manager, replayed, step, meters, when.at, step);
      return log(manager, batchId, eventId, 'batchCorrection', { productId, dose, ratio, reading, confirmedOdd }, when);
    }
    case 'pour': {
      if (session.portionsUsed === 0 && replayed.parts.length > 0)
        throw new AppError(
          'batch-step-order',
          'Nothing has been added to this water yet. Add a portion first, or throw the batch out.',
        );
      const payload: CarePayload<'batchPoured'> = {
        volumeL: session.volumeL,
        readsEcUsCm: session.awaitingReading || session.unread ? null : (session.lastReadingEcUsCm ?? null),
        ph: session.latestPh ?? null,
      };
      const done = await log(manager, batchId, eventId, 'batchPoured', payload, when);
      await manager.getRepository<Batch>('batch').update(batchId, {
        status: 'poured',
        pouredVolumeL: payload.volumeL,
        pouredEcUsCm: payload.readsEcUsCm,
        afterAcidEcUsCm: afterAcidOf(manager, replayed, metersOf(manager)),
        pouredPh: payload.ph,
        pouredAt: when.at.toISOString(),
      });
      await keepKnown(manager, replayed);
      return done;
    }
    case 'abandon': {
      const done = await log(
        manager,
        batchId,
        eventId,
        'batchAbandoned',
        { volumeL: session.volumeL, reason: step.reason },
        when,
      );
      await manager.getRepository<Batch>('batch').update(batchId, { status: 'abandoned' });
      await keepKnown(manager, replayed);
      return done;
    }
  }
}

/** After so many minutes carbon has moved: a reading may lie anywhere on the way to where it goes standing open. */
const FRESH_MINUTES = 10;

/** A pH far from what the chemistry and the readings so far expect is questioned once. @param dose that goes in with this reading */
async function checkPh(
  manager: EntityManager,
  replayed: ReplayedBatch,
  { reading, confirmedOdd }: { reading: Reading | null; confirmedOdd: boolean },
  meters: Meters,
  at: Date,
  dose?: CarePayload<'batchCorrection'>,
): Promise<void> {
  const shown = reading === null ? undefined : readingMiddle(reading);
  if (shown === undefined || confirmedOdd) return;
  const chemistry = chemistryOf(manager, replayed, meters);
  if (!chemistry.known) return;
  const more = dose && stirredBy(manager, dose, replayed.session.volumeL);
  const expected = expectPh({
    ...chemistry,
    total: chemistry.before.total,
    stirred: more ? [...chemistry.stirred, more] : chemistry.stirred,
  });
  if (!expected) return;
  const meter = replayed.batch.phMeterId === null ? undefined : meters.get(replayed.batch.phMeterId);
  const offBy = phOffset(meter, at.toISOString());
  const minutes = (at.getTime() - new Date(replayed.events.at(-1)?.at ?? at).getTime()) / 60_000;
  const open = minutes > FRESH_MINUTES ? solve(chemistry.now, OPEN) : undefined;
  const [low, high] = open?.ok
    ? [Math.min(expected.low, open.ph), Math.max(expected.high, open.ph)]
    : [expected.low, expected.high];
  if (!isOddPh(shown - offBy, { low, high })) return;
  const message = `${shown.toFixed(1)} is far from the ${(low + offBy).toFixed(1)} to ${(high + offBy).toFixed(1)} it should read. Look at these, read again, or keep it once more if it stands.`;
  throw new AppError('reading-odd', message, { errors: [{ path: 'reading', message }] });
}

/** Corrections are an acid or a base on the shelf, measured with a tool of this batch. */
async function requireDoseOf(
  manager: EntityManager,
  { batch }: ReplayedBatch,
  productId: string,
  toolId: string | null,
): Promise<void> {
  const product = await manager.getRepository<Product>('product').findOneBy({ id: productId });
  if (product?.kind !== 'acid' && product?.kind !== 'base')
    throw fieldProblem('productId', 'Choose a pH-down or pH-up.');
  if (!(JSON.parse(batch.toolIds) as string[]).includes(toolId ?? ''))
    throw fieldProblem('dose.toolId', 'Choose one of the tools of this batch.');
}

function fieldProblem(path: string, message: string): AppError {
  return new AppError('invalid-request', message, { errors: [{ path, message }] });
}

/** Less than a cup poured off is not worth a label. */
const LEAST_KEPT_L = 0.05;

/** What was poured off a batch that was too strong, kept as a batch of its own: its strength and pH are those it was poured off with. */
async function keepPouredOff(
  manager: EntityManager,
  { batch, session }: ReplayedBatch,
  id: string,
  litres: number,
  when: ActAt,
): Promise<void> {
  if (await manager.getRepository<Batch>('batch').existsBy({ id }))
    throw new AppError('id-reused', 'A batch with this number already exists. Reload the bench.');
  await manager.getRepository<Batch>('batch').insert({
    ...batch,
    id,
    name: `${batch.name}, poured off`.slice(0, 80),
    status: 'poured',
    recipeId: null,
    mixKey: null,
    byRecipe: false,
    forPots: '[]',
    startedAt: when.at.toISOString(),
    startedOn: when.localDate,
    volumeL: litres,
    pouredVolumeL: litres,
    pouredEcUsCm: session.lastReadingEcUsCm ?? null,
    pouredPh: session.latestPh ?? null,
    pouredAt: when.at.toISOString(),
    emptied: false,
  });
}

async function assignLeftover(
  manager: EntityManager,
  { batch }: ReplayedBatch,
  eventId: string,
  mixKey: string,
  when: ActAt,
): Promise<{ repeated: boolean }> {
  if (batch.status !== 'poured' || batch.emptied)
    throw new AppError('batch-closed', 'There is nothing left of this batch.');
  const done = await log(manager, batch.id, eventId, 'batchAssigned', { mixKey, before: batch.mixKey }, when);
  await manager.getRepository<Batch>('batch').update(batch.id, { mixKey });
  return done;
}

/** Median of the last five readings of a water before a mix, µS/cm; undefined where there is none. */
async function usualBase(manager: EntityManager, waterId: string, meters: Meters): Promise<number | undefined> {
  const rows = await manager.query<{ ppm: number; ppmMeterId: string }[]>(
    `SELECT json_extract(e.payload, '$.reading.value') AS ppm, b.ppmMeterId FROM batch b JOIN care_event e ON e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL
     WHERE b.waterId = ? AND json_extract(e.payload, '$.reading.kind') = 'value' ORDER BY b.startedAt DESC LIMIT 5`,
    [waterId],
  );
  const read = rows.map((row) => row.ppm / (meters.get(row.ppmMeterId)?.scale ?? 0.5)).sort((a, b) => a - b);
  return read[Math.floor(read.length / 2)];
}

/** A water that reads three times, or a third of, what it did, and by more than its own wandering: likelier another water or a slip. */
function isFarFrom(read: number, usual: number): boolean {
  return Math.abs(read - usual) > 60 && (read > 3 * usual || read < usual / 3);
}

async function emptyLeftover(
  manager: EntityManager,
  { batch }: ReplayedBatch,
  eventId: string,
  to: string,
  when: ActAt,
): Promise<{ repeated: boolean }> {
  if (batch.status !== 'poured' || batch.emptied)
    throw new AppError('batch-closed', 'There is nothing left of this batch.');
  const leftMl = leftOfBatch(manager, batch);
  const done = await log(manager, batch.id, eventId, 'batchEmptied', { leftMl, to }, when);
  await manager.getRepository<Batch>('batch').update(batch.id, { emptied: true });
  return done;
}

/** Refuses a reading under the water's own, and questions one more than three standard deviations off, once. */
function checkReading(
  { session, scale, pen }: ReplayedBatch,
  reading: Reading | null,
  confirmedOdd: boolean,
  portion?: { part: number; dose: { doseMl: number; relativeSd: number } },
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
  const before = portion
    ? addPortion(session.batch, portion.dose.doseMl, portion.dose.relativeSd, portion.part)
    : session.batch;
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
  const { repeated } = await appendCareEvent(manager, {
    id: eventId,
    kind,
    at: when.at,
    localDate: when.localDate,
    batchId,
    payload,
  });
  return { repeated };
}
