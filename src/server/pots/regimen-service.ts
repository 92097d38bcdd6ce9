import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import type { RegimenValues } from '../../contract/pots.ts';
import { ecFromPpm, ppmFromEc } from '../../core/quantity/index.ts';
import type { ConstantDilute, Regimen } from '../../core/regimen/index.ts';
import { AppError } from '../app-error.ts';
import type { RegimenRow } from '../database/entities.ts';
import type { RecordChange } from '../database/records.ts';

type Params = Omit<ConstantDilute, 'kind'>;

export const readParams = (row: Pick<RegimenRow, 'kind' | 'params'>): Regimen => ({ kind: row.kind, ...(JSON.parse(row.params) as Params) });

/** A regimen as it is typed, on the grower's scale. */
export function toRegimenValues(row: RegimenRow, scale: number): RegimenValues {
  const p = readParams(row);
  return {
    name: row.name,
    netPpm: Math.round(ppmFromEc(p.netEcUsCm, scale)),
    everyDays: p.everyDays,
    flushTimes: p.flushTimesReservoir,
    phLow: p.pourPhLow,
    phHigh: p.pourPhHigh,
  };
}

/**
 * Adds a regimen, or changes one. A changed regimen is a new version: pots that follow it follow the new one from today, and their history
 * is still judged by what held then. One that no pot follows yet is changed as it is.
 * @param newId id of the new version
 */
export async function putRegimen(
  manager: EntityManager,
  regimenId: string,
  newId: string,
  values: RegimenValues,
  scale: number,
  today: string,
): Promise<{ changes: RecordChange[]; words: string }> {
  const repository = manager.getRepository<RegimenRow>('regimen');
  const [same] = await manager.query<{ id: string }[]>('SELECT id FROM regimen WHERE lower(name) = lower(?) AND id <> ? AND retiredOn IS NULL', [
    values.name,
    regimenId,
  ]);
  if (same) {
    const message = `There is a regimen called ${values.name} already. Call this one something else.`;
    throw new AppError('invalid-request', message, { errors: [{ path: 'values.name', message }] });
  }
  const params: Params = {
    netEcUsCm: ecFromPpm(values.netPpm, scale),
    everyDays: values.everyDays,
    flushTimesReservoir: values.flushTimes,
    pourPhLow: values.phLow,
    pourPhHigh: values.phHigh,
  };
  const old = await repository.findOneBy({ id: regimenId });
  const fields = { name: values.name, kind: 'constantDilute', params: JSON.stringify(params), retiredOn: null };
  if (!old) return { changes: [{ table: 'regimen', id: regimenId, after: fields }], words: `Added the regimen ${values.name}` };
  const words = `Changed the regimen ${values.name}`;
  const before = readParams(old);
  const sameParams = (Object.keys(params) as (keyof Params)[]).every((key) => Math.abs(params[key] - before[key]) < 1e-6);
  const followers = await manager.query<{ potId: string }[]>(
    `SELECT potId FROM (SELECT pr.potId, pr.regimenId, max(pr.fromDate) FROM pot_regimen pr WHERE pr.fromDate <= ? GROUP BY pr.potId) WHERE regimenId = ?`,
    [today, regimenId],
  );
  // Pots that come to it later, at the end of a weak start.
  const later = await manager.query<{ id: string }[]>('SELECT id FROM pot_regimen WHERE regimenId = ? AND fromDate > ?', [regimenId, today]);
  if (sameParams || followers.length + later.length === 0)
    return { changes: [{ table: 'regimen', id: regimenId, after: sameParams ? { name: values.name } : { name: values.name, params: fields.params } }], words };
  const changes: RecordChange[] = [
    { table: 'regimen', id: newId, after: fields },
    { table: 'regimen', id: regimenId, after: { retiredOn: today } },
  ];
  for (const { potId } of followers) changes.push(...(await followFrom(manager, potId, newId, today, `${old.name} was changed.`)));
  for (const { id } of later) changes.push({ table: 'pot_regimen', id, after: { regimenId: newId } });
  return { changes, words: `${words} for ${followers.length} pot${followers.length === 1 ? '' : 's'}` };
}

/**
 * A pot follows a regimen from a day on, whatever was set for later days before. A second change on one day takes the place of the first.
 */
export async function followFrom(manager: EntityManager, potId: string, regimenId: string, from: string, reason: string): Promise<RecordChange[]> {
  const rows = await manager.query<{ id: string; fromDate: string }[]>('SELECT id, fromDate FROM pot_regimen WHERE potId = ? AND fromDate >= ?', [potId, from]);
  const changes = rows.map((row): RecordChange => ({ table: 'pot_regimen', id: row.id, after: { regimenId, reason } }));
  if (rows.some((row) => row.fromDate === from)) return changes;
  return [{ table: 'pot_regimen', id: randomUUID(), after: { potId, regimenId, fromDate: from, reason } }, ...changes];
}

/** Every regimen's aim times `factor`: when the scale of the grower's pen turns out another, the figure on the pen stays. */
export async function regimenEcRescaled(manager: EntityManager, factor: number): Promise<RecordChange[]> {
  const rows = await manager.query<RegimenRow[]>('SELECT * FROM regimen');
  return rows.map((row) => {
    const params = JSON.parse(row.params) as Params;
    return { table: 'regimen', id: row.id, after: { params: JSON.stringify({ ...params, netEcUsCm: params.netEcUsCm * factor }) } };
  });
}
