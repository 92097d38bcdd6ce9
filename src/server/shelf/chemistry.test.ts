import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BatchView } from '../../contract/bench.ts';
import type { BookPage } from '../../contract/book.ts';
import type { PotView } from '../../contract/pots.ts';
import type { MeterReadings, ShelfRoom, ShelfView, StrengthHistory } from '../../contract/shelf.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

import type { Problem } from '../../contract/errors.ts';
let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(8);
});
afterAll(() => kit.close());
const act = (body: object, id = testId()) =>
  kit.call<Problem & { repeated: boolean }>('PUT', `/api/shelf/acts/${id}`, body);
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const room = async () => (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body;
const meterCalled = async (name: string) => (await room()).meters.find((m) => m.values.name === name)!;
const productCalled = async (name: string) => (await room()).products.find((p) => p.values.name === name)!;

describe('a pen found off', () => {
  it('taints what it read since its last good check, everywhere, and no longer when that is taken back', async () => {
    const pen = await meterCalled('Blue pen');
    const feed = await productCalled('House feed');
    const history = async () =>
      (await kit.call<StrengthHistory>('GET', `/api/shelf/products/${feed.id}/strength`)).body.points;
    const before = await history();
    expect(before.some((p) => p.tainted)).toBe(false);
    const mark = testId();
    const from = before.at(-6)!.on;
    expect(
      (
        await act(
          { kind: 'markMeter', meterId: pen.id, fromOn: from, offBy: -0.12, why: 'reads 622 in the standard' },
          mark,
        )
      ).status,
    ).toBe(200);
    const marked = await meterCalled('Blue pen');
    expect(marked.taints).toMatchObject([{ fromOn: from, toOn: null, offBy: -0.12 }]);
    expect(marked.taints[0]!.batches).toBeGreaterThan(4);
    const after = await history();
    expect(after.at(-1)!.tainted).toBe(true);
    expect(after.at(-1)!.sd).toBeGreaterThan(before.at(-1)!.sd);
    // The last one that pots were filled from.
    const [poured] = await kit.rows<{ batchId: string }>(
      `SELECT batchId FROM care_event WHERE kind = 'potFilled' ORDER BY at DESC LIMIT 1`,
    );
    const batch = (await kit.call<BatchView>('GET', `/api/bench/batches/${poured!.batchId}`)).body;
    expect(batch.rows.every((r) => r.tainted === (r.readsPpm !== null))).toBe(true);
    const pots = (
      await kit.rows<{ potId: string }>(
        `SELECT potId FROM care_event WHERE batchId = ? AND kind = 'potFilled' LIMIT 1`,
        [batch.id],
      )
    )[0]!;
    const visits = (await kit.call<PotView>('GET', `/api/pots/${pots.potId}`)).body.visits;
    expect(visits.find((v) => v.batchId === batch.id)?.tainted).toContain('pouredPpm');
    const readings = (await kit.call<MeterReadings>('GET', `/api/shelf/meters/${pen.id}/readings?since=2020-01-01`))
      .body.readings;
    expect(readings.filter((r) => r.tainted).length).toBe(marked.taints[0]!.readings);
    expect((await undo(mark)).status).toBe(200);
    expect((await meterCalled('Blue pen')).taints).toEqual([]);
    expect(await history()).toEqual(before);
  });
  it('is the yellow one of the demo: hollow since three weeks, solid before', async () => {
    const yellow = await meterCalled('Yellow pen');
    expect(yellow.taints[0]).toMatchObject({ toOn: null, offBy: -0.25 });
    expect(yellow.taints[0]!.readings).toBeGreaterThan(20);
    expect(yellow.checks[0]).toMatchObject({ good: false, shown: 6.6 });
    expect(yellow.offset).toBeLessThan(-0.2);
  });
  it('reads true again from the moment it is set', async () => {
    const yellow = await meterCalled('Yellow pen');
    const check = testId();
    const body = {
      kind: 'checkMeter',
      meterId: yellow.id,
      standard: 'ph686',
      shown: 6.6,
      temperatureC: 20,
      settled: true,
      adjusted: true,
    };
    expect((await act(body, check)).status).toBe(200);
    expect((await act(body, check)).body.repeated).toBe(true);
    expect((await meterCalled('Yellow pen')).taints[0]!.toOn).not.toBeNull();
    expect((await meterCalled('Yellow pen')).offset).toBe(0);
    await undo(check);
    expect((await meterCalled('Yellow pen')).taints[0]!.toOn).toBeNull();
  });
  it('found off, set and only then marked: the past is tainted from the good check before, the present is not', async () => {
    const pen = await meterCalled('Blue pen');
    const [check, mark] = [testId(), testId()];
    await act(
      {
        kind: 'checkMeter',
        meterId: pen.id,
        standard: 'ec1413',
        shown: 622,
        temperatureC: 25,
        settled: true,
        adjusted: true,
      },
      check,
    );
    expect((await meterCalled('Blue pen')).wouldTaintFromOn).toBe('2026-11-19');
    await act({ kind: 'markMeter', meterId: pen.id, fromOn: null, offBy: -0.12, why: '' }, mark);
    expect((await meterCalled('Blue pen')).taints).toMatchObject([{ fromOn: '2026-11-19', toOn: '2026-11-25' }]);
    await undo(mark);
    await undo(check);
  });
  it('is checked only in standards that exist and fit it', async () => {
    const yellow = await meterCalled('Yellow pen');
    const check = {
      kind: 'checkMeter',
      meterId: yellow.id,
      shown: 7,
      temperatureC: 20,
      settled: true,
      adjusted: false,
    };
    expect((await act({ ...check, standard: 'ph800' })).body.detail).toMatch(/standard that exists/);
    expect((await act({ ...check, standard: 'ec1413' })).body.errors).toMatchObject([
      { path: 'standard', message: expect.stringMatching(/pH standard/) },
    ]);
    expect(
      (await act({ kind: 'markMeter', meterId: yellow.id, fromOn: '2031-01-01', offBy: null, why: '' })).body
        .errors?.[0]?.path,
    ).toBe('fromOn');
  });
  it('cannot be the pen at hand when it shows no ppm', async () => {
    const meter = await meterCalled('Bench meter');
    expect((await act({ kind: 'main', meterId: meter.id })).body.detail).toMatch(/Keep it for checks/);
    expect((await kit.call<ShelfView>('GET', '/api/shelf')).body.meters.some((m) => m.name === 'Bench meter')).toBe(
      false,
    );
  });
});

describe('labels and waters', () => {
  const figures = { form: 'liquid', basis: 'w/w', densityGMl: 1.2, percent: { 'NO3-N': 5, K2O: 8 }, thinned: 1 };
  const product = (analysis: unknown) => ({
    kind: 'put',
    what: 'product',
    id: testId(),
    values: {
      name: `Kitchen feed ${testId().slice(-6)}`,
      shortName: '',
      kind: 'feed',
      label: '',
      caution: '',
      recipe: null,
      analysis,
    },
  });
  it('a label is kept as declared, and its strength is the first guess', async () => {
    const body = product(figures);
    expect((await act(body)).status).toBe(200);
    const kept = (await room()).products.find((p) => p.id === body.id)!;
    expect(kept.values.analysis).toEqual(figures);
    expect(kept.strength).toMatchObject({ known: true });
  });
  it('a long name without a short one does not stop the Shelf from showing', async () => {
    const body = product(figures);
    body.values.name = 'A feed from the back of the cupboard with a very long name';
    expect((await act(body)).status).toBe(200);
    expect((await room()).products.find((p) => p.id === body.id)?.values.shortName).toBe('a feed from the back');
  });
  it.each([
    [{ ...figures, densityGMl: null }, 'values.analysis.densityGMl', /weigh 10 mL/],
    [{ ...figures, percent: { K2O: 130 } }, 'values.analysis.percent.K2O', /more than the whole/],
    [{ ...figures, percent: { N: 3, 'NO3-N': 5 } }, 'values.analysis.percent.N', /forms of nitrogen/],
    [{ ...figures, percent: { K2O: -2 } }, 'values.analysis.percent.K2O', /below zero/],
  ])('a contradictory label is refused at the figure: %j', async (bad, path, message) => {
    expect((await act(product(bad))).body.errors).toContainEqual({ path, message: expect.stringMatching(message) });
  });
  it('an analysis whose charges do not meet is refused, and a negative alkalinity', async () => {
    const water = (known: unknown) => ({
      kind: 'put',
      what: 'water',
      id: testId(),
      values: { name: `Well ${testId().slice(-6)}`, note: '', kind: 'tap', tankL: null, perDayL: null, known },
    });
    const lines = [
      { item: 'Ca', value: 80, unit: 'mg/L' },
      { item: 'alkalinity', value: 50, unit: 'mg/L' },
    ];
    expect((await act(water({ method: 'analysis', lines, ph: 7 }))).body.errors?.[0]).toMatchObject({
      path: 'values.known.lines',
      message: expect.stringMatching(/too many/),
    });
    expect(
      (await act(water({ method: 'kit', alkalinity: { value: -2, unit: '°dKH' }, hardness: null }))).body.errors?.[0]
        ?.message,
    ).toMatch(/count the drops again/);
    expect((await act(water({ method: 'kit', alkalinity: { value: 8, unit: '°dKH' }, hardness: null }))).status).toBe(
      200,
    );
  });
  it('a bottle says what is left of it and how long that lasts', async () => {
    const feed = await productCalled('House feed');
    expect(feed.bottle!.leftMl).toBeLessThan(feed.bottle!.sizeMl!);
    expect(feed.bottle!.daysLeft).toBeGreaterThan(20);
    expect(feed.learned!.batches).toBeGreaterThan(10);
    await act({ kind: 'openBottle', productId: feed.id, bottleId: testId(), note: '', sizeMl: 500, price: 9 });
    expect((await productCalled('House feed')).bottle).toMatchObject({ sizeMl: 500, leftMl: 500 });
    expect((await productCalled('House feed')).learned).toBeNull();
  });
});

describe('the pH of a batch, predicted', () => {
  it('puts the reading of a pen found off right by as much as it is off', async () => {
    const shelf = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
    const find = <T extends { name: string }>(things: T[], name: string) => things.find((t) => t.name === name)!;
    const batchId = testId();
    await kit.call('PUT', `/api/bench/batches/${batchId}`, {
      mixKey: null,
      name: 'Soft feed',
      waterId: find(shelf.waters, 'Still water').id,
      vesselId: find(shelf.vessels, 'Bucket').id,
      parts: [{ bottleId: find(shelf.bottles, 'House feed').id, aim: { kind: 'net', ppm: 90 } }],
      ppmMeterId: find(shelf.meters, 'Blue pen').id,
      phMeterId: find(shelf.meters, 'Yellow pen').id,
      toolIds: shelf.tools.map((t) => t.id),
      volumeL: 4,
      phLow: 5.5,
      phHigh: 6.5,
    });
    const step = (body: object) => kit.call<BatchView>('PUT', `/api/bench/batches/${batchId}/steps/${testId()}`, body);
    await step({ kind: 'base', reading: { kind: 'value', value: 9 } });
    await step({
      kind: 'portion',
      dose: { toolId: find(shelf.tools, '5 mL syringe').id, steps: 13, doseMl: 2.6, relativeSd: 0.05 },
      reading: { kind: 'value', value: 99 },
      confirmedOdd: true,
    });
    await step({ kind: 'ph', reading: { kind: 'value', value: 6.6 } });
    const view = (await kit.call<BatchView>('GET', `/api/bench/batches/${batchId}`)).body;
    expect(view.phMeter?.off).toMatch(/reads about 0\.3 low since 4 Nov/);
    expect(view.ph.readings.at(-1)).toMatchObject({ ph: 6.6, tainted: true });
    // Known to read 0.3 low: the coach goes by the figure put right, and says what the pen will show.
    expect(view.ph.penOffBy).toBeCloseTo(-0.25, 9);
    expect(view.ph.latest).toBeCloseTo(6.85, 9);
    expect(view.expected.known && view.expected.now.ph).toBeCloseTo(6.85, 1);
  });
  it('is known before the first reading, from the label and the water; and after the acid', async () => {
    const shelf = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
    const batchId = testId();
    const find = <T extends { name: string }>(things: T[], name: string) => things.find((t) => t.name === name)!;
    await kit.call('PUT', `/api/bench/batches/${batchId}`, {
      mixKey: null,
      name: 'Hard water feed',
      waterId: find(shelf.waters, 'Kitchen tap').id,
      vesselId: find(shelf.vessels, 'Bucket').id,
      parts: [{ bottleId: find(shelf.bottles, 'House feed').id, aim: { kind: 'net', ppm: 90 } }],
      ppmMeterId: find(shelf.meters, 'Blue pen').id,
      phMeterId: find(shelf.meters, 'Drop kit').id,
      toolIds: shelf.tools.map((t) => t.id),
      volumeL: 4,
      phLow: 5.5,
      phHigh: 6.5,
    });
    const step = (body: object) => kit.call<BatchView>('PUT', `/api/bench/batches/${batchId}/steps/${testId()}`, body);
    const look = async () => (await kit.call<BatchView>('GET', `/api/bench/batches/${batchId}`)).body;
    expect((await look()).expected.known).toBe(false);
    await step({ kind: 'base', reading: { kind: 'value', value: 212 } });
    const syringe = find(shelf.tools, '5 mL syringe').id;
    await step({
      kind: 'portion',
      dose: { toolId: syringe, steps: 13, doseMl: 2.6, relativeSd: 0.05 },
      reading: { kind: 'value', value: 304 },
      confirmedOdd: false,
    });
    const mixed = (await look()).expected;
    if (!mixed.known) throw new Error(mixed.why);
    expect(mixed.waterFrom).toBe('kit');
    expect(mixed.before.ppm).toBeCloseTo(304, 0);
    expect(mixed.before.ph).toBeGreaterThan(7.2);
    expect(mixed.before.ph).toBeLessThan(8);
    // Read by kit, a range: the batch stands between what was thought and what the colours say.
    await step({ kind: 'ph', reading: { kind: 'range', low: 7.4, high: 7.6 } });
    const { expected: anchored, ph } = await look();
    expect(anchored.known && anchored.now.ph).toBeCloseTo(7.45, 1);
    const [nitric, citric] = ph.choices;
    expect(nitric).toMatchObject({
      name: 'Nitric pH-down, 10 %',
      lasts: 'stays',
      warning: null,
      brings: expect.stringMatching(/mg\/L nitrogen/),
    });
    expect(nitric!.dose!.ppm).toBeGreaterThan(304);
    expect(nitric!.dose!.tomorrowPh).toBeGreaterThan(7);
    expect(citric).toMatchObject({
      lasts: expect.stringMatching(/eaten by microbes/),
      warning: expect.stringMatching(/climbs back/),
    });
    // Half of the way: the prediction goes on from the reading.
    const doseMl = Math.round(nitric!.wholeMl! * 2.5) / 5;
    const dose = { toolId: syringe, steps: Math.round(doseMl / 0.2), doseMl, relativeSd: 0.05 };
    await step({ kind: 'correction', productId: nitric!.productId, dose, reading: null });
    const after = (await look()).expected;
    expect(after.known && after.now.ph).toBeGreaterThan(6);
    expect(after.known && after.now.ph).toBeLessThan(7.3);
    await step({ kind: 'pour' });
    const [row] = await kit.rows<{ after: number; poured: number }>(
      'SELECT afterAcidEcUsCm AS after, pouredEcUsCm AS poured FROM batch WHERE id = ?',
      [batchId],
    );
    expect(row!.after).toBeGreaterThan(row!.poured);
  });
});

describe('what else follows from the Shelf', () => {
  const start = async (bottleId: string, name: string) => {
    const shelf = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
    const id = testId();
    const answer = await kit.call<Problem>('PUT', `/api/bench/batches/${id}`, {
      mixKey: null,
      name,
      waterId: shelf.waters[0]!.id,
      vesselId: shelf.vessels[0]!.id,
      parts: [{ bottleId, aim: { kind: 'net', ppm: 50 } }],
      ppmMeterId: shelf.meters.find((m) => m.quantity === 'ppm')!.id,
      phMeterId: null,
      toolIds: shelf.tools.map((t) => t.id),
      volumeL: 1,
      phLow: 5.5,
      phHigh: 6.5,
    });
    return { id, answer, tool: shelf.tools.find((t) => t.name === '1 mL syringe')!.id };
  };

  it('a growth-slowing product ends by itself: past its run no batch is begun with it until it has rested', async () => {
    const productId = testId();
    await act({
      kind: 'put',
      what: 'product',
      id: productId,
      values: {
        name: 'Slow tonic',
        shortName: 'tonic',
        kind: 'other',
        label: '',
        caution: '',
        recipe: null,
        slowsGrowth: true,
        longestDays: 7,
      },
    });
    const bottle = (await productCalled('Slow tonic')).bottle!.id;
    const first = await start(bottle, 'Tonic');
    expect(first.answer.status).toBe(200);
    await kit.call('PUT', `/api/bench/batches/${first.id}/steps/${testId()}`, {
      kind: 'base',
      reading: { kind: 'value', value: 9 },
    });
    const dose = { toolId: first.tool, steps: 2, doseMl: 0.1, relativeSd: 0.05 };
    await kit.call('PUT', `/api/bench/batches/${first.id}/steps/${testId()}`, {
      kind: 'portion',
      dose,
      reading: null,
      confirmedOdd: false,
    });
    const now = kit.clock.at;
    kit.clock.at = new Date(now.getTime() + 8 * 86_400_000);
    expect((await start(bottle, 'Tonic again')).answer.body.errors).toMatchObject([
      { path: 'parts.0.bottleId', message: expect.stringMatching(/run of 7 days was over on 2026-12-02/) },
    ]);
    kit.clock.at = new Date(now.getTime() + 20 * 86_400_000);
    expect((await start(bottle, 'Tonic after a rest')).answer.status).toBe(200);
    kit.clock.at = now;
  });

  it('a pen that does not compensate is put right by the sample’s temperature', async () => {
    const [meterId, waterId] = [testId(), testId()];
    const meter = {
      name: 'Old pen',
      quantity: 'ppm',
      scale: 0.5,
      scaleFrom: 'label',
      resolution: 1,
      compensated: false,
    };
    await act({ kind: 'put', what: 'meter', id: meterId, values: meter });
    await act({
      kind: 'put',
      what: 'water',
      id: waterId,
      values: { name: 'Cold well', note: '', kind: 'other', tankL: null, perDayL: null },
    });
    const read = {
      kind: 'readWater',
      waterId,
      ppm: { kind: 'value', value: 90 },
      ph: { kind: 'notMeasured' },
      ppmMeterId: meterId,
      phMeterId: null,
    };
    await act({ ...read, temperatureC: 20 });
    expect((await room()).waters.find((w) => w.id === waterId)!.readings[0]!.ppm).toBeCloseTo(100, 6);
    expect((await act({ ...read, temperatureC: 90 })).body.errors?.[0]?.path).toBe('temperatureC');
  });

  it('the Book draws a figure of a pen found off hollow, and names the pen that was checked', async () => {
    const { entries } = (await kit.call<BookPage>('GET', '/api/book')).body;
    expect(entries.some((e) => e.where === 'Yellow pen' && /showed 6\.6/.test(e.what))).toBe(true);
    expect(entries.some((e) => e.ph !== null && e.tainted.ph)).toBe(true);
    expect(entries.some((e) => e.readsPpm !== null && e.tainted.ppm)).toBe(false);
  });

  it('a pot’s page leads to what is in its feed', async () => {
    const [row] = await kit.rows<{ potId: string }>(
      `SELECT potId FROM care_event WHERE kind = 'potFilled' AND batchId IS NOT NULL ORDER BY at DESC LIMIT 1`,
    );
    const { lastMix } = (await kit.call<PotView>('GET', `/api/pots/${row!.potId}`)).body;
    expect(lastMix!.productId).toBe((await productCalled('House feed')).id);
    expect(lastMix!.doseMlL).toBeGreaterThan(0.3);
    expect(lastMix!.doseMlL).toBeLessThan(3);
  });
});
