import type { EntityManager } from 'typeorm';
import type { AskedSoak, SoakWhat } from '../../core/regimen/index.ts';

/** Where the list of plans marks one that is a soak of a pot: its kind stands in `originId`. */
export const ASKED_BY = 'season';

/** Has a soak that was asked for been given since? Of a row of planned acts `p`. */
export const ASKED_IS_GIVEN = `EXISTS (SELECT 1 FROM care_event e WHERE e.potId = p.subjectId AND e.kind = 'supplementStarted' AND e.voidedBy IS NULL
  AND e.localDate >= p.onDate AND json_extract(e.payload, '$.what') IN (p.originId, 'both'))`;

/** Soaks asked for that were not given yet, by pot. */
export async function askedSoaks(manager: EntityManager): Promise<Map<string, AskedSoak[]>> {
  const rows = await manager.query<{ potId: string; what: SoakWhat; from: string }[]>(
    `SELECT p.subjectId AS potId, p.originId AS what, p.onDate AS "from" FROM planned_act p
     WHERE p.origin = '${ASKED_BY}' AND p.subjectKind = 'pot' AND p.originId IS NOT NULL AND p.doneOn IS NULL AND p.droppedOn IS NULL AND NOT ${ASKED_IS_GIVEN}`,
  );
  const byPot = new Map<string, AskedSoak[]>();
  for (const { potId, what, from } of rows) byPot.set(potId, [...(byPot.get(potId) ?? []), { what, from }]);
  return byPot;
}
