import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Problem } from '../../contract/errors.ts';
import type { PotsView, PotView } from '../../contract/pots.ts';
import type { SchoolsView, WhatChanges } from '../../contract/regimens.ts';
import type { ManyDone } from '../../contract/common.ts';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';
import type { ClockView } from '../../contract/shell.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(14);
});
afterAll(() => kit.close());

type Answer = { eventId: string; repeated: boolean } & Omit<Problem, 'status'>;
const round = async () => (await kit.call<RoundView>('GET', '/api/round')).body;
const pot = async (code: string): Promise<RoundPot> =>
  (await round()).places.flatMap((p) => p.pots).find((p) => p.code === code)!;
const page = async (id: string) => (await kit.call<PotView>('GET', `/api/pots/${id}`)).body;
const act = (body: object, id = testId()) =>
  kit.call<Answer>('PUT', `/api/round/acts/${id}`, body).then((r) => ({ id, ...r }));
const onPots = (body: object, id = testId()) =>
  kit.call<Answer>('PUT', `/api/pots/acts/${id}`, body).then((r) => ({ id, ...r }));
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const clocks = async () => (await kit.call<{ clocks: ClockView[] }>('GET', '/api/shell')).body.clocks;
const NOTHING = { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null };
const fill = (p: RoundPot, more: object = {}) => ({
  kind: 'filled',
  potId: p.id,
  dueOn: p.due.dueOn,
  batchId: null,
  pouredMl: p.fillMl,
  flushMl: p.flushMl,
  oldReservoir: NOTHING,
  ppmMeterId: null,
  phMeterId: null,
  ...more,
});
const begin = (p: RoundPot, more: object = {}) => ({
  kind: 'supplement',
  potId: p.id,
  dueOn: p.due.dueOn,
  what: p.soak!.what,
  way: p.soak!.way,
  pouredMl: p.soak!.pouredMl,
  holdMinutes: p.soak!.way === 'soak' ? p.soak!.holdMinutes : null,
  batchId: null,
  clockId: testId(),
  ...more,
});

