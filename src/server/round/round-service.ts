import type { EntityManager } from 'typeorm';
import type { RoundAct } from '../../contract/round.ts';
import { volumeWords } from '../../core/quantity/index.ts';
import { AppError } from '../app-error.ts';
import { leftOfBatch } from '../bench/batch-reader.ts';
import { appendCareEvent, type Appended } from '../database/care-log.ts';
import type { Batch, Pot } from '../database/entities.ts';

/** A pour may exceed what the arithmetic says is left by this share of the batch: jugs and buckets are read by eye. */
const POUR_GRACE = 0.05;

/**
 * Logs one act on the round. The pot's due day is its natural key: a second device is told who logged it, and nothing is written twice.
 * @throws AppError `not-found`, `already-logged`, `mix-too-small`, `batch-closed`
 */
export async function actOnRound(manager: EntityManager, eventId: string, act: RoundAct, when: { at: Date; localDate: string }): Promise<Appended> {
  const pot = await manager.getRepository<Pot>('pot').findOneBy({ id: act.potId });
  if (!pot) throw new AppError('not-found', 'That pot is not in this collection.');
  const dueKey = `${act.potId}:${act.dueOn}`;
  const base = { id: eventId, at: when.at, localDate: when.localDate, potId: act.potId, dueKey };
  if (act.kind === 'skipped') {
    if (!(act.lookAgainOn > when.localDate)) {
      throw new AppError('invalid-request', 'Look again tomorrow at the earliest.', {
        errors: [{ path: 'lookAgainOn', message: 'Look again tomorrow at the earliest; to do it today, leave it on the round.' }],
      });
    }
    return appendCareEvent(manager, { ...base, kind: 'potSkipped', payload: { dueOn: act.dueOn, reason: act.reason, lookAgainOn: act.lookAgainOn } });
  }
  const { kind: _kind, potId: _potId, ...payload } = act;
  const known = await manager.query<unknown[]>('SELECT 1 FROM care_event WHERE id = ?', [eventId]);
  if (act.batchId && known.length === 0) await checkMix(manager, act.batchId, act.pouredMl);
  return appendCareEvent(manager, { ...base, batchId: act.batchId, kind: 'potFilled', payload });
}

async function checkMix(manager: EntityManager, batchId: string, pouredMl: number): Promise<void> {
  const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (!batch) throw new AppError('not-found', 'That mix is not in this collection.');
  if (batch.status !== 'poured') throw new AppError('batch-closed', 'That mix is not ready to pour: finish it at the bench first.');
  const leftMl = await leftOfBatch(manager, batch);
  if (pouredMl > leftMl + POUR_GRACE * 1000 * (batch.pouredVolumeL ?? 0)) {
    const message = `Only ${volumeWords(leftMl)} of that mix is left and this pot takes ${volumeWords(pouredMl)}. Make more at the bench, or pour less.`;
    throw new AppError('mix-too-small', message, { errors: [{ path: 'pouredMl', message }] });
  }
}
