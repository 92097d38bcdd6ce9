import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AdviceRoom } from '../../contract/advice.ts';
import type { Problem } from '../../contract/errors.ts';
import type { RoundView } from '../../contract/round.ts';
import type { PlannedActView } from '../../contract/shell.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(8);
});
afterAll(() => kit.close());

type Answer = { eventId: string; repeated: boolean } & Omit<Problem, 'status'>;
const room = async () => (await kit.call<AdviceRoom>('GET', '/api/advice')).body;
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const plans = async () => (await kit.call<{ plans: PlannedActView[] }>('GET', '/api/shell/plans')).body.plans;

/** Logs what came out of the pots that are due, as each was foretold but read with a pen that is off by so much. */
async function roundWith(times: number): Promise<number> {
  const { places, ppmMeter } = (await kit.call<RoundView>('GET', '/api/round')).body;
  const due = places
    .flatMap((p) => p.pots)
    .filter((p) => p.due.daysLate >= 0 && p.done === null && p.expected.ppm !== undefined);
  for (const p of due) {
    const oldReservoir = {
      ppm: { kind: 'value', value: Math.round(p.expected.ppm! * times) },
      ph: { kind: 'notMeasured' },
      leftMl: null,
    };
    const { status, body } = await kit.call<Answer>('PUT', `/api/round/acts/${testId()}`, {
      kind: 'filled',
      potId: p.id,
      dueOn: p.due.dueOn,
      batchId: null,
      pouredMl: p.fillMl,
      flushMl: p.flushMl,
      oldReservoir,
      ppmMeterId: ppmMeter!.id,
      phMeterId: null,
    });
    expect([status, body.detail]).toEqual([200, undefined]);
  }
  return due.length;
}

describe('a pen that is off', () => {
  it('is said to be when all its pots read off the same way; put on the list it is not asked again, undone it is', async () => {
    expect((await room()).pens).toEqual([]);
    const readings = await roundWith(1.25);
    expect(readings).toBeGreaterThanOrEqual(6);
    const [pen] = (await room()).pens;
    expect(pen).toMatchObject({ what: 'ppm', title: expect.stringMatching(/^Check the .* it may read \d+ % high$/) });
    expect(pen!.rounds.at(-1)!.off).toBeGreaterThan(10);
    const more = { answerId: testId(), planId: testId() };
    const ask = (kind: string, evidenceKey: string, id = testId()) =>
      kit.call<Answer>('PUT', `/api/advice/pens/${id}`, { kind, meterId: pen!.meterId, evidenceKey, ...more });
    expect((await ask('accept', 'another round')).body.code).toBe('changed-since');
    const id = testId();
    await ask('accept', pen!.evidenceKey, id);
    expect((await ask('accept', pen!.evidenceKey, id)).body.repeated).toBe(true);
    expect((await room()).pens).toEqual([]);
    expect((await plans()).map((p) => p.words)).toContainEqual(expect.stringMatching(/^Check the .* in its standard$/));
    await undo(id);
    expect((await room()).pens).toHaveLength(1);
    await ask('decline', pen!.evidenceKey);
    expect((await room()).pens).toEqual([]);
  });
});
