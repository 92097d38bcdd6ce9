import type { EntityManager } from 'typeorm';
import { AppError } from '../app-error.ts';
import type { ClayBatch } from '../database/entities.ts';
import { readRecord } from '../database/records.ts';

export async function requireBatch(manager: EntityManager, clayId: string): Promise<ClayBatch> {
  const row = await readRecord(manager, 'clay_batch', clayId);
  if (!row) throw new AppError('not-found', 'That batch of clay is not kept here.');
  return row as unknown as ClayBatch;
}

type Off = { readonly offMeasured?: boolean };
/** Whether somebody measured what came off. Lines from before it was asked say nothing of it: taken as measured, as they always were. */
export const isMeasured = ({ offMeasured }: Off) => offMeasured !== false;
/** What nobody measured is only thought to have come off. */
export const about = (off: Off) => (isMeasured(off) ? '' : 'about ');
