import { MOST_PHOTO_BYTES } from '../../contract/photos.ts';

/** Long edge of a kept photo, pixels: enough to tell the colours of a kit and read a display. */
const LONG_EDGES = [1000, 720, 480] as const;
const QUALITY = 0.75;

/**
 * A picture file drawn anew as a small JPEG, base64: the drawing carries none of the place and device that cameras write into a file.
 * @returns undefined where the file is no picture the browser can read
 */
export async function smallPhoto(file: Blob): Promise<string | undefined> {
  const picture = await createImageBitmap(file).catch(() => undefined);
  if (!picture) return undefined;
  for (const edge of LONG_EDGES) {
    const by = Math.min(1, edge / Math.max(picture.width, picture.height));
    const canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(picture.width * by));
    canvas.height = Math.max(1, Math.round(picture.height * by));
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const jpeg = canvas.toDataURL('image/jpeg', QUALITY).split(',')[1] ?? '';
    if (jpeg.length * 0.75 <= MOST_PHOTO_BYTES) return jpeg;
  }
  return undefined;
}
