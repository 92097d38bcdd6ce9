import { z } from 'zod';
import { id, instant, localDate } from './common.ts';
import { MOST_POT_PHOTO_MB, TOO_LARGE } from './photo-limits.ts';

/** A picture as the camera wrote it; the server makes it small, drops all but the picture, and keeps it in the data folder. */
const MOST_BYTES = MOST_POT_PHOTO_MB * 1024 * 1024;
/** Past what is kept, so that a photo of 40 MB is answered with why, and not cut off. */
export const POT_PHOTO_BODY = 80 * 1024 * 1024;
export const keepPotPhoto = z.object({ image: z.string().max(Math.ceil(MOST_BYTES / 3) * 4, TOO_LARGE) });
/** `eventId`: the line that is taken back with it; a photo of a line of the grower's own stays its photo when its words are put right. */
export const potPhotoView = z.object({ id, eventId: id, at: instant, on: localDate });
export type PotPhotoView = z.infer<typeof potPhotoView>;
