import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { BatchView } from '../../contract/bench.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import { collectionOf, knownAlone, mixOf } from './index.ts';

/*
 * History is judged by what held then: what is read, tested or written down today changes nothing that was learned from batches and visits before it.
 */

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(8);
});
afterAll(() => kit.close());

const shelf = (body: object) => kit.call('PUT', `/api/shelf/acts/${testId()}`, body);
const room = async () => (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body;
const value = (figure: number) => ({ kind: 'value', value: figure });
const NOTHING = { kind: 'notMeasured' };

/** Everything learned: of each pot's nature by itself, of each mix that was poured. */
function learned() {
  const { pots, batches } = collectionOf(kit.database.read.manager);
  return {
    pots: [...pots.values()].map((entry) => knownAlone(entry)?.belief),
    mixes: [...batches.values()].filter(({ row }) => row.status === 'poured').map((batch) => mixOf(batch)!.total),
  };
}

const pensOf = async () => {
  const { mainPpmMeterId, mainPhMeterId } = await room();
  return { ppmMeterId: mainPpmMeterId, phMeterId: mainPhMeterId };
};
const stillWater = async () => (await room()).waters.find((w) => w.values.kind === 'still')!;
const feed = async () => (await room()).products.find((p) => p.values.kind === 'feed' && p.values.analysis)!;

describe('what was learned from earlier batches', () => {
  let before: ReturnType<typeof learned>;
  beforeEach(() => {
    before = learned();
    expect(before.pots.filter(Boolean).length).toBeGreaterThan(30);
    expect(before.mixes.length).toBeGreaterThan(20);
  });

  it('stands when a water reads otherwise today, alone or before a mix', async () => {
    const water = await stillWater();
    const pens = await pensOf();
    expect(
      (
        await shelf({
          kind: 'readWater',
          waterId: water.id,
          ppm: value(17),
          ph: value(7.2),
          ...pens,
          temperatureC: null,
        })
      ).status,
    ).toBe(200);
    expect(learned()).toEqual(before);
    const batch = testId();
    const { vessels, tools, products } = await room();
    const start = {
      mixKey: null,
      name: 'Of today',
      waterId: water.id,
      vesselId: vessels[0]!.id,
      parts: [{ bottleId: products.find((p) => p.values.kind === 'feed')!.bottle!.id, aim: { kind: 'net', ppm: 90 } }],
      ...pens,
      toolIds: [tools.find((t) => t.values.kind === 'syringe')!.id],
      volumeL: 2,
      phLow: 5.5,
      phHigh: 6.5,
    };
    expect((await kit.call('PUT', `/api/bench/batches/${batch}`, start)).status).toBe(200);
    expect(
      (
        await kit.call('PUT', `/api/bench/batches/${batch}/steps/${testId()}`, {
          kind: 'base',
          reading: value(21),
          confirmedOdd: true,
        })
      ).status,
    ).toBe(200);
    expect(learned()).toEqual(before);
  });

  it('stands when a water is tested anew; its first test tells of what was before it too', async () => {
    const water = await stillWater();
    const tested = (dkh: number) =>
      shelf({
        kind: 'put',
        what: 'water',
        id: water.id,
        values: { ...water.values, known: { method: 'kit', alkalinity: { value: dkh, unit: '°dKH' }, hardness: null } },
      });
    expect((await tested(0.4)).status).toBe(200);
    const first = learned();
    expect(first.mixes).not.toEqual(before.mixes);
    expect((await tested(1.1)).status).toBe(200);
    expect(learned()).toEqual(first);
  });

  it('stands when the maker changes a feed', async () => {
    const { id, values } = await feed();
    const analysis = { ...values.analysis!, percent: { ...values.analysis!.percent, K2O: 4 } };
    expect((await shelf({ kind: 'put', what: 'product', id, values: { ...values, analysis } })).status).toBe(200);
    expect(learned()).toEqual(before);
  });

  it('follows a figure of its own day that is put right, and comes back when that is taken back', async () => {
    const [base] = await kit.rows<{ id: string; payload: string }>(
      `SELECT e.id, e.payload FROM care_event e JOIN care_event f ON f.batchId = e.batchId AND f.kind = 'potFilled' WHERE e.kind = 'batchBase' AND e.voidedBy IS NULL ORDER BY e.seq DESC LIMIT 1`,
    );
    const id = testId();
    const payload = { ...(JSON.parse(base!.payload) as object), reading: value(25) };
    expect((await kit.call('PUT', `/api/book/corrections/${id}`, { targetId: base!.id, payload })).status).toBe(200);
    expect(learned()).not.toEqual(before);
    expect((await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: id })).status).toBe(200);
    expect(learned()).toEqual(before);
  });

  it('a batch of last week is shown as it was made', async () => {
    const [batch] = await kit.rows<{ id: string }>(
      `SELECT id FROM batch WHERE status = 'poured' AND pouredPh IS NOT NULL AND mixKey IS NOT NULL ORDER BY startedAt DESC LIMIT 1 OFFSET 8`,
    );
    const view = async () => (await kit.call<BatchView>('GET', `/api/bench/batches/${batch!.id}`)).body;
    const shown = await view();
    expect(shown.expected).not.toBeNull();
    const water = await stillWater();
    await shelf({
      kind: 'readWater',
      waterId: water.id,
      ppm: NOTHING,
      ph: value(5.2),
      ...(await pensOf()),
      temperatureC: null,
    });
    expect((await view()).expected).toEqual(shown.expected);
  });
});
