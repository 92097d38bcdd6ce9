import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, testId, TODAY, type Kit } from '../../../tests/server-kit.ts';
import type { Problem } from '../../contract/errors.ts';
import type { LastMeasured, PotView } from '../../contract/pots.ts';

let kit: Kit;
let pot: string;
beforeAll(async () => {
  kit = await serverKit(4);
  pot = (await kit.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-01'`))[0]!.id;
}, 60_000);
afterAll(() => kit.close());

const measure = (figures: object, more: object = {}, id = testId()) =>
  kit.call<Problem>('PUT', `/api/pots/${pot}/measures/${id}`, { figures, on: TODAY, from: null, ...more });
const page = async () => (await kit.call<PotView>('GET', `/api/pots/${pot}`)).body;
const measures = async () => (await page()).measures.map(({ on, figures }) => [on, figures]);

describe('what is measured of a plant', () => {
  it('is kept, once, stands on its page with what a look measured, and is taken back and put right', async () => {
    const before = (await measures()).length;
    const id = testId();
    expect((await measure({ leaves: 7, leafCm: 18.5 }, { on: '2026-11-01' }, id)).status).toBe(200);
    expect((await measure({ leaves: 7, leafCm: 18.5 }, { on: '2026-11-01' }, id)).body).toMatchObject({
      repeated: true,
    });
    const look = { cues: {}, note: '', growths: 2, leafMm: null, measured: { flowers: 3 } };
    await kit.call('PUT', `/api/round/acts/${testId()}`, { kind: 'looked', potId: pot, look });
    const now = await measures();
    expect(now.slice(-2)).toEqual([
      ['2026-11-01', { leaves: 7, leafCm: 18.5 }],
      [TODAY, { growths: 2, flowers: 3 }],
    ]);
    expect(now).toHaveLength(before + 2);
    const last = (await kit.call<LastMeasured>('GET', '/api/pots/measured')).body.pots.find((p) => p.potId === pot)!;
    expect(last.last).toContainEqual({ key: 'leafCm', on: '2026-11-01', value: 18.5 });
    const right = testId();
    const payload = {
      figures: { leaves: 8, leafCm: 18.5 },
      from: null,
    };
    expect((await kit.call('PUT', `/api/book/corrections/${right}`, { targetId: id, payload })).status).toBe(200);
    expect(await measures()).toContainEqual(['2026-11-01', { leaves: 8, leafCm: 18.5 }]);
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: right });
    expect(await measures()).toContainEqual(['2026-11-01', { leaves: 7, leafCm: 18.5 }]);
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: id });
    expect(await measures()).not.toContainEqual(['2026-11-01', { leaves: 7, leafCm: 18.5 }]);
  });
  it('that is none, or of a day to come, is refused at its field', async () => {
    expect((await measure({})).body.errors).toEqual([{ path: 'figures', message: 'Type at least one figure.' }]);
    expect((await measure({ leaves: 2 }, { on: '2027-01-01' })).body.errors).toEqual([
      { path: 'on', message: 'That day has not come.' },
    ]);
    expect((await measure({ leaves: 2.5 })).body.errors?.[0]).toEqual({
      path: 'figures.leaves',
      message: 'Count the leaves, such as 7.',
    });
    expect((await measure({ leafCm: 4000 })).body.errors?.[0]?.message).toBe('More than 300? Check it.');
  });
  it('in a photo names the photo, which must be the pot’s own', async () => {
    const image = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#2f6b45' } })
      .jpeg()
      .toBuffer();
    const photo = testId();
    await kit.call('PUT', `/api/pots/${pot}/photos/${photo}`, { image: image.toString('base64') });
    const from = { photoId: photo, knownCm: 10, scale: [0, 0, 0.5, 0], ends: [0, 0, 0, 1] };
    expect((await measure({ leafCm: 13.3 }, { from })).status).toBe(200);
    expect((await page()).measures.at(-1)).toMatchObject({ figures: { leafCm: 13.3 }, photoId: photo });
    const other = await measure({ leafCm: 13.3 }, { from: { ...from, photoId: testId() } });
    expect(other.body.errors?.[0]?.path).toBe('from');
  });
});
