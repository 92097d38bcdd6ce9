import type { EntityManager } from 'typeorm';
import { AppError } from '../../app-error.ts';
import type { Rows } from '../../collection/index.ts';
import type { ReadCareEvent } from '../../database/care-log.ts';
import { readClayEvents } from '../clay-log.ts';

/** Waters of a leach build on each other: later ones, and what was read of this one, come back first. */
export function needsLaterWaters(
  rows: Rows,
  { id, at, payload }: ReadCareEvent<'clayFilled' | 'clayDrained'>,
): string | null {
  const later = rows(
    `SELECT 1 FROM event_touch t JOIN care_event e ON e.id = t.eventId WHERE t.subject = ? AND e.voidedBy IS NULL AND e.id <> ? AND e.at > ?
       AND e.kind IN ('clayFilled', 'clayRead', 'clayDrained') LIMIT 1`,
    `clay_batch:${payload.clayId}`,
    id,
    at,
  );
  return later.length > 0 ? 'What was read or changed since builds on it. Take the last one back first.' : null;
}

/** No more came off a batch of clay than was on it, at any change. @throws AppError at the field */
export async function requireClayAddsUp(manager: EntityManager, clayId: string): Promise<void> {
  let waterL = 0;
  for (const event of readClayEvents(manager, clayId).get(clayId) ?? []) {
    if (event.kind !== 'clayFilled' && event.kind !== 'clayDrained') continue;
    waterL -= event.payload.pouredOffL;
    if (waterL < -1e-6) {
      const message = `Then more would have come off than the ${Number((waterL + event.payload.pouredOffL).toFixed(1))} L that stood on it. Check both figures.`;
      throw new AppError('invalid-request', message, { errors: [{ path: 'pouredOffL', message }] });
    }
    if (event.kind === 'clayFilled') waterL += event.payload.freshL;
  }
}

/** What came off and is put right has been measured. */
export const offAsTyped = <P extends { pouredOffL: number; offMeasured: boolean }>(before: P, payload: P): P =>
  payload.pouredOffL === before.pouredOffL ? payload : { ...payload, offMeasured: true };
