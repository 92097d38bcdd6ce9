import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BatchView } from '../contract/bench.ts';
import type { Problem } from '../contract/errors.ts';
import type { RoundView } from '../contract/round.ts';
import { serverKit, testId, type Kit } from '../../tests/server-kit.ts';

/* The same number twice, two devices at once, volumes no pot can hold: what a first try does not show. */

let kit: Kit;
beforeEach(async () => {
  kit = await serverKit(2);
});
afterEach(() => kit.close());

type Answer = Omit<Problem, 'status'> & { repeated: boolean };
const put = (url: string, body: object) => kit.call<Answer>('PUT', url, body);
const idOf = async (sql: string) => (await kit.rows<{ id: string }>(sql))[0]!.id;

describe('a number used twice', () => {
  /** Every way an act can be sent, with two bodies of which either would be taken. */
  const pairs = async (): Promise<[string, object, object][]> => {
    const pot = await idOf(`SELECT id FROM pot WHERE code = 'R-02'`);
    const still = await idOf(`SELECT id FROM water WHERE kind = 'still'`);
    const dropper = await idOf(`SELECT id FROM tool WHERE kind = 'dropper'`);
    const look = (note: string) => ({
      kind: 'looked',
      potId: pot,
      look: { cues: {}, note, growths: null, leafMm: null },
    });
    const plan = (words: string) => ({
      kind: 'plan',
      planId: testId(),
      subjectKind: 'collection',
      subjectId: null,
      words,
      onDate: '2026-12-01',
      origin: 'grower',
    });
    const settings = (collection: string) => ({
      collection,
      zone: 'Europe/London',
      units: 'metric',
      workingDays: [1, 2],
      latitude: 54,
    });
    const events = await kit.rows<{ id: string }>(
      `SELECT id FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL ORDER BY seq DESC LIMIT 2`,
    );
    return [
      ['/api/round/acts/', look('one'), look('two')],
      ['/api/shell/plans/acts/', plan('one'), plan('two')],
      ['/api/shell/settings/', settings('one'), settings('two')],
      [
        '/api/shelf/acts/',
        { kind: 'countWater', waterId: still, litres: 3 },
        { kind: 'countWater', waterId: still, litres: 4 },
      ],
      [`/api/shelf/droppers/${dropper}/counts/`, { dropsPerMl: 18 }, { dropsPerMl: 19 }],
      [
        '/api/pots/acts/',
        { kind: 'retire', potIds: [pot], became: 'lost' },
        { kind: 'retire', potIds: [pot], became: 'given' },
      ],
      ['/api/book/undos/', { targetId: events[0]!.id }, { targetId: events[1]!.id }],
    ];
  };
  it('with other contents is refused for every kind of act and for undos; with the same it is a repeat, also after it was taken back', async () => {
    for (const [url, one, two] of await pairs()) {
      const id = testId();
      expect((await put(url + id, one)).status, url).toBe(200);
      expect((await put(url + id, two)).body, url).toMatchObject({ status: 409, code: 'id-reused' });
      const again = await put(url + id, one);
      expect(again.status, url).toBe(200);
      if (!url.includes('droppers')) expect(again.body.repeated, url).toBe(true);
      if (url.includes('undos')) continue;
      // Taken back, and sent once more by a device that never heard: it stays taken back.
      const undone = await put(`/api/book/undos/${testId()}`, { targetId: id });
      if (undone.status !== 200) continue;
      const lines = await kit.rows('SELECT id FROM care_event');
      expect((await put(url + id, one)).status, url).toBe(200);
      expect((await put(url + id, two)).body.code, url).toBe('id-reused');
      expect(await kit.rows('SELECT id FROM care_event'), url).toHaveLength(lines.length);
    }
  });
  it('for another kind of act is refused too', async () => {
    const [look, plan] = await pairs();
    const id = testId();
    expect((await put(look![0] + id, look![1])).status).toBe(200);
    expect((await put(plan![0] + id, plan![1])).body.code).toBe('id-reused');
  });
  it('the same contents in another order are the same', async () => {
    const id = testId();
    const still = await idOf(`SELECT id FROM water WHERE kind = 'still'`);
    expect((await put(`/api/shelf/acts/${id}`, { kind: 'countWater', waterId: still, litres: 3 })).status).toBe(200);
    expect((await put(`/api/shelf/acts/${id}`, { litres: 3, waterId: still, kind: 'countWater' })).body.repeated).toBe(
      true,
    );
  });
});

