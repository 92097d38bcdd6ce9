import type { Batch } from '../database/entities.ts';

/** What was drawn of a batch `b`, mL, in SQL. */
export const DRAWN_ML = `(SELECT coalesce(sum(coalesce(json_extract(e.payload, '$.pouredMl'), json_extract(e.payload, '$.ml'))), 0) FROM care_event e
  WHERE e.batchId = b.id AND e.kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND e.voidedBy IS NULL)`;

/** What is left of a poured batch after so much was drawn, mL; nothing of one that is not poured, or emptied. */
export const leftMlOf = (
  { pouredVolumeL, emptied }: Pick<Batch, 'pouredVolumeL' | 'emptied'>,
  drawnMl: number,
): number => (pouredVolumeL === null || emptied ? 0 : Math.max(0, pouredVolumeL * 1000 - drawnMl));
