import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, testId, TODAY, type Kit } from '../../../../tests/server-kit.ts';
import type { BookPage } from '../../../contract/book.ts';
import type { LogDays, LogSteps, LogStrip } from '../../../contract/log.ts';
import { FORGET_INDEX } from '../../database/forget-index.ts';
import { dayOf, numberOf, seqOf, wordsIn } from './log-tokens.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(8);
}, 120_000);
afterAll(() => kit.close());

const get = async <T>(path: string) => {
  const { status, body } = await kit.call<T>('GET', `/api/book/${path}`);
  expect(status, path).toBe(200);
  return body;
};
const found = async (query: string) => (await get<BookPage>(`found?${query}`)).entries;
const everyFound = async (query: string) => {
  const all: BookPage['entries'] = [];
  for (let next: number | null | undefined; next !== null;) {
    const page: BookPage = await get<BookPage>(`found?${query}${next ? `&before=${next}` : ''}`);
    all.push(...page.entries);
    next = page.next;
  }
  return all;
};
const write = (words: string, more: Record<string, unknown> = {}) => {
  const id = testId();
  return kit
    .call<{ errors?: { path: string; message: string }[]; repeated?: boolean }>('PUT', `/api/book/notes/${id}`, {
      ...{ words, potIds: [], on: TODAY, image: null },
      ...more,
    })
    .then((answer) => ({ id, ...answer }));
};
const potOf = async (code: string) =>
  (await kit.rows<{ id: string }>('SELECT id FROM pot WHERE code = ?', [code]))[0]!.id;
/** Every line, however it is shown. */
const lines = () =>
  kit.rows<{ id: string; seq: number; localDate: string; kind: string; potId: string | null; batchId: string | null }>(
    'SELECT * FROM main.care_event ORDER BY localDate DESC, seq DESC',
  );

describe('the words of a line', () => {
  it('are kept without accents and capitals; codes and figures stay one word', () => {
    expect(wordsIn("Flushed 0.6 L at R-02, Éclair’s “don't”.")).toEqual([
      'flushed',
      '0.6',
      'l',
      'at',
      'r-02',
      'eclair',
      's',
      'dont',
    ]);
    expect(wordsIn(' — … ')).toEqual([]);
  });
  it('a line is numbered by its day first, and found again by its number', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1970-01-02'), max: new Date('2999-01-01'), noInvalidDate: true }),
        fc.integer({ min: 1, max: 999_999_998 }),
        (date, seq) => {
          const on = date.toISOString().slice(0, 10);
          const n = numberOf(on, seq);
          expect(Number.isSafeInteger(n)).toBe(true);
          expect([dayOf(n), seqOf(n)]).toEqual([on, seq]);
        },
      ),
    );
  });
});

