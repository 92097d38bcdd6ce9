import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CarePayload } from '../../../contract/care.ts';
import type { RoundView } from '../../../contract/round.ts';
import type { TrialPlan, TrialsView } from '../../../contract/trials.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { normal, seededRandom } from '../../../core/statistics/index.ts';
import { newlyStarted, serverKit, testId, TODAY, type Kit } from '../../../../tests/server-kit.ts';
import { appendCareEvent } from '../../database/care-log.ts';

let kit: Kit;
beforeEach(async () => {
  kit = await serverKit(12);
});
afterEach(() => kit.close());

const potsOf = (codes: readonly string[]) =>
  kit.rows<{ id: string; code: string; fillMl: number; reservoirMl: number }>(
    `SELECT * FROM pot WHERE code IN (SELECT value FROM json_each(?)) ORDER BY code`,
    [JSON.stringify(codes)],
  );
const EIGHT = ['R-03', 'R-04', 'R-05', 'R-06', 'R-07', 'R-08', 'R-09', 'R-10'];
const STILL = { kind: 'flushWith', with: 'still' } as const;
const asked = async (more: object = {}, codes: readonly string[] = EIGHT) => ({
  question: 'Does a still flush gather less salt?',
  change: STILL,
  measure: 'strength',
  matters: Math.log(1.2),
  weeks: 6,
  potIds: (await potsOf(codes)).map(({ id }) => id),
  ...more,
});
const plan = async (more: object = {}, codes: readonly string[] = EIGHT) =>
  kit.call<TrialPlan>('POST', '/api/book/trials/plan', await asked(more, codes));
const start = async (more: object = {}, codes: readonly string[] = EIGHT) => {
  const trialId = testId();
  const eventId = testId();
  const answer = await kit.call<{ errors?: { path: string; message: string }[] }>(
    'PUT',
    `/api/book/trials/acts/${eventId}`,
    {
      kind: 'start',
      trialId,
      alike: ['same mix'],
      ...(await asked(more, codes)),
    },
  );
  return { trialId, eventId, ...answer };
};
const trial = async (id: string) =>
  (await kit.call<TrialsView>('GET', '/api/book/trials')).body.trials.find((t) => t.id === id)!;
const act = (body: object) => kit.call('PUT', `/api/book/trials/acts/${testId()}`, body);

/** Weeks of rounds: what pots of the first arm read over what was poured differs by a factor. */
async function live(trialId: string, weeks: number, factor: number) {
  const { pots } = await trial(trialId);
  const random = seededRandom(11);
  const [batch] = await kit.rows<{ id: string; pouredEcUsCm: number }>(
    `SELECT id, pouredEcUsCm FROM batch WHERE status = 'poured' ORDER BY startedAt DESC LIMIT 1`,
  );
  const [meter] = await kit.rows<{ id: string; scale: number }>(
    `SELECT id, scale FROM meter WHERE quantity = 'ppm' AND unit = 'ppm'`,
  );
  const own = new Map(pots.map(({ id }) => [id, 1.4 + 0.05 * normal(random)]));
  const water = (await kit.rows<{ id: string; kind: string }>('SELECT id, kind FROM water')).find(
    ({ kind }) => kind === 'rain',
  )!;
  const still = (await kit.rows<{ id: string; kind: string }>('SELECT id, kind FROM water')).find(
    ({ kind }) => kind === 'still',
  )!;
  const all = await kit.rows<{ id: string; fillMl: number; reservoirMl: number }>('SELECT * FROM pot');
  await kit.database.write.run(async (manager) => {
    for (let week = 0; week <= weeks; week++)
      for (const { id, arm } of pots) {
        const { fillMl, reservoirMl } = all.find((pot) => pot.id === id)!;
        const on = plusDays(TODAY, 7 * week);
        const ratio = own.get(id)! * (week > 0 && arm === 0 ? factor : 1) * Math.exp(0.04 * normal(random));
        const payload: CarePayload<'potFilled'> = {
          dueOn: on,
          batchId: batch!.id,
          pouredMl: fillMl,
          flushMl: 3 * reservoirMl,
          flushWith: [{ waterId: arm === 0 ? still.id : water.id, ml: 3 * reservoirMl }],
          runOffPpm: { kind: 'notMeasured' },
          oldReservoir: {
            ppm: { kind: 'value', value: Math.round(batch!.pouredEcUsCm * meter!.scale * ratio) },
            ph: { kind: 'notMeasured' },
            leftMl: null,
          },
          ppmMeterId: meter!.id,
          phMeterId: null,
          seen: null,
          look: null,
          waterId: null,
          waterEcUsCm: null,
          turn: 0,
        };
        await appendCareEvent(manager, {
          id: testId(),
          kind: 'potFilled',
          at: new Date(`${on}T18:00:00Z`),
          localDate: on,
          potId: id,
          payload,
        });
      }
  });
  kit.clock.at = new Date(`${plusDays(TODAY, 7 * weeks)}T20:00:00Z`);
}

