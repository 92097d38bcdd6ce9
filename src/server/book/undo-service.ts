import type { EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent, readCareEvent, type ReadCareEvent } from '../database/care-log.ts';
import type { Batch, CareEvent, ToolRow } from '../database/entities.ts';
import { putBackRecords, takeBackRecords } from '../database/records.ts';
import { UNDO_WORDS } from './book-words.ts';
import { forgetKnown, forgetLearnedWith, refreshPoured, rescaleAfterUndo } from '../collection/index.ts';

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
    if (earlier.kind === 'undone' && readCareEvent<'undone'>(earlier).payload.targetId === targetId) return { words, repeated: true };
    throw new AppError('id-reused', 'An act with this number is already logged with other contents. Reload the page and do it again.');
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
  return target.corrects ? 'Took a correction back' : (UNDO_WORDS[target.kind] ?? 'Took an act back');
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
  return by?.corrects === target.id ? 'That was corrected since. Take the correction back first.' : 'That was already taken back.';
}

async function setVoid(manager: EntityManager, id: string, by: string | null): Promise<void> {
  await manager.query('UPDATE care_event SET voidedBy = ? WHERE id = ?', [by, id]);
}

async function takeBack(manager: EntityManager, target: CareEvent, undoId: string): Promise<void> {
  const event = readCareEvent(target);
  if (target.corrects) {
    await forgetFrom(manager, target.batchId);
    // The corrected act stands again once this one is out of the way of its due day.
    await setVoid(manager, target.id, undoId);
    await setVoid(manager, target.corrects, null);
    return;
  }
  switch (event.kind) {
    case 'potFilled':
    case 'potSkipped':
    case 'waterRead':
    case 'waterCounted':
    case 'clayRead':
    case 'clayDried':
    case 'potHoldRead':
    case 'soakRead':
    case 'photoKept':
    case 'potToppedUp':
    case 'potLooked':
    case 'potReread':
    case 'potPhotoKept':
      return;
    case 'clayFilled':
    case 'clayDrained':
      return requireLastOfClay(manager, target, event.payload.clayId);
    case 'potHoldStarted':
      await requireNothingOfHold(manager, target.id);
      return takeBackRecords(manager, event.payload.changes);
    case 'soakStarted':
      await requireNothingOfSoak(manager, target.id);
      return takeBackRecords(manager, event.payload.changes);
    case 'supplementStarted':
      await requireStillStanding(manager, target.id);
      return takeBackRecords(manager, event.payload.changes);
    case 'potHoldDrained':
    case 'soakEnded':
    case 'supplementEnded':
    case 'potPotted':
      return takeBackRecords(manager, event.payload.changes);
    case 'meterChecked':
    case 'meterMarkedOff':
      return forgetLearnedWith(manager, event.payload.meterId);
    case 'recordsChanged':
      await takeBackRecords(manager, event.payload.changes);
      return rescaleAfterUndo(manager, event.payload.changes, 'before');
    case 'dropperCounted':
      await manager.getRepository<ToolRow>('tool').update(event.payload.toolId, { dropsPerMl: event.payload.before });
      return;
    case 'batchStarted':
      throw new AppError('cannot-undo', 'A batch that was started is thrown out at the bench, not taken back.');
    default:
      await takeBackStep(manager, target, event);
  }
}

/** Waters of a soak build on each other: later ones, and what was read of this one, come back first. */
async function requireLastOfClay(manager: EntityManager, target: CareEvent, clayId: string): Promise<void> {
  const [later] = await manager.query<unknown[]>(
    `SELECT 1 FROM event_touch t JOIN care_event e ON e.id = t.eventId WHERE t.subject = ? AND e.voidedBy IS NULL AND e.id <> ? AND e.at > ?
       AND e.kind IN ('clayFilled', 'clayRead', 'clayDrained') LIMIT 1`,
    [`clay_batch:${clayId}`, target.id, target.at],
  );
  if (later) throw new AppError('cannot-undo', 'What was read or changed since builds on it. Take the last one back first.');
}

