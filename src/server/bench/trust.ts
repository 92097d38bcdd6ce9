import type { EntityManager } from 'typeorm';
import type { StartBatchRead } from '../../contract/bench.ts';
import { trustOf, type RecipeRun, type Trust } from '../../core/strength/index.ts';
import type { Batch } from '../database/entities.ts';
import { madeEarlier, type PlannedPart } from './parts.ts';
import { metersOf, partsOf, replayBatch, rowsFor } from '../collection/index.ts';

/** Batches of a recipe looked back on. */
const LOOK_BACK = 12;

/** How a batch came out: read with every part by pen in its band, read and not, or given unread. */
export function runOf(manager: EntityManager, batchId: string): RecipeRun | undefined {
  const replayed = replayBatch(manager, batchId, metersOf(manager));
  if (!replayed || replayed.batch.status === 'open' || replayed.session.portionsUsed === 0) return undefined;
  const { session, setup, batch } = replayed;
  if (batch.status === 'abandoned') return 'wrong';
  if (session.parts.some((part) => part.state === 'byRecipe')) return 'unread';
  const right = session.parts.every((part, i) => {
    const aim = setup.parts[i]!.aim;
    if (aim.by === 'measure') return part.state === 'measured';
    const net = part.netEcUsCm;
    return net !== undefined && net >= aim.aim.lowEcUsCm && net <= aim.aim.highEcUsCm;
  });
  return right ? 'right' : 'wrong';
}

/**
 * Whether readings of this recipe may be skipped this time: it came out right often enough from this water, these bottles and these droppers, in
 * this recipe's present form.
 */
export function trustIn(manager: EntityManager, request: StartBatchRead, parts: readonly PlannedPart[]): Trust {
  const always = {
    solid: parts.some(({ row }) => row.method === 'granules'),
    freshStock: parts.some(({ row }) => row.stock !== null && !madeEarlier(row)),
  };
  if (request.recipeId === null) return { trusted: false, why: 'only a saved recipe earns it' };
  const batches = rowsFor(manager)<Batch>(
    `SELECT * FROM batch WHERE recipeId = ? AND status <> 'open' ORDER BY startedAt DESC LIMIT ${LOOK_BACK}`,
    request.recipeId,
  );
  const runs: RecipeRun[] = [];
  const made = parts.map(({ row }) => `${row.source} ${row.asked} ${row.mlPerUnit}`).join('|');
  for (const batch of batches) {
    const rows = partsOf(manager, batch.id);
    const same =
      batch.waterId === request.waterId &&
      rows.map((row) => `${row.source} ${row.asked} ${row.mlPerUnit}`).join('|') === made &&
      (JSON.parse(batch.toolIds) as string[]).every((id) => request.toolIds.includes(id));
    // From the first that was made otherwise on, nothing counts.
    if (!same) break;
    const run = runOf(manager, batch.id);
    if (run) runs.push(run);
  }
  return trustOf(runs, always);
}
