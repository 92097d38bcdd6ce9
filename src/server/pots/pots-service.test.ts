import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BookPage } from '../../contract/book.ts';
import type { Problem } from '../../contract/errors.ts';
import type { PotsView, PotValues, PotView } from '../../contract/pots.ts';
import type { RoundView } from '../../contract/round.ts';
import { serverKit, testId, TODAY, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(2);
});
afterAll(() => kit.close());

const act = <T = { repeated: boolean }>(body: object, id = testId()) =>
  kit.call<T & Problem>('PUT', `/api/pots/acts/${id}`, body);
const undo = (targetId: string, id = testId()) => kit.call<Problem>('PUT', `/api/book/undos/${id}`, { targetId });
const pots = async () => (await kit.call<PotsView>('GET', '/api/pots')).body;
const pot = async (id: string) => (await kit.call<PotView>('GET', `/api/pots/${id}`)).body;
const placeNamed = (view: PotsView, name: string) => view.places.find((p) => p.name === name)!;

async function values(code: string, more: Partial<PotValues> = {}): Promise<PotValues> {
  const view = await pots();
  return {
    code,
    plant: 'Begonia',
    name: '',
    placeId: view.places[0]!.id,
    spot: 'left end',
    medium: 'clay',
    stage: 'growth',
    clay: null,
    clayL: 1.2,
    brimMl: 900,
    reservoirMl: 250,
    fillMl: 240,
    heightCm: 30,
    habit: 'bushy',
    sensitivity: 'usual',
    grows: 'houseplant',
    origin: 'a cutting',
    acquiredOn: '2026-05-01',
    repottedOn: null,
    note: '',
    ...more,
  };
}
const regimenId = async () => (await pots()).regimens.find((r) => r.pots > 5)!.id;

describe('adding pots', () => {
  it('adds a whole list with its new places in one act, due today, and takes it back in one', async () => {
    const before = await pots();
    const placeId = testId();
    const list = await Promise.all(
      Array.from({ length: 80 }, async (_, i) => ({
        id: testId(),
        regimenId: await regimenId(),
        values: await values(`X-${i + 1}`, { placeId }),
      })),
    );
    const id = testId();
    const body = {
      kind: 'add',
      places: [{ id: placeId, values: { name: 'Bathroom', note: '', light: 'low' } }],
      pots: list,
    };
    expect((await act(body, id)).body).toEqual({ eventId: id, repeated: false });
    expect((await act(body, id)).body).toEqual({ eventId: id, repeated: true });
    const bathroom = placeNamed(await pots(), 'Bathroom');
    expect(bathroom.pots.map((p) => p.code)).toEqual(list.map((p) => p.values.code));
    expect(bathroom.pots.every((p) => p.due.status === 'due')).toBe(true);
    expect((await pot(list[3]!.id)).values).toEqual(list[3]!.values);
    const book = (await kit.call<BookPage>('GET', '/api/book')).body;
    expect(book.entries[0]).toMatchObject({ group: 'Pots', what: 'Added 80 pots, X-1 to X-80', undoable: true });
    await undo(id);
    expect((await pots()).places.map((p) => [p.name, p.pots.length])).toEqual(
      before.places.map((p) => [p.name, p.pots.length]),
    );
  });
  it('refuses a code that is taken, whatever its case, and says at which line', async () => {
    const first = await values('Y-1');
    const taken = await act({
      kind: 'add',
      places: [],
      pots: [
        { id: testId(), regimenId: await regimenId(), values: first },
        { id: testId(), regimenId: await regimenId(), values: await values('r-07') },
        { id: testId(), regimenId: await regimenId(), values: await values('y-1') },
      ],
    });
    expect(taken.body).toMatchObject({
      code: 'code-taken',
      errors: [{ path: 'pots.1.values.code' }, { path: 'pots.2.values.code' }],
    });
    expect((await pots()).places.flatMap((p) => p.pots).some((p) => p.code === 'Y-1')).toBe(false);
  });
  it.each([
    ['a reservoir above the brim', { brimMl: 200 }, 'brimMl', /brim holds less/],
    ['a fill limit above the brim', { fillMl: 1200 }, 'fillMl', /above the brim/],
    ['no plant', { plant: ' ' }, 'plant', /grows in it/],
    ['a reservoir of nothing', { reservoirMl: 0 }, 'reservoirMl', /more than nothing/],
  ])('refuses %s at its field', async (_what, more, path, message) => {
    const { body } = await act({
      kind: 'add',
      places: [],
      pots: [{ id: testId(), regimenId: await regimenId(), values: await values('Z-1', more) }],
    });
    expect(body.errors?.[0]?.path).toMatch(new RegExp(`${path}$`));
    expect(body.errors?.[0]?.message).toMatch(message);
  });
  it('refuses more pots at once than a list may bring, and a body past all measure', async () => {
    const one = { id: testId(), regimenId: await regimenId(), values: await values('Q') };
    const list = Array.from({ length: 1001 }, (_, i) => ({
      ...one,
      id: testId(),
      values: { ...one.values, code: `Q${i}` },
    }));
    expect((await act({ kind: 'add', places: [], pots: list })).body).toMatchObject({
      code: 'invalid-request',
      detail: expect.stringMatching(/At most 1000/),
    });
    const huge = await act({ kind: 'add', places: [], pots: [], pad: 'x'.repeat(5_000_000) });
    expect(huge.status).toBe(400);
  });
});