describe('two devices at one batch', () => {
  it('the second is told what the first did, and asked; both are kept only if the grower says so', async () => {
    const batchId = await openBatch();
    const base = (value: number) => ({ kind: 'base', reading: { kind: 'value', value }, confirmedOdd: true });
    const step = (after: string, body: object, id = testId()) =>
      kit.call<Problem & Omit<BatchView, 'status'>>(
        'PUT',
        `/api/bench/batches/${batchId}/steps/${id}?after=${after}`,
        body,
      );
    const first = await step('start', base(9));
    expect(first.status).toBe(200);
    const second = await step('start', base(11));
    expect(second.body).toMatchObject({
      status: 409,
      code: 'changed-since',
      detail: expect.stringMatching(/another device did this: .*9 ppm.*Keep yours as well/) as unknown,
    });
    expect(await kit.rows(`SELECT 1 FROM care_event WHERE kind = 'batchBase' AND batchId = ?`, [batchId])).toHaveLength(
      1,
    );
    expect((await step(second.body.existing!.eventId, base(11))).status).toBe(200);
    // Taken back on the one, the other hears of that as well.
    const { lastEventId } = (await kit.call<BatchView>('GET', `/api/bench/batches/${batchId}`)).body;
    await put(`/api/book/undos/${testId()}`, { targetId: lastEventId });
    expect((await step(lastEventId!, base(12))).body.code).toBe('changed-since');
  });
  it('one device’s own steps, sent late and in a row, follow each other', async () => {
    const batchId = await openBatch();
    const [a, b] = [testId(), testId()];
    const step = (after: string, id: string, value: number) =>
      kit.call('PUT', `/api/bench/batches/${batchId}/steps/${id}?after=${after}`, {
        kind: 'base',
        reading: { kind: 'value', value },
        confirmedOdd: true,
      });
    expect((await step('start', a, 9)).status).toBe(200);
    expect((await step(a, b, 10)).status).toBe(200);
    expect((await step(a, b, 10)).status).toBe(200);
  });
  async function openBatch(): Promise<string> {
    const [batch] = await kit.rows<Record<string, string>>(
      `SELECT * FROM batch WHERE phMeterId IS NOT NULL ORDER BY startedAt DESC LIMIT 1`,
    );
    const [part] = await kit.rows<{ bottleId: string }>('SELECT bottleId FROM batch_part WHERE batchId = ?', [
      batch!['id'],
    ]);
    const id = testId();
    const made = await kit.call<Problem>('PUT', `/api/bench/batches/${id}`, {
      mixKey: null,
      name: 'Feed',
      waterId: batch!['waterId'],
      vesselId: batch!['vesselId'],
      parts: [{ bottleId: part!.bottleId, aim: { kind: 'net', ppm: 90 } }],
      ppmMeterId: batch!['ppmMeterId'],
      phMeterId: batch!['phMeterId'],
      toolIds: JSON.parse(batch!['toolIds']!) as string[],
      volumeL: 2,
      phLow: 5.5,
      phHigh: 6,
    });
    expect(made.status, JSON.stringify(made.body)).toBe(200);
    return id;
  }
});

describe('a thing that is not there', () => {
  it('is said at its field, or in a sentence, never as a fault of ours', async () => {
    const values = {
      name: 'Rain as it is',
      use: 'water',
      parts: [],
      waterId: testId(),
      phLow: 5,
      phHigh: 6,
      holdMinutes: null,
      note: '',
    };
    expect(
      (await put(`/api/bench/recipes/acts/${testId()}`, { kind: 'put', id: testId(), values })).body,
    ).toMatchObject({
      status: 400,
      errors: [{ path: 'waterId' }],
    });
    // Where no field was looked at, the foreign key tells.
    const pot = await idOf(`SELECT id FROM pot WHERE code = 'R-02'`);
    const moved = await put(`/api/pots/acts/${testId()}`, { kind: 'move', potIds: [pot], placeId: testId() });
    expect(moved.status, JSON.stringify(moved.body)).toBeGreaterThanOrEqual(400);
    expect(moved.status).toBeLessThan(500);
  });
});

