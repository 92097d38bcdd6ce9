import type { EntityManager } from 'typeorm';
import type { LocalDate } from '../core/regimen/index.ts';
import { makeDemo } from './make-demo.ts';

/** Fills an empty collection of the grower's own with a copy of the demo: its pens are typed, nothing in it is simulated any more. */
export async function copyDemo(manager: EntityManager, today: LocalDate): Promise<void> {
  await makeDemo(manager, { today });
  await manager.query(`UPDATE meter SET device = 'typed'`);
  await manager.query('DELETE FROM simulated_truth');
  await manager.query(`DELETE FROM setting WHERE key = 'demoDay'`);
}