describe('changing pots', () => {
  it('keeps only what changed, shows it on the pot’s page, and puts it back', async () => {
    const target = placeNamed(await pots(), 'East sill').pots[2]!;
    const before = (await pot(target.id)).values;
    const id = testId();
    await act({ kind: 'change', potId: target.id, values: { ...before, name: 'Aunt Posy', stage: 'bloom' } }, id);
    const [event] = await kit.rows<{ payload: string }>('SELECT payload FROM care_event WHERE id = ?', [id]);
    expect((JSON.parse(event!.payload) as { changes: unknown }).changes).toEqual([
      {
        table: 'pot',
        id: target.id,
        before: { name: '', stage: before.stage },
        after: { name: 'Aunt Posy', stage: 'bloom' },
      },
    ]);
    const changed = await pot(target.id);
    expect(changed.pot).toMatchObject({ name: 'Aunt Posy', plant: before.plant, drawing: { stage: 'bloom' } });
    expect(changed.visits.at(-1)).toMatchObject({ kind: 'changed', words: `Changed ${before.code} Aunt Posy` });
    const undoId = testId();
    await undo(id, undoId);
    expect((await pot(target.id)).values).toEqual(before);
    await undo(undoId);
    expect((await pot(target.id)).pot.name).toBe('Aunt Posy');
    await undo(id);
  });
  it('a later change of the same field must come back first', async () => {
    const target = placeNamed(await pots(), 'East sill').pots[0]!;
    const before = (await pot(target.id)).values;
    const [first, second] = [testId(), testId()];
    await act({ kind: 'change', potId: target.id, values: { ...before, spot: 'left' } }, first);
    await act({ kind: 'change', potId: target.id, values: { ...before, spot: 'right' } }, second);
    expect((await undo(first)).body).toMatchObject({ code: 'changed-since' });
    await undo(second);
    expect((await undo(first)).status).toBe(200);
    expect((await pot(target.id)).values).toEqual(before);
  });
  it('saving what is there already writes nothing', async () => {
    const target = placeNamed(await pots(), 'East sill').pots[0]!;
    const lines = async () => (await kit.rows<{ n: number }>('SELECT count(*) AS n FROM care_event'))[0]!.n;
    const before = await lines();
    await act({ kind: 'change', potId: target.id, values: (await pot(target.id)).values });
    expect(await lines()).toBe(before);
  });
});

