import type { EntityManager } from 'typeorm';
import { carePayloads, type CareKind } from '../../contract/care.ts';
import type { Reading } from '../../core/quantity/index.ts';
import { AppError } from '../app-error.ts';
import { holdFigure } from '../clay/hold-service.ts';
import { readClayEvents } from '../clay/clay-log.ts';
import { appendCareEvent, readCareEvent } from '../database/care-log.ts';
import type { Batch, CareEvent } from '../database/entities.ts';
import { requirePot } from '../database/records.ts';
import { forgetKnown, refreshPoured, requireVolumesFit } from '../collection/index.ts';

/** Fields that say what a figure is about: they never change in a correction. Everything else of the act may. */
const FIXED: Partial<Record<CareKind, readonly string[]>> = {
  potFilled: ['dueOn', 'batchId', 'ppmMeterId', 'phMeterId', 'waterId', 'waterEcUsCm', 'turn'],
  potSkipped: ['dueOn', 'lookAgainOn'],
  batchBase: ['thoughtEcUsCm', 'confirmedOdd'],
  batchPortion: ['part', 'byRecipe', 'confirmedOdd'],
  batchReading: ['confirmedOdd'],
  batchThinned: ['keepAs'],
  batchPh: [],
  batchCorrection: ['productId'],
  potReread: ['ppmMeterId', 'phMeterId', 'words'],
  waterRead: ['waterId', 'ppmMeterId', 'phMeterId'],
  waterCounted: ['waterId'],
  clayRead: ['clayId', 'ppmMeterId', 'phMeterId'],
  clayFilled: ['clayId', 'waterId', 'baseEcUsCm'],
  clayDrained: ['clayId'],
  potHoldRead: ['holdId', 'where', 'ppmMeterId', 'words'],
  soakRead: ['soakId', 'opened', 'phMeterId', 'ppmMeterId', 'words'],
};

/** Can the figures of this kind of act be put right? */
export function isCorrectable(kind: CareKind): boolean {
  return FIXED[kind] !== undefined;
}

/**
 * Puts the figures of an act right. The act stays in the log, struck through; a new one stands in its place, at its time, and everything
 * derived follows it. The same request again changes nothing.
 * @throws AppError `not-found`, `cannot-correct`, `invalid-request` with the field, `id-reused`
 */
export async function correctAct(
  manager: EntityManager,
  eventId: string,
  request: { targetId: string; payload: Record<string, unknown> },
): Promise<{ repeated: boolean }> {
  const repository = manager.getRepository<CareEvent>('care_event');
  const known = await repository.findOneBy({ id: eventId });
  if (known) {
    if (known.corrects === request.targetId) return { repeated: true };
    throw new AppError('id-reused', 'An act with this number is already logged with other contents. Reload the page and correct it again.');
  }
  const target = await repository.findOneBy({ id: request.targetId });
  if (!target) throw new AppError('not-found', 'That act is not in the log.');
  const { kind } = readCareEvent(target);
  const fixed = FIXED[kind];
  if (!fixed) throw new AppError('cannot-correct', 'There are no figures to put right in that act. Take it back instead.');
  if (target.voidedBy) throw new AppError('cannot-correct', 'That act no longer stands: it was taken back or corrected already.');
  const before = JSON.parse(target.payload) as Record<string, unknown>;
  // What is left unsaid stands at what the contract takes for it.
  const wanted = { ...request.payload, ...(carePayloads[kind].safeParse(request.payload).data as Record<string, unknown> | undefined) };
  for (const key of fixed) {
    if (JSON.stringify(wanted[key]) !== JSON.stringify(before[key]))
      throw new AppError('cannot-correct', 'Only the figures can be put right, not what they are about. Take the act back and log it anew.');
  }
  if (JSON.stringify(carePayloads[kind].parse(before)) === JSON.stringify(carePayloads[kind].safeParse(request.payload).data)) {
    throw new AppError('invalid-request', 'Nothing was changed: put the right figure in, or close this.');
  }
  requireStillRead(kind, request.payload);
  if (target.potId && (kind === 'potFilled' || kind === 'potReread'))
    requireVolumesFit(manager, await requirePot(manager, target.potId), { ...(wanted as object), confirmedOdd: true });
  // A hold's reading says its figure in words too.
  if (kind === 'potHoldRead')
    request.payload['words'] = String(before['words']).replace(/\d+(\.\d+)? ppm$|over range$/, holdFigure(request.payload['reading'] as Reading));
  await repository.update({ id: target.id }, { voidedBy: eventId });
  await appendCareEvent(manager, {
    id: eventId,
    kind,
    at: new Date(target.at),
    localDate: target.localDate,
    potId: target.potId,
    batchId: target.batchId,
    dueKey: target.dueKey,
    payload: request.payload as never,
    corrects: { id: target.id, standsAt: target.standsAt ?? target.seq },
  });
  // What it was about finds the corrected act too.
  await manager.query('INSERT OR IGNORE INTO event_touch (subject, eventId) SELECT subject, ? FROM event_touch WHERE eventId = ?', [eventId, target.id]);
  if (kind === 'clayFilled' || kind === 'clayDrained') await requireClayAddsUp(manager, request.payload['clayId'] as string);
  if (target.batchId && kind.startsWith('batch')) {
    const batch = await manager.getRepository<Batch>('batch').findOneByOrFail({ id: target.batchId });
    await forgetKnown(manager, batch.startedAt);
    await refreshPoured(manager, target.batchId);
  }
  return { repeated: false };
}

/** No more came off a batch of clay than was on it, at any change. */
async function requireClayAddsUp(manager: EntityManager, clayId: string): Promise<void> {
  let waterL = 0;
  for (const event of (await readClayEvents(manager, clayId)).get(clayId) ?? []) {
    if (event.kind !== 'clayFilled' && event.kind !== 'clayDrained') continue;
    waterL -= event.payload.pouredOffL;
    if (waterL < -1e-6) {
      const message = `Then more would have come off than the ${Number((waterL + event.payload.pouredOffL).toFixed(1))} L that stood on it. Check both figures.`;
      throw new AppError('invalid-request', message, { errors: [{ path: 'pouredOffL', message }] });
    }
    if (event.kind === 'clayFilled') waterL += event.payload.freshL;
  }
}

/** The reading of the plain water and a pH reading are what the steps after them stand on: they can be put right, not emptied. */
function requireStillRead(kind: CareKind, payload: Record<string, unknown>): void {
  if (kind !== 'batchBase' && kind !== 'batchPh' && kind !== 'potHoldRead') return;
  const reading = payload['reading'] as { kind?: string } | undefined;
  if (reading?.kind === 'value' || reading?.kind === 'range') return;
  const message = 'The steps after it are counted from this reading. Put the right figure in, or take the steps back.';
  throw new AppError('invalid-request', message, { errors: [{ path: 'reading', message }] });
}
