import type { EntityManager } from 'typeorm';
import type { StartBatchRead } from '../../contract/bench.ts';
import { inSentence, NOT_MEASURED } from '../../core/quantity/index.ts';
import { USUAL_WATER } from '../../core/solution/index.ts';
import type { Batch, BatchPart, RecipeRow, Vessel, Water } from '../database/entities.ts';
import type { ToolRow } from '../database/entities.ts';
import { AppError, fieldError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import { planParts, type PlannedPart } from './parts.ts';
import { trustIn } from './trust.ts';
import { ruleOf } from './use-rules.ts';
import { basesOf, growersScale, isDosingTool, type Meters, metersOf, toTool, rowsFor } from '../collection/index.ts';

export type ActAt = { at: Date; localDate: string };

/**
 * Starts a batch with the id the client chose. The same request again changes nothing.
 * @throws AppError `vessel-too-small`, `invalid-request`, `id-reused`
 */
export async function startBatchOf(
  manager: EntityManager,
  batchId: string,
  request: StartBatchRead,
  when: ActAt,
): Promise<void> {
  const existing = rowsFor(manager)<Batch>('SELECT * FROM "batch" WHERE id = ?', batchId)[0];
  if (existing) {
    if (existing.name === request.name && existing.volumeL === request.volumeL && existing.waterId === request.waterId)
      return;
    throw new AppError('id-reused', 'A batch with this number already exists. Reload the bench and start again.');
  }
  const meters = metersOf(manager);
  const { vessel, water, parts } = planBatch(manager, request, when, meters);
  if (request.byRecipe) {
    const trust = trustIn(manager, request, parts);
    if (!trust.trusted) throw fieldError('byRecipe', `Readings cannot be skipped: ${trust.why}.`);
  }
  await manager.getRepository<Batch>('batch').insert({
    id: batchId,
    name: request.name,
    status: 'open',
    use: request.use,
    recipeId: request.recipeId,
    mixKey: request.mixKey,
    startedAt: when.at.toISOString(),
    startedOn: when.localDate,
    waterId: request.waterId,
    vesselId: vessel.id,
    ppmMeterId: request.ppmMeterId,
    phMeterId: request.phMeterId,
    toolIds: JSON.stringify(request.toolIds),
    volumeL: request.volumeL,
    netEcUsCm: parts.reduce((sum, { row }) => sum + (row.netEcUsCm ?? 0), 0),
    phLow: request.phLow,
    phHigh: request.phHigh,
    holdMinutes: request.holdMinutes,
    byRecipe: request.byRecipe,
    forPots: JSON.stringify(request.forPots),
    pouredVolumeL: null,
    pouredEcUsCm: null,
    afterAcidEcUsCm: null,
    pouredPh: null,
    pouredAt: null,
    emptied: false,
  });
  const rows = manager.getRepository<BatchPart>('batch_part');
  for (const { row } of parts)
    await rows.insert({ ...row, id: `${batchId}:${row.position}`, batchId, knownAfter: null });
  await appendCareEvent(manager, {
    id: startEventId(batchId),
    kind: 'batchStarted',
    at: when.at,
    localDate: when.localDate,
    batchId,
    payload: { volumeL: request.volumeL },
  });
  if (request.ppmMeterId === null) await takeWaterAsItIs(manager, batchId, water, meters, when);
}

/** Without a pen nobody reads the water: it is taken as it last read, or as waters of its kind do, and kept as not measured. */
async function takeWaterAsItIs(
  manager: EntityManager,
  batchId: string,
  { id, kind }: Water,
  meters: Meters,
  when: ActAt,
): Promise<void> {
  await appendCareEvent(manager, {
    id: turned(batchId, 2),
    kind: 'batchBase',
    at: when.at,
    localDate: when.localDate,
    batchId,
    payload: { reading: NOT_MEASURED, ...thoughtBase(manager, id, kind, meters), confirmedOdd: false },
  });
}

/** What a water nobody reads now is taken to conduct. */
export function thoughtBase(
  manager: EntityManager,
  waterId: string,
  kind: Water['kind'],
  meters: Meters,
): { thoughtEcUsCm: number; thoughtSd: number | null } {
  const last = basesOf(manager, meters).get(waterId);
  if (last !== undefined) return { thoughtEcUsCm: last, thoughtSd: null };
  const { ecUsCm, sd } = USUAL_WATER[kind];
  return { thoughtEcUsCm: ecUsCm, thoughtSd: sd };
}

/** What of a request can be told without its products. @throws AppError `invalid-request` at the field */
function requireRequest(manager: EntityManager, request: StartBatchRead, meters: Meters): void {
  if (request.use !== 'water' && request.parts.length === 0)
    throw fieldError('parts', 'Choose what goes in, or make it plain water.');
  if (request.ppmMeterId !== null && meters.get(request.ppmMeterId)?.quantity !== 'ppm')
    throw fieldError('ppmMeterId', 'Choose a TDS pen, or none.');
  if (request.phMeterId !== null && meters.get(request.phMeterId)?.quantity !== 'pH')
    throw fieldError('phMeterId', 'Choose a pH pen, or none.');
  if (request.phLow >= request.phHigh)
    throw fieldError('phLow', 'The lower pH is not below the upper. Swap them, or leave some room between them.');
  if (
    request.recipeId !== null &&
    !rowsFor(manager)<RecipeRow>('SELECT * FROM "recipe" WHERE id = ?', request.recipeId)[0]
  )
    throw fieldError('recipeId', 'That recipe is not in this collection. Choose another, or none.');
  const [strangers] = rowsFor(manager)<{ n: number }>(
    'SELECT count(*) AS n FROM json_each(?) j LEFT JOIN pot p ON p.id = j.value WHERE p.id IS NULL',
    JSON.stringify(request.forPots),
  );
  if (strangers!.n > 0)
    throw fieldError('forPots', 'Some of these pots are not in this collection. Choose the place again.');
}

/**
 * Everything that must hold before a batch is started, and its parts in order.
 * @throws AppError `vessel-too-small`, `invalid-request` with every field that is wrong
 */
export function planBatch(
  manager: EntityManager,
  request: StartBatchRead,
  when: ActAt,
  meters: Meters,
): { vessel: Vessel; water: Water; parts: PlannedPart[] } {
  const vessel = rowsFor(manager)<Vessel>('SELECT * FROM "vessel" WHERE id = ?', request.vesselId)[0];
  if (!vessel) throw fieldError('vesselId', 'Choose what to mix in.');
  if (request.volumeL > vessel.capacityL) {
    const message = `The ${inSentence(vessel.name)} holds ${vessel.capacityL} L, and this is ${request.volumeL} L. Take a larger vessel or make two batches.`;
    throw new AppError('vessel-too-small', message, { errors: [{ path: 'vesselId', message }] });
  }
  const water = rowsFor(manager)<Water>('SELECT * FROM "water" WHERE id = ?', request.waterId)[0];
  if (!water) throw fieldError('waterId', 'Choose a water.');
  requireRequest(manager, request, meters);
  const tools = rowsFor(manager)<ToolRow>('SELECT * FROM tool')
    .filter((t) => request.toolIds.includes(t.id) && isDosingTool(t))
    .map(toTool);
  if (tools.length === 0) throw fieldError('toolIds', 'Choose a dropper or a syringe.');
  const planned = planParts({
    manager,
    request,
    rule: ruleOf(manager, request.use),
    scale: growersScale(meters),
    tools,
    meters,
    at: when.at.toISOString(),
    on: when.localDate,
  });
  if ('errors' in planned)
    throw new AppError('invalid-request', planned.errors[0]!.message, { errors: planned.errors });
  return { vessel, water, parts: planned.parts };
}

/** Ids of what is logged at a start follow from the batch's, so that starting twice is one start: same UUID with its last digit turned. */
const startEventId = (batchId: string) => turned(batchId, 1);
function turned(batchId: string, by: number): string {
  const last = batchId.slice(-1).toLowerCase();
  return batchId.slice(0, -1) + ((parseInt(last, 16) + by) % 16).toString(16);
}
