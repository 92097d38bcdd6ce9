import type { EntityManager } from 'typeorm';
import type { WriteNote } from '../../contract/log.ts';
import { fieldError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Photo } from '../database/entities.ts';
import { requirePot, touch } from '../database/records.ts';
import { onDay, type When } from '../when.ts';

/**
 * Writes a line of the grower's own. The same number again changes nothing.
 * @param jpeg as `smallJpeg` made it; null without a picture
 * @throws AppError at `on` for a day that has not come; `not-found` for a pot there is none of
 */
export async function writeTheNote(
  manager: EntityManager,
  noteId: string,
  { words, potIds, on, lasts }: Pick<WriteNote, 'words' | 'potIds' | 'on' | 'lasts'>,
  jpeg: Buffer | null,
  when: When,
): Promise<{ repeated: boolean }> {
  if (on > when.localDate)
    throw fieldError('on', 'That day has not come. Plan it in the Round, or write it down when it is done.');
  const pots = [...new Set(potIds)];
  for (const id of pots) await requirePot(manager, id);
  const { repeated } = await appendCareEvent(manager, {
    id: noteId,
    kind: 'noteWritten',
    ...onDay(on, when),
    potId: pots.length === 1 ? pots[0]! : null,
    payload: { words, potIds: pots, photoId: jpeg ? noteId : null, ...(lasts ? { lasts } : {}) },
  });
  if (repeated) return { repeated };
  if (jpeg) await manager.getRepository<Photo>('photo').insert({ id: noteId, jpeg });
  await touch(
    manager,
    noteId,
    pots.map((id) => `pot:${id}`),
  );
  return { repeated };
}
