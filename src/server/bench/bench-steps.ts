import type { BenchStepRead } from '../../contract/bench.ts';
import type { CarePayload } from '../../contract/care.ts';
import { MOST_CORRECTIONS } from '../../core/correction/index.ts';
import { inSentence, readingMiddle } from '../../core/quantity/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { afterAcidOf, basesOf, keepKnown, readingEc, rowsFor } from '../collection/index.ts';
import type { Batch, Vessel, Water } from '../database/entities.ts';
import { checkPh, checkReading, isFarFrom, readingProblem, requireDoseOf, usualBase } from './bench-checks.ts';
import { logStep, type AtBench } from './bench-log.ts';
import { thoughtBase } from './start-batch.ts';
import { keepPouredOff, LEAST_KEPT_L } from './leftovers.ts';

type Kind = Exclude<BenchStepRead['kind'], 'empty' | 'assign'>;
type Step<K extends Kind = Kind> = Extract<BenchStepRead, { kind: K }>;
type Handler<K extends Kind> = (step: Step<K>, at: AtBench) => Promise<{ repeated: boolean }>;

const readBase: Handler<'base'> = async (step, at) => {
  const { manager, replayed, meters } = at;
  const { session } = replayed;
  if (session.portionsUsed > 0)
    throw new AppError('batch-step-order', 'The water cannot be read again now that feed is in it.');
  const read = readingEc(step.reading, replayed.scale);
  const thought = read === null && step.reading.kind === 'notMeasured' ? thoughtOf(at) : NOTHING_THOUGHT;
  if (read === null && thought.thoughtEcUsCm === null)
    throw readingProblem('Read the plain water: the aim is counted over it.');
  const usual = await usualBase(manager, replayed.batch.waterId, meters);
  if (read !== null && usual !== undefined && !step.confirmedOdd && isFarFrom(read, usual)) {
    const message = `${Math.round(read * replayed.scale)} ppm is far from the ${Math.round(usual * replayed.scale)} this water usually reads. Is it this water, and every digit right? Keep it once more if it stands.`;
    throw new AppError('reading-odd', message, { errors: [{ path: 'reading', message }] });
  }
  return logStep(at, 'batchBase', { reading: step.reading, ...thought, confirmedOdd: step.confirmedOdd });
};

const NOTHING_THOUGHT = { thoughtEcUsCm: null, thoughtSd: null };
/** What the water is taken for: as it last read; without a pen also as waters of its kind do. */
function thoughtOf({ manager, replayed: { batch }, meters }: AtBench) {
  if (batch.ppmMeterId !== null)
    return { thoughtEcUsCm: basesOf(manager, meters).get(batch.waterId) ?? null, thoughtSd: null };
  const { kind } = rowsFor(manager)<Water>('SELECT * FROM "water" WHERE id = ?', batch.waterId)[0]!;
  return thoughtBase(manager, batch.waterId, kind, meters);
}

const addOne: Handler<'portion'> = async (step, at) => {
  const { replayed } = at;
  const { session } = replayed;
  if (session.awaitingReading)
    throw new AppError('batch-step-order', 'The last portion has not been read yet. Dip the pen before adding more.');
  const part = replayed.parts[step.part];
  if (!part) throw fieldError('part', 'There is no such part in this batch.');
  if (session.parts.some((p, i) => i > step.part && p.portionsUsed > 0))
    throw new AppError(
      'batch-step-order',
      `Something went in after the ${part.product.name} already. Take that back first.`,
    );
  if (step.part > session.at)
    throw new AppError('batch-step-order', `The ${replayed.parts[session.at]!.product.name} comes before it.`);
  if (step.byRecipe && !replayed.batch.byRecipe)
    throw new AppError('batch-step-order', 'This batch is made by the pen: read it, or leave the part as it stands.');
  const counted = part.row.method === 'granules';
  if (
    counted
      ? step.dose.toolId !== null
      : !(JSON.parse(replayed.batch.toolIds) as string[]).includes(step.dose.toolId ?? '')
  )
    throw fieldError('dose.toolId', 'Choose one of the tools of this batch.');
  checkReading(replayed, step.reading, step.confirmedOdd, step);
  const { part: index, dose, reading, confirmedOdd, byRecipe } = step;
  return logStep(at, 'batchPortion', { part: index, dose, reading, confirmedOdd, byRecipe });
};

