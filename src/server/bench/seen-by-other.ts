import type { EntityManager } from 'typeorm';
import { AppError } from '../app-error.ts';
import { batchEvents } from '../collection/index.ts';
import { wordsOfAct } from '../told.ts';
import type { SettingsValues } from '../../contract/shell.ts';

/** What a device says it saw last where the batch had only been started. */
export const ONLY_STARTED = 'start';

/**
 * Two devices at one batch: a step is logged only on what its device saw last. Otherwise it is told what the other did, and the grower asked.
 * @param after the last step this device saw, or `start`; undefined where it does not say
 * @throws AppError `changed-since`, naming the step that stands last now
 */
export async function requireSeen(
  manager: EntityManager,
  batchId: string,
  after: string | undefined,
  settings: Pick<SettingsValues, 'zone' | 'units'>,
): Promise<void> {
  if (after === undefined) return;
  const last = batchEvents(manager, batchId).at(-1);
  if (!last) return;
  const stands = last.kind === 'batchStarted' ? ONLY_STARTED : last.id;
  if (stands === after) return;
  const words =
    stands === ONLY_STARTED
      ? 'Meanwhile the steps of this batch were taken back on another device.'
      : `Meanwhile another device did this: ${await wordsOfAct(manager, last.id, settings)}.`;
  throw new AppError(
    'changed-since',
    `${words} Look at the batch as it stands now. Keep yours as well only if you did it besides.`,
    {
      existing: { at: last.at, eventId: stands },
    },
  );
}