describe('the day’s work', () => {
  it('gathers feeds, plain water, a soak for four with one pair of hands, and a basket’s spray', async () => {
    const { mixes, minutes, still } = await round();
    expect(mixes.map((m) => [m.letter, m.use, m.pots, m.noMixing])).toEqual([
      ['A', 'feed', 9, false],
      ['B', 'feed', 2, false],
      ['C', 'feed', 2, false],
      ['D', 'water', 1, true],
      ['E', 'soak', 4, false],
      ['F', 'spray', 1, false],
    ]);
    expect(mixes[4]!.parts).toEqual([{ kind: 'magnesium', aim: { kind: 'net', ppm: 100 } }]);
    expect(mixes[4]!.stagger.map((t) => t.startMin)).toEqual([0, 6, 12, 18]);
    expect(mixes[0]!.oneWith).toMatchObject({ letter: 'B', netPpm: expect.closeTo(85.5, 1) as number });
    expect(minutes).toBeGreaterThan(60);
    expect(still!.needL).toBeGreaterThan(5);
    expect(still!.waits).toEqual([]);
  });
  it('a soak has its clock; drained, the pot wants its flush and fill; all of it comes back', async () => {
    const p = await pot('L-05');
    expect(p.soak).toMatchObject({ what: 'magnesium', way: 'soak', given: false, holdMinutes: 30 });
    const body = begin(p);
    const started = await act(body);
    expect(started.status).toBe(200);
    expect((await act(body, started.id)).body.repeated).toBe(true);
    expect((await act(begin(p))).body.code).toBe('in-soak');
    expect((await pot('L-05')).inSoak).toMatchObject({ id: started.id });
    expect((await clocks()).find((c) => c.subjectId === p.id)!.words).toMatch(/Soak over/);
    // In the middle of it nobody moves it, and nobody fills it.
    const place = (await kit.call<PotsView>('GET', '/api/pots')).body.places[0]!;
    expect((await onPots({ kind: 'move', potIds: [p.id], placeId: place.id, beforePotId: null })).body).toMatchObject({
      code: 'in-soak',
    });
    expect((await act(fill(p))).body.code).toBe('in-soak');
    const drained = await act({ kind: 'drained', potId: p.id, supplementId: started.id });
    expect(drained.status).toBe(200);
    expect((await clocks()).some((c) => c.subjectId === p.id)).toBe(false);
    const after = await pot('L-05');
    expect(after).toMatchObject({ inSoak: null, soak: { given: true } });
    expect((await undo(started.id)).body.code).toBe('cannot-undo');
    const filled = await act(
      fill(after, {
        look: { cues: { leaves: 'old pale' }, note: 'paler than in spring', growths: 2, leafMm: 1.4 },
        turn: 0,
      }),
    );
    expect(filled.status).toBe(200);
    expect((await pot('L-05')).done?.kind).toBe('filled');
    const view = await page(p.id);
    expect(view.visits.filter((v) => v.on === '2026-11-25').map((v) => v.kind)).toEqual(['soaked', 'filled']);
    expect(view.looks.at(-1)!.look).toMatchObject({ cues: { leaves: 'old pale' }, growths: 2 });
    expect(view.coming[0]!.soaks).toEqual([]);
    for (const { id } of [filled, drained, started]) expect((await undo(id)).status).toBe(200);
    expect(await pot('L-05')).toMatchObject({ done: null, inSoak: null, soak: { given: false } });
  });
  it('the same round from two devices: the second is told, and nothing is twice', async () => {
    const p = await pot('L-06');
    const first = await act(begin(p));
    await act({ kind: 'drained', potId: p.id, supplementId: first.id });
    const second = await act(begin(p));
    expect(second.body).toMatchObject({ code: 'already-logged', existing: { eventId: first.id } });
    expect(
      await kit.rows('SELECT 1 FROM care_event WHERE potId = ? AND kind = ? AND localDate = ? AND voidedBy IS NULL', [
        p.id,
        'supplementStarted',
        '2026-11-25',
      ]),
    ).toHaveLength(1);
  });
  it('a basket is sprayed, not filled', async () => {
    const p = await pot('L-10');
    expect(p.soak).toMatchObject({ way: 'spray' });
    expect((await act(begin(p, { way: 'soak' }))).body.errors![0]!.path).toBe('way');
    expect((await act(begin(p))).status).toBe(200);
    expect(await pot('L-10')).toMatchObject({ inSoak: null, soak: { given: true, way: 'spray' } });
    expect((await act(begin(await pot('L-07'), { pouredMl: 9000 }))).body.errors![0]).toMatchObject({
      path: 'pouredMl',
      message: expect.stringMatching(/to its brim/) as unknown,
    });
  });
  it('plain water is poured as it is, and known for what it reads', async () => {
    const p = await pot('L-03');
    expect(p.watering).toMatchObject({ what: 'plain', waterName: 'Still water' });
    const tank = async () =>
      (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body.waters.find((w) => w.id === p.watering.waterId)!.stock!
        .litres;
    const before = await tank();
    const done = await act(
      fill(p, { waterId: p.watering.waterId, flushWith: [{ waterId: p.watering.waterId, ml: 500 }], flushMl: 500 }),
    );
    expect(done.status).toBe(200);
    expect(before - (await tank())).toBeCloseTo(0.5 + p.fillMl / 1000, 3);
    const visit = (await page(p.id)).visits.at(-1)!;
    expect(visit.words).toMatch(/plain water/);
    expect(visit.pouredPpm).toBeGreaterThan(2);
    expect(visit.pouredPpm).toBeLessThan(25);
    expect(
      (
        await act(
          fill(p, { waterId: p.watering.waterId, flushWith: [{ waterId: p.watering.waterId, ml: 500 }], flushMl: 500 }),
          done.id,
        )
      ).body.repeated,
    ).toBe(true);
  });
  it('a top-up in a hurry leaves the due day, and what stands there is more and thinner', async () => {
    const p = await pot('R-01');
    const water = (await round()).waters.find((w) => w.name === 'Still water')!;
    expect((await act({ kind: 'toppedUp', potId: p.id, waterId: null, ml: 80 })).body.errors![0]!.path).toBe('waterId');
    expect((await act({ kind: 'toppedUp', potId: p.id, waterId: water.id, ml: 8000 })).body.errors![0]!.path).toBe(
      'ml',
    );
    const up = await act({ kind: 'toppedUp', potId: p.id, waterId: water.id, ml: 80 });
    expect(up.status).toBe(200);
    const after = await pot('R-01');
    expect(after.due.dueOn).toBe(p.due.dueOn);
    expect(after.expected.leftMl).toBe(p.expected.leftMl! + 80);
    expect(after.expected.ppm!).toBeLessThan(p.expected.ppm!);
    expect((await page(p.id)).visits.at(-1)).toMatchObject({ kind: 'toppedUp', pouredMl: 80 });
  });
  it('read where it stands, it goes on from what was found; put right and taken back, from that', async () => {
    const p = await pot('R-03');
    const { ppmMeter, phMeter, places } = await round();
    const read = (figures: object, id = testId()) =>
      act({ kind: 'reread', potId: p.id, ...NOTHING, ppmMeterId: ppmMeter!.id, phMeterId: null, ...figures }, id);
    expect((await read({})).body.errors![0]).toMatchObject({
      path: 'ppm',
      message: expect.stringMatching(/Type what was read/) as string,
    });
    expect((await read({ leftMl: 90_00 })).body.errors![0]!.path).toBe('leftMl');
    const found = await read({ ppm: { kind: 'value', value: 240 }, ph: { kind: 'value', value: 7.1 }, leftMl: 45 });
    expect(found.status).toBe(200);
    expect((await pot('R-03')).expected).toMatchObject({ ppm: 240, ph: 7.1, leftMl: 45 });
    expect((await pot('R-03')).due).toEqual(p.due);
    expect((await round()).places.flatMap((x) => x.pots).filter((x) => x.done).length).toBe(
      places.flatMap((x) => x.pots).filter((x) => x.done).length,
    );
    expect((await page(p.id)).visits.at(-1)).toMatchObject({
      kind: 'reread',
      words: expect.stringMatching(/^Read where it stands, 45.mL in it$/) as string,
      cameOutPpmOnScale: 240,
    });
    expect(
      (await read({ ppm: { kind: 'value', value: 240 }, ph: { kind: 'value', value: 7.1 }, leftMl: 45 }, found.id)).body
        .repeated,
    ).toBe(true);
    const shown = await kit.call<{ payload: Record<string, unknown> }>('GET', `/api/book/acts/${found.id}`);
    const right = await kit.call('PUT', `/api/book/corrections/${testId()}`, {
      targetId: found.id,
      payload: { ...shown.body.payload, ppm: { kind: 'value', value: 140 } },
    });
    expect(right.status).toBe(200);
    expect((await pot('R-03')).expected).toMatchObject({ ppm: 140, ph: 7.1, leftMl: 45 });
    const last = (await page(p.id)).visits.at(-1)!;
    expect(last.was).toBe('240 ppm');
    expect((await undo(last.eventId)).status).toBe(200);
    expect((await pot('R-03')).expected).toMatchObject({ ppm: 240 });
    expect((await undo(found.id)).status).toBe(200);
    expect((await pot('R-03')).expected).toEqual(p.expected);
    // The demo's pH pen was found off: what it shows is kept, drawn hollow, and moves nothing.
    const off = await read({ ph: { kind: 'value', value: 7.1 }, phMeterId: phMeter!.id });
    expect((await page(p.id)).visits.at(-1)).toMatchObject({ kind: 'reread', tainted: ['cameOutPh'] });
    expect((await pot('R-03')).expected).toEqual(p.expected);
    await undo(off.id);
  });
  it('a look by itself stands with the others; a grade there is none of is refused', async () => {
    const p = await pot('R-02');
    const look = (cues: object) =>
      act({ kind: 'looked', potId: p.id, look: { cues, note: '', growths: null, leafMm: null } });
    expect((await look({ crust: 'purple' })).status).toBe(400);
    expect((await look({ crust: 'ring' })).status).toBe(200);
    expect((await page(p.id)).looks.at(-1)!.look.cues).toEqual({ crust: 'ring' });
    expect((await pot('R-02')).drawing.salts).toBe(1);
  });
});

describe('photos of a pot', () => {
  const send = (potId: string, image: Buffer, id = testId()) =>
    kit
      .call<Answer>('PUT', `/api/pots/${potId}/photos/${id}`, { image: image.toString('base64') })
      .then((r) => ({ id, ...r }));
  it('is made small and kept; no picture, and one of 40 MB, are refused in plain words', async () => {
    const { default: sharp } = await import('sharp');
    const png = await sharp({ create: { width: 2400, height: 1200, channels: 3, background: '#2f6b45' } })
      .png()
      .toBuffer();
    const p = await pot('R-02');
    const kept = await send(p.id, png);
    expect(kept.status).toBe(200);
    const [row] = await kit.rows<{ jpeg: Buffer }>('SELECT jpeg FROM photo WHERE id = ?', [kept.id]);
    const small = await sharp(row!.jpeg).metadata();
    expect([small.width, small.height]).toEqual([1400, 700]);
    expect((await send(p.id, png, kept.id)).body.repeated).toBe(true);
    expect((await page(p.id)).photos.map((x) => x.id)).toEqual([kept.id]);
    expect(
      (
        await send(
          p.id,
          Buffer.from(
            'no picture at all, only words, and a good hundred of them so that it is long enough to be taken for one',
          ),
        )
      ).body,
    ).toMatchObject({
      code: 'invalid-request',
      detail: expect.stringMatching(/not a picture/) as unknown,
    });
    const broken = Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xe0]), Buffer.alloc(400, 7)]);
    expect((await send(p.id, broken)).body.detail).toMatch(/not a picture/);
    const huge = await send(p.id, Buffer.alloc(40 * 1024 * 1024));
    expect(huge.status).toBeGreaterThanOrEqual(400);
    expect(huge.body.detail).toMatch(/25 MB/);
    expect((await undo(kept.id)).status).toBe(200);
    expect((await page(p.id)).photos).toEqual([]);
  });
});

