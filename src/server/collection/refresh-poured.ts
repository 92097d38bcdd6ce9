import type { EntityManager } from 'typeorm';
import type { Batch } from '../database/entities.ts';
import { afterAcidOf } from './batch-chemistry.ts';
import { replayBatch } from './batch-replay.ts';
import { metersOf } from './while-writing.ts';

/** What a poured batch came to, from its live acts: volume, last reading (null when the last portion was not read), pH. */
export async function refreshPoured(manager: EntityManager, batchId: string): Promise<void> {
  const meters = metersOf(manager);
  const replayed = replayBatch(manager, batchId, meters);
  if (replayed?.batch.status !== 'poured') return;
  const { session } = replayed;
  await manager.getRepository<Batch>('batch').update(batchId, {
    pouredVolumeL: session.volumeL,
    pouredEcUsCm: session.awaitingReading || session.unread ? null : (session.lastReadingEcUsCm ?? null),
    pouredPh: session.latestPh ?? null,
    afterAcidEcUsCm: afterAcidOf(manager, replayed, meters),
  });
}