describe('what cannot be in a pot', () => {
  const fill = async (code: string, more: object) => {
    const pot = (await kit.call<RoundView>('GET', '/api/round')).body.places
      .flatMap((p) => p.pots)
      .find((p) => p.code === code)!;
    const tap = await idOf(`SELECT id FROM water WHERE kind = 'tap'`);
    return put(`/api/round/acts/${testId()}`, {
      kind: 'filled',
      potId: pot.id,
      dueOn: pot.due.dueOn,
      batchId: null,
      waterId: tap,
      pouredMl: 200,
      flushMl: 600,
      oldReservoir: { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null },
      ppmMeterId: null,
      phMeterId: null,
      ...more,
    });
  };
  const left = (leftMl: number) => ({
    oldReservoir: { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl },
  });
  it('is said at its field: what was poured, what was left, what goes in for a hold or a soak', async () => {
    expect((await fill('R-01', { pouredMl: 19_000 })).body.errors).toEqual([
      { path: 'pouredMl', message: expect.stringMatching(/R-01 holds .* Check the figure/) as unknown },
    ]);
    expect((await fill('R-01', left(9_000))).body.errors?.[0]?.path).toBe('oldReservoir.leftMl');
    const pot = await idOf(`SELECT id FROM pot WHERE code = 'R-01'`);
    const still = await idOf(`SELECT id FROM water WHERE kind = 'still'`);
    const hold = await put(`/api/clay/acts/${testId()}`, {
      kind: 'startHold',
      potId: pot,
      purpose: 'check',
      waterId: still,
      waterL: 38,
      minutes: 30,
      clockId: testId(),
      planId: null,
    });
    expect(hold.body.errors?.[0]?.path).toBe('waterL');
  });
  it('a flush of fifty litres is asked about once', async () => {
    const asked = await fill('R-01', { flushMl: 50_000 });
    expect(asked.body).toMatchObject({
      code: 'reading-odd',
      errors: [{ path: 'flushMl', message: expect.stringMatching(/kept once more it stands/) as unknown }],
    });
    expect((await fill('R-01', { flushMl: 50_000, confirmedOdd: true })).status).toBe(200);
  });
  it('a correction is held to the same', async () => {
    const [event] = await kit.rows<{ id: string; payload: string }>(
      `SELECT id, payload FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL LIMIT 1`,
    );
    const corrected = await put(`/api/book/corrections/${testId()}`, {
      targetId: event!.id,
      payload: { ...(JSON.parse(event!.payload) as object), pouredMl: 19_500 },
    });
    expect(corrected.body.errors?.[0]?.path).toBe('pouredMl');
  });
  it('nor is anything read of what, by the clock, was not begun', async () => {
    const pot = await idOf(`SELECT id FROM pot WHERE code = 'R-01'`);
    const still = await idOf(`SELECT id FROM water WHERE kind = 'still'`);
    const holdId = testId();
    const held = await put(`/api/clay/acts/${holdId}`, {
      kind: 'startHold',
      potId: pot,
      purpose: 'check',
      waterId: still,
      waterL: 0.5,
      minutes: 30,
      clockId: testId(),
      planId: null,
    });
    expect(held.status, JSON.stringify(held.body)).toBe(200);
    kit.clock.at = new Date(kit.clock.at.getTime() - 86_400_000);
    const read = await put(`/api/clay/acts/${testId()}`, {
      kind: 'readHold',
      holdId,
      where: 'top',
      reading: { kind: 'value', value: 80 },
      ppmMeterId: null,
      confirmedOdd: false,
    });
    expect(read.body.detail).toMatch(/not begun yet/);
  });
});

describe('a sign that is no letter', () => {
  it('is refused with words, and nothing of it is kept', async () => {
    const settings = {
      collection: 'cut\u0000here',
      zone: 'Europe/London',
      units: 'metric',
      workingDays: [1, 2],
      latitude: 54,
    };
    const answer = await put(`/api/shell/settings/${testId()}`, settings);
    expect(answer).toMatchObject({
      status: 400,
      body: { code: 'invalid-request', detail: expect.stringContaining('no letter') },
    });
    expect(await kit.rows(`SELECT value FROM setting WHERE value LIKE 'cut%'`)).toEqual([]);
  });
});