const leavePart: Handler<'leave'> = async (step, at) => {
  const { replayed } = at;
  const { session } = replayed;
  if (!session.parts[step.part]) throw fieldError('part', 'There is no such part in this batch.');
  if (step.part !== session.at && !session.awaitingReading)
    throw new AppError('batch-step-order', 'That part is done, or its turn has not come.');
  return logStep(at, 'batchPartLeft', { part: step.part, why: step.why });
};

const readAgain: Handler<'reading'> = async (step, at) => {
  const { replayed } = at;
  if (readingEc(step.reading, replayed.scale) === null && step.reading.kind !== 'overRange')
    throw readingProblem('Type what the pen reads; the coach goes by it.');
  checkReading(replayed, step.reading, step.confirmedOdd);
  return logStep(at, 'batchReading', { reading: step.reading, confirmedOdd: step.confirmedOdd });
};

const thin: Handler<'thin'> = async (step, at) => {
  const { manager, replayed } = at;
  const { session } = replayed;
  const vessel = await manager.getRepository<Vessel>('vessel').findOneByOrFail({ id: replayed.batch.vesselId });
  const after = session.volumeL - step.pourOffL + step.addL;
  if (!(step.pourOffL < session.volumeL))
    throw new AppError('invalid-request', 'That would pour all of it away.', {
      errors: [{ path: 'pourOffL', message: 'That would pour all of it away. Throw the batch out instead.' }],
    });
  // A cupful of grace over the brim mark: capacities are read off buckets.
  if (after > vessel.capacityL + 0.05) {
    const message = `The ${inSentence(vessel.name)} holds ${vessel.capacityL} L and would stand at ${after.toFixed(1)} L. Pour some off first.`;
    throw new AppError('vessel-too-small', message, { errors: [{ path: 'addL', message }] });
  }
  const keepAs = step.keepAs !== null && step.pourOffL >= LEAST_KEPT_L ? step.keepAs : null;
  if (keepAs) await keepPouredOff(manager, replayed, keepAs, step.pourOffL, at.when);
  return logStep(at, 'batchThinned', {
    pourOffL: step.pourOffL,
    addL: step.addL,
    reading: step.reading,
    to: step.to,
    keepAs,
  });
};

const readPh: Handler<'ph'> = async (step, at) => {
  const { manager, replayed, meters, when } = at;
  if (readingMiddle(step.reading) === undefined) throw readingProblem('Type what the pH pen reads.');
  await checkPh(manager, replayed, step, meters, when.at);
  return logStep(at, 'batchPh', { reading: step.reading, confirmedOdd: step.confirmedOdd });
};

const correctPh: Handler<'correction'> = async (step, at) => {
  const { manager, replayed, meters, when } = at;
  const { session } = replayed;
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
  return logStep(at, 'batchCorrection', { productId, dose, ratio, reading, confirmedOdd });
};

const pour: Handler<'pour'> = async (_step, at) => {
  const { manager, replayed, meters, when } = at;
  const { session } = replayed;
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
  const done = await logStep(at, 'batchPoured', payload);
  await manager.getRepository<Batch>('batch').update(replayed.batch.id, {
    status: 'poured',
    pouredVolumeL: payload.volumeL,
    pouredEcUsCm: payload.readsEcUsCm,
    afterAcidEcUsCm: afterAcidOf(manager, replayed, meters),
    pouredPh: payload.ph,
    pouredAt: when.at.toISOString(),
  });
  await keepKnown(manager, replayed);
  return done;
};

const abandon: Handler<'abandon'> = async (step, at) => {
  const { manager, replayed } = at;
  const { session } = replayed;
  const done = await logStep(at, 'batchAbandoned', { volumeL: session.volumeL, reason: step.reason });
  await manager.getRepository<Batch>('batch').update(replayed.batch.id, { status: 'abandoned' });
  await keepKnown(manager, replayed);
  return done;
};

/** What each step at an open batch checks and logs. */
export const STEPS: { readonly [K in Kind]: Handler<K> } = {
  base: readBase,
  portion: addOne,
  leave: leavePart,
  reading: readAgain,
  thin: thin,
  ph: readPh,
  correction: correctPh,
  pour: pour,
  abandon: abandon,
};
