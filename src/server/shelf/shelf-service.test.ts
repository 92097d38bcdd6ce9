import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Problem } from '../../contract/errors.ts';
import type { PotsView } from '../../contract/pots.ts';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfRoom, ShelfView } from '../../contract/shelf.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(3);
});
afterAll(() => kit.close());

const act = (body: object, id = testId()) =>
  kit.call<Problem & { repeated: boolean }>('PUT', `/api/shelf/acts/${id}`, body);
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const room = async () => (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body;
const bench = async () => (await kit.call<ShelfView>('GET', '/api/shelf')).body;
const NOT = { kind: 'notMeasured' };

describe('what stands on the Shelf', () => {
  it('is added, changed, retired and brought back; the bench offers only what is in use', async () => {
    const id = testId();
    const added = testId();
    const values = { name: 'Measuring jug', capacityL: 3, material: 'glass', heatProof: true };
    await act({ kind: 'put', what: 'vessel', id, values }, added);
    expect((await act({ kind: 'put', what: 'vessel', id, values }, added)).body.repeated).toBe(true);
    expect((await bench()).vessels.at(-1)).toMatchObject({ name: 'Measuring jug', capacityL: 3 });
    await act({ kind: 'put', what: 'vessel', id, values: { ...values, capacityL: 2.5 } });
    expect((await room()).vessels.find((v) => v.id === id)!.values).toEqual({ ...values, capacityL: 2.5 });
    const retired = testId();
    await act({ kind: 'retire', what: 'vessel', id }, retired);
    expect((await bench()).vessels.some((v) => v.id === id)).toBe(false);
    expect((await room()).vessels.find((v) => v.id === id)!.retiredOn).not.toBeNull();
    await undo(retired);
    expect((await bench()).vessels.some((v) => v.id === id)).toBe(true);
  });
  it('never loses what history uses: adding can be undone only while nothing leans on it', async () => {
    const shelf = await bench();
    const waterId = testId();
    const added = testId();
    await act(
      {
        kind: 'put',
        what: 'water',
        id: waterId,
        values: { name: 'Spring', note: '', kind: 'other', tankL: null, perDayL: null },
      },
      added,
    );
    const batchId = testId();
    const started = await kit.call<Problem>('PUT', `/api/bench/batches/${batchId}`, {
      mixKey: null,
      name: 'Try',
      waterId,
      vesselId: shelf.vessels[0]!.id,
      parts: [{ bottleId: shelf.bottles[0]!.id, aim: { kind: 'net', ppm: 90 } }],
      ppmMeterId: shelf.meters[0]!.id,
      phMeterId: null,
      toolIds: [shelf.tools[0]!.id],
      volumeL: 1,
      phLow: 5.5,
      phHigh: 6.5,
    });
    expect(started.status).toBe(200);
    expect((await undo(added)).body.code).toBe('in-use');
    expect((await act({ kind: 'retire', what: 'water', id: waterId })).body).toMatchObject({
      code: 'in-use',
      detail: expect.stringMatching(/batch Try/),
    });
    await kit.call('PUT', `/api/bench/batches/${batchId}/steps/${testId()}`, { kind: 'abandon', reason: '' });
    expect((await act({ kind: 'retire', what: 'water', id: waterId })).status).toBe(200);
  });
  it.each([
    ['vessel', { name: '', capacityL: 3, material: '', heatProof: false }, 'name', /name/],
    ['vessel', { name: 'Bucket', capacityL: 3, material: '', heatProof: false }, 'name', /already/],
    ['vessel', { name: 'Unmeasured', capacityL: null, material: '', heatProof: false }, 'capacityL', /litres/],
    ['vessel', { name: 'Wordy', capacityL: 'big', material: '', heatProof: false }, 'capacityL', /litres/],
    ['vessel', { name: 'Nothing', capacityL: 0, material: '', heatProof: false }, 'capacityL', /litres/],
    [
      'tool',
      { kind: 'syringe', name: 'S', dropsPerMl: null, capacityMl: null, stepMl: 1, stepG: null },
      'capacityMl',
      /holds/,
    ],
    [
      'tool',
      { kind: 'syringe', name: 'S', dropsPerMl: null, capacityMl: 1, stepMl: 2, stepG: null },
      'stepMl',
      /larger/,
    ],
    [
      'tool',
      { kind: 'scale', name: 'S', dropsPerMl: null, capacityMl: null, stepMl: null, stepG: null },
      'stepG',
      /smallest step/,
    ],
    [
      'tool',
      { kind: 'dropper', name: 'D', dropsPerMl: 900, capacityMl: null, stepMl: null, stepG: null },
      'dropsPerMl',
      /Count again/,
    ],
    ['meter', { name: 'P', quantity: 'ppm', scale: null, scaleFrom: null, resolution: 1 }, 'scale', /guess/],
  ])('refuses a %s of %j at its field', async (what, values, path, message) => {
    const { body } = await act({ kind: 'put', what, id: testId(), values });
    expect(body.errors?.map((e) => e.path).join()).toMatch(new RegExp(path));
    expect(body.errors?.map((e) => e.message).join()).toMatch(message);
  });
});

describe('waters', () => {
  it('keep base readings by date, from mixes and alone; the newest is what is expected next', async () => {
    const water = (await room()).waters[0]!;
    expect(water.readings.length).toBeGreaterThan(2);
    const meter = (await bench()).meters[0]!;
    const id = testId();
    await act(
      {
        kind: 'readWater',
        waterId: water.id,
        ppm: { kind: 'value', value: 13 },
        ph: NOT,
        ppmMeterId: meter.id,
        phMeterId: null,
      },
      id,
    );
    expect((await room()).waters[0]!.readings[0]).toMatchObject({ ppm: 13, from: 'alone' });
    expect((await bench()).waters[0]!.lastBasePpm).toBe(13);
    await undo(id);
    expect((await bench()).waters[0]!.lastBasePpm).not.toBe(13);
    expect(
      (await act({ kind: 'readWater', waterId: water.id, ppm: NOT, ph: NOT, ppmMeterId: null, phMeterId: null })).body
        .errors?.[0]?.path,
    ).toBe('ppm');
  });
  it('know what stands in the tank: looked at, made, mixed; a tank never holds more than it can', async () => {
    const still = (await room()).waters.find((w) => w.values.tankL !== null)!;
    expect((await act({ kind: 'countWater', waterId: still.id, litres: 40 })).body.errors?.[0]).toMatchObject({
      path: 'litres',
      message: expect.stringMatching(/holds 25 L/),
    });
    await act({ kind: 'countWater', waterId: still.id, litres: 20 });
    expect((await room()).waters.find((w) => w.id === still.id)!.stock).toMatchObject({ litres: 20, countedL: 20 });
    const smaller = await act({ kind: 'put', what: 'water', id: still.id, values: { ...still.values, tankL: 10 } });
    expect(smaller.body.errors?.[0]).toMatchObject({
      path: 'values.tankL',
      message: expect.stringMatching(/20 L in it/),
    });
    kit.clock.at = new Date(kit.clock.at.getTime() + 86_400_000);
    expect((await room()).waters.find((w) => w.id === still.id)!.stock).toMatchObject({ litres: 25, madeL: 5 });
    kit.clock.at = new Date(kit.clock.at.getTime() - 86_400_000);
  });
});

describe('products', () => {
  let meterId: string;
  let plastic: string;
  beforeEach(async () => {
    const shelf = await bench();
    meterId = shelf.meters.find((m) => m.quantity === 'ppm')!.id;
    plastic = shelf.tools.find((t) => t.kind === 'dropper' && t.dropsPerMl === null)?.id ?? shelf.tools[0]!.id;
  });
  const product = (recipe: object | null, name: string) => ({
    name,
    shortName: '',
    kind: 'feed',
    label: '',
    caution: '',
    recipe,
  });
  const recipe = (more: object = {}) => ({
    amount: 2,
    unit: 'mL',
    toolId: null,
    unitWords: '',
    waterL: 4,
    readsPpm: 109,
    basePpm: 9,
    meterId,
    ...more,
  });

  it('are scaled from "so much gave so much", and open their first bottle', async () => {
    const id = testId();
    await act({ kind: 'put', what: 'product', id, values: product(recipe(), 'Leaf feed') });
    const made = (await room()).products.find((p) => p.id === id)!;
    // 100 net ppm from 2 mL in 4 L is 200 ppm for 1 mL in 1 L.
    expect(made.strength).toEqual({ known: true, ppmPerMlL: 200 });
    expect(made.bottle).not.toBeNull();
    expect((await bench()).bottles.find((b) => b.productId === id)).toMatchObject({ kind: 'feed' });
    const before = made.bottle!.id;
    await act({ kind: 'openBottle', productId: id, bottleId: testId(), note: 'from the market' });
    const after = (await room()).products.find((p) => p.id === id)!.bottle!;
    expect(after).toMatchObject({ note: 'from the market' });
    expect(after.id).not.toBe(before);
    expect((await bench()).bottles.filter((b) => b.productId === id)).toHaveLength(1);
  });
  it.each([
    ['a dropper nobody counted', { amount: 30, unit: 'drops', toolId: 'plastic' }, /has not been counted/],
    ['no volume of water', { waterL: null }, /litres of water are not known/],
    ['a measure of no known size', { unit: 'other', unitWords: 'capful' }, /how much a capful holds/],
    ['no reading', { readsPpm: null }, /pen read is not known/],
    ['no base', { basePpm: null }, /alone is not known/],
    ['a mix that reads less than its water', { readsPpm: 5 }, /no more than its water/],
  ])('are not scaled from %s, and say so', async (_what, more, why) => {
    const id = testId();
    const filled = { ...more, ...('toolId' in more ? { toolId: plastic } : {}) };
    const { status } = await act({
      kind: 'put',
      what: 'product',
      id,
      values: product(recipe(filled), `Feed ${id.slice(-6)}`),
    });
    expect(status).toBe(200);
    const { strength } = (await room()).products.find((p) => p.id === id)!;
    expect(strength.known).toBe(false);
    if (!strength.known) expect(strength.why).toMatch(why);
    expect(
      (await kit.rows<{ guessEcPerMlL: number | null }>('SELECT guessEcPerMlL FROM product WHERE id = ?', [id]))[0]!
        .guessEcPerMlL,
    ).toBeNull();
  });
});

describe('the scale of the pen at hand', () => {
  it('found to be another keeps the figure on the pen: aims and old batches are read anew, and come back with an undo', async () => {
    const view = await room();
    const pen = view.meters.find((m) => m.id === view.mainPpmMeterId)!;
    const regimens = async () =>
      (await kit.call<PotsView>('GET', '/api/pots')).body.regimens.map((r) => r.values.feeds[0]!.netPpm);
    const poured = async () =>
      (
        await kit.rows<{ ec: number }>(
          'SELECT pouredEcUsCm AS ec FROM batch WHERE pouredEcUsCm IS NOT NULL ORDER BY startedAt DESC LIMIT 1',
        )
      )[0]!.ec;
    const [aims, ec] = [await regimens(), await poured()];
    const id = testId();
    await act(
      { kind: 'put', what: 'meter', id: pen.id, values: { ...pen.values, scale: 0.7, scaleFrom: 'standard' } },
      id,
    );
    expect(await regimens()).toEqual(aims);
    expect(await poured()).toBeCloseTo((ec * 0.5) / 0.7, 6);
    expect((await kit.call<RoundView>('GET', '/api/round')).body.mixes[0]!.netPpm).toBeCloseTo(90, 6);
    await undo(id);
    expect((await room()).scale).toBe(0.5);
    expect(await poured()).toBeCloseTo(ec, 6);
  });
  it('is the scale of the pen that is chosen', async () => {
    const id = testId();
    await act({
      kind: 'put',
      what: 'meter',
      id,
      values: { name: 'Green pen', quantity: 'ppm', scale: 0.64, scaleFrom: 'label', resolution: 1 },
    });
    expect((await room()).scale).toBe(0.5);
    const chosen = testId();
    await act({ kind: 'main', meterId: id }, chosen);
    expect(await room()).toMatchObject({ scale: 0.64, mainPpmMeterId: id });
    await undo(chosen);
    expect((await room()).scale).toBe(0.5);
  });
});
