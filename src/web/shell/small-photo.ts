const QUALITY = 0.75;

/**
 * A picture file drawn anew as a small JPEG, base64: the drawing carries none of the place and device that cameras write into a file.
 * @param longEdges pixels, the largest first: drawn smaller until it is within the limit
 * @param mostBytes none: the largest will do
 * @returns undefined where the file is no picture the browser can read
 */
export async function smallPhoto(
  file: Blob,
  longEdges: readonly number[],
  mostBytes = Infinity,
): Promise<string | undefined> {
  const picture = await createImageBitmap(file).catch(() => undefined);
  if (!picture) return undefined;
  for (const edge of longEdges) {
    const by = Math.min(1, edge / Math.max(picture.width, picture.height));
    const canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(picture.width * by));
    canvas.height = Math.max(1, Math.round(picture.height * by));
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const jpeg = canvas.toDataURL('image/jpeg', QUALITY).split(',')[1] ?? '';
    if (jpeg.length * 0.75 <= mostBytes) return jpeg;
  }
  return undefined;
}