async function requireNothingOfSoak(manager: EntityManager, soakId: string): Promise<void> {
  const [later] = await manager.query<unknown[]>(
    `SELECT 1 FROM care_event WHERE kind IN ('soakRead', 'soakEnded') AND voidedBy IS NULL AND json_extract(payload, '$.soakId') = ? LIMIT 1`,
    [soakId],
  );
  if (later) throw new AppError('cannot-undo', 'It was read since. Take its readings back first, the last one before the others.');
}

async function requireStillStanding(manager: EntityManager, supplementId: string): Promise<void> {
  const [later] = await manager.query<unknown[]>(
    `SELECT 1 FROM care_event WHERE kind = 'supplementEnded' AND voidedBy IS NULL AND json_extract(payload, '$.supplementId') = ? LIMIT 1`,
    [supplementId],
  );
  if (later) throw new AppError('cannot-undo', 'It was drained since. Take the draining back first.');
}

async function requireNothingOfHold(manager: EntityManager, holdId: string): Promise<void> {
  const [later] = await manager.query<unknown[]>(
    `SELECT 1 FROM care_event WHERE kind IN ('potHoldRead', 'potHoldDrained') AND voidedBy IS NULL AND json_extract(payload, '$.holdId') = ? LIMIT 1`,
    [holdId],
  );
  if (later) throw new AppError('cannot-undo', 'It was read or drained since. Take those back first.');
}

/** Steps of a batch build on each other, so they come back last first. */
async function takeBackStep(manager: EntityManager, target: CareEvent, event: ReadCareEvent): Promise<void> {
  const [last] = await manager.query<{ id: string }[]>(
    `SELECT id FROM care_event WHERE batchId = ? AND voidedBy IS NULL AND kind LIKE 'batch%' ORDER BY coalesce(standsAt, seq) DESC LIMIT 1`,
    [target.batchId],
  );
  if (last && last.id !== target.id) throw new AppError('cannot-undo', 'Later steps of this batch build on it. Take the last one back first.');
  await forgetFrom(manager, target.batchId);
  const batches = manager.getRepository<Batch>('batch');
  if (event.kind === 'batchPoured') {
    const [drawn] = await manager.query<{ n: number }[]>(
      `SELECT count(*) AS n FROM care_event WHERE batchId = ? AND kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND voidedBy IS NULL`,
      [target.batchId],
    );
    if (drawn && drawn.n > 0)
      throw new AppError('cannot-undo', `${drawn.n} pot${drawn.n === 1 ? ' was' : 's were'} filled from this batch. Take those back first.`);
    await batches.update(target.batchId!, { status: 'open', pouredVolumeL: null, pouredEcUsCm: null, pouredPh: null, afterAcidEcUsCm: null, pouredAt: null });
  } else if (event.kind === 'batchAbandoned') await batches.update(target.batchId!, { status: 'open' });
  else if (event.kind === 'batchEmptied') await batches.update(target.batchId!, { emptied: false });
  else if (event.kind === 'batchAssigned') await batches.update(target.batchId!, { mixKey: event.payload.before });
  else if (event.kind === 'batchThinned' && event.payload.keepAs) await letKeptGo(manager, event.payload.keepAs);
}

/** What was poured off and kept is back in its bucket. */
async function letKeptGo(manager: EntityManager, batchId: string): Promise<void> {
  const [used] = await manager.query<unknown[]>(`SELECT 1 FROM care_event WHERE batchId = ? AND voidedBy IS NULL LIMIT 1`, [batchId]);
  if (used) throw new AppError('cannot-undo', 'What was poured off and kept has been used since. Take that back first.');
  await manager.getRepository<Batch>('batch').update(batchId, { status: 'abandoned', emptied: true });
}

/** What later batches learned from this one must be learned again. */
async function forgetFrom(manager: EntityManager, batchId: string | null): Promise<void> {
  if (!batchId) return;
  const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (batch) await forgetKnown(manager, batch.startedAt);
}

