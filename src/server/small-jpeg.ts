import sharp from 'sharp';
import { LONG_EDGE } from '../contract/photo-limits.ts';
import { fieldError } from './app-error.ts';

const QUALITY = 78;
/** Past so many pixels a small file would unfold into all the memory there is: twice what phones take today. */
const MOST_PIXELS = 110_000_000;
const LONGEST_SECONDS = 20;
const NOT_A_PHOTO = 'That is not a picture that can be kept. Choose a JPEG or PNG, or take it again.';
const TOO_MANY = 'That picture has too many pixels. Send it smaller.';

// One picture at a time, and nothing of it kept: the rest of the server goes on beside it.
sharp.concurrency(1);
sharp.cache(false);
let line: Promise<unknown> = Promise.resolve();

/**
 * A picture drawn anew as a small JPEG, upright: nothing of place and device that cameras write into a file is left in it. The library's own threads do it; its
 * size is judged by every header before a pixel is unfolded.
 * @throws AppError `invalid-request` where it is no picture, or too large a one
 */
export function smallJpeg(image: Buffer): Promise<Buffer> {
  const result = line.then(() => draw(image));
  line = result.catch(() => undefined);
  return result;
}

async function draw(image: Buffer): Promise<Buffer> {
  const isPng = image.length > 24 && image.readUInt32BE(0) === 0x89504e47;
  const isJpeg = image.length > 100 && image[0] === 0xff && image[1] === 0xd8 && image[2] === 0xff;
  if (!isPng && !isJpeg) throw fieldError('image', NOT_A_PHOTO);
  if (isPng && pngHeaders(image) !== 1) throw fieldError('image', NOT_A_PHOTO);
  try {
    return await sharp(image, { limitInputPixels: MOST_PIXELS, failOn: 'error', pages: 1 })
      .rotate()
      .resize({ width: LONG_EDGE, height: LONG_EDGE, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#fffdf8' })
      .jpeg({ quality: QUALITY })
      .timeout({ seconds: LONGEST_SECONDS })
      .toBuffer();
  } catch (error) {
    throw fieldError('image', /pixel limit/.test(String(error)) ? TOO_MANY : NOT_A_PHOTO);
  }
}

/** How many headers a PNG has, and they must be one: a second one, with another size, was a way past every limit. */
function pngHeaders(image: Buffer): number {
  let headers = 0;
  for (let at = 8; at + 8 <= image.length; at += 12 + image.readUInt32BE(at))
    if (image.toString('latin1', at + 4, at + 8) === 'IHDR') headers++;
  return headers;
}
