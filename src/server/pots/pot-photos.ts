import type { EntityManager } from 'typeorm';
import type { PotPhotoView } from '../../contract/pot-photos.ts';
import type { Rows } from '../collection/index.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Photo } from '../database/entities.ts';
import { requirePot } from '../database/records.ts';

/** Keeps a picture with a pot. The same number again changes nothing. @param jpeg as `smallJpeg` made it */
export async function keepPotPhoto(
  manager: EntityManager,
  potId: string,
  photoId: string,
  jpeg: Buffer,
  when: { at: Date; localDate: string },
): Promise<boolean> {
  const pot = await requirePot(manager, potId);
  const { repeated } = await appendCareEvent(manager, {
    id: photoId,
    kind: 'potPhotoKept',
    potId: pot.id,
    payload: { words: 'Took a photo of it' },
    ...when,
  });
  if (!repeated) await manager.getRepository<Photo>('photo').insert({ id: photoId, jpeg });
  return repeated;
}

/** Pictures of a pot, newest first: its own, and those of lines the grower wrote of it. */
export function potPhotos(rows: Rows, potId: string): PotPhotoView[] {
  return rows<PotPhotoView>(
    `SELECT id, id AS eventId, at, localDate AS "on" FROM care_event WHERE potId = ? AND kind = 'potPhotoKept' AND voidedBy IS NULL
     UNION ALL
     SELECT json_extract(e.payload, '$.photoId'), e.id, e.at, e.localDate FROM event_touch t JOIN care_event e ON e.id = t.eventId
       WHERE t.subject = ? AND e.kind = 'noteWritten' AND e.voidedBy IS NULL AND json_extract(e.payload, '$.photoId') IS NOT NULL
     ORDER BY 3 DESC, 1`,
    potId,
    `pot:${potId}`,
  );
}
