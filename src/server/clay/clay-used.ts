import type { EntityManager } from 'typeorm';
import { rowsFor } from '../collection/index.ts';

export type Used = {
  readonly litres: number;
  readonly pots: readonly {
    readonly id: string;
    readonly code: string;
    readonly name: string;
    readonly named: number;
  }[];
};

/**
 * What went out of each batch: litres by the potting acts, and for pots that name it without one (from before it was kept here) the litres
 * written on the pot. Pots are those in use that stand in it now; `named` is what a pot counts for without an act.
 */
export function readUsed(manager: EntityManager): Map<string, Used> {
  const potted = rowsFor(manager)<{
    clayId: string;
    potId: string;
    litres: number;
  }>(`SELECT json_extract(payload, '$.clayId') AS clayId, json_extract(payload, '$.potId') AS potId, sum(json_extract(payload, '$.clayL')) AS litres
       FROM care_event WHERE kind = 'potPotted' AND voidedBy IS NULL AND json_extract(payload, '$.clayId') IS NOT NULL GROUP BY 1, 2`);
  const named = rowsFor(manager)<{
    clayId: string;
    id: string;
    code: string;
    name: string;
    clayL: number | null;
    retiredOn: string | null;
  }>(`SELECT c.id AS clayId, p.id, p.code, CASE p.name WHEN '' THEN p.plant ELSE p.name END AS name, p.clayL, p.retiredOn
       FROM clay_batch c JOIN pot p ON lower(p.clay) = lower(c.name) WHERE c.retiredOn IS NULL OR p.retiredOn IS NULL ORDER BY p.code`);
  const used = new Map<string, { litres: number; pots: Used['pots'][number][] }>();
  const of = (clayId: string) => {
    const found = used.get(clayId) ?? { litres: 0, pots: [] };
    used.set(clayId, found);
    return found;
  };
  for (const row of potted) of(row.clayId).litres += row.litres;
  for (const row of named) {
    const byAct = potted.some((p) => p.clayId === row.clayId && p.potId === row.id);
    const litres = byAct ? 0 : (row.clayL ?? 0);
    of(row.clayId).litres += litres;
    if (row.retiredOn === null) of(row.clayId).pots.push({ id: row.id, code: row.code, name: row.name, named: litres });
  }
  return used;
}
