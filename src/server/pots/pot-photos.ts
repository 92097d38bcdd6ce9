import type { EntityManager } from 'typeorm';
import { LONG_EDGE } from '../../contract/photo-limits.ts';
import type { PotPhotoView } from '../../contract/pot-photos.ts';
import { fieldError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Photo } from '../database/entities.ts';
import { requirePot } from '../database/records.ts';

const QUALITY = 78;
/** Past so many pixels a small file would unfold into all the memory there is. */
const MOST_PIXELS = 120_000_000;
const NOT_A_PHOTO = 'That is not a picture that can be kept. Choose a JPEG or PNG, or take it again.';

/**
 * A picture drawn anew as a small JPEG: nothing of place and device that cameras write into a file is left in it.
 * @throws AppError `invalid-request` where it is no picture, or too large a one
 */
export async function smallJpeg(image: Buffer): Promise<Buffer> {
  const isPng = image.length > 24 && image.readUInt32BE(0) === 0x89504e47;
  const isJpeg = image.length > 100 && image[0] === 0xff && image[1] === 0xd8 && image[2] === 0xff;
  if (!isPng && !isJpeg) throw fieldError('image', NOT_A_PHOTO);
  if (isPng && image.readUInt32BE(16) * image.readUInt32BE(20) > MOST_PIXELS) throw fieldError('image', 'That picture has too many pixels. Send it smaller.');
  try {
    // Loaded when the first picture comes: the server starts without it.
    const { Jimp } = await import('jimp');
    const picture = await Jimp.fromBuffer(image);
    if (Math.max(picture.width, picture.height) > LONG_EDGE) picture.scaleToFit({ w: LONG_EDGE, h: LONG_EDGE });
    return await picture.getBuffer('image/jpeg', { quality: QUALITY });
  } catch {
    throw fieldError('image', NOT_A_PHOTO);
  }
}

/** Keeps a picture with a pot. The same number again changes nothing. @param jpeg as {@link smallJpeg} made it */
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

/** Pictures of a pot, newest first. */
export function potPhotos(manager: EntityManager, potId: string): Promise<PotPhotoView[]> {
  return manager.query<PotPhotoView[]>(
    `SELECT id, at, localDate AS "on" FROM care_event WHERE potId = ? AND kind = 'potPhotoKept' AND voidedBy IS NULL ORDER BY at DESC`,
    [potId],
  );
}
