import type { EntityManager } from 'typeorm';
import { carePayloads, type CareKind, type CarePayload } from '../../contract/care.ts';
import type { Reading } from '../../core/quantity/index.ts';
import { AppError } from '../app-error.ts';
import type { CareEvent } from './entities.ts';

export type NewCareEvent<K extends CareKind> = {
  id: string;
  kind: K;
  at: Date;
  localDate: string;
  potId?: string | null;
  batchId?: string | null;
  payload: CarePayload<K>;
  dueKey?: string | null;
  /** The act this one puts right; it stands in its place in the order. */
  corrects?: { id: string; standsAt: number };
};

/** An event of the log with its payload read. */
export type ReadCareEvent<K extends CareKind = CareKind> = {
  [P in K]: Omit<CareEvent, 'payload' | 'kind'> & { kind: P; payload: CarePayload<P> };
}[K];

export type Appended = { event: CareEvent; repeated: boolean };

/** @throws AppError `id-reused` where the act of that number was another one */
function asRepeat<K extends CareKind>(same: CareEvent, event: NewCareEvent<K>, payload: string): Appended {
  if (
    same.kind === event.kind &&
    same.payload === payload &&
    same.potId === (event.potId ?? null) &&
    same.batchId === (event.batchId ?? null)
  )
    return { event: same, repeated: true };
  throw new AppError(
    'id-reused',
    'An act with this number is already logged with other contents. Reload the page and log it again.',
  );
}

/** @throws AppError `already-logged` where another act holds the due day */
async function requireFree(manager: EntityManager, dueKey: string): Promise<void> {
  const [first] = await manager.query<CareEvent[]>('SELECT * FROM care_event WHERE dueKey = ? AND voidedBy IS NULL', [
    dueKey,
  ]);
  if (first)
    throw new AppError('already-logged', 'This pot is already logged for that day. Nothing was logged twice.', {
      existing: { at: first.at, eventId: first.id },
    });
}

/** A strength is a pen's figure: on which scale it counts, nobody knows without its pen. @throws AppError `invalid-request` at the strength */
function requirePen(payload: object): void {
  const { ppmMeterId, oldReservoir, runOffPpm, ppm, reading } = payload as {
    ppmMeterId?: string | null;
    oldReservoir?: { ppm?: Reading };
    runOffPpm?: Reading;
    ppm?: Reading;
    reading?: Reading;
  };
  if (ppmMeterId !== null) return;
  const strengths = { 'oldReservoir.ppm': oldReservoir?.ppm, runOffPpm, ppm, reading };
  const message = 'A strength counts on its pen’s scale: put the pen on the Shelf first, or leave this empty.';
  const errors = Object.entries(strengths).flatMap(([path, read]) =>
    read && read.kind !== 'notMeasured' ? { path, message } : [],
  );
  if (errors.length > 0) throw new AppError('invalid-request', message, { errors });
}

/**
 * Appends one event. Sending the same id again with the same contents is a repeat and changes nothing; with other contents it is refused.
 * @throws AppError `id-reused`, `already-logged` (another event holds the due key), `invalid-request` (payload out of bounds)
 */
export async function appendCareEvent<K extends CareKind>(
  manager: EntityManager,
  event: NewCareEvent<K>,
): Promise<Appended> {
  const parsed = carePayloads[event.kind].safeParse(event.payload);
  if (!parsed.success) {
    throw new AppError('invalid-request', 'The act does not fit the log.', {
      errors: parsed.error.issues.map((i) => ({ path: i.path.join('.'), message: i.message })),
    });
  }
  // A line of an earlier version can be put right as it is.
  if (!event.corrects) requirePen(parsed.data);
  const payload = JSON.stringify(parsed.data);
  const repository = manager.getRepository<CareEvent>('care_event');
  const same = await repository.findOneBy({ id: event.id });
  if (same) return asRepeat(same, event, payload);
  if (event.dueKey) await requireFree(manager, event.dueKey);
  const row = {
    id: event.id,
    kind: event.kind,
    at: event.at.toISOString(),
    localDate: event.localDate,
    potId: event.potId ?? null,
    batchId: event.batchId ?? null,
    payload,
    dueKey: event.dueKey ?? null,
    voidedBy: null,
    corrects: event.corrects?.id ?? null,
    standsAt: event.corrects?.standsAt ?? null,
  };
  await manager.query(
    'INSERT INTO care_event (id, kind, at, localDate, potId, batchId, payload, dueKey, voidedBy, corrects, standsAt) VALUES (?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, ?)',
    [
      row.id,
      row.kind,
      row.at,
      row.localDate,
      row.potId,
      row.batchId,
      row.payload,
      row.dueKey,
      row.corrects,
      row.standsAt,
    ],
  );
  return { event: { ...row, seq: 0 }, repeated: false };
}

/** The log row with its payload parsed. Payloads were validated when appended, so they are not validated again. */
export function readCareEvent<K extends CareKind = CareKind>(row: CareEvent): ReadCareEvent<K> {
  return { ...row, payload: JSON.parse(row.payload) as unknown } as unknown as ReadCareEvent<K>;
}
