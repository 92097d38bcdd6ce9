import type { EntityManager } from 'typeorm';
import type { CareKind } from '../../../contract/care.ts';
import { AppError } from '../../app-error.ts';
import { act, type Act } from '../../act/definition.ts';
import { forgetKnown, refreshPoured, rowsFor, type Rows } from '../../collection/index.ts';
import type { ReadCareEvent } from '../../database/care-log.ts';
import type { Batch } from '../../database/entities.ts';

/** Steps of a batch build on each other, so they come back last first; what later batches learned from it is learned again. */
export function step<K extends CareKind>(definition: Act<K>): Act<K> {
  const { needs, takeBack, putBack, correct } = definition;
  return act({
    ...definition,
    needs: (rows, event) => needsLaterSteps(rows, event) ?? needs?.(rows, event) ?? null,
    takeBack: async (manager, event, undoId) => {
      await forgetFrom(manager, event.batchId!);
      await takeBack?.(manager, event, undoId);
    },
    putBack: async (manager, event) => {
      if (laterSteps(rowsFor(manager), event).length > 0)
        throw new AppError('cannot-undo', 'Other steps were taken in its place since. Take those back first.');
      await forgetFrom(manager, event.batchId!);
      await putBack?.(manager, event);
    },
    ...(correct
      ? {
          correct: {
            ...correct,
            after: async (manager, target) => {
              await forgetFrom(manager, target.batchId!);
              await refreshPoured(manager, target.batchId!);
            },
          },
        }
      : {}),
  });
}

type Step = Pick<ReadCareEvent, 'id' | 'batchId' | 'seq' | 'standsAt'>;

function laterSteps(rows: Rows, { batchId, seq, standsAt }: Step): { id: string }[] {
  return rows(
    `SELECT id FROM care_event WHERE batchId = ? AND coalesce(standsAt, seq) > ? AND voidedBy IS NULL AND kind LIKE 'batch%' LIMIT 1`,
    batchId,
    standsAt ?? seq,
  );
}

const needsLaterSteps = (rows: Rows, event: Step): string | null =>
  laterSteps(rows, event).length > 0 ? 'Later steps of this batch build on it. Take the last one back first.' : null;

async function forgetFrom(manager: EntityManager, batchId: string): Promise<void> {
  const batch = await manager.getRepository<Batch>('batch').findOneBy({ id: batchId });
  if (batch) await forgetKnown(manager, batch.startedAt);
}

/** Sets columns of the batch that follow from its log. */
export async function setBatch(manager: EntityManager, batchId: string, fields: Partial<Batch>): Promise<void> {
  await manager.getRepository<Batch>('batch').update(batchId, fields);
}