/** Takes an undo back: what it had taken back stands again. */
async function putBack(manager: EntityManager, undone: CarePayload<'undone'>): Promise<void> {
  const target = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: undone.targetId });
  const event = readCareEvent(target);
  if (target.corrects) return putCorrectionBack(manager, target);
  await requireFreeDueDay(manager, target);
  if (event.kind === 'undone') {
    // Putting an undo back takes its own target away again.
    const original = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: event.payload.targetId });
    if (original.voidedBy) throw new AppError('cannot-undo', await voidedWords(manager, original));
    await reverse(manager, original, target.id);
    await setVoid(manager, original.id, target.id);
  }
  if (event.kind === 'recordsChanged') {
    await putBackRecords(manager, event.payload.changes);
    await rescaleAfterUndo(manager, event.payload.changes, 'after');
  }
  if (
    event.kind === 'potHoldStarted' ||
    event.kind === 'potHoldDrained' ||
    event.kind === 'soakStarted' ||
    event.kind === 'soakEnded' ||
    event.kind === 'supplementStarted' ||
    event.kind === 'supplementEnded' ||
    event.kind === 'potPotted'
  )
    await putBackRecords(manager, event.payload.changes);
  if (event.kind === 'clayFilled' || event.kind === 'clayDrained') await requireLastOfClay(manager, target, event.payload.clayId);
  if (event.kind === 'meterChecked' || event.kind === 'meterMarkedOff') await forgetLearnedWith(manager, event.payload.meterId);
  if (event.kind.startsWith('batch')) await putStepBack(manager, target, event);
  else if (event.kind === 'dropperCounted') await manager.getRepository<ToolRow>('tool').update(event.payload.toolId, { dropsPerMl: event.payload.dropsPerMl });
  await setVoid(manager, target.id, null);
}

async function putCorrectionBack(manager: EntityManager, correction: CareEvent): Promise<void> {
  const original = await manager.getRepository<CareEvent>('care_event').findOneByOrFail({ id: correction.corrects! });
  if (original.voidedBy) throw new AppError('cannot-undo', 'The act it corrects was taken back or corrected otherwise since.');
  await forgetFrom(manager, correction.batchId);
  await setVoid(manager, original.id, correction.id);
  await setVoid(manager, correction.id, null);
}

async function requireFreeDueDay(manager: EntityManager, target: CareEvent): Promise<void> {
  if (!target.dueKey) return;
  const [holder] = await manager.query<CareEvent[]>('SELECT * FROM care_event WHERE dueKey = ? AND voidedBy IS NULL', [target.dueKey]);
  if (holder)
    throw new AppError('cannot-undo', 'Another act was logged in its place since. Take that one back first.', {
      existing: { at: holder.at, eventId: holder.id },
    });
}

async function putStepBack(manager: EntityManager, target: CareEvent, event: ReadCareEvent): Promise<void> {
  const [later] = await manager.query<{ n: number }[]>(
    `SELECT count(*) AS n FROM care_event WHERE batchId = ? AND coalesce(standsAt, seq) > ? AND voidedBy IS NULL AND kind LIKE 'batch%'`,
    [target.batchId, target.standsAt ?? target.seq],
  );
  if (later && later.n > 0) throw new AppError('cannot-undo', 'Other steps were taken in its place since. Take those back first.');
  await forgetFrom(manager, target.batchId);
  const batches = manager.getRepository<Batch>('batch');
  if (event.kind === 'batchPoured') await batches.update(target.batchId!, { status: 'poured', pouredVolumeL: event.payload.volumeL, pouredAt: target.at });
  else if (event.kind === 'batchAbandoned') await batches.update(target.batchId!, { status: 'abandoned' });
  else if (event.kind === 'batchEmptied') await batches.update(target.batchId!, { emptied: true });
  else if (event.kind === 'batchAssigned') await batches.update(target.batchId!, { mixKey: event.payload.mixKey });
  else if (event.kind === 'batchThinned' && event.payload.keepAs) await batches.update(event.payload.keepAs, { status: 'poured', emptied: false });
}
