import type { EntityManager } from 'typeorm';
import { openedSim, PURE, soakSim, type SimSolution } from '../../core/simulation/index.ts';
import { readCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';
import { readTruth, trueBatch, truePot } from './simulated-truth.ts';

/**
 * What a pen dipped into a pot in a soak test truly reads. The demo does not make anybody wait: a minute that is still to come may be dipped into.
 * @param opened what was collected, stirred and left open for a day
 */
export async function trueSoak(
  manager: EntityManager,
  soakId: string,
  minutes: number | undefined,
  now: Date,
  zone: string,
  opened: boolean,
): Promise<SimSolution | undefined> {
  const [row] = await manager.query<CareEvent[]>(
    `SELECT * FROM care_event WHERE id = ? AND kind = 'soakStarted' AND voidedBy IS NULL`,
    [soakId],
  );
  if (!row?.potId) return undefined;
  const { payload: started } = readCareEvent<'soakStarted'>(row);
  const truth = await readTruth(manager, 'pot', row.potId);
  const pot = await truePot(manager, row.potId, new Date(row.at), zone);
  if (!truth || !pot) return undefined;
  const fill = row.batchId
    ? (await trueBatch(manager, row.batchId))?.solution
    : started.waterId
      ? await readTruth(manager, 'water', started.waterId)
      : undefined;
  const at = minutes ?? (now.getTime() - Date.parse(row.at)) / 60_000;
  const held = soakSim(pot, truth.nature, fill ?? PURE, started.fillMl, opened ? started.minutes : Math.min(at, 240));
  return opened ? openedSim(held) : held;
}
