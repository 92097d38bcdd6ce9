import { randomUUID } from 'node:crypto';
import ICAL from 'ical.js';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, TODAY, type Kit } from '../../../tests/server-kit.ts';
import type { LookBack, YearView } from '../../contract/season-pages.ts';
import type { ForetoldDay, PotPlanned, SeasonAct, SeasonView } from '../../contract/season.ts';
import type { RoundView } from '../../contract/round.ts';
import { plusDays } from '../../core/regimen/index.ts';

/* The weeks gone by as planned and as done, and what the plan learns of them: each test on one collection, its days one after the other. */

let kit: Kit;
let pots: { id: string; code: string; fillMl: number }[];
let water: string;
beforeAll(async () => {
  kit = await serverKit(5);
  pots = await kit.rows('SELECT id, code, fillMl FROM pot WHERE retiredOn IS NULL ORDER BY code LIMIT 4');
  water = (await kit.rows<{ id: string }>(`SELECT id FROM water WHERE kind = 'still'`))[0]!.id;
}, 120_000);
afterAll(() => kit.close());

const NOTHING = { kind: 'notMeasured' } as const;
const day = (n: number) => plusDays(TODAY, n);
const goTo = (n: number, hour = 9) => (kit.clock.at = new Date(`${day(n)}T${String(hour).padStart(2, '0')}:00:00Z`));
const season = async () => (await kit.call<SeasonView>('GET', '/api/season')).body;
const back = async () => (await kit.call<LookBack>('GET', '/api/season/look-back')).body;
const act = (body: SeasonAct) => kit.call('PUT', `/api/season/acts/${randomUUID()}`, body);
const undo = (targetId: string) => kit.call('PUT', `/api/book/undos/${randomUUID()}`, { targetId, alsoIds: [] });

async function keep(plans: Record<string, readonly number[]>, foretold: readonly ForetoldDay[] = []): Promise<string> {
  const id = randomUUID();
  const planned = Object.entries(plans).map(([code, days]): PotPlanned => ({
    potId: pots.find((pot) => pot.code === code)!.id,
    visits: days.map((n) => ({ on: day(n), late: 0, soaks: [] })),
    pins: [],
    nots: [],
  }));
  const { kept } = await season();
  const body = { basis: kept?.madeAt ?? null, aim: 'nobodyLate', minutesADay: null, did: { kind: 'kept' }, clay: {} };
  const answer = await kit.call('PUT', `/api/season/plan/${id}`, { ...body, pots: planned, foretold });
  expect(answer.status).toBe(200);
  return id;
}

async function fill(code: string): Promise<void> {
  const pot = pots.find((one) => one.code === code)!;
  const round = (await kit.call<RoundView>('GET', '/api/round')).body;
  const { due } = round.places.flatMap((place) => place.pots).find(({ id }) => id === pot.id)!;
  const answer = await kit.call('PUT', `/api/round/acts/${randomUUID()}`, {
    ...{ kind: 'filled', potId: pot.id, dueOn: due.dueOn, batchId: null, waterId: water, pouredMl: 300 },
    ...{ flushMl: 0, flushWith: [], runOffPpm: NOTHING, ppmMeterId: null, phMeterId: null },
    oldReservoir: { ppm: NOTHING, ph: NOTHING, leftMl: null },
  });
  expect(answer.body).toMatchObject({ repeated: false });
}