describe('before a trial', () => {
  it('it is told what so many pots can show, from their own past, and how many it would take', async () => {
    const { body } = await plan();
    expect(body.pairs).toHaveLength(4);
    const salt = body.measures.find(({ measure }) => measure === 'strength')!;
    expect(salt.from).toBe('own');
    expect(salt.smallest).toBeGreaterThan(0);
    expect(salt.needed).toBeGreaterThan(1);
    expect(body.differs).toEqual([expect.stringMatching(/with still water/)]);
    expect(body.problems).toEqual([]);
  });
  it('pots that were hardly read say so, and get what is usual', async () => {
    const { body } = await plan({ weeks: 12 });
    expect(body.measures.find(({ measure }) => measure === 'strength')!.from).toBe('usual');
  });
  it.each([
    ['one pot', {}, ['R-03'], 'potIds', /One pot can show nothing/],
    ['three pots', {}, ['R-03', 'R-04', 'R-05'], 'potIds', /3 pots can show nothing/],
    [
      'arms that are the same',
      { change: { kind: 'strength', share: 1 } },
      EIGHT,
      'change',
      /Both arms would get the same/,
    ],
    ['a pour that hurts', { change: { kind: 'pourPh', by: -1.4 } }, EIGHT, 'change', /hurts roots/],
    [
      'a regimen there is none of',
      { change: { kind: 'regimen', regimenId: testId() } },
      EIGHT,
      'change.regimenId',
      /not in use/,
    ],
  ] as const)('%s: refused at its field', async (_what, more, codes, path, message) => {
    const told = (await plan(more, codes)).body.problems;
    expect(told.map((p) => p.path)).toContain(path);
    const answer = await start(more, codes);
    expect(answer.status).toBe(400);
    expect(answer.body.errors!.find((e) => e.path === path)!.message).toMatch(message);
    expect(await kit.rows(`SELECT * FROM trial WHERE startOn = ?`, [TODAY])).toEqual([]);
  });
  it('a trial of days, of no weeks, of nothing that matters: refused', async () => {
    for (const more of [{ weeks: 1 }, { weeks: 0 }, { weeks: 2.5 }, { matters: 0 }, { matters: -1 }, { question: '' }])
      expect((await start(more)).status).toBe(400);
  });
});

