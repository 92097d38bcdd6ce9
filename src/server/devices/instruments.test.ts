import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { InstrumentsView } from '../../contract/instruments.ts';
import { serverKit, testId, TODAY, type Kit } from '../../../tests/server-kit.ts';
import { appendCareEvent } from '../database/care-log.ts';

const KEY = 'a'.repeat(43);
let kit: Kit;
let meterId: string;
beforeEach(async () => {
  kit = await serverKit(2);
  meterId = testId();
  // A real pen beside the simulated ones.
  await kit.database.write.run(async (manager) => {
    const columns = (await manager.query<{ name: string }[]>(`SELECT name FROM pragma_table_info('meter')`)).map(
      ({ name }) => name,
    );
    const own: Record<string, string> = { id: `'${meterId}'`, name: `'Door pen'`, device: `'typed'` };
    await manager.query(
      `INSERT INTO meter (${columns.join(', ')}) SELECT ${columns.map((c) => own[c] ?? c).join(', ')} FROM meter WHERE name = 'Blue pen'`,
    );
  });
});
afterEach(() => kit.close());

const make = (key = KEY, more: object = {}) =>
  kit.call('PUT', `/api/instruments/acts/${testId()}`, {
    kind: 'make',
    instrumentId: testId(),
    name: 'bench logger',
    meterId,
    key,
    ...more,
  });
const send = (body: object, key = KEY) =>
  kit.call<{ id: string; repeated: boolean; waits: boolean }>('POST', '/api/instruments/readings', body, {
    authorization: `Bearer ${key}`,
  });
const view = async () => (await kit.call<InstrumentsView>('GET', '/api/instruments')).body;
const act = (body: object) => kit.call('PUT', `/api/instruments/acts/${testId()}`, body);

describe('a key', () => {
  it('is made, kept as a digest only, and opens this one way and no other', async () => {
    expect((await make()).status).toBe(200);
    const whole =
      JSON.stringify(await kit.rows('SELECT * FROM instrument')) +
      JSON.stringify(await kit.rows('SELECT payload FROM care_event'));
    expect(whole).not.toContain(KEY);
    expect((await send({ shown: 131 })).status).toBe(200);
    expect((await view()).instruments[0]).toMatchObject({ name: 'bench logger', meter: 'Door pen', withdrawnOn: null });
  });
  it('that is none, that was withdrawn, or that is missing opens nothing', async () => {
    await make();
    expect((await send({ shown: 131 }, 'b'.repeat(43))).status).toBe(401);
    expect((await send({ shown: 131 }, '')).status).toBe(401);
    expect((await kit.call('POST', '/api/instruments/readings', { shown: 131 })).status).toBe(401);
    const { id } = (await view()).instruments[0]!;
    await act({ kind: 'withdraw', instrumentId: id });
    expect((await send({ shown: 131 })).status).toBe(401);
    expect(await kit.rows('SELECT * FROM sent_reading')).toEqual([]);
  });
  it('made and withdrawn, each is undone', async () => {
    const actId = testId();
    await kit.call('PUT', `/api/instruments/acts/${actId}`, {
      kind: 'make',
      instrumentId: testId(),
      name: 'x',
      meterId,
      key: KEY,
    });
    expect((await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: actId })).status).toBe(200);
    expect((await view()).instruments).toEqual([]);
    expect((await send({ shown: 131 })).status).toBe(401);
  });
  it('is for a real pen that is in use', async () => {
    const [blue] = await kit.rows<{ id: string }>(`SELECT id FROM meter WHERE name = 'Blue pen'`);
    expect((await make(KEY, { meterId: blue!.id })).status).toBe(400);
    expect((await make(KEY, { meterId: testId() })).status).toBe(400);
    expect((await make('short')).status).toBe(400);
  });
});

