import type { EntityManager } from 'typeorm';
import { AppError } from '../app-error.ts';
import { forgetKnown } from '../bench/batch-reader.ts';
import { appendCareEvent, readCareEvent } from '../database/care-log.ts';
import type { Batch, CareEvent, ToolRow } from '../database/entities.ts';
import { UNDO_WORDS } from './book-view.ts';

/**
 * Takes an act back: an `undone` event is appended that names it, and what was derived from it is set right, in one transaction.
 * Undoing an undo puts the act back. The same request again changes nothing.
 * @throws AppError `not-found`, `cannot-undo` with the reason and what to undo first
 */
export async function undoAct(
  manager: EntityManager,
  undoId: string,
  targetId: string,
  when: { at: Date; localDate: string },
): Promise<{ words: string; repeated: boolean }> {
  const repository = manager.getRepository<CareEvent>('care_event');
  const target = await repository.findOneBy({ id: targetId });
  if (!target) throw new AppError('not-found', 'That act is not in the log.');
  const words = UNDO_WORDS[target.kind] ?? 'Took an act back';
  const earlier = await repository.findOneBy({ id: undoId });
  if (earlier?.kind === 'undone') return { words, repeated: true };
  if (target.voidedBy) throw new AppError('cannot-undo', 'That was already taken back.');
  await undoConsequences(manager, target);
  await appendCareEvent(manager, {
    id: undoId,
    kind: 'undone',
    at: when.at,
    localDate: when.localDate,
    potId: target.potId,
    batchId: target.batchId,
    payload: { targetId, targetKind: target.kind },
  });
  await manager.query('UPDATE care_event SET voidedBy = ? WHERE id = ?', [undoId, targetId]);
  return { words, repeated: false };
}

async function undoConsequences(manager: EntityManager, target: CareEvent): Promise<void> {
  const event = readCareEvent(target);
  switch (event.kind) {
    case 'potFilled':
    case 'potSkipped':
      return;
    case 'dropperCounted':
      await manager.getRepository<ToolRow>('tool').update(event.payload.toolId, { dropsPerMl: event.payload.before });
      return;
    case 'undone':
      return putBack(manager, event.payload.targetId);
    case 'batchStarted':
      throw new AppError('cannot-undo', 'A batch that was started is thrown out at the bench, not taken back.');
    default:
      await requireLastOfBatch(manager, target);
  }
  const batches = manager.getRepository<Batch>('batch');
  await forgetFrom(manager, target.batchId!);
  if (event.kind === 'batchPoured') {
    const [drawn] = await manager.query<{ n: number }[]>(`SELECT count(*) AS n FROM care_event WHERE batchId = ? AND kind = 'potFilled' AND voidedBy IS NULL`, [
      target.batchId,
    ]);
    if (drawn && drawn.n > 0)
      throw new AppError('cannot-undo', `${drawn.n} pot${drawn.n === 1 ? ' was' : 's were'} filled from this batch. Take those back first.`);
    await batches.update(target.batchId!, { status: 'open', pouredVolumeL: null, pouredEcUsCm: null, pouredPh: null, pouredAt: null });
  } else if (event.kind === 'batchAbandoned') await batches.update(target.batchId!, { status: 'open' });
  else if (event.kind === 'batchEmptied') await batches.update(target.batchId!, { emptied: false });
}

/** Steps of a batch build on each other, so they come back last first. */
async function requireLastOfBatch(manager: EntityManager, target: CareEvent): Promise<void> {
  const [last] = await manager.query<{ id: string }[]>(
    `SELECT id FROM care_event WHERE batchId = ? AND voidedBy IS NULL AND kind LIKE 'batch%' ORDER BY seq DESC LIMIT 1`,
    [target.batchId],
  );
  if (last && last.id !== target.id) throw new AppError('cannot-undo', 'Later steps of this batch build on it. Take the last one back first.');
}

/** What later batches learned from this one must be learned again. */
async function forgetFrom(manager: EntityManager, batchId: string): Promise<void> {
  const [row] = await manager.query<{ productId: string; startedAt: string }[]>(
    'SELECT o.productId, b.startedAt FROM batch b JOIN bottle o ON o.id = b.bottleId WHERE b.id = ?',
    [batchId],
  );
  if (row) await forgetKnown(manager, row.productId, row.startedAt);
}

async function putBack(manager: EntityManager, targetId: string): Promise<void> {
  const target = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: targetId });
  if (target.dueKey) {
    const [holder] = await manager.query<CareEvent[]>('SELECT * FROM care_event WHERE dueKey = ? AND voidedBy IS NULL', [target.dueKey]);
    if (holder)
      throw new AppError('cannot-undo', 'Another act was logged in its place since. Take that one back first.', {
        existing: { at: holder.at, eventId: holder.id },
      });
  }
  const event = readCareEvent(target);
  const batches = manager.getRepository<Batch>('batch');
  if (event.kind === 'undone') {
    // Putting an undo back takes its own target away again.
    const original = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: event.payload.targetId });
    await undoConsequences(manager, original);
    await manager.query('UPDATE care_event SET voidedBy = ? WHERE id = ?', [targetId, original.id]);
  }
  if (event.kind.startsWith('batch')) {
    const [later] = await manager.query<{ n: number }[]>(
      `SELECT count(*) AS n FROM care_event WHERE batchId = ? AND seq > ? AND voidedBy IS NULL AND kind LIKE 'batch%'`,
      [target.batchId, target.seq],
    );
    if (later && later.n > 0) throw new AppError('cannot-undo', 'Other steps were taken in its place since. Take those back first.');
    await forgetFrom(manager, target.batchId!);
  }
  if (event.kind === 'batchPoured')
    await batches.update(target.batchId!, {
      status: 'poured',
      pouredVolumeL: event.payload.volumeL,
      pouredEcUsCm: event.payload.readsEcUsCm,
      pouredPh: event.payload.ph,
      pouredAt: target.at,
    });
  else if (event.kind === 'batchAbandoned') await batches.update(target.batchId!, { status: 'abandoned' });
  else if (event.kind === 'batchEmptied') await batches.update(target.batchId!, { emptied: true });
  else if (event.kind === 'dropperCounted') await manager.getRepository<ToolRow>('tool').update(event.payload.toolId, { dropsPerMl: event.payload.dropsPerMl });
  await manager.query('UPDATE care_event SET voidedBy = NULL WHERE id = ?', [targetId]);
}
