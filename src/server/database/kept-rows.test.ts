import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import { untilWritten } from './kept-rows.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(1);
});
afterAll(() => kit.close());
const { read, write } = { read: () => kit.database.read.manager, write: () => kit.database.write };

describe('what is kept until anything is written', () => {
  it('is made once, even asked for twice at once, and anew after an act', async () => {
    const make = vi.fn(() => Promise.resolve({}));
    const [a, b] = await Promise.all([untilWritten(read(), 'x', make), untilWritten(read(), 'x', make)]);
    expect(a).toBe(b);
    expect(await untilWritten(read(), 'x', make)).toBe(a);
    const [pot] = await kit.rows<{ id: string }>('SELECT id FROM pot LIMIT 1');
    const look = { cues: {}, note: 'as ever', growths: null, leafMm: null };
    expect((await kit.call('PUT', `/api/round/acts/${testId()}`, { kind: 'looked', potId: pot!.id, look })).status).toBe(200);
    expect(await untilWritten(read(), 'x', make)).not.toBe(a);
    expect(make).toHaveBeenCalledTimes(2);
  });
  it('is made anew after another connection wrote, though it logged no act', async () => {
    const before = await untilWritten(read(), 'y', () => Promise.resolve({}));
    await write().run((manager) => manager.query(`UPDATE pot SET note = 'turned' WHERE code = 'R-01'`));
    expect(await untilWritten(read(), 'y', () => Promise.resolve({}))).not.toBe(before);
  });
  it('is not kept where making it failed', async () => {
    await expect(untilWritten(read(), 'z', () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    expect(await untilWritten(read(), 'z', () => Promise.resolve('made'))).toBe('made');
  });
  it('within a write is made afresh: the write may be undone', async () => {
    await write().run(async (manager) => {
      const first = await untilWritten(manager, 'w', () => Promise.resolve({}));
      expect(await untilWritten(manager, 'w', () => Promise.resolve({}))).not.toBe(first);
    });
  });
  it('the round’s answer is the same text until an act, and says what the act did', async () => {
    const text = () => kit.app.inject({ url: '/api/round', headers: { host: '127.0.0.1:4180' } }).then((r) => r.body);
    const before = await text();
    expect(await text()).toBe(before);
    const [pot] = await kit.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-01'`);
    const read = { ppm: { kind: 'value', value: 333 }, ph: { kind: 'notMeasured' }, leftMl: null, ppmMeterId: null, phMeterId: null };
    expect((await kit.call('PUT', `/api/round/acts/${testId()}`, { kind: 'reread', potId: pot!.id, ...read })).status).toBe(200);
    expect(await text()).not.toBe(before);
  });
});
