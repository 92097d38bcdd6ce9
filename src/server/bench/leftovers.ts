import type { EntityManager } from 'typeorm';
import type { ManyDone } from '../../contract/common.ts';
import { AppError } from '../app-error.ts';
import { leftOfBatch, metersOf, replayBatch, type ReplayedBatch } from '../collection/index.ts';
import type { Batch } from '../database/entities.ts';
import { logStep, type AtBench } from './bench-log.ts';
import type { ActAt } from './start-batch.ts';

/* What is left of a batch after its pots, and what was poured off one. */

/** Less than a cup poured off is not worth a label. */
export const LEAST_KEPT_L = 0.05;

/** What was poured off a batch that was too strong, kept as a batch of its own: its strength and pH are those it was poured off with. */
export async function keepPouredOff(
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

/** @throws AppError `batch-closed` when nothing is left of it */
export async function assignLeftover(at: AtBench, mixKey: string): Promise<{ repeated: boolean }> {
  const { batch } = requireLeftover(at.replayed);
  const done = await logStep(at, 'batchAssigned', { mixKey, before: batch.mixKey });
  await at.manager.getRepository<Batch>('batch').update(batch.id, { mixKey });
  return done;
}

/** @throws AppError `batch-closed` when nothing is left of it */
export async function emptyLeftover(at: AtBench, to: string): Promise<{ repeated: boolean }> {
  const { batch } = requireLeftover(at.replayed);
  const done = await logStep(at, 'batchEmptied', { leftMl: leftOfBatch(at.manager, batch), to });
  await at.manager.getRepository<Batch>('batch').update(batch.id, { emptied: true });
  return done;
}

/** What is left of several batches, poured out in one act; one that was emptied meanwhile is left as it is, and told. */
export async function emptyLeftovers(
  manager: EntityManager,
  leftovers: readonly { readonly eventId: string; readonly batchId: string }[],
  to: string,
  when: ActAt,
): Promise<ManyDone> {
  const meters = metersOf(manager);
  const loggedIds: string[] = [];
  const already: string[] = [];
  for (const { eventId, batchId } of leftovers) {
    const replayed = replayBatch(manager, batchId, meters);
    if (!replayed)
      throw new AppError('not-found', 'There is no such batch. It may have been made in the other collection.');
    if (isLeft(replayed)) {
      await emptyLeftover({ manager, eventId, replayed, meters, when }, to);
      loggedIds.push(eventId);
    } else already.push(replayed.batch.name);
  }
  return { loggedIds, already, repeated: false };
}

const isLeft = ({ batch }: ReplayedBatch) => batch.status === 'poured' && !batch.emptied;

function requireLeftover(replayed: ReplayedBatch): ReplayedBatch {
  if (!isLeft(replayed)) throw new AppError('batch-closed', 'There is nothing left of this batch.');
  return replayed;
}
