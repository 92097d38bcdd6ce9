import { z } from 'zod';
import { id, instant, localDate } from './common.ts';

/** A picture as the camera wrote it; the server makes it small, drops all but the picture, and keeps it in the data folder. */
export const MOST_POT_PHOTO_MB = 25;
const MOST_BYTES = MOST_POT_PHOTO_MB * 1024 * 1024;
/** Past what is kept, so that a photo of 40 MB is answered with why, and not cut off. */
export const POT_PHOTO_BODY = 80 * 1024 * 1024;
export const TOO_LARGE = `A photo of more than ${MOST_POT_PHOTO_MB} MB is not kept. Take it at a smaller size, or send it smaller from the phone.`;
export const keepPotPhoto = z.object({ image: z.string().max(Math.ceil(MOST_BYTES / 3) * 4, TOO_LARGE) });
export const potPhotoView = z.object({ id, at: instant, on: localDate });
export type PotPhotoView = z.infer<typeof potPhotoView>;