describe('the log by day', () => {
  it('holds every line once: mixes and rounds as one entry, every other by itself', async () => {
    const seen: string[] = [];
    let before: string | null | undefined;
    let last = '9999';
    for (; before !== null;) {
      const page: LogDays = await get<LogDays>(`days${before ? `?before=${before}` : ''}`);
      for (const { on, entries } of page.days) {
        expect(on < last).toBe(true);
        last = on;
        expect(new Set(entries.map(({ key }) => key)).size).toBe(entries.length);
        for (const entry of entries) {
          if (entry.line) seen.push(entry.line.id);
          else {
            const { steps } = await get<LogSteps>(`steps?key=${entry.key}`);
            expect(steps).toHaveLength(entry.steps);
            seen.push(...steps.map(({ id }) => id));
          }
        }
      }
      before = page.next;
    }
    expect(seen.toSorted()).toEqual((await lines()).map(({ id }) => id).toSorted());
  });
  it('a mix says what it came to and for how many pots; its steps stand in the order they were done', async () => {
    const [batch] = await kit.rows<{ id: string; name: string; pouredPh: number; startedOn: string }>(
      `SELECT * FROM batch WHERE status = 'poured' AND pouredPh IS NOT NULL ORDER BY startedAt DESC LIMIT 1`,
    );
    const page = await get<LogDays>(`days?to=${batch!.startedOn}`);
    const entry = page.days[0]!.entries.find(({ batchId }) => batchId === batch!.id)!;
    expect(entry).toMatchObject({ group: 'Mix', where: batch!.name, ph: batch!.pouredPh });
    expect(entry.what).toMatch(/^Mixed and poured [\d.]+.L/);
    const { steps } = await get<LogSteps>(`steps?key=${entry.key}`);
    expect(steps[0]!.kind).toBe('batchStarted');
    expect(steps.map(({ at }) => at)).toEqual(steps.map(({ at }) => at).toSorted());
  });
  it('what is taken back the same day stands in the entry it was of, and stands out there', async () => {
    const [fill] = await kit.rows<{ id: string; localDate: string }>(
      `SELECT id, localDate FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL ORDER BY at DESC LIMIT 1`,
    );
    kit.clock.at = new Date(`${fill!.localDate}T20:00:00Z`);
    const undo = testId();
    expect((await kit.call('PUT', `/api/book/undos/${undo}`, { targetId: fill!.id })).status).toBe(200);
    const page = await get<LogDays>(`days?to=${fill!.localDate}`);
    const round = page.days[0]!.entries.find(({ key }) => key.startsWith('round.'))!;
    expect(round.standsOut).toContain('1 taken back');
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: undo });
    kit.clock.at = new Date(`${TODAY}T10:00:00Z`);
  });
  it('an entry there is none of is said to be none', async () => {
    expect((await kit.call('GET', '/api/book/steps?key=round.2026')).status).toBe(404);
    expect((await kit.call('GET', '/api/book/days?to=yesterday')).status).toBe(400);
  });
});

