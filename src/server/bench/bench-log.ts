import type { EntityManager } from 'typeorm';
import type { CareKind, CarePayload } from '../../contract/care.ts';
import type { Meters, ReplayedBatch } from '../collection/index.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { ActAt } from './start-batch.ts';

/** Where a step at the bench is logged: the batch as it stands before it, the step's number, and when. */
export type AtBench = {
  readonly manager: EntityManager;
  readonly eventId: string;
  readonly replayed: ReplayedBatch;
  readonly meters: Meters;
  readonly when: ActAt;
};

export async function logStep<K extends CareKind>(
  { manager, eventId, replayed, when }: AtBench,
  kind: K,
  payload: CarePayload<K>,
): Promise<{ repeated: boolean }> {
  const { at, localDate } = when;
  const batchId = replayed.batch.id;
  const { repeated } = await appendCareEvent(manager, { id: eventId, kind, at, localDate, batchId, payload });
  return { repeated };
}