describe('the last weeks', () => {
  it('before any plan stood have nothing to tell', async () => {
    expect((await back()).days).toEqual([]);
    expect((await back()).learned.litres).toBeNull();
  });
  it('tell who was watered on the planned day, sooner, later or not yet, by what stood as the day began', async () => {
    const [a, b, c, d] = pots.map((pot) => pot.code) as [string, string, string, string];
    const foretold = [0, 1, 2, 3].map((n) => ({
      on: day(n),
      stillL: n === 1 ? 0.5 : 0,
      plainL: n === 1 ? 0.5 : 0,
    }));
    await keep({ [a]: [1], [b]: [2], [c]: [1], [d]: [2] }, foretold);
    goTo(1);
    await fill(a);
    await fill(b);
    goTo(2);
    // What is put on another day later on is not what stood as day 1 began.
    await keep(
      { [c]: [4], [d]: [2] },
      [2, 3].map((n) => ({ on: day(n), stillL: 7, plainL: 0.4 })),
    );
    goTo(3);
    await fill(c);
    goTo(4);
    const { days } = await back();
    expect(days.map(({ on }) => on)).toEqual([0, 1, 2, 3].map(day));
    const of = (n: number) => days.find(({ on }) => on === day(n))!;
    expect(of(1)).toMatchObject({ onDay: [a], later: [{ code: c, days: 2 }], sooner: [], notYet: [] });
    expect(of(2)).toMatchObject({ sooner: [{ code: b, days: 1 }], notYet: [d], onDay: [], later: [] });
    // Two fillings of 300 mL; and of the day that had begun by another plan, what that one foretold.
    expect(of(1)).toMatchObject({ foretoldL: 0.5, drawnL: 0.6 });
    expect(of(2).foretoldL).toBe(0);
    expect(of(3).foretoldL).toBe(7);
  });
  it('are the same after the plan was let go, and after an undo of something else', async () => {
    const { days } = await back();
    const id = randomUUID();
    await kit.call('PUT', `/api/season/acts/${id}`, { kind: 'dropPlan' });
    expect((await season()).kept).toBeNull();
    expect((await back()).days).toEqual(days);
    await undo(id);
    expect((await season()).kept).not.toBeNull();
    expect((await back()).days).toEqual(days);
  });
});

describe('what the plan learns', () => {
  it('litres, where days with work enough say the same', async () => {
    const before = await season();
    expect(before.learned.litres).toBeNull();
    const [a] = pots.map((pot) => pot.code) as [string];
    const days = [4, 5, 6, 7, 8, 9, 10];
    await keep(
      { [a]: days },
      days.map((n) => ({ on: day(n), stillL: 0.24, plainL: 0.24 })),
    );
    for (const n of days) {
      goTo(n, 18);
      await fill(a);
    }
    goTo(11);
    const after = await season();
    expect(after.learned.litres!.days).toBeGreaterThanOrEqual(7);
    expect(after.learned.litres!.times).toBeGreaterThan(1.02);
    expect(after.learned.litres!.low).toBeLessThan(after.learned.litres!.times);
    const drawn = (view: SeasonView, code: string) =>
      view.problem.lots.find((lot) => lot.potIds.includes(pots.find((pot) => pot.code === code)!.id))!.feeds[0]!;
    const [was, now] = [drawn(before, pots[3]!.code), drawn(after, pots[3]!.code)];
    expect(now.stillL / now.mixL / (was.stillL / was.mixL)).toBeCloseTo(after.learned.litres!.times, 6);
  });
  it('minutes: what is typed goes before what is learned, and empty is learned again', async () => {
    const learned = (await season()).learned.minutes.pot;
    expect(learned.from).toBe('learned');
    await act({ kind: 'workTimes', pot: 11, mix: null, soakedPot: null, leach: null });
    expect((await season()).learned.minutes.pot).toMatchObject({
      minutes: 11,
      from: 'typed',
      otherwise: learned.minutes,
    });
    expect((await season()).problem.minutes.soakedPot).toBe(11);
    // The round reckons with the same.
    const round = async () => (await kit.call<RoundView>('GET', '/api/round')).body;
    const slow = await round();
    await act({ kind: 'workTimes', pot: null, mix: null, soakedPot: null, leach: null });
    expect((await season()).learned.minutes.pot).toEqual(learned);
    expect(slow.minutes - (await round()).minutes).toBe(slow.due * (11 - learned.minutes));
    expect((await act({ kind: 'workTimes', pot: -1, mix: null, soakedPot: null, leach: null })).status).toBe(400);
  });
});