describe('a trial', () => {
  it('gives each pair’s pots their arms by lot, and the Round says which gets what', async () => {
    const { trialId, status } = await start();
    expect(status).toBe(200);
    const { pots, arms, state, verdict } = await trial(trialId);
    expect(pots).toHaveLength(8);
    for (let pair = 0; pair < 4; pair++)
      expect(
        pots
          .filter((p) => p.pair === pair)
          .map((p) => p.arm)
          .sort(),
      ).toEqual([0, 1]);
    expect(arms).toEqual(['flushed with still water', 'as it was']);
    expect(state).toBe('running');
    expect(verdict).toBe('few');
    const round = (await kit.call<RoundView>('GET', '/api/round')).body.places.flatMap(({ pots: all }) => all);
    const words = (id: string) => round.find((pot) => pot.id === id)!.trial;
    for (const { id, arm } of pots)
      expect(words(id)).toBe(arm === 0 ? 'Trial: flushed with still water' : 'Trial: as it was');
    const regimens = await kit.rows<{ name: string }>(
      `SELECT r.name FROM pot_regimen p JOIN regimen r ON r.id = p.regimenId WHERE p.fromDate = ? GROUP BY r.id`,
      [TODAY],
    );
    expect(regimens.map(({ name }) => name)).toEqual(['Dilute 90, weekly, flushed with still water']);
  });
  it('begun twice is begun once; taken back it leaves nothing', async () => {
    const body = { kind: 'start', trialId: testId(), alike: [], ...(await asked()) };
    const eventId = testId();
    const once = await kit.call('PUT', `/api/book/trials/acts/${eventId}`, body);
    const again = await kit.call('PUT', `/api/book/trials/acts/${eventId}`, body);
    expect([once.status, again.status]).toEqual([200, 200]);
    expect(await kit.rows('SELECT id FROM trial WHERE startOn = ?', [TODAY])).toHaveLength(1);
    expect((await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: eventId })).status).toBe(200);
    expect(await kit.rows('SELECT * FROM trial WHERE startOn = ?', [TODAY])).toEqual([]);
    // The demo’s own trial has ten.
    expect(await kit.rows('SELECT * FROM trial_pot')).toHaveLength(10);
    expect(await kit.rows(`SELECT * FROM pot_regimen WHERE fromDate = ?`, [TODAY])).toEqual([]);
  });
  it('a pot is in one trial at a time', async () => {
    await start();
    const second = await start({}, ['R-03', 'R-01', 'R-02', 'R-12']);
    expect(second.status).toBe(400);
    expect(second.body.errors![0]!.message).toMatch(/R-03: in another trial/);
  });
  it('a large difference, lived to its end, is real; its pots go back to what they followed', async () => {
    const { trialId } = await start();
    await live(trialId, 6, 0.6);
    const over = await trial(trialId);
    expect(over).toMatchObject({ state: 'over', pairs: 4, verdict: 'real' });
    expect(over.difference!.mean).toBeCloseTo(Math.log(0.6), 1);
    expect(over.unequal).toEqual([]);
    await act({ kind: 'end', trialId, why: '', after: 'back' });
    expect(await trial(trialId)).toMatchObject({ state: 'ended', verdict: 'real' });
    const now = await kit.rows<{ name: string; n: number }>(
      `SELECT r.name, count(*) AS n FROM pot_regimen p JOIN regimen r ON r.id = p.regimenId WHERE p.fromDate = ? GROUP BY r.name`,
      [plusDays(TODAY, 42)],
    );
    expect(now).toEqual([{ name: 'Dilute 90, weekly', n: 4 }]);
  });
  it('of how leaves grow: told by measures before and in it, and who was not measured is told', async () => {
    const GROWTH = { measure: 'growth', matters: Math.log(1.03) };
    // None of those the demo measures.
    const codes = ['R-04', 'R-05', 'R-07', 'R-08', 'R-10', 'R-11', 'R-12', 'R-13'];
    const potIds = (await potsOf(codes)).map(({ id }) => id);
    const lengths = new Map(potIds.map((id, i) => [id, 12 + 2 * i]));
    const measure = async (potId: string, day: number, months: number, rate: number) => {
      const leafCm = lengths.get(potId)! * Math.exp(rate * months);
      lengths.set(potId, leafCm);
      const body = { figures: { leafCm: Number(leafCm.toFixed(1)) }, on: plusDays(TODAY, day), from: null };
      expect((await kit.call('PUT', `/api/pots/${potId}/measures/${testId()}`, body)).status).toBe(200);
    };
    for (const [day, months] of [
      [-40, 0],
      [-20, 2 / 3],
      [0, 2 / 3],
    ] as const)
      for (const id of potIds) await measure(id, day, months, 0.05);
    const { trialId } = await start(GROWTH, codes);
    const begun = await trial(trialId);
    expect(begun.verdict).toBe('few');
    expect(begun.unequal).toContain('8 of 8 pots were not measured twice in it yet: 4 with the change, 4 as it was');
    kit.clock.at = new Date(`${plusDays(TODAY, 42)}T20:00:00Z`);
    for (const day of [21, 42])
      for (const { id, arm } of begun.pots) await measure(id, day, 0.7, arm === 0 ? 0.17 : 0.05);
    const over = await trial(trialId);
    expect(over).toMatchObject({ state: 'over', pairs: 4, verdict: 'real' });
    expect(over.difference!.mean).toBeCloseTo(0.12, 1);
    expect(over.pots.map(({ visits, read }) => [visits, read])).toEqual(over.pots.map(() => [2, 2]));
    // A measure taken back is no measure: the pot's stretch is then one, from the start to the end.
    const [line] = await kit.rows<{ id: string; potId: string }>(
      `SELECT id, potId FROM care_event WHERE kind = 'potMeasured' AND localDate = ? ORDER BY id LIMIT 1`,
      [plusDays(TODAY, 21)],
    );
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: line!.id });
    const fewer = await trial(trialId);
    expect(fewer.pots.find(({ id }) => id === line!.potId)).toMatchObject({ visits: 1, read: 1 });
    const fresh = await newlyStarted(kit);
    try {
      const again = (await fresh.call<TrialsView>('GET', '/api/book/trials')).body.trials;
      expect(again.find(({ id }) => id === trialId)).toEqual(fewer);
    } finally {
      await fresh.close();
    }
  });
  it('ended on its first day says that it shows nothing, and cannot be ended again', async () => {
    const { trialId } = await start();
    await act({ kind: 'end', trialId, why: 'changed my mind', after: 'back' });
    expect(await trial(trialId)).toMatchObject({
      state: 'early',
      verdict: 'few',
      difference: null,
      endWhy: 'changed my mind',
    });
    expect((await act({ kind: 'end', trialId, why: '', after: 'back' })).status).toBe(400);
  });
  it('ended early with a difference of a week or two, its range is that of one in a thousand', async () => {
    const { trialId } = await start();
    await live(trialId, 3, 0.8);
    const early = (await trial(trialId)).difference!;
    kit.clock.at = new Date(`${plusDays(TODAY, 42)}T20:00:00Z`);
    const over = (await trial(trialId)).difference!;
    expect(over.mean).toBeCloseTo(early.mean, 9);
    expect(early.high - early.low).toBeGreaterThan(2 * (over.high - over.low));
  });
  it('a pot that got the other arm’s flush is noted, and counted by what it got too', async () => {
    const { trialId } = await start();
    await live(trialId, 6, 0.6);
    const { pots } = await trial(trialId);
    const stray = pots.find(({ arm }) => arm === 0)!;
    const [rain] = await kit.rows<{ id: string }>(`SELECT id FROM water WHERE kind = 'rain'`);
    await kit.database.write.run((manager) =>
      manager.query(
        `UPDATE care_event SET payload = json_set(payload, '$.flushWith[0].waterId', ?) WHERE potId = ? AND kind = 'potFilled' AND localDate >= ?`,
        [rain!.id, stray.id, TODAY],
      ),
    );
    // Another server on the same file: what was changed beside the log is seen by it.
    const other = await newlyStarted(kit);
    try {
      const seen = (await other.call<TrialsView>('GET', '/api/book/trials')).body.trials.find(
        ({ id }) => id === trialId,
      )!;
      expect(seen.unequal.join()).toMatch(new RegExp(`${stray.code} got what the other arm gets 7 times`));
      expect(seen.asDone).not.toBeNull();
    } finally {
      await other.close();
    }
  });
  it('a pot filled this morning, before the lot was drawn, is in it from tomorrow, and accused of nothing', async () => {
    const [pot] = await potsOf(['R-03']);
    const [rain] = await kit.rows<{ id: string }>(`SELECT id FROM water WHERE kind = 'rain'`);
    await kit.database.write.run((manager) =>
      manager.query(
        `INSERT INTO care_event (id, kind, at, localDate, potId, batchId, payload)
         SELECT ?, kind, ?, ?, potId, batchId, json_set(payload, '$.flushMl', 700, '$.flushWith', json(?)) FROM care_event WHERE potId = ? AND kind = 'potFilled' ORDER BY at DESC LIMIT 1`,
        [testId(), `${TODAY}T07:00:00.000Z`, TODAY, JSON.stringify([{ waterId: rain!.id, ml: 700 }]), pot!.id],
      ),
    );
    const other = await newlyStarted(kit);
    try {
      const trialId = testId();
      const body = { kind: 'start', trialId, alike: [], ...(await asked()) };
      expect((await other.call('PUT', `/api/book/trials/acts/${testId()}`, body)).status).toBe(200);
      const days = await other.rows<{ potId: string; fromOn: string }>(
        'SELECT potId, fromOn FROM trial_pot WHERE trialId = ?',
        [trialId],
      );
      expect(days.filter(({ fromOn }) => fromOn !== TODAY)).toEqual([{ potId: pot!.id, fromOn: plusDays(TODAY, 1) }]);
      const { trials } = (await other.call<TrialsView>('GET', '/api/book/trials')).body;
      expect(trials.find(({ id }) => id === trialId)).toMatchObject({ unequal: [], verdict: 'few' });
    } finally {
      await other.close();
    }
  });
  it('of another amount of flush: the Round gives that amount, whatever the salts ask for', async () => {
    const { trialId } = await start({ change: { kind: 'flush', timesReservoir: 4 } });
    const { pots } = await trial(trialId);
    const round = (await kit.call<RoundView>('GET', '/api/round')).body.places.flatMap(({ pots: all }) => all);
    const first = pots.filter(({ arm }) => arm === 0).map(({ id }) => round.find((pot) => pot.id === id)!);
    expect(
      first.map(({ flushMl, reservoirMl }) => flushMl / reservoirMl).every((times) => Math.abs(times - 4) < 0.1),
    ).toBe(true);
    for (const { flush } of first) expect(flush.why).toMatch(/4 × the reservoir, as the trial says/);
  });
  it('a pot taken out is told, follows what it did, and its later readings count for nothing', async () => {
    const { trialId } = await start();
    await live(trialId, 3, 0.6);
    const { pots } = await trial(trialId);
    const leaver = pots.find(({ arm }) => arm === 0)!;
    await act({ kind: 'leave', trialId, potId: leaver.id, why: 'repotted' });
    const now = await trial(trialId);
    expect(now.unequal.join()).toMatch(new RegExp(`${leaver.code} left: repotted`));
    expect((await act({ kind: 'leave', trialId, potId: leaver.id, why: 'again' })).status).toBe(404);
  });
});

