import type { EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';
import { actNamed } from '../acts.ts';
import { AppError } from '../app-error.ts';
import { refreshPoured, rowsFor, type Rows } from '../collection/index.ts';
import { appendCareEvent, readCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';

/**
 * Takes an act back: an `undone` event is appended that names it, and what was derived from it is set right, in one transaction.
 * Undoing an undo puts the act back; taking a correction back lets the old figures stand again. The same request again changes nothing.
 * @throws AppError `not-found`, `cannot-undo`, `changed-since`, `in-use`, with the reason and what to undo first
 */
export async function undoAct(
  manager: EntityManager,
  undoId: string,
  targetId: string,
  when: { at: Date; localDate: string },
): Promise<{ words: string; repeated: boolean }> {
  const repository = manager.getRepository<CareEvent>('care_event');
  const words = await wordsOfUndo(manager, targetId);
  const target = await repository.findOneByOrFail({ id: targetId });
  const earlier = await repository.findOneBy({ id: undoId });
  if (earlier) {
    if (earlier.kind === 'undone' && readCareEvent<'undone'>(earlier).payload.targetId === targetId)
      return { words, repeated: true };
    throw new AppError(
      'id-reused',
      'An act with this number is already logged with other contents. Reload the page and do it again.',
    );
  }
  if (target.voidedBy) throw new AppError('cannot-undo', await voidedWords(manager, target));
  await reverse(manager, target, undoId);
  await appendCareEvent(manager, {
    id: undoId,
    kind: 'undone',
    at: when.at,
    localDate: when.localDate,
    potId: target.potId,
    batchId: target.batchId,
    payload: { targetId, targetKind: target.kind },
  });
  await setVoid(manager, targetId, undoId);
  if (target.batchId) await refreshPoured(manager, target.batchId);
  return { words, repeated: false };
}

/** What taking an act back is called. @throws AppError `not-found` */
export async function wordsOfUndo(manager: EntityManager, targetId: string): Promise<string> {
  const target = await manager.getRepository<CareEvent>('care_event').findOneBy({ id: targetId });
  if (!target) throw new AppError('not-found', 'That act is not in the log.');
  return target.corrects ? 'Took a correction back' : (actNamed(target.kind)?.undone ?? 'Took an act back');
}

/** An act is taken back; an undo that is taken back puts its own target back. */
async function reverse(manager: EntityManager, target: CareEvent, undoId: string): Promise<void> {
  const event = readCareEvent(target);
  if (event.kind === 'undone') await putBack(manager, event.payload);
  else await takeBack(manager, target, undoId);
}

/** Why an act that no longer stands cannot be taken back. */
async function voidedWords(manager: EntityManager, target: CareEvent): Promise<string> {
  const [by] = await manager.query<CareEvent[]>('SELECT * FROM care_event WHERE id = ?', [target.voidedBy]);
  return by?.corrects === target.id
    ? 'That was corrected since. Take the correction back first.'
    : 'That was already taken back.';
}

async function setVoid(manager: EntityManager, id: string, by: string | null): Promise<void> {
  await manager.query('UPDATE care_event SET voidedBy = ? WHERE id = ?', [by, id]);
}

async function takeBack(manager: EntityManager, target: CareEvent, undoId: string): Promise<void> {
  if (target.corrects) {
    // The corrected act stands again once this one is out of the way of its due day.
    await setVoid(manager, target.id, undoId);
    await setVoid(manager, target.corrects, null);
    await actNamed(target.kind)?.correct?.after?.(manager, target, readCareEvent(target).payload);
    return;
  }
  const reason = whyItStays(rowsFor(manager), target);
  if (reason) throw new AppError('cannot-undo', reason);
  await actNamed(target.kind)?.takeBack?.(manager, readCareEvent(target), undoId);
}

/** Why an act that stands cannot be taken back now, or null: a correction always can. */
export function whyItStays(rows: Rows, target: CareEvent): string | null {
  return target.corrects === null ? (actNamed(target.kind)?.needs?.(rows, readCareEvent(target)) ?? null) : null;
}

/** Takes an undo back: what it had taken back stands again. */
async function putBack(manager: EntityManager, undone: CarePayload<'undone'>): Promise<void> {
  const target = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: undone.targetId });
  const event = readCareEvent(target);
  if (target.corrects) return putCorrectionBack(manager, target);
  await requireFreeDueDay(manager, target);
  if (event.kind === 'undone') {
    // Putting an undo back takes its own target away again.
    const original = await manager
      .getRepository<CareEvent>('care_event')
      .findOneByOrFail({ id: event.payload.targetId });
    if (original.voidedBy) throw new AppError('cannot-undo', await voidedWords(manager, original));
    await reverse(manager, original, target.id);
    await setVoid(manager, original.id, target.id);
  }
  await actNamed(target.kind)?.putBack?.(manager, event);
  await setVoid(manager, target.id, null);
}

async function putCorrectionBack(manager: EntityManager, correction: CareEvent): Promise<void> {
  const original = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: correction.corrects! });
  if (original.voidedBy)
    throw new AppError('cannot-undo', 'The act it corrects was taken back or corrected otherwise since.');
  await setVoid(manager, original.id, correction.id);
  await setVoid(manager, correction.id, null);
  await actNamed(correction.kind)?.correct?.after?.(manager, correction, readCareEvent(correction).payload);
}

async function requireFreeDueDay(manager: EntityManager, target: CareEvent): Promise<void> {
  if (!target.dueKey) return;
  const [holder] = await manager.query<CareEvent[]>('SELECT * FROM care_event WHERE dueKey = ? AND voidedBy IS NULL', [
    target.dueKey,
  ]);
  if (holder)
    throw new AppError('cannot-undo', 'Another act was logged in its place since. Take that one back first.', {
      existing: { at: holder.at, eventId: holder.id },
    });
}
