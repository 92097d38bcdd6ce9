import type { EntityManager } from 'typeorm';
import { daysBetween, type LocalDate } from '../core/regimen/index.ts';
import type { Setting } from '../server/database/entities.ts';
import { writeSetting } from '../server/shell/settings.ts';

/**
 * Moves every date of the demo by whole days, so that what was today when it was made is today again. Does nothing on the same day.
 * @returns days moved
 */
export async function shiftDemo(manager: EntityManager, today: LocalDate): Promise<number> {
  const [made] = await manager.query<Setting[]>(`SELECT * FROM setting WHERE key = 'demoDay'`);
  const days = made ? daysBetween(made.value, today) : 0;
  if (days === 0) return 0;
  const by = `${days > 0 ? '+' : ''}${days} days`;
  const instant = (column: string) => `strftime('%Y-%m-%dT%H:%M:%fZ', ${column}, '${by}')`;
  const date = (column: string) => `date(${column}, '${by}')`;
  const statements = [
    // Due keys step aside first: moved one row at a time they would meet the next week's.
    `UPDATE care_event SET dueKey = 'moving:' || dueKey WHERE dueKey IS NOT NULL`,
    `UPDATE care_event SET at = ${instant('at')}, localDate = ${date('localDate')}`,
    `UPDATE care_event SET payload = json_set(payload, '$.dueOn', ${date("json_extract(payload, '$.dueOn')")}) WHERE kind IN ('potFilled', 'potSkipped')`,
    `UPDATE care_event SET payload = json_set(payload, '$.lookAgainOn', ${date("json_extract(payload, '$.lookAgainOn')")}) WHERE kind = 'potSkipped'`,
    `UPDATE care_event SET dueKey = potId || ':' || json_extract(payload, '$.dueOn') WHERE dueKey IS NOT NULL`,
    `UPDATE batch SET startedAt = ${instant('startedAt')}, startedOn = ${date('startedOn')}, pouredAt = ${instant('pouredAt')}`,
    `UPDATE pot SET acquiredOn = ${date('acquiredOn')}`,
    `UPDATE pot_regimen SET fromDate = ${date('fromDate')}`,
    `UPDATE bottle SET openedOn = ${date('openedOn')}`,
    `UPDATE simulated_truth SET payload = json_set(payload, '$.asOf', ${instant("json_extract(payload, '$.asOf')")}) WHERE subject LIKE 'pot:%'`,
  ];
  for (const statement of statements) await manager.query(statement);
  await writeSetting(manager, 'demoDay', today);
  return days;
}
