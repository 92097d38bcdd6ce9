import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import type { Problem } from '../../contract/errors.ts';
import type { PotsView, PotView } from '../../contract/pots.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';
import type { PlannedActView } from '../../contract/shell.ts';
import { newlyStarted, serverKit, testId, TODAY, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(6);
});
afterAll(() => kit.close());

const room = async () => (await kit.call<ClayRoom>('GET', '/api/clay')).body;
const act = async (body: object, id = testId()) => {
  const answer = await kit.call<Problem & { repeated: boolean }>('PUT', `/api/clay/acts/${id}`, body);
  return { ...answer, id };
};
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const named = async (name: string): Promise<ClayBatchView> =>
  (await room()).batches.find((b) => b.values.name === name)!;
const pass = (hours: number) => (kit.clock.at = new Date(kit.clock.at.getTime() + hours * 3_600_000));
const VALUES = {
  name: 'batch 7',
  grainLowMm: 8,
  grainHighMm: 16,
  volumeL: 6,
  origin: '',
  price: null,
  openedOn: TODAY,
  prep: 'new',
  gatePpm: 40,
  coverL: null,
  lookEveryHours: 24,
  way: 'own',
  note: '',
};
const still = async () => (await room()).waters.find((w) => w.kind === 'still')!;
const fill = async (clayId: string, pouredOffL: number, freshL: number, more: object = {}) =>
  act({
    kind: 'fill',
    clayId,
    waterId: (await still()).id,
    pouredOffL,
    freshL,
    to: '',
    at: null,
    unread: false,
    ...more,
  });
const read = async (clayId: string, ppm: number, more: object = {}) =>
  act({
    kind: 'read',
    clayId,
    ppm: { kind: 'value', value: ppm },
    ph: { kind: 'notMeasured' },
    ppmMeterId: (await room()).ppmMeter!.id,
    phMeterId: null,
    temperatureC: null,
    at: null,
    confirmedOdd: false,
    ...more,
  });

describe('the demo’s clay', () => {
  it('holds batches 1 to 6 as its story has them', async () => {
    const states = (await room()).batches.map((b) => [b.values.name, b.state]);
    expect(states).toEqual([
      ['batch 6', 'rinsed'],
      ['batch 5', 'soaking'],
      ['batch 4', 'ready'],
      ['batch 3', 'unleached'],
      ['batch 2', 'leached'],
      ['batch 1', 'leached'],
    ]);
    const five = await named('batch 5');
    expect(five.leach!.changes).toBe(2);
    expect(five.log.find((l) => l.kind === 'read')!.ppm).toBeGreaterThan(40);
  });
  it('lists the pots in batch 3, most worrying first, what was measured before what is feared', async () => {
    const { unleached } = await room();
    expect(unleached[0]).toMatchObject({ code: 'L-03', verdict: { kind: 'repot' } });
    expect(unleached.at(-1)).toMatchObject({ code: 'R-07', verdict: { kind: 'check' }, bars: null });
    const worst = unleached[0]!;
    expect(worst.checked!.topPpm).toBeGreaterThan(150);
    expect(worst.bars![3]!.mean).toBeLessThan(worst.bars![1]!.mean);
    expect(worst.flushAgainstHold!.flush).toBeLessThan(0.3 * worst.flushAgainstHold!.hold);
  });
});

