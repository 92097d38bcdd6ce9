import type { EntityManager } from 'typeorm';
import { atShare, type Regimen } from '../../core/regimen/index.ts';
import type { RegimenRow } from '../database/entities.ts';
import type { RecordChange } from '../database/records.ts';
import { readParams, writeParams } from './regimens.ts';

/** Every regimen's aim times `factor`: when the scale of the grower's pen turns out another, the figure on the pen stays. */
export async function regimenEcRescaled(manager: EntityManager, factor: number): Promise<RecordChange[]> {
  const rows = await manager.query<RegimenRow[]>('SELECT * FROM regimen');
  return rows.map((row) => ({
    table: 'regimen',
    id: row.id,
    after: { params: writeParams(rescaled(readParams(row), factor)) },
  }));
}

function rescaled(regimen: Regimen, factor: number): Regimen {
  return {
    ...atShare(regimen, factor),
    soaks: regimen.soaks.map((s) => ({ ...s, netEcUsCm: s.netEcUsCm === null ? null : s.netEcUsCm * factor })),
  };
}
