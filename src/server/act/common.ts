import type { EntityManager } from 'typeorm';
import type { CareKind, CarePayload } from '../../contract/care.ts';
import { AppError } from '../app-error.ts';
import type { Rows } from '../collection/index.ts';
import { putBackRecords, takeBackRecords, type Logged } from '../database/records.ts';
import type { Named } from './definition.ts';

/** An act that set records goes back with them. */
export const withItsRecords = {
  takeBack: (manager: EntityManager, { payload }: { payload: { changes: readonly Logged[] } }) =>
    takeBackRecords(manager, payload.changes),
  putBack: (manager: EntityManager, { payload }: { payload: { changes: readonly Logged[] } }) =>
    putBackRecords(manager, payload.changes),
};

/** Acts of some kinds that name another one in a field, and stand. */
export function standingOn(rows: Rows, kinds: readonly CareKind[], field: string, id: string): boolean {
  return (
    rows(
      `SELECT 1 FROM care_event WHERE kind IN (SELECT value FROM json_each(?)) AND voidedBy IS NULL AND json_extract(payload, '$.' || ?) = ? LIMIT 1`,
      JSON.stringify(kinds),
      field,
      id,
    ).length > 0
  );
}

/** On the round the pot is named with its place. */
export const atThePot = ({ code, place }: Named) => `${code}, ${place}`;

/** A reading that the steps after it stand on can be put right, not emptied. @throws AppError at the field */
export function requireStillRead(payload: Record<string, unknown>): void {
  const reading = payload['reading'] as CarePayload<'batchBase'>['reading'] | undefined;
  if (reading?.kind === 'value' || reading?.kind === 'range') return;
  const message = 'The steps after it are counted from this reading. Put the right figure in, or take the steps back.';
  throw new AppError('invalid-request', message, { errors: [{ path: 'reading', message }] });
}
