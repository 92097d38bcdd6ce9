import type { EntityManager } from 'typeorm';
import { actNamed } from '../acts.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent, readCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';

type Settled = (before: Record<string, unknown>, payload: Record<string, unknown>) => Record<string, unknown>;

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
  const earlier = await repository.findOneBy({ id: eventId });
  if (earlier) {
    if (earlier.corrects === request.targetId) return { repeated: true };
    throw new AppError(
      'id-reused',
      'An act with this number is already logged with other contents. Reload the page and correct it again.',
    );
  }
  const target = await repository.findOneBy({ id: request.targetId });
  if (!target) throw new AppError('not-found', 'That act is not in the log.');
  const { kind } = readCareEvent(target);
  const known = actNamed(kind);
  if (!known?.correct)
    throw new AppError('cannot-correct', 'There are no figures to put right in that act. Take it back instead.');
  if (target.voidedBy)
    throw new AppError('cannot-correct', 'That act no longer stands: it was taken back or corrected already.');
  const before = JSON.parse(target.payload) as Record<string, unknown>;
  // What is left unsaid stands at what the contract takes for it.
  const wanted = {
    ...request.payload,
    ...(known.payload.safeParse(request.payload).data as Record<string, unknown> | undefined),
  };
  for (const key of known.correct.fixed) {
    if (JSON.stringify(wanted[key]) !== JSON.stringify(before[key]))
      throw new AppError(
        'cannot-correct',
        'Only the figures can be put right, not what they are about. Take the act back and log it anew.',
      );
  }
  if (JSON.stringify(known.payload.parse(before)) === JSON.stringify(known.payload.safeParse(request.payload).data)) {
    throw new AppError('invalid-request', 'Nothing was changed: put the right figure in, or close this.');
  }
  const payload = (known.correct.settled as Settled | undefined)?.(before, request.payload) ?? request.payload;
  await known.correct.before?.(manager, target, payload);
  await repository.update({ id: target.id }, { voidedBy: eventId });
  await appendCareEvent(manager, {
    id: eventId,
    kind,
    at: new Date(target.at),
    localDate: target.localDate,
    potId: target.potId,
    batchId: target.batchId,
    dueKey: target.dueKey,
    payload: payload as never,
    corrects: { id: target.id, standsAt: target.standsAt ?? target.seq },
  });
  // What it was about finds the corrected act too.
  await manager.query(
    'INSERT OR IGNORE INTO event_touch (subject, eventId) SELECT subject, ? FROM event_touch WHERE eventId = ?',
    [eventId, target.id],
  );
  await known.correct.after?.(manager, target, payload);
  return { repeated: false };
}