describe('found by', () => {
  it('pot, batch and kind: those lines, all of them, newest day first', async () => {
    const all = await lines();
    const pot = await potOf('R-07');
    const ofPot = await everyFound(`pot=${pot}`);
    expect(ofPot.map(({ id }) => id)).toEqual(all.filter(({ potId }) => potId === pot).map(({ id }) => id));
    const { batchId } = all.find((line) => line.batchId !== null && line.kind === 'batchPoured')!;
    expect((await everyFound(`batch=${batchId}`)).map(({ id }) => id)).toEqual(
      all.filter((line) => line.batchId === batchId).map(({ id }) => id),
    );
    const clay = await everyFound('kind=Clay');
    expect(clay.length).toBeGreaterThan(3);
    expect(new Set(clay.map(({ group }) => group))).toEqual(new Set(['Clay']));
  });
  it('words: every one must be there, capitals and accents aside; what no line has may be a beginning', async () => {
    const crust = await everyFound('words=CRUST');
    expect(crust.length).toBeGreaterThan(2);
    for (const { what, was } of crust) expect(`${what} ${was ?? ''}`.toLowerCase()).toContain('crust');
    expect((await everyFound('words=crus')).map(({ id }) => id)).toEqual(crust.map(({ id }) => id));
    const both = await everyFound('words=crust%20R-07');
    expect(both.length).toBeGreaterThan(0);
    for (const { what, where } of both) expect(`${what} ${where}`).toMatch(/R-07/);
    expect(await found('words=crust%20neverwritten')).toEqual([]);
    expect(await found('words=%3F')).toEqual([]);
    // What the index would take for a question of its own is a word like any other.
    for (const odd of ['"', 'a"b', '*', 'NOT', 'crust OR', '^x', '{w} : x', "'", '_kpotFilled', '_photo'])
      expect((await kit.call('GET', `/api/book/found?words=${encodeURIComponent(odd)}`)).status, odd).toBe(200);
    expect(await found('words=_gRound')).toEqual([]);
    expect((await kit.call('GET', `/api/book/found?words=${'x'.repeat(300)}`)).status).toBe(400);
  });
  it('where a pot stood then: moved since, its old lines stay with the old place', async () => {
    const pot = await potOf('R-03');
    const [{ placeId }] = (await kit.rows<{ placeId: string }>('SELECT placeId FROM pot WHERE id = ?', [pot])) as [
      { placeId: string },
    ];
    const [other] = await kit.rows<{ id: string }>('SELECT id FROM place WHERE id <> ? AND retiredOn IS NULL LIMIT 1', [
      placeId,
    ]);
    const before = (await everyFound(`place=${placeId}&pot=${pot}`)).length;
    expect(before).toBeGreaterThan(3);
    const moved = testId();
    const { status } = await kit.call('PUT', `/api/pots/acts/${moved}`, {
      kind: 'move',
      potIds: [pot],
      placeId: other!.id,
      beforePotId: null,
    });
    expect(status).toBe(200);
    const noted = await write('stands in its new place', { potIds: [pot] });
    expect(noted.status).toBe(200);
    expect(await everyFound(`place=${placeId}&pot=${pot}`)).toHaveLength(before);
    expect((await everyFound(`place=${other!.id}&pot=${pot}`)).map(({ id }) => id)).toContain(noted.id);
  });
  it('a name that was changed: by the new one, and by what it was called when the line was written', async () => {
    const pot = await potOf('R-05');
    const before = (await everyFound(`pot=${pot}`)).length;
    await kit.database.write.run((manager) => manager.query(`UPDATE pot SET code = 'ZZ-99' WHERE id = ?`, [pot]));
    expect((await everyFound('words=zz-99')).length).toBe(before);
    expect((await everyFound('words=r-05')).length).toBeGreaterThan(3);
    await kit.database.write.run((manager) => manager.query(`UPDATE pot SET code = 'R-05' WHERE id = ?`, [pot]));
  });
  it('tainted only: what a pen read while it was off, and nothing else', async () => {
    const tainted = await everyFound('only=tainted');
    expect(tainted.length).toBeGreaterThan(3);
    for (const { tainted: by } of tainted) expect(by.ppm || by.ph).toBe(true);
    const every = await everyFound('from=2020-01-01&kind=Round');
    const offRound = every
      .filter(({ tainted: by, readsPpm, ph }) => (by.ppm && readsPpm !== null) || (by.ph && ph !== null))
      .map(({ id }) => id);
    expect(tainted.filter(({ group }) => group === 'Round').map(({ id }) => id)).toEqual(offRound);
  });
  it('days: the strip counts what is found', async () => {
    for (const query of ['', 'words=crust', 'kind=Mix', 'only=tainted']) {
      const { days } = await get<LogStrip>(`strip?from=2026-10-10&to=2026-11-20&${query}`);
      const inside = query
        ? await everyFound(`from=2026-10-10&to=2026-11-20&${query}`)
        : (await lines())
            .map(({ localDate: on }) => ({ on }))
            .filter(({ on }) => on >= '2026-10-10' && on <= '2026-11-20');
      const counts = new Map<string, number>();
      for (const { on } of inside) counts.set(on, (counts.get(on) ?? 0) + 1);
      expect(new Map(days.map(({ on, lines: n }) => [on, n])), query).toEqual(counts);
    }
    expect((await everyFound('from=2026-11-01&to=2026-11-03')).map(({ id }) => id)).toEqual(
      (await lines()).filter(({ localDate: on }) => on >= '2026-11-01' && on <= '2026-11-03').map(({ id }) => id),
    );
    expect((await kit.call('GET', '/api/book/strip?from=2020-01-01&to=2026-01-01')).status).toBe(400);
  });
  it('whatever was there before there was an index, and after it was forgotten, is found the same', async () => {
    const before = await everyFound('words=crust');
    await kit.database.write.run(async (manager) => {
      for (const statement of FORGET_INDEX) await manager.query(statement);
    });
    expect((await everyFound('words=crust')).map(({ id }) => id)).toEqual(before.map(({ id }) => id));
  });
});