describe('moving pots', () => {
  const order = async (name: string) => placeNamed(await pots(), name).pots.map((p) => p.code);
  it('puts several before a pot of another place, in order, and back', async () => {
    const view = await pots();
    const sill = placeNamed(view, 'East sill');
    const porch = placeNamed(view, 'Cool porch');
    const id = testId();
    const moving = [sill.pots[4]!, sill.pots[1]!];
    await act({ kind: 'move', potIds: moving.map((p) => p.id), placeId: porch.id, beforePotId: porch.pots[1]!.id }, id);
    expect((await order('Cool porch')).slice(0, 4)).toEqual([
      porch.pots[0]!.code,
      moving[0]!.code,
      moving[1]!.code,
      porch.pots[1]!.code,
    ]);
    await undo(id);
    expect(await order('East sill')).toEqual(sill.pots.map((p) => p.code));
    expect(await order('Cool porch')).toEqual(porch.pots.map((p) => p.code));
  });
  it('a pot moved to stronger light gets there by steps, on the list; moved along there, no more', async () => {
    const view = await pots();
    const bright = view.places.find((p) => p.light === 'bright')!;
    const { year: _year, ...values } = bright;
    await act({
      kind: 'putPlace',
      placeId: bright.id,
      values: { name: values.name, note: values.note, light: 'outdoors' },
    });
    const from = view.places.find((p) => p.id !== bright.id && p.pots.length > 0)!;
    const [pot] = from.pots;
    const steps = () =>
      kit.rows<{ words: string; onDate: string }>(
        `SELECT words, onDate FROM planned_act WHERE subjectId = ? ORDER BY onDate`,
        [pot!.id],
      );
    const before = (await steps()).length;
    await act({ kind: 'move', potIds: [pot!.id], placeId: bright.id, beforePotId: null });
    const planned = await steps();
    expect(planned.length - before).toBe(4);
    expect(planned.some((s) => /Shade all day/.test(s.words))).toBe(true);
    await act({ kind: 'move', potIds: [pot!.id], placeId: bright.id, beforePotId: bright.pots[0]!.id });
    expect((await steps()).length - before).toBe(4);
    // Carried back, what was not done of it is off the list.
    await act({ kind: 'move', potIds: [pot!.id], placeId: from.id, beforePotId: null });
    expect(
      await kit.rows(
        `SELECT count(*) AS n FROM planned_act WHERE subjectId = ? AND originId = 'light' AND droppedOn IS NULL`,
        [pot!.id],
      ),
    ).toEqual([{ n: 0 }]);
  });
  it('holds its order through any number of moves to the same gap', async () => {
    const porch = placeNamed(await pots(), 'Cool porch');
    let expected = porch.pots.map((p) => p.code);
    for (let i = 0; i < 70; i++) {
      const view = placeNamed(await pots(), 'Cool porch');
      const last = view.pots.at(-1)!;
      await act({ kind: 'move', potIds: [last.id], placeId: porch.id, beforePotId: view.pots[1]!.id });
      expected = [expected[0]!, last.code, ...expected.slice(1, -1)];
    }
    expect(await order('Cool porch')).toEqual(expected);
  });
});

describe('regimens', () => {
  it('a changed regimen holds from today; history is judged by what held then', async () => {
    const view = await pots();
    const regimen = view.regimens.find((r) => r.values.feeds[0]!.days === 14)!;
    const follower = placeNamed(view, 'Cool porch').pots[0]!;
    const id = testId();
    await act(
      {
        kind: 'putRegimen',
        regimenId: regimen.id,
        values: { ...regimen.values, feeds: [{ ...regimen.values.feeds[0]!, netPpm: 60 }] },
      },
      id,
    );
    const after = await pot(follower.id);
    expect(after.regimen).toMatchObject({ since: TODAY, words: '60 over base, every 14 days, flush first' });
    expect(after.earlierRegimens[0]).toMatchObject({ name: regimen.values.name });
    expect((await pots()).regimens.filter((r) => r.values.name === regimen.values.name)).toHaveLength(1);
    await undo(id);
    expect((await pot(follower.id)).regimen.words).toMatch(/^75 over base/);
  });
  it('several pots change together, with a reason that is kept', async () => {
    const view = await pots();
    const [a, b] = placeNamed(view, 'East sill').pots;
    const herbs = view.regimens.find((r) => r.values.feeds[0]!.netPpm > 300)!;
    expect(
      (await act({ kind: 'regimen', potIds: [a!.id], regimenId: herbs.id, reason: '' })).body.errors?.[0]?.path,
    ).toBe('reason');
    const id = testId();
    await act({ kind: 'regimen', potIds: [a!.id, b!.id], regimenId: herbs.id, reason: 'trying it' }, id);
    expect((await pot(b!.id)).regimen).toMatchObject({ name: herbs.values.name, reason: 'trying it', since: TODAY });
    await undo(id);
    expect((await pot(b!.id)).regimen.name).toBe(view.regimens.find((r) => r.id === b!.regimenId)!.values.name);
  });
});