describe('still water', () => {
  it('of a day to come can be more or less; when it has come it stands in the tank', async () => {
    const usual = (await season()).problem.tank!;
    expect((await act({ kind: 'made', on: day(13), litres: 20 })).status).toBe(200);
    expect((await season()).problem.tank!.madeL.slice(0, 3)).toEqual([usual.madeL[0], 20, usual.madeL[2]]);
    await act({ kind: 'made', on: day(13), litres: 0 });
    expect(await kit.rows('SELECT litres FROM made_day')).toEqual([{ litres: 0 }]);
    await kit.call('PUT', `/api/shelf/acts/${randomUUID()}`, { kind: 'countWater', waterId: water, litres: 5 });
    goTo(13);
    // The usual of day 12, nothing on day 13.
    expect((await season()).problem.tank!.startL).toBeCloseTo(5 + usual.madeL[0]!, 6);
    expect((await act({ kind: 'made', on: day(13), litres: 4 })).status).toBe(400);
  });
  it('a second can is more room, and counts only when somebody looked into it', async () => {
    const { problem: before } = await season();
    const can = randomUUID();
    await kit.database.write.run((manager) =>
      manager.query(
        `INSERT INTO water (id, name, note, position, kind, tankL) VALUES ('${can}', 'Spare can', '', 9, 'still', 10)`,
      ),
    );
    goTo(14);
    expect((await season()).problem.tank!.capL).toBe(before.tank!.capL);
    await kit.call('PUT', `/api/shelf/acts/${randomUUID()}`, { kind: 'countWater', waterId: can, litres: 6 });
    const { problem, still } = await season();
    expect(problem.tank!.capL).toBe(before.tank!.capL! + 10);
    expect(still).toMatch(/ and Spare can$/);
  });
});

describe('what wears', () => {
  const year = async () => (await kit.call<YearView>('GET', '/api/season/year')).body;
  it('is due after its days, counted when it was put in new, and can be taken back', async () => {
    const partId = randomUUID();
    const part = { kind: 'part' as const, partId, name: 'Membrane', everyDays: 60, changedOn: day(-60) };
    expect((await act({ ...part, changedOn: day(20) })).status).toBe(400);
    await act(part);
    const first = await year();
    expect(first.parts).toEqual([{ id: partId, name: 'Membrane', everyDays: 60, dueOn: TODAY }]);
    const row = (view: YearView) => view.rows.find(({ what }) => what === 'Membrane')!;
    expect(row(first).due![first.now]).toBe(true);
    await act({ kind: 'partChanged', partId, on: day(14) });
    const then = await year();
    expect(then.parts[0]!.dueOn).toBe(day(74));
    expect(row(then).done.reduce((sum, n) => sum + n, 0)).toBe(2);
    await act({ kind: 'dropPart', partId });
    expect((await year()).parts).toEqual([]);
    expect((await act({ kind: 'partChanged', partId, on: day(14) })).status).toBe(404);
  });
  it('strengths are told by stage, a rest never stronger than growth', async () => {
    const { strengths } = await year();
    expect(strengths.length).toBeGreaterThan(2);
    for (const { byStage } of strengths) {
      const ppm = (stage: string) => Number.parseFloat(byStage.find((one) => one.stage === stage)!.words) || 0;
      expect(ppm('rest')).toBeLessThanOrEqual(ppm('growth'));
    }
    const at = strengths.flatMap(({ byStage }) => byStage).reduce((sum, { pots: n }) => sum + n, 0);
    expect(at).toBe((await season()).pots);
  });
});

describe('the calendar', () => {
  it('cancels days that held only clay’s water, and days away that were taken back', async () => {
    const { kept } = await season();
    const [{ id }] = (await kit.rows<{ id: string }>('SELECT id FROM clay_batch WHERE retiredOn IS NULL')) as [
      { id: string },
    ];
    const plan = { aim: 'nobodyLate', minutesADay: null, did: { kind: 'kept' }, pots: [], foretold: [] };
    const put = (body: object) => kit.call('PUT', `/api/season/plan/${randomUUID()}`, { ...plan, ...body });
    const on = day(33);
    await put({ basis: kept!.madeAt, clay: { [id]: [on] } });
    const awayId = randomUUID();
    await act({ kind: 'away', awayId, fromDate: day(40), untilDate: day(44) });
    await put({ basis: (await season()).kept!.madeAt, clay: {} });
    await act({ kind: 'notAway', awayId });
    const { body } = await kit.app.inject({
      method: 'GET',
      url: '/api/season/plan.ics',
      headers: { host: 'localhost' },
    });
    const events = new ICAL.Component(ICAL.parse(body) as unknown[]).getAllSubcomponents('vevent');
    const status = (part: string) =>
      events.find((one) => String(one.getFirstPropertyValue('uid')).includes(part))?.getFirstPropertyValue('status');
    expect(status(on)).toBe('CANCELLED');
    expect(status(awayId)).toBe('CANCELLED');
  });
});