describe('an index that does not know how far it came', () => {
  it('is filled once more, and finds every line once', async () => {
    const before = (await everyFound('words=crust')).map(({ id }) => id);
    expect(before.length).toBeGreaterThan(2);
    await kit.database.write.run((manager) => manager.query('DELETE FROM log_indexed'));
    expect((await write('logged all the same')).status).toBe(200);
    expect((await everyFound('words=crust')).map(({ id }) => id)).toEqual(before);
  });
});

describe('a line of one’s own', () => {
  it('stands on its day, with its pots and its picture, is put right with the picture kept, and taken back', async () => {
    const [a, b] = [await potOf('R-01'), await potOf('R-02')];
    const image = (
      await sharp({ create: { width: 40, height: 30, channels: 3, background: '#2f6b45' } })
        .jpeg()
        .toBuffer()
    ).toString('base64');
    const { id, status } = await write('Moved the lamps up a hand', { potIds: [a, b], on: '2026-11-02', image });
    expect(status).toBe(200);
    const day = (await get<LogDays>('days?to=2026-11-02')).days[0]!;
    expect(day.on).toBe('2026-11-02');
    expect(day.entries.find(({ line }) => line?.id === id)).toMatchObject({
      group: 'Own',
      what: 'Moved the lamps up a hand',
    });
    for (const pot of [a, b]) {
      expect((await found(`only=own&pot=${pot}`)).map((line) => line.id)).toEqual([id]);
      const { body } = await kit.call<{ visits: { words: string }[]; photos: { id: string }[] }>(
        'GET',
        `/api/pots/${pot}`,
      );
      expect(body.visits.some(({ words }) => words === 'Moved the lamps up a hand')).toBe(true);
      expect(body.photos.map((p) => p.id)).toContain(id);
    }
    expect((await found('only=photo')).map((line) => line.id)).toContain(id);
    const right = testId();
    const [{ payload }] = (await kit.rows<{ payload: string }>('SELECT payload FROM care_event WHERE id = ?', [
      id,
    ])) as [{ payload: string }];
    const corrected = await kit.call('PUT', `/api/book/corrections/${right}`, {
      targetId: id,
      payload: { ...(JSON.parse(payload) as object), words: 'Moved the lamps up two hands' },
    });
    expect(corrected.status).toBe(200);
    const [line] = await found('words=two%20hands');
    expect(line).toMatchObject({ id: right, photoId: id, was: 'Moved the lamps up a hand' });
    expect((await kit.call('GET', `/api/book/photos/${id}`)).status).toBe(200);
    expect((await found('only=corrected')).map((one) => one.id)).toContain(right);
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: right });
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: id });
    expect((await found(`only=own&pot=${a}`)).every((one) => one.undone)).toBe(true);
  });
  it('sent twice is one line; a day to come, no words, a pot that is none: told at the field, nothing written', async () => {
    const id = testId();
    const body = { words: 'onceonly', potIds: [], on: TODAY, image: null };
    await kit.call('PUT', `/api/book/notes/${id}`, body);
    expect((await kit.call<{ repeated: boolean }>('PUT', `/api/book/notes/${id}`, body)).body.repeated).toBe(true);
    expect(await found('words=onceonly')).toHaveLength(1);
    expect(await write('later', { on: '2026-11-26' })).toMatchObject({
      status: 400,
      body: { errors: [{ path: 'on' }] },
    });
    expect(await write('   ')).toMatchObject({ status: 400, body: { errors: [{ path: 'words' }] } });
    expect((await write('whose', { potIds: [testId()] })).status).toBe(404);
    expect((await write('no picture', { image: 'aGVsbG8=' })).status).toBe(400);
    expect(await found('words=whose')).toEqual([]);
  });
});
