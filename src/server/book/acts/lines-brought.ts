import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import { broughtBy } from '../../database/brought.ts';

/** Older records brought in: taken back, every one of their lines is, and none that was put right since is lost. */
export const linesBrought = act({
  kind: 'linesBrought',
  payload: carePayloads.linesBrought,
  group: 'Own',
  words: (p) => p.words,
  dates: { days: ['from', 'to'] },
  undone: 'Took records brought in back',
  needs: (rows, { id }) => {
    const [right] = rows<{ n: number }>(
      `SELECT count(*) AS n FROM event_touch t CROSS JOIN care_event e ON e.id = t.eventId CROSS JOIN care_event c ON c.id = e.voidedBy
       WHERE t.subject = ? AND c.corrects = e.id AND c.voidedBy IS NULL`,
      broughtBy(id),
    );
    return right!.n > 0
      ? `${right!.n} of its lines ${right!.n === 1 ? 'was' : 'were'} put right since. Take that back first.`
      : null;
  },
  takeBack: async (manager, { id }, undoId) => {
    await manager.query(
      `UPDATE care_event SET voidedBy = ? WHERE id IN (SELECT eventId FROM event_touch WHERE subject = ?) AND voidedBy IS NULL`,
      [undoId, broughtBy(id)],
    );
  },
  putBack: async (manager, { id, voidedBy }) => {
    await manager.query(
      `UPDATE care_event SET voidedBy = NULL WHERE id IN (SELECT eventId FROM event_touch WHERE subject = ?) AND voidedBy = ?`,
      [broughtBy(id), voidedBy],
    );
  },
});
