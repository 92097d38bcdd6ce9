import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BookPage } from '../contract/book.ts';
import type { RoundView } from '../contract/round.ts';
import type { ShellView } from '../contract/shell.ts';
import { oddAnswers, routeBook } from '../../tests/every-answer.ts';
import { serverKit, testId, TODAY, type Kit } from '../../tests/server-kit.ts';

/* A small computer without a clock battery, a grower who travels, a date typed wrong: whatever the clock says, every room answers. */

let kit: Kit;
const book = routeBook();
let ids: { pots: string[]; still: string };
beforeAll(async () => {
  // Asked more in a minute than any grower does.
  process.env['FRUGAL_SIP_REQUESTS'] = '1000000';
  kit = await serverKit(6, { onRoute: book.onRoute });
  ids = {
    pots: (await kit.rows<{ id: string }>('SELECT id FROM pot ORDER BY code LIMIT 12')).map((r) => r.id),
    still: (await kit.rows<{ id: string }>(`SELECT id FROM water WHERE kind = 'still'`))[0]!.id,
  };
}, 120_000);
afterAll(() => kit.close());

const DAY = 86_400_000;
const noon = new Date(`${TODAY}T12:00:00Z`);
const shell = async () => {
  const { status, body } = await kit.call<ShellView>('GET', '/api/shell');
  expect(status).toBe(200);
  return body;
};
const round = async () => (await kit.call<RoundView>('GET', '/api/round')).body;
const count = (litres: number, id = testId()) =>
  kit.call('PUT', `/api/shelf/acts/${id}`, { kind: 'countWater', waterId: ids.still, litres });
const setZone = (zone: string) =>
  kit.call('PUT', `/api/shell/settings/${testId()}`, {
    collection: 'The shelf',
    zone,
    units: 'metric',
    workingDays: [1, 2, 3, 4, 5, 6, 7],
    latitude: 54,
  });
const look = (potId: string) =>
  kit.call('PUT', `/api/round/acts/${testId()}`, {
    kind: 'looked',
    potId,
    look: { cues: { tips: 'brown' }, note: '', growths: null, leafMm: null },
  });
const topUp = (potId: string) =>
  kit.call('PUT', `/api/round/acts/${testId()}`, {
    kind: 'toppedUp',
    potId,
    waterId: ids.still,
    batchId: null,
    ml: 40,
  });
const skip = async (potId: string) => {
  const { today } = await shell();
  return kit.call('PUT', `/api/round/acts/${testId()}`, {
    kind: 'skipped',
    potId,
    dueOn: today,
    reason: 'away',
    lookAgainOn: new Date(Date.parse(today) + 2 * DAY).toISOString().slice(0, 10),
  });
};
const clock = () =>
  kit.call('PUT', `/api/shell/plans/acts/${testId()}`, {
    kind: 'startClock',
    clockId: testId(),
    subjectKind: 'collection',
    subjectId: null,
    words: 'Stand',
    minutes: 30,
    origin: 'grower',
  });
const undoLast = async () => {
  const { entries } = (await kit.call<BookPage>('GET', '/api/book')).body;
  const target = entries.find((e) => e.undoable);
  return target ? kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: target.id }) : { status: 200, body: {} };
};

describe('what lies ahead of now', () => {
  it('is marked, said in every room, and left out of reckoning until its time comes', async () => {
    kit.clock.at = new Date(noon.getTime() + 2 * DAY);
    await count(17);
    const there = (await round()).still!.litres;
    kit.clock.at = noon;
    // Two days back: the look into the tank has not happened yet.
    expect((await shell()).ahead).toMatchObject({
      count: 1,
      firstAt: expect.stringMatching(/^2026-11-27T12/) as unknown,
    });
    expect((await kit.call<BookPage>('GET', '/api/book')).body.entries[0]).toMatchObject({ ahead: true });
    expect((await round()).still?.litres).not.toBe(there);
    expect(await oddAnswers(kit, book.routes, 3)).toEqual([]);
    kit.clock.at = new Date(noon.getTime() + 2 * DAY + 60_000);
    expect((await shell()).ahead).toBeNull();
    expect((await round()).still!.litres).toBe(there);
    expect((await kit.call<BookPage>('GET', '/api/book')).body.entries[0]).toMatchObject({ ahead: false });
  });
  it('a clock set back by a second takes nothing away', async () => {
    kit.clock.at = noon;
    const before = (await shell()).ahead?.count;
    await count(14);
    kit.clock.at = new Date(noon.getTime() - 30_000);
    expect((await shell()).ahead?.count).toBe(before);
    expect((await round()).still!.litres).toBeCloseTo(14, 1);
    expect(await oddAnswers(kit, book.routes, 2)).toEqual([]);
  });
  it('can be taken back before it comes', async () => {
    kit.clock.at = new Date(noon.getTime() + 5 * DAY);
    await look(ids.pots[0]!);
    kit.clock.at = noon;
    expect((await shell()).ahead!.count).toBeGreaterThan(0);
    const before = (await shell()).ahead!.count;
    expect((await undoLast()).status).toBe(200);
    expect((await shell()).ahead!.count).toBe(before);
  });
  it('the zone changed westwards is no future: what was logged this morning counts, on today', async () => {
    kit.clock.at = new Date(`${TODAY}T23:30:00Z`);
    await setZone('Pacific/Kiritimati');
    await count(12);
    const { today } = await shell();
    await setZone('Pacific/Honolulu');
    expect((await shell()).today < today).toBe(true);
    const { still } = await round();
    expect(still!.litres).toBeCloseTo(12, 5);
    expect(await oddAnswers(kit, book.routes, 3)).toEqual([]);
    await setZone('Europe/London');
  });
});

describe('however clock and zone jump about', () => {
  it('every room answers, and acts go on', async () => {
    const acts = [
      () => count(9),
      () => look(ids.pots[1]!),
      () => topUp(ids.pots[2]!),
      () => skip(ids.pots[3]!),
      clock,
      undoLast,
      undoLast,
      () => setZone('America/Los_Angeles'),
      () => setZone('Asia/Tokyo'),
      () => setZone('Europe/London'),
    ];
    const move = fc.record({ hours: fc.integer({ min: -24 * 40, max: 24 * 40 }), act: fc.nat(acts.length - 1) });
    await fc.assert(
      fc.asyncProperty(fc.array(move, { minLength: 2, maxLength: 6 }), async (moves) => {
        for (const { hours, act } of moves) {
          kit.clock.at = new Date(noon.getTime() + hours * 3_600_000);
          const { status, body } = await acts[act]!();
          expect(status, JSON.stringify(body)).toBeLessThan(500);
          const { ahead } = await shell();
          const [really] = await kit.rows<{ n: number }>('SELECT count(*) AS n FROM main.care_event WHERE at > ?', [
            new Date(kit.clock.at.getTime() + 120_000).toISOString(),
          ]);
          expect(ahead?.count ?? 0).toBe(really!.n);
        }
        expect(await oddAnswers(kit, book.routes, 2)).toEqual([]);
      }),
      { numRuns: 12 },
    );
  }, 180_000);
});
