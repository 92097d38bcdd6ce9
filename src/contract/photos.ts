import { z } from 'zod';
import { id } from './common.ts';

/** A photo beside a reading: a JPEG the page has already made small and stripped of all but the picture. */
export const MOST_PHOTOS = 4;
export const MOST_PHOTO_BYTES = 300_000;
export const keepPhoto = z.object({
  ofEventId: id,
  jpeg: z.base64('The photo could not be read.').max(Math.ceil(MOST_PHOTO_BYTES / 3) * 4, 'The photo is too large.'),
});
export type KeepPhoto = z.infer<typeof keepPhoto>;
