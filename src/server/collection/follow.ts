import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import type { RecordChange } from '../database/records.ts';

/**
 * A pot follows a regimen from a day on, whatever was set for later days before. A second change on one day takes the place of the first.
 */
export async function followFrom(
  manager: EntityManager,
  potId: string,
  regimenId: string,
  from: string,
  reason: string,
): Promise<RecordChange[]> {
  const rows = await manager.query<{ id: string; fromDate: string }[]>(
    'SELECT id, fromDate FROM pot_regimen WHERE potId = ? AND fromDate >= ?',
    [potId, from],
  );
  const changes = rows.map((row): RecordChange => ({ table: 'pot_regimen', id: row.id, after: { regimenId, reason } }));
  if (rows.some((row) => row.fromDate === from)) return changes;
  return [{ table: 'pot_regimen', id: randomUUID(), after: { potId, regimenId, fromDate: from, reason } }, ...changes];
}