describe('a reading', () => {
  it('nobody waits for lies in the tray, and is placed at a pot as a reading of that moment; undone like any other', async () => {
    await make();
    const sent = await send({ shown: 142, temperatureC: 21 });
    expect(sent.body.waits).toBe(false);
    const [waiting] = (await view()).tray;
    expect(waiting).toMatchObject({ shown: 142, unit: 'ppm', temperatureC: 21, instrument: 'bench logger' });
    const [pot] = await kit.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-02'`);
    const placed = testId();
    await kit.call('PUT', `/api/instruments/acts/${placed}`, { kind: 'place', readingId: waiting!.id, potId: pot!.id });
    const [line] = await kit.rows<{ kind: string; payload: string; at: string }>(
      'SELECT * FROM care_event WHERE id = ?',
      [placed],
    );
    expect(line).toMatchObject({ kind: 'potReread', at: waiting!.at });
    expect(JSON.parse(line!.payload)).toMatchObject({
      ppm: { kind: 'value', value: 142 },
      ppmMeterId: meterId,
      ph: { kind: 'notMeasured' },
    });
    expect((await view()).tray).toEqual([]);
    expect((await act({ kind: 'place', readingId: waiting!.id, potId: pot!.id })).status).toBe(409);
    expect((await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: placed })).status).toBe(200);
    // Taken back, it waits for a place again.
    expect((await view()).tray.map(({ id }) => id)).toEqual([waiting!.id]);
  });
  it('sent twice with one number is one; with another figure it is refused', async () => {
    await make();
    const id = testId();
    expect((await send({ id, shown: 131 })).body.repeated).toBe(false);
    expect((await send({ id, shown: 131 })).body.repeated).toBe(true);
    expect((await send({ id, shown: 132 })).status).toBe(409);
    expect((await view()).tray).toHaveLength(1);
  });
  it('of nought is a reading; below it, or of none, it is refused with an example', async () => {
    await make();
    expect((await send({ shown: 0 })).status).toBe(200);
    for (const body of [{ shown: -1 }, {}, { shown: 'much' }, { shown: 131, temperatureC: 200 }])
      expect((await send(body)).status).toBe(400);
    expect(JSON.stringify((await send({})).body)).toContain('\\"shown\\": 131');
  });
  it('goes to the field that waits for it, and to one only', async () => {
    await make();
    const next = () => kit.app.inject({ url: `/api/instruments/${meterId}/next`, headers: { host: '127.0.0.1:4180' } });
    const first = next();
    await new Promise((resolve) => setImmediate(resolve));
    await send({ shown: 118 });
    expect((await first).body).toContain('data: {"shown":118,"settled":true}');
    expect((await view()).tray).toEqual([]);
  });
  it('is had by one of two fields that wait at once, and the next one by the other', async () => {
    await make();
    const next = () => kit.app.inject({ url: `/api/instruments/${meterId}/next`, headers: { host: '127.0.0.1:4180' } });
    const fields = [next(), next()];
    await new Promise((resolve) => setImmediate(resolve));
    await send({ shown: 118 });
    const first = await Promise.race(fields);
    expect(first.body).toContain('"shown":118');
    await send({ shown: 122 });
    const bodies = (await Promise.all(fields)).map(({ body }) => body);
    expect(bodies.filter((body) => body.includes('118'))).toHaveLength(1);
    expect(bodies.filter((body) => body.includes('122'))).toHaveLength(1);
  });
  it('is dropped, a later one stands, and the drop is undone', async () => {
    await make();
    await send({ shown: 1 });
    const [reading] = (await view()).tray;
    const dropped = testId();
    await kit.call('PUT', `/api/instruments/acts/${dropped}`, { kind: 'drop', readingId: reading!.id });
    await send({ shown: 2 });
    expect((await view()).tray.map(({ shown }) => shown)).toEqual([2]);
    expect((await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: dropped })).status).toBe(200);
    expect((await view()).tray.map(({ shown }) => shown)).toEqual([2, 1]);
  });
  it('of a pot that stands in its soak is not taken for its reservoir', async () => {
    await make();
    const [pot] = await kit.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-02'`);
    await kit.database.write.run((manager) =>
      appendCareEvent(manager, {
        id: testId(),
        kind: 'supplementStarted',
        at: kit.clock.at,
        localDate: TODAY,
        potId: pot!.id,
        payload: {
          dueOn: TODAY,
          what: 'magnesium',
          way: 'soak',
          pouredMl: 300,
          holdMinutes: 30,
          words: 'In its soak',
          changes: [],
        },
      }),
    );
    await send({ shown: 300 });
    const [reading] = (await view()).tray;
    expect((await act({ kind: 'place', readingId: reading!.id, potId: pot!.id })).status).toBe(409);
  });
});

describe('a backup put back', () => {
  it('brings no key with it', async () => {
    await make();
    await kit.call('POST', '/api/book/backups', {});
    const { body } = await kit.call<{ backups: { name: string }[] }>('GET', '/api/book/backups');
    const put = await kit.call('POST', `/api/book/backups/${body.backups[0]!.name}/restore`, {});
    expect(put.status).toBe(200);
    expect((await view()).instruments[0]).toMatchObject({ name: 'bench logger' });
    expect((await view()).instruments[0]!.withdrawnOn).not.toBeNull();
    expect((await send({ shown: 131 })).status).toBe(401);
  });
});