describe('a bag from opening to ready', () => {
  let clayId: string;
  /** How wide the forecast was before anything was read. */
  let unread: number;
  it('refuses a batch of nothing, a name that is taken, sizes the wrong way round; each at its field, with the remedy', async () => {
    clayId = testId();
    const none = await act({ kind: 'put', clayId, values: { ...VALUES, volumeL: 0 } });
    expect(none.status).toBe(400);
    expect(none.body.errors![0]).toEqual({
      path: 'values.volumeL',
      message: 'A batch of no clay cannot be leached: give its litres.',
    });
    expect((await act({ kind: 'put', clayId, values: { ...VALUES, name: 'Batch 5' } })).body.errors![0]!.path).toBe(
      'values.name',
    );
    expect(
      (await act({ kind: 'put', clayId, values: { ...VALUES, grainLowMm: 20 } })).body.errors![0]!.message,
    ).toMatch(/Swap them/);
    expect((await act({ kind: 'put', clayId, values: VALUES })).status).toBe(200);
    expect((await named('batch 7')).state).toBe('bag');
  });
  it('cannot be read or drained before it stands in water, nor poured off', async () => {
    expect((await read(clayId, 100)).body.code).toBe('not-soaking');
    expect((await act({ kind: 'drain', clayId, pouredOffL: 1, to: '', at: null })).body.code).toBe('not-soaking');
    expect((await fill(clayId, 1, 4)).body.errors![0]!.message).toMatch(/no water on it yet/);
  });
  it('is rinsed, filled, read; the same act sent twice is one', async () => {
    await act({ kind: 'prep', clayId, step: 'rinsed', done: true });
    expect((await named('batch 7')).state).toBe('rinsed');
    const first = await fill(clayId, 0, 4.2);
    const body = {
      kind: 'fill',
      clayId,
      waterId: (await still()).id,
      pouredOffL: 0,
      freshL: 4.2,
      to: '',
      at: null,
      unread: false,
    };
    expect((await act(body, first.id)).body.repeated).toBe(true);
    const [{ n }] = (await kit.rows<{ n: number }>(
      `SELECT count(*) AS n FROM care_event WHERE kind = 'clayFilled' AND json_extract(payload, '$.clayId') = ?`,
      [clayId],
    )) as [{ n: number }];
    expect(n).toBe(1);
    const stands = await named('batch 7');
    expect(stands.leach).toMatchObject({ waterL: 4.2, changes: 0, drainedAt: null });
    unread = stands.flatPpm!.high / stands.flatPpm!.low;
  });
  it('refuses two changes in a minute, a change of unread water once, more off than was in', async () => {
    expect((await fill(clayId, 3, 3)).body.code).toBe('too-soon');
    pass(30);
    const unread = await fill(clayId, 3, 3);
    expect(unread.body).toMatchObject({ code: 'not-read', detail: expect.stringMatching(/Read it first/) as unknown });
    expect((await read(clayId, 190)).status).toBe(200);
    expect((await fill(clayId, 9, 3)).body.errors![0]).toMatchObject({
      path: 'pouredOffL',
      message: expect.stringMatching(/4\.2 L in it/) as unknown,
    });
  });
  it('asks once about a reading under the water’s own, about one far off, and says where µS/cm is the likelier', async () => {
    const below = await read(clayId, 2);
    expect(below.body.code).toBe('reading-below-base');
    const double = await read(clayId, 400);
    expect(double.body).toMatchObject({
      code: 'reading-odd',
      detail: expect.stringMatching(/showing µS\/cm/) as unknown,
    });
    expect((await read(clayId, 400, { confirmedOdd: true })).status).toBe(200);
    const odd = (await named('batch 7')).log[0]!;
    expect(odd.ppm).toBe(400);
    expect((await undo(odd.eventId)).status).toBe(200);
  });
  it('takes a reading of earlier in its place, and none from before its water or from to come', async () => {
    const earlier = new Date(kit.clock.at.getTime() - 20 * 3_600_000).toISOString();
    expect((await read(clayId, 165, { at: earlier })).status).toBe(200);
    const hours = (await named('batch 7')).leach!.history.acts.map((a) => a.atHours);
    expect(hours).toEqual([...hours].sort((a, b) => a - b));
    const ago = new Date(kit.clock.at.getTime() - 90 * 3_600_000).toISOString();
    expect((await read(clayId, 165, { at: ago })).body.errors![0]).toMatchObject({
      path: 'at',
      message: expect.stringMatching(/out of order/) as unknown,
    });
    const ahead = new Date(kit.clock.at.getTime() + 5 * 3_600_000).toISOString();
    expect((await read(clayId, 165, { at: ahead })).body.errors![0]!.message).toMatch(/still to come/);
  });
  it('narrows its forecast with each change, counts what went out of the tank, and becomes ready', async () => {
    const widths: number[] = [];
    for (const ppm of [0, 108, 60, 28]) {
      if (ppm > 0) await read(clayId, ppm);
      const { flatPpm, state } = await named('batch 7');
      widths.push(flatPpm!.high / flatPpm!.low);
      expect(state).toBe(ppm === 28 ? 'ready' : 'soaking');
      if (ppm === 28) break;
      expect((await fill(clayId, 3, 3)).status).toBe(200);
      pass(40);
    }
    for (const width of widths) expect(width).toBeLessThan(0.75 * unread);
    expect(
      (
        await kit.rows(`SELECT 1 FROM care_event WHERE kind = 'clayFilled' AND json_extract(payload, '$.clayId') = ?`, [
          clayId,
        ])
      ).length,
    ).toBe(4);
    const { waters } = (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body;
    expect(waters.find((w) => w.values.kind === 'still')!.stock!.usedL).toBeCloseTo(13.2, 6);
  });
  it('is drained and stays ready; steps come back last first; a correction keeps the sum', async () => {
    const drained = await act({ kind: 'drain', clayId, pouredOffL: 3, to: 'beans', at: null });
    expect(await named('batch 7')).toMatchObject({ state: 'ready', ready: true });
    const fills = (await named('batch 7')).log.filter((l) => l.kind === 'filled');
    expect((await undo(fills[1]!.eventId)).body.code).toBe('cannot-undo');
    const [payload] = await kit.rows<{ payload: string }>('SELECT payload FROM care_event WHERE id = ?', [
      fills[0]!.eventId,
    ]);
    const figures = JSON.parse(payload!.payload) as object;
    const correct = (more: object) =>
      kit.call<Problem>('PUT', `/api/book/corrections/${testId()}`, {
        targetId: fills[0]!.eventId,
        payload: { ...figures, ...more },
      });
    expect((await correct({ pouredOffL: 8 })).body.errors![0]!.message).toMatch(/more would have come off/);
    expect((await correct({ freshL: 3.2 })).status).toBe(200);
    expect((await named('batch 7')).leach!.waterL).toBeCloseTo(1.4, 6);
    expect((await undo(drained.id)).status).toBe(200);
    expect((await named('batch 7')).leach!.drainedAt).toBeNull();
    const again = await kit.rows<{ id: string }>(
      `SELECT id FROM care_event WHERE kind = 'undone' ORDER BY seq DESC LIMIT 1`,
    );
    expect((await undo(again[0]!.id)).status).toBe(200);
    expect((await named('batch 7')).leach!.drainedAt).not.toBeNull();
  });
  it('its pots take a new name with it', async () => {
    expect(
      (
        await act({
          kind: 'put',
          clayId: (await named('batch 4')).id,
          values: { ...(await named('batch 4')).values, name: 'summer bag' },
        })
      ).status,
    ).toBe(200);
    expect((await named('summer bag')).pots).toHaveLength(11);
    expect((await kit.rows(`SELECT 1 FROM pot WHERE clay = 'batch 4'`)).length).toBe(0);
  });
});

describe('potting up', () => {
  const pots = async () => (await kit.call<PotsView>('GET', '/api/pots')).body;
  const potOf = async (id: string) => (await kit.call<PotView>('GET', `/api/pots/${id}`)).body;
  const body = async (potId: string, clay: ClayBatchView, values: object, more: object = {}) => ({
    kind: 'potUp',
    potId,
    values,
    regimenId: (await pots()).regimens.find((r) => r.values.name === 'Dilute 90, weekly')!.id,
    clayId: clay.id,
    clayL: 0.8,
    roots: 'sound',
    peroxide: false,
    bacteria: false,
    start: 'feed',
    weakDays: 0,
    confirmedNotReady: false,
    ...more,
  });
  const fresh = async () => ({
    ...(await potOf((await pots()).places[0]!.pots[0]!.id)).values,
    code: 'R-20',
    plant: 'Brassia',
    name: '',
    clay: null,
    clayL: null,
    note: '',
  });
  it('draws litres, writes the pot, feeds it from today; taken back, all of it is gone', async () => {
    const seven = await named('batch 7');
    const potId = testId();
    const done = await act(await body(potId, seven, await fresh()));
    expect(done.status).toBe(200);
    expect((await named('batch 7')).leftL).toBeCloseTo(5.2, 6);
    const pot = await potOf(potId);
    expect(pot.values).toMatchObject({
      clay: 'batch 7',
      clayL: 0.8,
      repottedOn: expect.stringMatching(/^2026/) as unknown,
    });
    expect(pot.visits.some((v) => v.words.startsWith('R-20 Brassia potted up in 0.8 L of batch 7'))).toBe(true);
    const plans = (await kit.call<{ plans: PlannedActView[] }>('GET', '/api/shell/plans')).body.plans;
    expect(plans.some((p) => p.subjectId === potId && p.words === 'First feed after potting')).toBe(true);
    expect((await undo(done.id)).status).toBe(200);
    expect((await kit.call('GET', `/api/pots/${potId}`)).status).toBe(404);
    expect((await named('batch 7')).leftL).toBeCloseTo(6, 6);
  });
  it('converts a pot that stands here with a weak start that climbs to its regimen', async () => {
    const seven = await named('batch 7');
    // On a plain weekly regimen, so that its weak start climbs to that.
    const dilutes = (await Promise.all((await room()).unleached.map((u) => potOf(u.potId)))).filter(
      (v) => v.regimen.name === 'Dilute 90, weekly',
    );
    const three = { potId: dilutes[0]!.pot.id };
    const { values } = await potOf(three.potId);
    const done = await act(await body(three.potId, seven, values, { roots: 'few left', start: 'weak', weakDays: 10 }));
    expect(done.status).toBe(200);
    const rows = await kit.rows<{ fromDate: string; name: string }>(
      'SELECT pr.fromDate, r.name FROM pot_regimen pr JOIN regimen r ON r.id = pr.regimenId WHERE pr.potId = ? ORDER BY pr.fromDate DESC LIMIT 3',
      [three.potId],
    );
    expect(rows.map((r) => r.name)).toEqual([
      'Dilute 90, weekly',
      'Three quarters of Dilute 90, weekly',
      'Half of Dilute 90, weekly',
    ]);
    const view = await potOf(three.potId);
    expect(view.regimen.words).toMatch(/^45 over base/);
    expect(view.nextRegimens.map((r) => r.words.split(',')[0])).toEqual(['68 over base', '90 over base']);
    // Whoever is put on another regimen meanwhile stays on it: what was set for later days gives way.
    const herbs = (await pots()).regimens.find((r) => r.values.name.startsWith('Herbs'))!;
    const moved = testId();
    await kit.call('PUT', `/api/pots/acts/${moved}`, {
      kind: 'regimen',
      potIds: [three.potId],
      regimenId: herbs.id,
      reason: 'test',
    });
    expect((await potOf(three.potId)).nextRegimens.map((r) => r.name)).toEqual([
      'Herbs 320, weekly',
      'Herbs 320, weekly',
    ]);
    await undo(moved);
    // A new version of its regimen is the one it comes to.
    const dilute = (await pots()).regimens.find((r) => r.values.name === 'Dilute 90, weekly')!;
    const changed = testId();
    await kit.call('PUT', `/api/pots/acts/${changed}`, {
      kind: 'putRegimen',
      regimenId: dilute.id,
      values: { ...dilute.values, feeds: [{ ...dilute.values.feeds[0], netPpm: 100 }] },
    });
    expect((await potOf(three.potId)).regimen.words).toMatch(/^45 over base/);
    expect((await potOf(three.potId)).nextRegimens.at(-1)!.words).toMatch(/^100 over base/);
    expect((await undo(changed)).status).toBe(200);
    // It stands in leached clay now, so it is off the list.
    expect((await room()).unleached.some((p) => p.potId === three.potId)).toBe(false);
    expect((await undo(done.id)).status).toBe(200);
    expect((await potOf(three.potId)).values.clay).toBe('batch 3');
  });
  it('asks once before planting in clay that is not ready, and notes it on the pot', async () => {
    const five = await named('batch 5');
    const potId = testId();
    const asked = await act(await body(potId, five, await fresh()));
    expect(asked.body).toMatchObject({
      code: 'not-ready',
      detail: expect.stringMatching(/batch 5 is not ready/) as unknown,
    });
    const done = await act(await body(potId, five, await fresh(), { confirmedNotReady: true }));
    expect(done.status).toBe(200);
    expect((await potOf(potId)).values.note).toMatch(/before it was ready/);
    expect((await room()).unleached.some((p) => p.potId === potId)).toBe(true);
    await undo(done.id);
  });
  it('refuses more than is left, peroxide with bacteria, a taken code; water only needs no clay', async () => {
    const seven = await named('batch 7');
    const at = async (more: object, values: object = {}) =>
      (await act(await body(testId(), seven, { ...(await fresh()), ...values }, more))).body.errors![0]!;
    expect(await at({ clayL: 40 })).toMatchObject({
      path: 'clayL',
      message: expect.stringMatching(/6 L left/) as unknown,
    });
    expect((await at({ peroxide: true, bacteria: true })).message).toMatch(/kills the bacteria/);
    expect((await at({}, { code: 'R-01' })).path).toBe('values.code');
    const wet = await act(
      await body(testId(), seven, { ...(await fresh()), medium: 'water' }, { clayId: null, clayL: 0 }),
    );
    expect(wet.status).toBe(200);
    await undo(wet.id);
  });
});

describe('a batch that something leans on', () => {
  it('stays when its adding is taken back, and its name is its own for good', async () => {
    const clayId = testId();
    const added = await act({ kind: 'put', clayId, values: { ...VALUES, name: 'batch 8' } });
    const filled = await fill(clayId, 0, 4);
    expect((await undo(added.id)).body.code).toBe('in-use');
    await undo(filled.id);
    expect((await undo(added.id)).status).toBe(200);
    const six = await named('batch 6');
    await act({ kind: 'retire', clayId: six.id });
    expect(
      (await act({ kind: 'put', clayId: testId(), values: { ...VALUES, name: 'batch 6' } })).body.errors![0]!.path,
    ).toBe('values.name');
    await act({ kind: 'bringBack', clayId: six.id });
    expect((await named('batch 6')).retiredOn).toBeNull();
  });
});

describe('holds in a pot', () => {
  it('are planned on the round, run with a clock, read at both ends, and teach the forecast', async () => {
    const pot = (await room()).unleached.find((p) => p.code === 'P-04')!;
    const planId = testId();
    await act({
      kind: 'planHolds',
      potId: pot.potId,
      onDate: plusToday(1),
      plans: [{ id: planId, words: 'Hold 1 of 1' }],
    });
    expect((await room()).unleached.find((p) => p.code === 'P-04')!.planned).toHaveLength(1);
    const start = {
      kind: 'startHold',
      potId: pot.potId,
      clockId: testId(),
      planId,
      purpose: 'leach',
      waterId: (await still()).id,
      waterL: pot.waterL,
      minutes: 60,
    };
    const hold = await act(start);
    expect(hold.status).toBe(200);
    expect((await act({ ...start, clockId: testId() })).body.code).toBe('hold-running');
    expect((await room()).holds[0]).toMatchObject({ code: 'P-04', topPpm: null });
    expect((await kit.rows('SELECT 1 FROM clock WHERE stoppedAt IS NULL AND id = ?', [start.clockId])).length).toBe(1);
    expect(
      (await kit.rows<{ doneOn: string | null }>('SELECT doneOn FROM planned_act WHERE id = ?', [planId]))[0]!.doneOn,
    ).not.toBeNull();
    pass(1);
    const { expectedTopPpm } = (await room()).holds[0]!;
    const top = Math.round(expectedTopPpm!.mean);
    const penId = (await kit.rows<{ id: string }>(`SELECT id FROM meter WHERE name = 'Blue pen'`))[0]!.id;
    const reading = (where: string, value: number, confirmedOdd = false) =>
      act({
        kind: 'readHold',
        holdId: hold.id,
        where,
        reading: { kind: 'value', value },
        ppmMeterId: penId,
        confirmedOdd,
      });
    const unnamed = await act({
      kind: 'readHold',
      holdId: hold.id,
      where: 'top',
      reading: { kind: 'value', value: top },
      confirmedOdd: true,
      ppmMeterId: null,
    });
    expect(unnamed.body).toMatchObject({ code: 'invalid-request', errors: [{ path: 'reading' }] });
    expect((await reading('top', 2)).body.code).toBe('reading-below-base');
    expect((await reading('top', top * 4)).body.code).toBe('reading-odd');
    const kept = await reading('top', top);
    expect(kept.status).toBe(200);
    await reading('hole', Math.round(top * 0.8));
    expect((await undo(hold.id)).body.code).toBe('cannot-undo');
    await act({ kind: 'drainHold', holdId: hold.id, to: 'beans' });
    expect((await kit.rows('SELECT 1 FROM clock WHERE stoppedAt IS NULL AND id = ?', [start.clockId])).length).toBe(0);
    const after = (await room()).unleached.find((p) => p.code === 'P-04');
    expect(after!.held.at(-1)).toMatchObject({ purpose: 'leach' });
    expect(after!.bars![0]!.high / after!.bars![0]!.low).toBeLessThan(pot.bars![0]!.high / pot.bars![0]!.low);
    const view = (await kit.call<PotView>('GET', `/api/pots/${pot.potId}`)).body;
    expect(view.visits.map((v) => v.words).join('; ')).toMatch(new RegExp(`top of the clay ${top} ppm`));
    // Put right, the words follow the figure.
    const target = kept.id;
    const payload = {
      holdId: hold.id,
      where: 'top',
      reading: { kind: 'value', value: top + 1 },
      ppmMeterId: penId,
      words: `Hold: top of the clay ${top} ppm`,
    };
    expect((await kit.call('PUT', `/api/book/corrections/${testId()}`, { targetId: target, payload })).status).toBe(
      200,
    );
    expect(
      (await kit.call<PotView>('GET', `/api/pots/${pot.potId}`)).body.visits.map((v) => v.words).join('; '),
    ).toMatch(`top of the clay ${top + 1} ppm`);
  });
  it('a pot or a batch that dried out is noted', async () => {
    const pot = (await room()).unleached[0]!;
    await act({ kind: 'dried', clayId: null, potId: pot.potId });
    expect(
      (await kit.call<PotView>('GET', `/api/pots/${pot.potId}`)).body.visits.some((v) =>
        v.words.startsWith('Dried out'),
      ),
    ).toBe(true);
    const six = await named('batch 6');
    await act({ kind: 'dried', clayId: six.id, potId: null });
    expect((await named('batch 6')).driedOn).not.toBeNull();
    expect((await act({ kind: 'dried', clayId: null, potId: null })).status).toBe(404);
  });
});

const plusToday = (days: number) => new Date(kit.clock.at.getTime() + days * 86_400_000).toISOString().slice(0, 10);

describe('water off that nobody measured', () => {
  it('is kept as what is thought to drain: it says "about", teaches nothing, and counts once it is put right', async () => {
    const clayId = testId();
    await act({ kind: 'put', clayId, values: { ...VALUES, name: 'batch 8' } });
    expect((await fill(clayId, 0, 5)).status).toBe(200);
    pass(30);
    await read(clayId, 120);
    const fresh = {
      waterId: (await room()).waters.find((w) => w.kind === 'still')!.id,
      to: '',
      at: null,
      unread: false,
    };
    const change = { kind: 'fill', clayId, pouredOffL: 3.6, offMeasured: false, freshL: 3.6, ...fresh };
    expect((await act(change)).status).toBe(200);
    const told = await named('batch 8');
    expect(told.leach!.history.acts.at(-1)).toMatchObject({ kind: 'change', freshL: 3.6 });
    expect(told.leach!.history.acts.at(-1)).not.toHaveProperty('pouredOffL');
    expect(told.log[0]!.words).toMatch(/about 3\.6/);
    const [row] = await kit.rows<{ payload: string }>('SELECT payload FROM care_event WHERE id = ?', [
      told.log[0]!.eventId,
    ]);
    const corrected = await kit.call<Problem>('PUT', `/api/book/corrections/${testId()}`, {
      targetId: told.log[0]!.eventId,
      payload: { ...(JSON.parse(row!.payload) as object), pouredOffL: 3.2 },
    });
    expect(corrected.status).toBe(200);
    const measured = await named('batch 8');
    expect(measured.leach!.history.acts.at(-1)).toMatchObject({ pouredOffL: 3.2 });
    expect(measured.log[0]!.words).not.toMatch(/about/);
  });
});

describe('what another grower’s bag was found to do', () => {
  const FRIENDS = testId();
  const cardIn = async () => (await room()).batches.find(({ card }) => card !== null)!;
  const told =
    (clayId: string, more: object = {}) =>
    async () => {
      const { card } = await cardIn();
      return act({ kind: 'told', clayId, bag: { name: 'Somebody’s bag', ...card, bagId: FRIENDS, ...more } });
    };
  it('a bag that was read enough has a card; one of the same clay begins from it, told apart, and lets it go', async () => {
    const clayId = testId();
    await act({ kind: 'put', clayId, values: { ...VALUES, name: 'batch 12' } });
    const before = await named('batch 12');
    expect(before).toMatchObject({ told: [], card: null });
    const shared = await cardIn();
    expect(shared.card!.readings).toBeGreaterThanOrEqual(3);
    const first = await told(clayId)();
    expect(first.status).toBe(200);
    const after = await named('batch 12');
    expect(after.told).toEqual([
      { name: 'Somebody’s bag', readings: shared.card!.readings, changes: shared.card!.changes },
    ]);
    expect(after.ownBags).toBe(before.ownBags);
    expect(after.prior).not.toEqual(before.prior);
    const wide = ({ prior }: ClayBatchView) => prior.covariance.reduce((sum, row, i) => sum + row[i]!, 0);
    expect(wide(after)).toBeLessThan(wide(before));
    // What is shared of a bag is what itself was found to do, nothing it was told.
    expect((await cardIn()).card).toEqual(shared.card);
    expect((await undo(first.id)).status).toBe(200);
    expect((await named('batch 12')).prior).toEqual(before.prior);
    await told(clayId)();
    const fresh = await newlyStarted(kit);
    try {
      const there = (await fresh.call<ClayRoom>('GET', '/api/clay')).body;
      expect(there.batches.find(({ id }) => id === clayId)).toEqual(await named('batch 12'));
    } finally {
      await fresh.close();
    }
    await act({ kind: 'letGoTold', clayId });
    expect(await named('batch 12')).toMatchObject({ told: [], prior: before.prior });
  });
  it('what cannot be is refused, and so is more than a few', async () => {
    const { id: clayId } = await named('batch 12');
    const { card } = await cardIn();
    const wrong = await told(clayId, { mean: card!.mean.map((m, i) => (i === 0 ? 50 : m)) })();
    expect(wrong.status).toBe(400);
    expect(wrong.body.errors).toMatchObject([{ path: 'bag' }]);
    expect((await told(clayId, { covariance: card!.covariance.map((row) => row.map(() => 0.5)) })()).status).toBe(400);
    expect((await told(clayId, { readings: 1 })()).status).toBe(400);
    const ids = Array.from({ length: 7 }, () => testId());
    const another = (i: number, more: object = {}) => told(clayId, { bagId: ids[i], name: `bag ${i}`, ...more })();
    for (let i = 0; i < 6; i++) expect((await another(i)).status).toBe(200);
    expect((await another(6)).body.errors).toMatchObject([{ path: 'bag' }]);
    // A later file of one of them is that one, whatever it is called by then; a bag of one's own counts already.
    expect((await another(2, { name: 'bag 2, read once more' })).status).toBe(200);
    expect((await told(clayId, { bagId: (await cardIn()).id })()).body.detail).toMatch(/bag of your own/);
    expect((await named('batch 12')).told).toHaveLength(6);
  });
});