describe('treatments and one’s own doing', () => {
  it('a treatment is begun in the first arm only, and stands in Drift', async () => {
    const { trialId } = await start({ change: { kind: 'treatment', treatment: 'wet' }, measure: 'ph', matters: 0.3 });
    const first = (await trial(trialId)).pots.filter(({ arm }) => arm === 0).map(({ id }) => id);
    const treated = await kit.rows<{ potId: string }>(`SELECT potId FROM treatment WHERE fromDate = ?`, [TODAY]);
    expect(treated.map(({ potId }) => potId).sort()).toEqual(first.sort());
    await act({ kind: 'end', trialId, why: '', after: 'back' });
    expect(await kit.rows(`SELECT * FROM treatment WHERE fromDate = ? AND toDate IS NULL`, [TODAY])).toEqual([]);
  });
  it('after a trial all may get it: one regimen, not two of the same', async () => {
    const { trialId } = await start();
    await act({ kind: 'end', trialId, why: '', after: 'all' });
    const made = await kit.rows(`SELECT * FROM regimen WHERE name LIKE '%flushed with still water%'`);
    expect(made).toHaveLength(1);
    const followers = await kit.rows<{ potId: string }>(`SELECT potId FROM pot_regimen WHERE regimenId = ?`, [
      (made[0] as { id: string }).id,
    ]);
    expect(new Set(followers.map(({ potId }) => potId)).size).toBe(8);
  });
});
