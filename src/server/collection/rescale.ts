import type { EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';

/**
 * A pen's scale turned out to be another: what its batches read is taken from the readings as entered, by the new scale; their aims keep the
 * figure on the pen; and what was learned from them is learned anew.
 */
export async function rescaleBatches(
  manager: EntityManager,
  meterId: string,
  before: number | null,
  after: number | null,
): Promise<void> {
  if (before === null || after === null || before === after) return;
  await manager.query('UPDATE batch SET netEcUsCm = netEcUsCm * ? WHERE ppmMeterId = ?', [before / after, meterId]);
  await manager.query(
    `UPDATE batch_part SET netEcUsCm = netEcUsCm * f, lowEcUsCm = lowEcUsCm * f, highEcUsCm = highEcUsCm * f, hardEcUsCm = hardEcUsCm * f
     FROM (SELECT ? AS f) WHERE batchId IN (SELECT id FROM batch WHERE ppmMeterId = ?)`,
    [before / after, meterId],
  );
  await manager.query(
    // What the acid made of it is told anew when the batch is next touched; until then the reading stands for it.
    `UPDATE batch SET afterAcidEcUsCm = NULL, pouredEcUsCm = (
       SELECT json_extract(e.payload, '$.reading.value') / ? FROM care_event e WHERE e.batchId = batch.id AND e.voidedBy IS NULL
         AND e.kind IN ('batchBase', 'batchPortion', 'batchReading', 'batchThinned') AND json_extract(e.payload, '$.reading.kind') = 'value'
       ORDER BY coalesce(e.standsAt, e.seq) DESC LIMIT 1)
     WHERE ppmMeterId = ? AND pouredEcUsCm IS NOT NULL`,
    [after, meterId],
  );
  await manager.query('UPDATE batch_part SET knownAfter = NULL');
}

/** The same for a change of records that was taken back (`to` before) or put back (`to` after). */
export async function rescaleAfterUndo(
  manager: EntityManager,
  changes: CarePayload<'recordsChanged'>['changes'],
  to: 'before' | 'after',
): Promise<void> {
  for (const { table, id, before, after } of changes) {
    const [old, now] = [before?.['scale'], after['scale']];
    if (table !== 'meter' || typeof old !== 'number' || typeof now !== 'number') continue;
    await (to === 'before' ? rescaleBatches(manager, id, now, old) : rescaleBatches(manager, id, old, now));
  }
}
