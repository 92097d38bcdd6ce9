import { randomUUID } from 'node:crypto';
import ICAL from 'ical.js';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, TODAY, type Kit } from '../../../tests/server-kit.ts';
import type { ClayRoom } from '../../contract/clay.ts';
import type { RoundView } from '../../contract/round.ts';
import type { SitterSheet, YearView } from '../../contract/season-pages.ts';
import type { KeepPlan, SeasonAct, SeasonView } from '../../contract/season.ts';
import { brokenBy, greedyPlan, Liver, PLAN_AIMS, plannedPots, searchPlan } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(8);
}, 120_000);
afterAll(() => kit.close());

const season = async () => (await kit.call<SeasonView>('GET', '/api/season')).body;

describe('what the plan knows', () => {
  it('every kept pot in one lot, due when its round says', async () => {
    const { problem, pots } = await season();
    const all = problem.lots.flatMap((lot) => lot.potIds);
    expect(new Set(all).size).toBe(all.length);
    expect(all).toHaveLength(pots);
    const round = (await kit.call<RoundView>('GET', '/api/round')).body;
    const due = problem.lots.filter((lot) => lot.dueOn <= 0).reduce((sum, lot) => sum + lot.potIds.length, 0);
    expect(due).toBe(round.due);
    for (const lot of problem.lots) {
      expect(lot.potIds.length).toBeLessThanOrEqual(8);
      expect(lot.soonestDays).toBeLessThanOrEqual(lot.feeds[lot.turn]!.everyDays);
    }
  });
  it('soaks in their season: under lamps all year, by daylight not in winter, three weeks apart', async () => {
    const { lanes, problem, on } = await season();
    expect(on).toBe(TODAY);
    const soaks = lanes.filter((lane) => lane.kind === 'soak');
    const ofLamps = soaks.filter((lane) => lane.place === 'Long shelf');
    expect(ofLamps.length).toBeGreaterThan(0);
    for (const lane of soaks)
      for (const { from, to } of lane.closed)
        for (const t of [from, to]) expect(lane.months).not.toContain(Number(plusDays(on, t).slice(5, 7)));
    const byDaylight = soaks.find((lane) => lane.place === 'East sill' && /magnesium/i.test(lane.what))!;
    expect(byDaylight.closed).toEqual([{ from: 0, to: 41 }]);
    const lots = new Map(problem.lots.map((lot) => [lot.id, lot]));
    for (const lane of soaks.filter((l) => l.closed.some((c) => c.from === 0 && c.to === 41)))
      for (const id of lane.lots)
        for (const window of lots.get(id)!.soaks) expect(window.mix).not.toMatch(/^(soak|spray)-(magnesium|both)/);
  });
  it('the tank as the Shelf reckons it, and a plan of it that can be', async () => {
    const { problem } = await season();
    expect(problem.tank!.startL).toBeGreaterThan(0);
    const start = greedyPlan(problem);
    expect(brokenBy(problem, start)).toBeUndefined();
    const better = searchPlan(problem, start, { weights: PLAN_AIMS.nobodyLate, moves: 20_000, seed: 1 });
    const liver = new Liver(problem);
    expect(liver.live(better).totals.latePotDays).toBeLessThanOrEqual(liver.live(start).totals.latePotDays);
  });
  it('follows the collection at once: a pot put away leaves the plan', async () => {
    const before = await season();
    const round = (await kit.call<RoundView>('GET', '/api/round')).body;
    const pot = round.places.flatMap((p) => p.pots).find((p) => p.due.daysLate >= 0)!;
    await kit.database.write.run((manager) =>
      manager.query(`UPDATE pot SET retiredOn = ? WHERE id = ?`, [TODAY, pot.id]),
    );
    expect((await season()).pots).toBe(before.pots - 1);
  });
});

