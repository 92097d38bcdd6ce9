import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ClayRoom } from '../../contract/clay.ts';
import type { LookBack } from '../../contract/look-back.ts';
import { newlyStarted, serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(6);
});
afterAll(() => kit.close());
const back = async (from = kit) => (await from.call<LookBack>('GET', '/api/clay/look-back')).body.figures[0]!;
const act = (body: object) => kit.call('PUT', `/api/clay/acts/${testId()}`, body);

it('each reading of a soak is set beside what was known before it, the same after a new start', async () => {
  const figure = await back();
  expect(figure).toMatchObject({ what: 'clay', width: 1 });
  expect(figure.readings).toBeGreaterThanOrEqual(4);
  expect(figure.inside).toBe(figure.marks.filter(({ read, low, high }) => read >= low && read <= high).length);
  const { batches } = (await kit.call<ClayRoom>('GET', '/api/clay')).body;
  const names = batches.map(({ values }) => values.name);
  for (const { code, on, low, middle, high } of figure.marks) {
    expect(names).toContain(code);
    expect(on >= '2026-10-25').toBe(true);
    expect(low < middle && middle < high).toBe(true);
  }
  const fresh = await newlyStarted(kit);
  expect(await back(fresh)).toEqual(figure);
  await fresh.close();
});

it('a later reading changes no forecast before it, nor does what another grower found', async () => {
  const figure = await back();
  const { batches, ppmMeter } = (await kit.call<ClayRoom>('GET', '/api/clay')).body;
  const soaking = batches.find(({ state }) => state === 'soaking')!;
  const read = await act({
    kind: 'read',
    clayId: soaking.id,
    ppm: { kind: 'value', value: Math.round(soaking.lastReadPpm!) + 400 },
    ph: { kind: 'notMeasured' },
    ppmMeterId: ppmMeter!.id,
    phMeterId: null,
    temperatureC: null,
    at: null,
    confirmedOdd: true,
  });
  expect(read.status).toBe(200);
  const after = await back();
  expect(after.marks.slice(0, -1)).toEqual(figure.marks);
  // Far above what was known: outside, and said so.
  const odd = after.marks.at(-1)!;
  expect(odd.read).toBeGreaterThan(odd.high);
  expect(after.readings - after.inside).toBe(figure.readings - figure.inside + 1);
  const { card } = batches.find(({ card: own }) => own !== null)!;
  expect(
    (await act({ kind: 'told', clayId: soaking.id, bag: { name: 'Somebody’s bag', ...card, bagId: testId() } })).status,
  ).toBe(200);
  expect(await back()).toEqual(after);
});
