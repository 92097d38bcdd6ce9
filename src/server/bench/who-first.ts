import type { EntityManager } from 'typeorm';
import type { StartBatchRead } from '../../contract/bench.ts';
import { someOf } from '../../core/quantity/index.ts';
import { isDue, mixKey, serves, whoWaits } from '../../core/regimen/index.ts';
import { collectionOf, harmTo, potStates, type PotState } from '../collection/index.ts';

/** The pots a batch is for: named, or all those of its mix. */
export function potsFor(manager: EntityManager, request: StartBatchRead, today: string): PotState[] {
  const { forPots, mixKey: key } = request;
  if (forPots.length === 0 && key === null) return [];
  return potStates(collectionOf(manager), today).filter((s) =>
    forPots.length > 0 ? forPots.includes(s.pot.id) : key !== null && serves(key, mixKey(s.watering)),
  );
}

/** Codes told one by one; of more, how many. */
const MOST_NAMED = 7;
export const codesOf = (pots: readonly { readonly code: string }[]) =>
  someOf(
    pots.map((pot) => pot.code),
    MOST_NAMED,
  );

/**
 * Where the water does not reach for all of its pots: who goes first, by who would be harmed most by waiting. Empty where nobody has to wait, or
 * there is nobody to choose from.
 */
export function firstWords(manager: EntityManager, request: StartBatchRead, availableL: number, today: string): string {
  const due = potsFor(manager, request, today).filter((s) => isDue(s.due));
  if (due.length < 2) return '';
  const wants = due.map((s) => ({ potId: s.pot.id, stillMl: s.pot.fillMl, harm: harmTo(s, false, today) }));
  const waits = new Set(whoWaits(wants, availableL * 1000));
  const [first, later] = [due.filter((s) => !waits.has(s.pot.id)), due.filter((s) => waits.has(s.pot.id))];
  if (later.length === 0) return '';
  if (first.length === 0) return ' It fills none of its pots.';
  return ` It fills ${first.length} of ${due.length}: first ${codesOf(first.map((s) => s.pot))}, by how dry, salty and late they are; waiting harms ${codesOf(later.map((s) => s.pot))} least.`;
}