describe('a plan that is kept', () => {
  const keep = async (body: Partial<KeepPlan>) => {
    const view = await season();
    return kit.call<{ eventId: string }>('PUT', `/api/season/plan/${randomUUID()}`, {
      basis: view.kept?.madeAt ?? null,
      aim: 'nobodyLate',
      minutesADay: null,
      did: { kind: 'kept' },
      clay: {},
      pots: plannedPots(view.problem, greedyPlan(view.problem), view.on),
      ...body,
    });
  };
  const undo = (targetId: string) => kit.call('PUT', `/api/book/undos/${randomUUID()}`, { targetId, alsoIds: [] });

  it('is the round’s due list: a pot put on today is due today and says why, one put off is not', async () => {
    const before = (await kit.call<RoundView>('GET', '/api/round')).body;
    const pots = before.places.flatMap((place) => place.pots);
    const later = pots.find((pot) => pot.due.daysLate < 0 && pot.done === null)!;
    const due = pots.find((pot) => pot.due.daysLate >= 0 && pot.inSoak === null)!;
    const on = { late: 0, soaks: [] };
    const answer = await keep({
      pots: [
        { potId: later.id, visits: [{ on: TODAY, ...on }], pins: [{ on: TODAY, soak: null }], nots: [] },
        { potId: due.id, visits: [{ on: plusDays(TODAY, 2), late: 9, soaks: [] }], pins: [], nots: [] },
      ],
    });
    expect(answer.status).toBe(200);
    const after = (await kit.call<RoundView>('GET', '/api/round')).body.places.flatMap((place) => place.pots);
    const now = (id: string) => after.find((pot) => pot.id === id)!;
    expect(now(later.id).due.status).toBe('due');
    expect(now(later.id).byPlan).toMatch(/by its own days it would be due on/);
    expect(now(due.id).due.dueOn).toBe(plusDays(TODAY, 2));
    expect(now(due.id).byPlan).toMatch(/puts it off/);
    const { kept, problem } = await season();
    const l = problem.lots.findIndex((lot) => lot.potIds.includes(later.id));
    expect(kept!.visits[l]).toEqual([0]);
    expect(problem.lots[l]!.pinned).toEqual([0]);

    expect((await undo(answer.body.eventId)).status).toBe(200);
    const back = (await kit.call<RoundView>('GET', '/api/round')).body;
    expect(back.places).toEqual(before.places);
    expect((await season()).kept).toBeNull();
  });
  it('stands as it was kept, by the lots of today, and says when', async () => {
    const { problem, on } = await season();
    const plan = greedyPlan(problem);
    expect((await keep({})).status).toBe(200);
    const after = await season();
    expect(after.kept).toMatchObject({ aim: 'nobodyLate', madeOn: TODAY });
    const days = (view: SeasonView, visits: readonly (readonly number[])[]) =>
      new Map(view.problem.lots.flatMap((lot, l) => lot.potIds.map((id) => [id, visits[l]!.join()])));
    expect(days(after, after.kept!.visits)).toEqual(days({ problem, on } as SeasonView, plan.visits));
    // Nothing of the question changed by keeping its answer.
    expect(after.problem.lots.flatMap((lot) => lot.potIds).sort()).toEqual(
      problem.lots.flatMap((lot) => lot.potIds).sort(),
    );
    // The round does what the plan holds for today.
    const round = (await kit.call<RoundView>('GET', '/api/round')).body;
    const today = problem.lots.filter((_, l) => plan.visits[l]!.includes(0)).flatMap((lot) => lot.potIds);
    expect(
      round.places
        .flatMap((p) => p.pots)
        .filter((p) => p.due.daysLate >= 0 && !p.done)
        .map((p) => p.id)
        .sort(),
    ).toEqual(today.sort());
  });
  it('new clay’s next change is told in its room', async () => {
    const { body: clay } = await kit.call<ClayRoom>('GET', '/api/clay');
    const { id } = clay.batches.find((batch) => batch.leach !== null && batch.leach.drainedAt === null)!;
    const days = [plusDays(TODAY, -2), plusDays(TODAY, 2), plusDays(TODAY, 9)];
    expect((await keep({ clay: { [id]: days } })).status).toBe(200);
    expect((await kit.call<ClayRoom>('GET', '/api/clay')).body.byPlan).toEqual({ [id]: days[1] });
  });
  it('two devices do not write over each other, and what is wrong is said', async () => {
    const { kept, problem, on } = await season();
    const first = await keep({ did: { kind: 'mended', moved: 1 } });
    expect(first.status).toBe(200);
    const second = await keep({ basis: kept!.madeAt });
    expect(second.status).toBe(409);
    expect(second.body).toMatchObject({ code: 'changed-since' });
    const ghost = plannedPots(problem, greedyPlan(problem), on)
      .slice(0, 1)
      .map((pot) => ({ ...pot, potId: randomUUID() }));
    expect((await keep({ pots: ghost })).status).toBe(404);
  });
  it('let go, pots are due by their own days', async () => {
    const act = (body: SeasonAct) => kit.call<{ eventId: string }>('PUT', `/api/season/acts/${randomUUID()}`, body);
    expect((await act({ kind: 'dropPlan' })).status).toBe(200);
    expect((await season()).kept).toBeNull();
    const round = (await kit.call<RoundView>('GET', '/api/round')).body;
    expect(round.places.flatMap((p) => p.pots).every((pot) => pot.byPlan === null)).toBe(true);
  });
  it('days away are no working days; away backwards or over is refused at its field', async () => {
    const act = (body: SeasonAct) => kit.call<{ eventId: string }>('PUT', `/api/season/acts/${randomUUID()}`, body);
    const awayId = randomUUID();
    const [from, until] = [plusDays(TODAY, 3), plusDays(TODAY, 11)];
    for (const bad of [
      { fromDate: until, untilDate: from },
      { fromDate: plusDays(TODAY, -9), untilDate: plusDays(TODAY, -2) },
      { fromDate: from, untilDate: plusDays(TODAY, 900) },
    ]) {
      const refused = await act({ kind: 'away', awayId, ...bad });
      expect(refused.status).toBe(400);
      expect(refused.body).toMatchObject({ errors: [{ path: 'untilDate' }] });
    }
    expect((await act({ kind: 'away', awayId, fromDate: from, untilDate: until })).status).toBe(200);
    const { problem, away } = await season();
    expect(away).toEqual([{ id: awayId, fromDate: from, untilDate: until }]);
    expect(problem.works.slice(3, 12).some(Boolean)).toBe(false);
    expect(problem.works[12]).toBe(true);
    expect((await act({ kind: 'notAway', awayId })).status).toBe(200);
    expect((await season()).away).toEqual([]);
  });
});