describe('regimens', () => {
  const schools = async () => (await kit.call<SchoolsView>('GET', '/api/pots/schools')).body;
  const put = (values: object, regimenId = testId()) =>
    onPots({ kind: 'putRegimen', regimenId, values }).then((r) => ({ regimenId, ...r }));
  it('one is composed from a school, and what does not fit is said at its part', async () => {
    const { schools: all } = await schools();
    expect(all.filter((s) => s.source === 'ours').map((s) => s.title)).toEqual(['Soaks in season, weak feed between']);
    const soaks = all.find((s) => s.school === 'soaksInSeason')!.values;
    expect(soaks.feeds[0]!.netPpm).toBe(300);
    expect((await put({ ...soaks, name: 'x', feeds: [] })).body.errors![0]).toMatchObject({ path: 'values.feeds' });
    expect((await put({ ...soaks, name: 'x', feeds: [{ ...soaks.feeds[0], days: 0 }] })).body.errors![0]).toMatchObject(
      { path: 'values.feeds.0.days' },
    );
    expect(
      (await put({ ...soaks, name: 'x', soaks: [{ ...soaks.soaks[0], months: [] }] })).body.errors![0],
    ).toMatchObject({ path: 'values.soaks.0.months' });
    expect((await put({ ...soaks, name: 'Dilute 90, weekly' })).body.errors![0]).toMatchObject({ path: 'values.name' });
  });
  it('one may say mL a litre or so much of the label, and the round asks for just that', async () => {
    const all = (await schools()).schools;
    const dilute = all.find((s) => s.school === 'constantDilute')!.values;
    const feeds = (dose: object) => [{ ...dilute.feeds[0]!, netPpm: 1, dose }];
    expect((await put({ ...dilute, name: 'x', feeds: feeds({ by: 'perL', units: 0 }) })).body.errors![0]).toMatchObject(
      { path: 'values.feeds.0.dose.units' },
    );
    const [byLabel, byMl] = [
      await put({ ...dilute, name: 'Half the label', feeds: feeds({ by: 'label', share: 0.5 }) }),
      await put({ ...dilute, name: 'By the mL', feeds: feeds({ by: 'perL', units: 0.4 }) }),
    ];
    const [a, b] = await Promise.all(['L-01', 'L-02'].map(pot));
    const follow = (potId: string, regimenId: string) =>
      onPots({ kind: 'regimen', potIds: [potId], regimenId, reason: 'as the label says' });
    const followed = [await follow(a!.id, byLabel.regimenId), await follow(b!.id, byMl.regimenId)];
    const view = (await kit.call<PotsView>('GET', '/api/pots')).body;
    const kept = view.regimens.find((r) => r.id === byMl.regimenId)!;
    expect(kept.words).toBe('feed, 0.4 mL a litre, every 7 days, flush first');
    // What it comes to is reckoned from the bottle in use, and is no round figure that was typed.
    expect(kept.values.feeds[0]!.netPpm).toBeGreaterThan(10);
    const mixes = (await round()).mixes;
    const mixOf = (id: string) => mixes.find((m) => m.potIds.includes(id));
    expect([mixOf(a!.id), mixOf(b!.id)]).toMatchObject([
      {
        name: 'Feed, half the label’s dose',
        parts: [{ kind: 'feed', aim: { kind: 'label', share: 0.5 } }],
        oneWith: null,
      },
      { name: 'Feed, 0.4 mL a litre', parts: [{ kind: 'feed', aim: { kind: 'perL', units: 0.4 } }], oneWith: null },
    ]);
    for (const act of followed) expect((await undo(act.id)).status).toBe(200);
  });
  it('before it is applied the weeks ahead are shown; applied from a day on, history stays judged by what held then', async () => {
    const all = (await schools()).schools;
    const { regimenId } = await put({
      ...all.find((s) => s.school === 'soaksInSeason')!.values,
      name: 'Soaks and strong refill',
    });
    const three = await Promise.all(['L-01', 'L-02', 'R-05'].map(pot));
    const potIds = three.map((p) => p.id);
    const { body: changes } = await kit.call<WhatChanges>('POST', `/api/pots/regimens/${regimenId}/what-changes`, {
      potIds,
    });
    expect(changes.pots.map((p) => p.code).sort()).toEqual(['L-01', 'L-02', 'R-05']);
    const visitsOf = (code: string) => changes.pots.find((p) => p.code === code)!.visits;
    expect(visitsOf('L-01').map((v) => v.on)).toEqual([
      '2026-11-25',
      '2026-12-02',
      '2026-12-09',
      '2026-12-16',
      '2026-12-23',
      '2026-12-30',
      '2027-01-06',
    ]);
    expect(visitsOf('L-01').filter((v) => v.soaks.length > 0)).toHaveLength(3);
    expect(visitsOf('R-05').filter((v) => v.soaks.length > 0)).toHaveLength(0);
    expect(changes.pots.find((p) => p.code === 'R-05')!.remarks.join(' ')).toMatch(/April to October, by daylight/);
    expect(changes.before.soaks).toBe(0);
    expect(changes.after.soaks).toBe(6);
    const past = await onPots({ kind: 'regimen', potIds, regimenId, reason: 'test', fromDate: '2026-11-20' });
    expect(past.body.errors![0]).toMatchObject({ path: 'fromDate' });
    const later = await onPots({
      kind: 'regimen',
      potIds,
      regimenId,
      reason: 'after the frost',
      fromDate: '2026-12-01',
    });
    expect(later.status).toBe(200);
    expect((await page(potIds[0]!)).nextRegimens).toMatchObject([
      { name: 'Soaks and strong refill', from: '2026-12-01' },
    ]);
    // Two that overlap: the later word holds from its day on.
    const now = await onPots({ kind: 'regimen', potIds, regimenId, reason: 'not to wait' });
    expect(now.status).toBe(200);
    const view = await page(potIds[0]!);
    expect(view.regimen).toMatchObject({ name: 'Soaks and strong refill', reason: 'not to wait' });
    expect(view.earlierRegimens.map((r) => r.name)).toEqual(['Dilute 90, weekly']);
    expect((await pot('L-01')).soak).toMatchObject({ what: 'magnesium' });
    expect((await undo(now.id)).status).toBe(200);
    expect((await undo(later.id)).status).toBe(200);
    expect((await page(potIds[0]!)).regimen.name).toBe('Dilute 90, weekly');
  });
  it('a pot that is to dry before its soak waits for it, no longer than its outer limit', async () => {
    const soaks = (await schools()).schools.find((s) => s.school === 'soaksInSeason')!.values;
    const p = await pot('L-07');
    const before = (await page(p.id)).pot.due.dueOn;
    const follow = async (name: string, dryBeforeSoak: boolean) => {
      const { regimenId } = await put({ ...soaks, name, dryBeforeSoak });
      const { id } = await onPots({ kind: 'regimen', potIds: [p.id], regimenId, reason: 'a trial of drying' });
      const found = (await page(p.id)).pot;
      await undo(id);
      return found;
    };
    const wet = await follow('Never dry', false);
    const dries = await follow('Dry before a soak', true);
    expect(dries.stand.dryInDays).toBeGreaterThan(0);
    expect(wet.due.dueOn <= '2026-11-25').toBe(true);
    const [day, limit] = [dries.stand.dryInDays!, soaks.latestDays!];
    expect(dries.due.daysLate).toBeLessThan(0);
    expect(-dries.due.daysLate).toBeLessThanOrEqual(Math.max(day, limit));
    expect(before <= dries.due.dueOn).toBe(true);
  });
  it('a rota is followed turn by turn', async () => {
    const split = (await schools()).schools.find((s) => s.school === 'split')!.values;
    const { regimenId } = await put({ ...split, name: 'Split week' });
    const p = await pot('P-01');
    await onPots({ kind: 'regimen', potIds: [p.id], regimenId, reason: 'more light' });
    const first = await pot('P-01');
    expect(first.watering).toMatchObject({ what: 'feed', turn: 0 });
    await act(fill(first, { turn: 0 }));
    const view = await page(p.id);
    expect(view.coming.slice(0, 2).map((v) => [v.on, v.words])).toEqual([
      ['2026-11-29', 'calcium–magnesium 50'],
      ['2026-12-02', 'feed 180'],
    ]);
  });
  it('last summer’s change is on the page of its pots, with when and why', async () => {
    const p = await pot('L-07');
    const { regimen, earlierRegimens } = await page(p.id);
    expect(regimen).toMatchObject({ name: 'Dilute 90, magnesium monthly' });
    expect(regimen.reason).toMatch(/Pale older leaves/);
    expect(earlierRegimens).toHaveLength(1);
  });
});

