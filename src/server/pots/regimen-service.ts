import type { EntityManager } from 'typeorm';
import type { RegimenValues } from '../../contract/regimens.ts';
import { regimenProblems, type Regimen } from '../../core/regimen/index.ts';
import { AppError } from '../app-error.ts';
import type { RegimenRow } from '../database/entities.ts';
import type { RecordChange } from '../database/records.ts';
import {
  followFrom,
  growersScale,
  readParams,
  toRegimen,
  withDosesReckoned,
  writeParams,
  type Meters,
} from '../collection/index.ts';

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
  meters: Meters,
  at: string,
  today: string,
): Promise<{ changes: RecordChange[]; words: string }> {
  const repository = manager.getRepository<RegimenRow>('regimen');
  const [same] = await manager.query<{ id: string }[]>(
    'SELECT id FROM regimen WHERE lower(name) = lower(?) AND id <> ? AND retiredOn IS NULL',
    [values.name, regimenId],
  );
  if (same) {
    const message = `There is a regimen called ${values.name} already. Call this one something else.`;
    throw new AppError('invalid-request', message, { errors: [{ path: 'values.name', message }] });
  }
  const regimen = withDosesReckoned(manager, toRegimen(values, growersScale(meters)), at, meters);
  const problems = regimenProblems(regimen).map(({ path, message }) => ({ path: `values.${path}`, message }));
  if (problems[0]) throw new AppError('invalid-request', problems[0].message, { errors: problems });
  const old = await repository.findOneBy({ id: regimenId });
  const fields = { name: values.name, kind: regimen.school, params: writeParams(regimen), retiredOn: null };
  if (!old)
    return { changes: [{ table: 'regimen', id: regimenId, after: fields }], words: `Added the regimen ${values.name}` };
  const words = `Changed the regimen ${values.name}`;
  const sameParams = sameFigures(regimen, readParams(old));
  const followers = await manager.query<{ potId: string }[]>(
    `SELECT potId FROM (SELECT pr.potId, pr.regimenId, max(pr.fromDate) FROM pot_regimen pr WHERE pr.fromDate <= ? GROUP BY pr.potId) WHERE regimenId = ?`,
    [today, regimenId],
  );
  // Pots that come to it later, at the end of a weak start.
  const later = await manager.query<{ id: string }[]>(
    'SELECT id FROM pot_regimen WHERE regimenId = ? AND fromDate > ?',
    [regimenId, today],
  );
  if (sameParams || followers.length + later.length === 0)
    return {
      changes: [
        {
          table: 'regimen',
          id: regimenId,
          after: sameParams ? { name: values.name } : { name: values.name, kind: fields.kind, params: fields.params },
        },
      ],
      words,
    };
  const changes: RecordChange[] = [
    { table: 'regimen', id: newId, after: fields },
    { table: 'regimen', id: regimenId, after: { retiredOn: today } },
  ];
  for (const { potId } of followers)
    changes.push(...(await followFrom(manager, potId, newId, today, `${old.name} was changed.`)));
  for (const { id } of later) changes.push({ table: 'pot_regimen', id, after: { regimenId: newId } });
  return { changes, words: `${words} for ${followers.length} pot${followers.length === 1 ? '' : 's'}` };
}

/** Alike but for what the changing of scales leaves in the last places. */
function sameFigures(a: Regimen, b: Regimen): boolean {
  const rounded = (regimen: Regimen) =>
    JSON.stringify(
      regimen,
      (_key, value: unknown) => (typeof value === 'number' ? Number(value.toFixed(5)) : value),
      0,
    );
  const ordered = (regimen: Regimen) =>
    rounded(Object.fromEntries(Object.entries(regimen).sort(([x], [y]) => (x < y ? -1 : 1))) as Regimen);
  return ordered(a) === ordered(b);
}