describe('the plan as a calendar', () => {
  const events = (text: string) => new ICAL.Component(ICAL.parse(text) as never).getAllSubcomponents('vevent');
  const get = async (url: string) => {
    const answer = await kit.app.inject({ method: 'GET', url, headers: { host: '127.0.0.1:4180' } });
    return { status: answer.statusCode, text: answer.body };
  };
  const keep = async (pots: KeepPlan['pots']) => {
    const view = await season();
    const body = {
      basis: view.kept?.madeAt ?? null,
      aim: 'nobodyLate',
      minutesADay: null,
      did: { kind: 'kept' },
      clay: {},
      pots,
    };
    return kit.call<{ eventId: string }>('PUT', `/api/season/plan/${randomUUID()}`, body);
  };
  const field = (event: ICAL.Component, name: string) => String(event.getFirstPropertyValue(name));

  it('is read by another: a day with work an event of its own, the same pots, an alarm; cancelled where it was planned once', async () => {
    const view = await season();
    const [first, second] = view.problem.lots.flatMap((lot) => lot.potIds);
    const visit = (on: string) => [{ on, late: 0, soaks: [] }];
    const days = [plusDays(TODAY, 2), plusDays(TODAY, 5)];
    await keep([
      { potId: first!, visits: visit(days[0]!), pins: [], nots: [] },
      { potId: second!, visits: visit(days[0]!), pins: [], nots: [] },
    ]);
    const before = events((await get('/api/season/plan.ics')).text);
    const on = (list: ICAL.Component[], day: string) => list.find((event) => field(event, 'uid').includes(day));
    expect(field(on(before, days[0]!)!, 'summary')).toBe('Water 2 pots');
    expect(field(on(before, days[0]!)!, 'dtstart')).toBe(days[0]);
    expect(on(before, days[0]!)!.getAllSubcomponents('valarm')).toHaveLength(1);
    // Moved: the old day is told as cancelled, with a higher sequence.
    await keep([
      { potId: first!, visits: visit(days[1]!), pins: [], nots: [] },
      { potId: second!, visits: visit(days[1]!), pins: [], nots: [] },
    ]);
    const after = events((await get('/api/season/plan.ics')).text);
    expect(field(on(after, days[0]!)!, 'status')).toBe('CANCELLED');
    expect(Number(field(on(after, days[0]!)!, 'sequence'))).toBeGreaterThan(
      Number(field(on(before, days[0]!)!, 'sequence')),
    );
    expect(field(on(after, days[1]!)!, 'status')).toBe('CONFIRMED');
    expect(new Set(after.map((event) => field(event, 'uid'))).size).toBe(after.length);
  });
  it('tells an hour as an instant, right across the change of the clocks', async () => {
    const view = await season();
    const [first] = view.problem.lots.flatMap((lot) => lot.potIds);
    const visits = ['2027-03-27', '2027-03-29'].map((on) => ({ on, late: 0, soaks: [] }));
    await keep([{ potId: first!, visits, pins: [], nots: [] }]);
    const { text } = await get('/api/season/plan.ics?at=08:00');
    const zone = (await kit.call<{ zone: string }>('GET', '/api/shell')).body.zone;
    for (const on of ['2027-03-27', '2027-03-29']) {
      const event = events(text).find((one) => field(one, 'uid').includes(on))!;
      const start = (event.getFirstPropertyValue('dtstart') as ICAL.Time).toJSDate();
      const clock = start.toLocaleTimeString('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' });
      expect(clock).toBe('08:00');
    }
    expect((await get('/api/season/plan.ics?at=8')).status).toBe(400);
  });
  it('tells the changes of new clay’s water too, on days of their own where nothing else is done', async () => {
    const { id } = (await kit.call<ClayRoom>('GET', '/api/clay')).body.batches.find(({ leach }) => leach !== null)!;
    const on = plusDays(TODAY, 3);
    const view = await season();
    const body = { basis: view.kept?.madeAt ?? null, aim: 'nobodyLate', minutesADay: null, did: { kind: 'kept' } };
    await kit.call('PUT', `/api/season/plan/${randomUUID()}`, { ...body, clay: { [id]: [on] }, pots: [] });
    const event = events((await get('/api/season/plan.ics')).text).find((one) => field(one, 'uid').includes(on))!;
    expect(field(event, 'summary')).toBe('Change the clay’s water');
    expect(field(event, 'description')).toContain('batch');
  });
  it('is subscribed to by an address that is shown once and ends when another is made', async () => {
    const make = () => kit.call<{ path: string }>('PUT', `/api/season/calendar/${randomUUID()}`, {});
    const { path } = (await make()).body;
    expect((await get(path)).text).toMatch(/^BEGIN:VCALENDAR/);
    expect((await get('/calendar/guess.ics')).status).toBe(404);
    const renewed = (await make()).body.path;
    expect((await get(path)).status).toBe(404);
    expect((await get(renewed)).status).toBe(200);
  });
});