describe('too little still water', () => {
  it('a soak asked for comes once, at the next watering, in season or not, and is gone once it was given', async () => {
    const due = (await round()).places
      .flatMap((p) => p.pots)
      .find((p) => p.soak === null && p.done === null && p.due.daysLate >= 0 && p.drawing.form === 'clay')!;
    const ask = { kind: 'soak', potIds: [due.id], planIds: [testId()], what: 'magnesium', fromDate: '2026-11-25' };
    expect((await onPots({ ...ask, fromDate: '2026-11-20' })).body.errors).toEqual([
      { path: 'fromDate', message: expect.stringMatching(/past/) },
    ]);
    const { id } = await onPots(ask);
    expect((await pot(due.code)).soak).toMatchObject({ what: 'magnesium', way: 'soak' });
    expect((await page(due.id)).coming[0]!.soaks).toEqual([expect.stringMatching(/^magnesium soak, 100 ppm/)]);
    expect((await onPots({ ...ask, planIds: [testId()] })).body.detail).toMatch(/asked for already/);
    const given = await act(begin(await pot(due.code)));
    expect((await page(due.id)).coming.flatMap((c) => c.soaks)).toEqual([]);
    const plans = async () =>
      (await kit.call<{ plans: { words: string; subjectId: string }[] }>('GET', '/api/shell/plans')).body.plans.filter(
        (p) => p.subjectId === due.id,
      );
    expect(await plans()).toEqual([]);
    await undo(given.id);
    expect(await plans()).toHaveLength(1);
    await undo(id);
    expect((await pot(due.code)).soak).toBeNull();
  });
  it('says which pots wait and why', async () => {
    const { waters } = (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body;
    const still = waters.find((w) => w.values.kind === 'still')!;
    await kit.call('PUT', `/api/shelf/acts/${testId()}`, { kind: 'countWater', waterId: still.id, litres: 3 });
    const view = await round();
    expect(view.still!.litres).toBeLessThan(3.1);
    expect(view.still!.waits.length).toBeGreaterThan(0);
    const waiting = view.places.flatMap((p) => p.pots).filter((p) => p.waits !== null);
    expect(waiting.map((p) => p.code).sort()).toEqual([...view.still!.waits].sort());
    expect(waiting[0]!.waits).toMatch(/harms this one least/);
  });
});

describe('a strength without its pen', () => {
  it('is refused at its own field, with what to do; everything else is taken without one', async () => {
    const p = (await round()).places
      .flatMap((x) => x.pots)
      .find((x) => x.due.daysLate >= 0 && x.done === null && !x.soak)!;
    const ppm = { kind: 'value', value: 180 };
    const at = async (body: object) => (await act(body)).body.errors?.map((e) => e.path);
    expect(await at(fill(p, { oldReservoir: { ...NOTHING, ppm } }))).toEqual(['oldReservoir.ppm']);
    expect(await at(fill(p, { runOffPpm: ppm }))).toEqual(['runOffPpm']);
    expect(await at({ kind: 'reread', potId: p.id, ...NOTHING, ppm, ppmMeterId: null, phMeterId: null })).toEqual([
      'ppm',
    ]);
    const taken = await act(fill(p, { oldReservoir: { ...NOTHING, ph: { kind: 'value', value: 6.4 }, leftMl: 40 } }));
    expect(taken.status).toBe(200);
  });
});

describe('what is read', () => {
  const set = (body: object, id = testId()) =>
    kit.call<Answer>('PUT', `/api/round/reading/${id}`, body).then((r) => ({ id, ...r }));
  const howMuch = (choice: object) => set({ kind: 'howMuch', choice });

  it('is everything until the grower chooses; what is asked takes fewer dips, each with its reason and its turn', async () => {
    const before = (await round()).reading;
    expect(before).toMatchObject({ choice: { how: 'everything' }, made: before.all, missed: 0 });
    expect(before.asked).toBeLessThan(before.all);
    const { id } = await howMuch({ how: 'asked' });
    const { reading, places } = await round();
    expect(reading).toMatchObject({ choice: { how: 'asked' }, made: before.asked, missed: 0 });
    const asks = places.flatMap((x) => x.pots).flatMap((p) => (p.read ? [p.read.ppm, p.read.ph] : []));
    expect(asks).toHaveLength(before.all);
    expect(asks.filter((ask) => ask.asked)).toHaveLength(before.asked);
    for (const ask of asks) {
      expect(ask.words.length).toBeGreaterThan(10);
      expect(ask.asked === null).toBe(ask.turnOn !== null);
    }
    expect((await set({ kind: 'howMuch', choice: { how: 'asked' } }, id)).body.repeated).toBe(true);
    await undo(id);
    expect((await round()).reading.choice).toEqual({ how: 'everything' });
  });
  it('within a budget the most telling come first and what is missed is told; nought is nothing; dips made count', async () => {
    const { asked } = (await round()).reading;
    const { id } = await howMuch({ how: 'atMost', most: 2, of: 'minutes' });
    const few = (await round()).reading;
    expect(few.made).toBeLessThanOrEqual(3);
    expect(few.made + few.missed).toBe(asked);
    await howMuch({ how: 'atMost', most: 0, of: 'dips' });
    expect((await round()).reading).toMatchObject({ made: 0, missed: asked, pots: 0 });
    await howMuch({ how: 'atMost', most: 5, of: 'dips' });
    const p = (await round()).places
      .flatMap((x) => x.pots)
      .find((x) => x.due.daysLate >= 0 && x.done === null && !x.soak && !x.inSoak)!;
    const pen = (await round()).phMeter!;
    const read = { ...NOTHING, ph: { kind: 'value', value: 6.4 } };
    const made = await act(fill(p, { oldReservoir: read, phMeterId: pen.id, askedFor: { ppm: null, ph: 'turn' } }));
    expect(made.status).toBe(200);
    expect((await round()).reading.made).toBeLessThanOrEqual(4);
    expect(
      (await kit.rows<{ payload: string }>('SELECT payload FROM care_event WHERE id = ?', [made.id]))[0]!.payload,
    ).toContain('"askedFor":{"ppm":null,"ph":"turn"}');
    await undo(made.id);
    expect((await howMuch({ how: 'atMost', most: -1, of: 'dips' })).body.errors?.[0]?.message).toBe('Nought or more.');
    expect((await howMuch({ how: 'everything' })).status).toBe(200);
    await undo(id);
  });
  it('a limit of pH is the judgement’s', async () => {
    const near = (await round()).places.flatMap((x) => x.pots).filter((x) => x.read?.ph.asked === 'near');
    expect(near.length).toBeGreaterThan(0);
    for (const { read } of near) expect(read!.ph.words).toMatch(/(near|past) pH (7\.0|5\.2)\.$/);
  });
  it('a pot that is never asked is left whatever it may read, and told; asked again it is as before', async () => {
    await howMuch({ how: 'asked' });
    const p = (await round()).places.flatMap((x) => x.pots).find((x) => x.read?.ph.asked || x.read?.ppm.asked)!;
    const { id } = await set({ kind: 'never', potId: p.id, never: true });
    expect((await pot(p.code)).read).toMatchObject({ never: true, ppm: { asked: null }, ph: { asked: null } });
    expect((await round()).reading.never).toEqual([p.code]);
    await set({ kind: 'never', potId: p.id, never: false });
    expect((await pot(p.code)).read).toEqual(p.read);
    expect((await undo(id)).status).toBe(409);
    expect((await set({ kind: 'never', potId: testId(), never: true })).status).toBe(404);
    // Every pot out of it: nothing is asked, and nothing promised.
    for (const { id: potId } of (await round()).places.flatMap((x) => x.pots).filter((x) => x.read))
      await set({ kind: 'never', potId, never: true });
    expect((await round()).reading).toMatchObject({ asked: 0, made: 0, pots: 0 });
  });
});

describe('several alike in one act', () => {
  const many = (fills: object[], id = testId()) =>
    kit
      .call<ManyDone & Partial<Omit<Problem, 'status'>>>('PUT', `/api/round/many/${id}`, { fills })
      .then((r) => ({ id, ...r }));
  const due = async () =>
    (await round()).places
      .flatMap((x) => x.pots)
      .filter((x) => x.due.daysLate >= 0 && x.done === null && !x.soak && !x.inSoak);
  const filling = (p: RoundView['places'][number]['pots'][number], more: object = {}) => ({
    eventId: testId(),
    act: fill(p, more),
  });

  it('each is a line of its own; sent twice it is one; one undo takes all of them back', async () => {
    const three = (await due()).slice(0, 3);
    const fills = three.map((p) => filling(p));
    const first = await many(fills);
    expect(first.body).toMatchObject({ loggedIds: fills.map((f) => f.eventId), already: [] });
    const again = (await many(fills, first.id)).body;
    expect(again.repeated).toBe(true);
    expect([...again.loggedIds].sort()).toEqual(fills.map((f) => f.eventId).sort());
    const ids = fills.map((f) => f.eventId);
    expect(
      await kit.rows('SELECT id FROM care_event WHERE id IN (SELECT value FROM json_each(?))', [JSON.stringify(ids)]),
    ).toHaveLength(3);
    const back = await kit.call<{ words: string }>('PUT', `/api/book/undos/${testId()}`, {
      targetId: ids[0],
      alsoIds: ids.slice(1),
    });
    expect(back.body.words).toBe('Took 3 acts back');
    expect((await due()).map((p) => p.id)).toEqual(expect.arrayContaining(three.map((p) => p.id)));
  });
  it('one that is wrong keeps all of them back, and is named; one logged meanwhile stays as it was', async () => {
    const [a, b] = (await due()).slice(0, 2);
    const refused = await many([filling(a!), filling(b!, { pouredMl: 19_000 })]);
    expect(refused.body.detail).toMatch(new RegExp(`^${b!.code}: .*None of them was logged`));
    expect((await due()).some((p) => p.id === a!.id)).toBe(true);
    await act(fill(a!));
    const both = [filling(a!), filling(b!)];
    const { body, id } = await many(both);
    expect(body).toMatchObject({ loggedIds: [both[1]!.eventId], already: [a!.code] });
    // Said again, by a device that heard nothing, it names the same lines; they alone are taken back.
    expect((await many(both, id)).body.loggedIds).toEqual(body.loggedIds);
    expect((await undo(body.loggedIds[0]!)).status).toBe(200);
  });
});
