import type { FixedAct } from '../../core/plan/index.ts';
import { daysBetween, HANDS, POT_MINUTES, soakPourMl } from '../../core/regimen/index.ts';
import type { Collection, Rows } from '../collection/index.ts';

/** What was planned by hand for the coming days: it stands on its day. A hold fills its pot to the brim. */
export function fixedActs(rows: Rows, collection: Collection, today: string, days: number): FixedAct[] {
  const planned = rows<{ words: string; on: string; origin: string; potId: string | null }>(
    `SELECT words, onDate AS "on", origin, CASE subjectKind WHEN 'pot' THEN subjectId END AS potId FROM planned_act
     WHERE doneOn IS NULL AND droppedOn IS NULL AND NOT (origin = 'season' AND originId IS NOT NULL) ORDER BY onDate, rowid`,
  );
  return planned.flatMap(({ words, on, origin, potId }) => {
    const day = Math.max(0, daysBetween(today, on));
    if (day >= days) return [];
    const pot = potId === null ? undefined : collection.pots.get(potId)?.pot;
    const isHold = origin === 'clay' && pot !== undefined;
    return [
      {
        day,
        words,
        stillL: isHold ? soakPourMl(pot, 'soak') / 1000 : 0,
        minutes: isHold ? HANDS.fill + HANDS.drain : POT_MINUTES,
      },
    ];
  });
}