describe('the sitter’s sheet', () => {
  it('names who is filled before, who is watered when, and who is first on coming back; nobody it cannot find', async () => {
    const awayId = randomUUID();
    const act = (body: SeasonAct) => kit.call('PUT', `/api/season/acts/${randomUUID()}`, body);
    await act({ kind: 'away', awayId, fromDate: plusDays(TODAY, 3), untilDate: plusDays(TODAY, 16) });
    const { body: sheet } = await kit.call<SitterSheet>('GET', `/api/season/sitter/${awayId}`);
    expect(sheet.visits.length).toBeGreaterThan(0);
    expect(sheet.places.flatMap((place) => place.pots)).toHaveLength((await season()).pots);
    for (const { on, pots, litres } of sheet.visits) {
      expect(on >= sheet.fromDate && on <= sheet.untilDate).toBe(true);
      expect(litres).toBeCloseTo(pots.reduce((sum, pot) => sum + pot.ml, 0) / 1000, 9);
    }
    expect(sheet.back[0]!.share).toBeLessThanOrEqual(sheet.back.at(-1)!.share);
    expect((await kit.call('GET', `/api/season/sitter/${randomUUID()}`)).status).toBe(404);
  });
});

describe('the year', () => {
  it('twelve months, each soak in its own, what was done counted, and what the months ask', async () => {
    const { body: year } = await kit.call<YearView>('GET', '/api/season/year');
    expect(year.months).toHaveLength(12);
    expect(year.months[year.now]).toBe(TODAY.slice(0, 7));
    const byDaylight = year.rows.find(({ place, what }) => place === 'East sill' && what === 'magnesium soak')!;
    const open = year.months.filter((_, n) => byDaylight.due![n]).map((month) => Number(month.slice(5)));
    expect(open).toContain(5);
    expect(open).not.toContain(12);
    const [{ n }] = (await kit.rows<{ n: number }>(
      `SELECT count(*) AS n FROM care_event WHERE kind = 'supplementStarted' AND voidedBy IS NULL AND localDate >= ?`,
      [`${year.months[0]}-01`],
    )) as [{ n: number }];
    const soaks = year.rows.filter(({ what }) => /soak/.test(what));
    expect(soaks.reduce((sum, { done }) => sum + done.reduce((all, one) => all + one, 0), 0)).toBe(n);
    // Waterings of a month come to what six weeks of the plan take, but for soaks and clay.
    const { problem } = await season();
    const perDay = problem.lots.reduce((sum, lot) => sum + lot.feeds[0]!.stillL / lot.feeds[0]!.everyDays, 0);
    expect(year.still!.waterings[year.now]! / 30.44).toBeCloseTo(perDay, 1);
    expect(year.still!.waterings.slice(0, year.now)).toEqual([0, 0, 0]);
    for (const { emptyOn } of year.bottles) expect(emptyOn === null || emptyOn >= TODAY).toBe(true);
  });
});
