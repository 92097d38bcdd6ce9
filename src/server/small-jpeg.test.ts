import { crc32 } from 'node:zlib';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { LONG_EDGE } from '../contract/photo-limits.ts';
import { smallJpeg } from './small-jpeg.ts';

const plain = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#2f6b45' } });
const sizeOf = async (jpeg: Buffer) => {
  const { width, height } = await sharp(jpeg).metadata();
  return [width, height];
};

describe('a photo made small', () => {
  it('as phones take them today, 48 megapixels, while the server goes on beside it', async () => {
    const photo = await plain(8000, 6000).jpeg().toBuffer();
    let longest = 0;
    let last = performance.now();
    const pulse = setInterval(() => {
      longest = Math.max(longest, performance.now() - last);
      last = performance.now();
    }, 5);
    const small = await smallJpeg(photo);
    clearInterval(pulse);
    expect(await sizeOf(small)).toEqual([LONG_EDGE, LONG_EDGE * 0.75]);
    // Others wait for nothing: the aim is a second, the work is done by the library's own threads.
    expect(longest).toBeLessThan(1000);
  }, 60_000);
  it('stands upright and tells nothing of place or device', async () => {
    const photo = await plain(300, 200)
      .withExif({ IFD0: { Make: 'A phone' }, IFD3: { GPSLatitude: '54/1 6/1 0/1' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    const small = await smallJpeg(photo);
    expect(await sizeOf(small)).toEqual([200, 300]);
    const { exif, icc, xmp } = await sharp(small).metadata();
    expect([exif, icc, xmp]).toEqual([undefined, undefined, undefined]);
    expect(small.includes('A phone')).toBe(false);
  });
  it('a small one keeps its size; one with an alpha channel gets a ground', async () => {
    expect(await sizeOf(await smallJpeg(await plain(40, 30).png().toBuffer()))).toEqual([40, 30]);
    const clear = await sharp({
      create: { width: 20, height: 20, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } },
    })
      .png()
      .toBuffer();
    const { dominant } = await sharp(await smallJpeg(clear)).stats();
    expect(dominant.r).toBeGreaterThan(200);
  });
});

describe('a picture made to do harm', () => {
  const chunk = (name: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(name, 'latin1'), data]);
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    const check = Buffer.alloc(4);
    check.writeUInt32BE(crc32(body));
    return Buffer.concat([length, body, check]);
  };
  const header = (width: number, height: number) => {
    const data = Buffer.alloc(13);
    data.writeUInt32BE(width, 0);
    data.writeUInt32BE(height, 4);
    data.set([8, 6, 0, 0, 0], 8);
    return chunk('IHDR', data);
  };
  it('a PNG with a second header, or of more pixels than there is memory, is refused before any is unfolded', async () => {
    const png = await plain(30, 30).png().toBuffer();
    const twice = Buffer.concat([png.subarray(0, 33), header(60_000, 60_000), png.subarray(33)]);
    await expect(smallJpeg(twice)).rejects.toThrow(/not a picture/);
    const huge = Buffer.concat([png.subarray(0, 8), header(60_000, 60_000), png.subarray(33)]);
    const before = process.memoryUsage().rss;
    await expect(smallJpeg(huge)).rejects.toThrow(/too many pixels/);
    expect(process.memoryUsage().rss - before).toBeLessThan(100 * 1024 * 1024);
  });
  it('a JPEG that says it is larger than it is, one cut off, and words with a JPEG’s first bytes are refused', async () => {
    const jpeg = await plain(400, 300).jpeg().toBuffer();
    const frame = jpeg.indexOf(Buffer.from([0xff, 0xc0]));
    const large = Buffer.from(jpeg);
    large.writeUInt16BE(60_000, frame + 5);
    large.writeUInt16BE(60_000, frame + 7);
    await expect(smallJpeg(large)).rejects.toThrow(/too many pixels/);
    await expect(smallJpeg(jpeg.subarray(0, jpeg.length / 2))).rejects.toThrow(/not a picture/);
    await expect(
      smallJpeg(Buffer.concat([Buffer.from([0xff, 0xd8, 0xff]), Buffer.alloc(5000, 'words ')])),
    ).rejects.toThrow(/not a picture/);
    // One bad one holds up none that follow.
    expect(await sizeOf(await smallJpeg(jpeg))).toEqual([400, 300]);
  });
});
