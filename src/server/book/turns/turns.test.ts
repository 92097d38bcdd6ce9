import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { TurnCompared, TurnsView } from '../../../contract/turns.ts';
import { newlyStarted, serverKit, testId, TODAY, type Kit } from '../../../../tests/server-kit.ts';

let kit: Kit;
beforeEach(async () => {
  kit = await serverKit(52);
});
afterEach(() => kit.close());

const turns = async (query = '') => (await kit.call<TurnsView>('GET', `/api/book/turns${query}`)).body;
const compared = async (id: string, more = '') =>
  kit.call<TurnCompared>('GET', `/api/book/turns/compared?id=${encodeURIComponent(id)}${more}`);
const mark = (body: object) => kit.call('PUT', `/api/book/turns/marks/${testId()}`, body);

describe('turns', () => {
  it('are found in the log by themselves: a feed, regimens, treatments, a pen that was off', async () => {
    const { turns: found } = await turns();
    expect(found.map(({ kind, on }) => `${kind} ${on}`)).toEqual([
      'feed 2026-05-25',
      'regimen 2026-08-05',
      'regimen 2026-08-05',
      'treatment 2026-09-02',
      'treatment 2026-10-20',
      'penOff 2026-11-04',
      'regimen 2026-11-17',
    ]);
    expect(found[0]).toMatchObject({ title: 'New feed: House feed', hidden: false });
    expect(found[0]!.what[0]).toBe('House feed, not Bark feed');
  });
  it('of one pot or one place are those that concern it', async () => {
    const [pot] = await kit.rows<{ id: string; placeId: string }>(`SELECT * FROM pot WHERE code = 'P-04'`);
    const mine = await turns(`?pot=${pot!.id}`);
    expect(mine.pots).toBe(1);
    expect(mine.turns.map(({ title }) => title)).toEqual(['New feed: House feed', 'Always wet', 'pH pen low']);
    const porch = await turns(`?place=${pot!.placeId}`);
    expect(porch.pots).toBe(12);
    expect(porch.measures[0]!.weeks.every(({ n }) => n <= 12)).toBe(true);
  });
  it('the weeks hold every filling of the year once', async () => {
    const { measures, from } = await turns();
    const [filled] = await kit.rows<{ n: number }>(
      `SELECT count(*) AS n FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL AND localDate >= ?`,
      [from],
    );
    const onTime = measures.find(({ key }) => key === 'onTime')!;
    expect(onTime.weeks.reduce((sum, { n }) => sum + n, 0)).toBe(filled!.n);
  });
  it('leaves grow by what was measured of six pots, in every week between two measures', async () => {
    const growth = (await turns()).measures.find(({ key }) => key === 'growth')!;
    const told = growth.weeks.filter(({ value }) => value !== null);
    expect(told.length).toBeGreaterThan(20);
    expect(told.every(({ n, value }) => n === 6 && value! > 0.01 && value! < 0.09)).toBe(true);
  });
  it('last spring’s change of feed: cheaper by what the bottles cost, and no saying whether it was the season', async () => {
    const { turns: found } = await turns();
    const { body } = await compared(found[0]!.id);
    expect(body.alsoMoved).toEqual([]);
    const cost = body.found.find(({ key }) => key === 'cost')!;
    expect(cost.pots).toBe(42);
    expect(cost.after).toBeLessThan(0.8 * cost.before);
    // All pots turned, and of the year before there is nothing.
    expect(body.found.every(({ against, difference }) => against === 'nothing' && difference === null)).toBe(true);
  });
  it('a change in some pots is set against their place’s others, and a change that did nothing is called none', async () => {
    const soaks = (await turns()).turns.find(({ title }) => title === 'Given magnesium soaks')!;
    const { body } = await compared(soaks.id);
    const gap = body.found.find(({ key }) => key === 'gap')!;
    expect(gap).toMatchObject({ against: 'unchanged', pots: 5 });
    expect(gap.difference!.low).toBeLessThan(0);
    expect(gap.difference!.high).toBeGreaterThan(0);
  });
  it('can be named, hidden, joined and parted, each undone', async () => {
    const [feed, first] = (await turns()).turns;
    const named = await mark({ id: feed!.id, name: 'The good feed' });
    expect(named.status).toBe(200);
    await mark({ id: feed!.id, hidden: true });
    await mark({ id: first!.id, joinedTo: feed!.id });
    const [now] = (await turns()).turns;
    expect(now).toMatchObject({ title: 'The good feed', named: true, hidden: true, joined: [first!.id] });
    expect((await mark({ id: feed!.id, joinedTo: first!.id })).status).toBe(400);
    expect((await mark({ id: feed!.id, joinedTo: feed!.id })).status).toBe(400);
    await mark({ id: first!.id, joinedTo: null });
    const undo = await kit.call('PUT', `/api/book/undos/${testId()}`, {
      targetId: (named.body as { eventId: string }).eventId,
    });
    // What was said of it since must come back first.
    expect(undo.status).toBe(409);
  });
  it('a line of one’s own that lasts is one, stays the same when it is put right, and is none once it lasts no more', async () => {
    const noteId = testId();
    const { turns: before } = await turns();
    const first = before.find(({ potIds }) => potIds !== null)!.potIds![0]!;
    const note = { words: 'Moved the lamps up a hand, all of them, until the days are longer', on: '2026-09-01' };
    await kit.call('PUT', `/api/book/notes/${noteId}`, { ...note, potIds: [first], lasts: true });
    const own = async () => (await turns()).turns.filter(({ kind }) => kind === 'own');
    const [found] = await own();
    expect(found).toMatchObject({
      on: '2026-09-01',
      title: 'Moved the lamps up a hand, all of them,…',
      potIds: [first],
    });
    expect(found!.what[0]).toBe(note.words);
    await kit.call('PUT', `/api/book/turns/marks/${testId()}`, { id: found!.id, name: 'Lamps up' });
    const corrected = testId();
    const payload = { words: 'Moved the lamps up two hands', potIds: [first], photoId: null };
    await kit.call('PUT', `/api/book/corrections/${corrected}`, {
      targetId: noteId,
      payload: { ...payload, lasts: true },
    });
    expect(await own()).toMatchObject([{ id: found!.id, title: 'Lamps up' }]);
    expect((await kit.call('PUT', `/api/book/corrections/${testId()}`, { targetId: corrected, payload })).status).toBe(
      200,
    );
    expect(await own()).toEqual([]);
    // Of a line that was written as one that does not last nothing is made.
    await kit.call('PUT', `/api/book/notes/${testId()}`, { words: 'Fed the cat', on: '2026-09-02', potIds: [] });
    expect(await own()).toEqual([]);
  });
  it('a turn whose act is taken back is gone, and asking for it says so', async () => {
    const last = (await turns()).turns.at(-1)!;
    const [act] = await kit.rows<{ id: string }>(
      `SELECT e.id FROM care_event e, json_each(e.payload, '$.changes') c WHERE e.kind = 'recordsChanged' AND e.voidedBy IS NULL
         AND json_extract(c.value, '$.table') = 'pot_regimen' ORDER BY e.seq DESC LIMIT 1`,
    );
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: act!.id });
    expect((await turns()).turns.map(({ id }) => id)).not.toContain(last.id);
    expect((await compared(last.id)).status).toBe(404);
  });
  it('a figure put right, a line taken back: the weeks follow at once, as on a server newly started', async () => {
    await turns();
    const [old] = await kit.rows<{ id: string; localDate: string }>(
      `SELECT id, localDate FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL AND localDate < '2026-03-01' ORDER BY seq DESC LIMIT 1`,
    );
    expect((await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: old!.id })).status).toBe(200);
    const after = await turns();
    const fresh = await newlyStarted(kit);
    try {
      expect((await fresh.call<TurnsView>('GET', '/api/book/turns')).body).toEqual(after);
    } finally {
      await fresh.close();
    }
  });
  it('asked for by many while others write: each answer is whole, and the last is as a new server’s', async () => {
    const pots = await kit.rows<{ id: string }>('SELECT id FROM pot');
    const write = (i: number) =>
      kit.call('PUT', `/api/book/notes/${testId()}`, {
        words: `line ${i}`,
        potIds: [pots[i % pots.length]!.id],
        on: TODAY,
        image: null,
      });
    const answers = await Promise.all(
      Array.from({ length: 24 }, (_, i) =>
        i % 3 === 0 ? write(i) : kit.call('GET', i % 3 === 1 ? '/api/book/turns' : '/api/book/trials'),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
    const fresh = await newlyStarted(kit);
    try {
      expect((await fresh.call<TurnsView>('GET', '/api/book/turns')).body).toEqual(await turns());
    } finally {
      await fresh.close();
    }
  });
  it('nothing is asked for that makes no sense', async () => {
    const [feed] = (await turns()).turns;
    for (const weeks of ['0', '1', '27', 'many', '2.5'])
      expect((await compared(feed!.id, `&weeks=${weeks}`)).status).toBe(400);
    expect((await compared('feed|2026-05-25|nobody')).status).toBe(404);
  });
});

describe('an empty collection', () => {
  it('has no turns and says nothing', async () => {
    const empty = await serverKit(0);
    try {
      expect((await empty.call<TurnsView>('GET', '/api/book/turns')).body).toMatchObject({
        since: null,
        turns: [],
        pots: 0,
        today: TODAY,
      });
    } finally {
      await empty.close();
    }
  });
});
