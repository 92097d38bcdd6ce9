import type { EntityManager } from 'typeorm';
import type { BenchStepRead } from '../../contract/bench.ts';
import { AppError } from '../app-error.ts';
import { metersOf, replayBatch } from '../collection/index.ts';
import type { AtBench } from './bench-log.ts';
import { STEPS } from './bench-steps.ts';
import { assignLeftover, emptyLeftover } from './leftovers.ts';
import type { ActAt } from './start-batch.ts';

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
  const at: AtBench = { manager, eventId, replayed, meters, when };
  if (step.kind === 'empty') return emptyLeftover(at, step.to);
  if (step.kind === 'assign') return assignLeftover(at, step.mixKey);
  if (replayed.batch.status !== 'open')
    throw new AppError(
      'batch-closed',
      'This batch was already poured or thrown away. Take that back in the Book to go on with it.',
    );
  if (step.kind !== 'base' && step.kind !== 'abandon' && replayed.session.batch === undefined)
    throw new AppError('batch-step-order', 'Read the plain water first: everything is counted over its own reading.');
  const handle = STEPS[step.kind] as (step: BenchStepRead, at: AtBench) => Promise<{ repeated: boolean }>;
  return handle(step, at);
}
