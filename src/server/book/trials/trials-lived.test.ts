import { afterAll, beforeAll, expect, it } from 'vitest';
import type { RoundPot, RoundView } from '../../../contract/round.ts';
import type { TrialsView } from '../../../contract/trials.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { normal, seededRandom } from '../../../core/statistics/index.ts';
import { serverKit, testId, TODAY, type Kit } from '../../../../tests/server-kit.ts';

const [WEEKS, DAYS] = [6, 42];
let kit: Kit;
beforeAll(async () => {
  process.env['FRUGAL_SIP_REQUESTS'] = '1000000';
  kit = await serverKit(12);
}, 60_000);
afterAll(() => kit.close());

/** A still-water finish in eight pots, lived day by day as the Round asks for it. @param factor what the change truly does to what is left in the reservoir */
async function lived(factor: number): Promise<TrialsView['trials'][number]> {
  const [batch] = await kit.rows<{ id: string; pouredEcUsCm: number }>(
    `SELECT id, pouredEcUsCm FROM batch WHERE status = 'poured' AND use = 'feed' ORDER BY startedAt DESC LIMIT 1`,
  );
  // One can for all of it.
  await kit.database.write.run((m) =>
    m.query('UPDATE batch SET pouredVolumeL = 900, volumeL = 900, emptied = 0 WHERE id = ?', [batch!.id]),
  );
  const [pen] = await kit.rows<{ id: string; scale: number }>(
    `SELECT id, scale FROM meter WHERE quantity = 'ppm' AND unit = 'ppm'`,
  );
  const codes = ['R-03', 'R-04', 'R-05', 'R-06', 'R-07', 'R-08', 'R-09', 'R-10'];
  const pots = await kit.rows<{ id: string }>('SELECT id FROM pot WHERE code IN (SELECT value FROM json_each(?))', [
    JSON.stringify(codes),
  ]);
  const trialId = testId();
  const begun = await kit.call('PUT', `/api/book/trials/acts/${testId()}`, {
    ...{ kind: 'start', trialId, alike: ['same mix'], question: 'Does a still finish gather less salt?' },
    ...{ change: { kind: 'flushWith', with: 'still' }, measure: 'strength', matters: Math.log(1.2), weeks: WEEKS },
    potIds: pots.map(({ id }) => id),
  });
  expect(begun.status, JSON.stringify(begun.body)).toBe(200);
  const trial = async () =>
    (await kit.call<TrialsView>('GET', '/api/book/trials')).body.trials.find(({ id }) => id === trialId)!;
  const arms = new Map((await trial()).pots.map(({ id, arm }) => [id, arm]));
  const random = seededRandom(7);
  const fill = async (pot: RoundPot) => {
    const ratio = 1.35 * (arms.get(pot.id) === 0 ? factor : 1) * Math.exp(0.05 * normal(random));
    const answer = await kit.call('PUT', `/api/round/acts/${testId()}`, {
      ...{ kind: 'filled', potId: pot.id, dueOn: pot.due.dueOn, batchId: batch!.id, waterId: null },
      ...{ pouredMl: pot.fillMl, flushMl: pot.flush.stages.reduce((sum, { ml }) => sum + ml, 0) },
      flushWith: pot.flush.stages.map(({ waterId, ml }) => ({ waterId, ml })),
      oldReservoir: {
        ppm: { kind: 'value', value: Math.round(batch!.pouredEcUsCm * pen!.scale * ratio) },
        ...{ ph: { kind: 'notMeasured' }, leftMl: null },
      },
      ...{ runOffPpm: { kind: 'notMeasured' }, ppmMeterId: pen!.id, phMeterId: null, confirmedOdd: true },
    });
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  };
  for (let day = 0; day <= DAYS; day++) {
    kit.clock.at = new Date(`${plusDays(TODAY, day)}T17:00:00Z`);
    const round = (await kit.call<RoundView>('GET', '/api/round')).body;
    const due = round.places
      .flatMap((place) => place.pots)
      .filter((pot) => arms.has(pot.id) && pot.due.daysLate >= 0 && !pot.done);
    for (const pot of due) await fill(pot);
  }
  return trial();
}

it('weeks lived as the Round asks: each arm got its own, the planned end is reached, and the verdict is read', async () => {
  const over = await lived(0.6);
  expect(over).toMatchObject({ state: 'over', weeksGone: WEEKS, pairs: 4, verdict: 'real', asDone: null });
  expect(over.difference!.high).toBeLessThan(0);
  expect(over.pots.every(({ visits, wrong, outcome }) => visits >= 4 && wrong === 0 && outcome !== null)).toBe(true);
  expect(over.unequal.join()).not.toMatch(/other arm/);
}, 120_000);
