import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BatchView } from '../../contract/bench.ts';
import type { BookPage, Correctable } from '../../contract/book.ts';
import type { Problem } from '../../contract/errors.ts';
import type { PotView } from '../../contract/pots.ts';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(4);
});
afterAll(() => kit.close());

const correct = (targetId: string, payload: object, id = testId()) =>
  kit.call<Problem & { repeated: boolean }>('PUT', `/api/book/corrections/${id}`, { targetId, payload });
const undo = (targetId: string, id = testId()) => kit.call<Problem>('PUT', `/api/book/undos/${id}`, { targetId });
const figures = async (eventId: string) => (await kit.call<Correctable>('GET', `/api/book/acts/${eventId}`)).body;
const book = async () => (await kit.call<BookPage>('GET', '/api/book')).body.entries;
const pot = async (id: string) => (await kit.call<PotView>('GET', `/api/pots/${id}`)).body;
const duePot = async () =>
  (await kit.call<RoundView>('GET', '/api/round')).body.places
    .flatMap((p) => p.pots)
    .find((p) => p.due.daysLate >= 0 && !p.done) as RoundPot;
const value = (v: number) => ({ kind: 'value', value: v });

async function fill(): Promise<{ target: RoundPot; eventId: string; payload: Record<string, unknown> }> {
  const target = await duePot();
  const view = (await kit.call<RoundView>('GET', '/api/round')).body;
  const eventId = testId();
  await kit.call('PUT', `/api/round/acts/${eventId}`, {
    kind: 'filled',
    potId: target.id,
    dueOn: target.due.dueOn,
    batchId: null,
    pouredMl: 200,
    flushMl: 600,
    oldReservoir: { ppm: value(231), ph: value(6.9), leftMl: 60 },
    ppmMeterId: view.ppmMeter!.id,
    phMeterId: view.phMeter!.id,
    seen: [],
  });
  return { target, eventId, payload: (await figures(eventId)).payload as Record<string, unknown> };
}

describe('putting a figure right', () => {
  it('keeps the old one, struck through, in the Book and on the pot’s page, and everything follows the new one', async () => {
    const { target, eventId, payload } = await fill();
    const id = testId();
    const right = { ...payload, oldReservoir: { ppm: value(131), ph: value(6.9), leftMl: 60 } };
    expect((await correct(eventId, right, id)).body).toEqual({ eventId: id, repeated: false });
    expect((await correct(eventId, right, id)).body.repeated).toBe(true);
    const visits = (await pot(target.id)).visits;
    expect(visits.at(-1)).toMatchObject({ eventId: id, cameOutPpm: { value: 131 }, was: '231 ppm' });
    expect(visits.filter((v) => v.kind === 'filled' && v.on === visits.at(-1)!.on)).toHaveLength(1);
    const entries = await book();
    expect(entries[0]).toMatchObject({ id, readsPpm: 131, was: '231 ppm', undone: false, correctable: true });
    expect(entries.find((e) => e.id === eventId)).toMatchObject({ undone: true, correctable: false });
    // The pot stays done for its due day: one live act.
    expect(
      await kit.rows('SELECT id FROM care_event WHERE dueKey = ? AND voidedBy IS NULL', [
        `${target.id}:${target.due.dueOn}`,
      ]),
    ).toEqual([{ id }]);
  });
  it('can be corrected again, taken back, and put back', async () => {
    const { target, eventId, payload } = await fill();
    const [first, second, undone] = [testId(), testId(), testId()];
    await correct(eventId, { ...payload, pouredMl: 210 }, first);
    await correct(first, { ...payload, pouredMl: 220 }, second);
    const poured = async () => (await pot(target.id)).visits.filter((v) => v.kind === 'filled').at(-1)!.pouredMl;
    expect(await poured()).toBe(220);
    expect((await undo(first)).body).toMatchObject({
      code: 'cannot-undo',
      detail: expect.stringMatching(/corrected since/),
    });
    await undo(second, undone);
    expect(await poured()).toBe(210);
    await undo(undone);
    expect(await poured()).toBe(220);
    await undo(second);
    await undo(first);
    expect(await poured()).toBe(200);
    await undo(eventId);
    expect((await duePot()).id).toBe(target.id);
  });
  it('refuses to change what a figure is about, to change nothing, and to touch what no longer stands', async () => {
    const { eventId, payload } = await fill();
    expect((await correct(eventId, { ...payload, dueOn: '2026-01-01' })).body.code).toBe('cannot-correct');
    expect((await correct(eventId, payload)).body).toMatchObject({
      code: 'invalid-request',
      detail: expect.stringMatching(/Nothing was changed/),
    });
    expect(
      (await correct(eventId, { ...payload, oldReservoir: { ppm: value(-4), ph: value(6), leftMl: null } })).body
        .errors?.[0]?.path,
    ).toMatch(/oldReservoir\.ppm/);
    await undo(eventId);
    expect((await correct(eventId, { ...payload, pouredMl: 1 })).body.code).toBe('cannot-correct');
    expect((await kit.call<Problem>('GET', `/api/book/acts/${eventId}`)).body.code).toBe('cannot-correct');
    expect((await correct(testId(), payload)).body.code).toBe('not-found');
  });
});

describe('putting a batch right', () => {
  it('moves what the batch came to and what was learned from it, and back', async () => {
    const shelf = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
    const batchId = testId();
    const step = async (body: object, id = testId()) => ({
      id,
      ...(await kit.call<BatchView>('PUT', `/api/bench/batches/${batchId}/steps/${id}`, body)),
    });
    await kit.call('PUT', `/api/bench/batches/${batchId}`, {
      mixKey: null,
      name: 'Mix',
      waterId: shelf.waters[0]!.id,
      vesselId: shelf.vessels.find((v) => v.capacityL === 5)!.id,
      parts: [{ bottleId: shelf.bottles.find((b) => b.kind === 'feed')!.id, aim: { kind: 'net', ppm: 90 } }],
      ppmMeterId: shelf.meters[0]!.id,
      phMeterId: null,
      toolIds: [shelf.tools[0]!.id],
      volumeL: 2,
      phLow: 5.5,
      phHigh: 6.5,
    });
    const base = await step({ kind: 'base', reading: value(9) });
    const dose = { toolId: shelf.tools[0]!.id, steps: 18, doseMl: 1, relativeSd: 0.05 };
    const portion = await step({ kind: 'portion', dose, reading: value(80), confirmedOdd: false });
    await step({ kind: 'pour' });
    const view = async () => (await kit.call<BatchView>('GET', `/api/bench/batches/${batchId}`)).body;
    const reads = async () =>
      (await kit.rows<{ ec: number }>('SELECT pouredEcUsCm AS ec FROM batch WHERE id = ?', [batchId]))[0]!.ec;
    expect(await reads()).toBeCloseTo(160, 6);
    const id = testId();
    await correct(portion.id, { part: 0, dose, reading: value(88), confirmedOdd: false, byRecipe: false }, id);
    expect(await reads()).toBeCloseTo(176, 6);
    // The corrected portion stands where it stood: before the pour, after the base.
    expect((await view()).rows.map((r) => r.readsPpm)).toEqual([9, 88]);
    expect((await book()).find((e) => e.kind === 'batchPoured' && e.batchId === batchId)!.readsPpm).toBeCloseTo(88, 6);
    expect((await correct(base.id, { reading: { kind: 'notMeasured' } })).body.errors?.[0]?.path).toBe('reading');
    await undo(id);
    expect(await reads()).toBeCloseTo(160, 6);
    expect((await view()).rows.map((r) => r.readsPpm)).toEqual([9, 80]);
  });
});