describe('retiring', () => {
  it('takes a pot off the round and the shelves with what became of it; its page and its code’s reuse stay right', async () => {
    const target = placeNamed(await pots(), 'East sill').pots[3]!;
    const id = testId();
    expect((await act({ kind: 'retire', potIds: [target.id], became: '' })).body.errors?.[0]?.message).toMatch(
      /what became/,
    );
    await act({ kind: 'retire', potIds: [target.id], became: 'given to a neighbour' }, id);
    const view = await pots();
    expect(view.places.flatMap((p) => p.pots).some((p) => p.id === target.id)).toBe(false);
    expect(view.retired[0]).toMatchObject({ code: target.code, became: 'given to a neighbour', on: TODAY });
    const round = (await kit.call<RoundView>('GET', '/api/round')).body;
    expect(round.places.flatMap((p) => p.pots).some((p) => p.id === target.id)).toBe(false);
    expect((await pot(target.id)).pot).toMatchObject({ retiredOn: TODAY, became: 'given to a neighbour' });
    const again = testId();
    await act(
      {
        kind: 'add',
        places: [],
        pots: [{ id: testId(), regimenId: await regimenId(), values: await values(target.code) }],
      },
      again,
    );
    expect((await act({ kind: 'bringBack', potIds: [target.id] })).body.code).toBe('code-taken');
    expect((await undo(id)).body.code).toBe('changed-since');
    await undo(again);
    expect((await act({ kind: 'bringBack', potIds: [target.id] })).status).toBe(200);
  });
  it('a pot with a history cannot be un-added, only retired', async () => {
    const potId = testId();
    const id = testId();
    await act(
      { kind: 'add', places: [], pots: [{ id: potId, regimenId: await regimenId(), values: await values('W-1') }] },
      id,
    );
    await kit.call('PUT', `/api/round/acts/${testId()}`, {
      kind: 'filled',
      potId,
      dueOn: TODAY,
      batchId: null,
      pouredMl: 200,
      flushMl: 0,
      oldReservoir: { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null },
      ppmMeterId: null,
      phMeterId: null,
      seen: null,
    });
    expect((await undo(id)).body).toMatchObject({ code: 'in-use', detail: expect.stringMatching(/Retire it instead/) });
    expect((await pot(potId)).pot.code).toBe('W-1');
  });
  it('a place goes only when it is empty', async () => {
    const view = await pots();
    expect((await act({ kind: 'retirePlace', placeId: view.places[0]!.id })).body).toMatchObject({
      code: 'in-use',
      detail: expect.stringMatching(/Move them first/),
    });
    const placeId = testId();
    await act({ kind: 'putPlace', placeId, values: { name: 'Cellar', note: 'dark', light: 'low' } });
    expect(
      (await act({ kind: 'putPlace', placeId: testId(), values: { name: 'cellar', note: '', light: null } })).body
        .errors?.[0]?.path,
    ).toBe('values.name');
    await act({ kind: 'movePlace', placeId, beforePlaceId: view.places[0]!.id });
    expect((await pots()).places[0]!.name).toBe('Cellar');
    await act({ kind: 'retirePlace', placeId });
    expect((await pots()).places.map((p) => p.name)).toEqual(view.places.map((p) => p.name));
  });
});
