import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { adviceRoom } from '../contract/advice.ts';
import { potsView } from '../contract/pots.ts';
import { roundView } from '../contract/round.ts';
import { serverKit, testId, type Kit } from '../../tests/server-kit.ts';

/* The answers that are written as they are, without a look at their schema: they hold to it all the same, with nothing more and nothing less. */

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(8);
});
afterAll(() => kit.close());

describe('answers written as they are', () => {
  it.each([
    ['/api/round', roundView],
    ['/api/pots', potsView],
    ['/api/advice', adviceRoom],
  ] as const)('%s is what the contract says', async (url, schema) => {
    const { status, body } = await kit.call('GET', url);
    expect(status).toBe(200);
    expect(schema.parse(body)).toEqual(body);
  });
  it('also once pots were done, skipped, soaked and topped up', async () => {
    const { body } = await kit.call<ReturnType<typeof roundView.parse>>('GET', '/api/round');
    const due = body.places.flatMap((p) => p.pots).filter((p) => p.due.daysLate >= 0);
    const act = (payload: object) => kit.call('PUT', `/api/round/acts/${testId()}`, payload);
    const [first, second] = due.filter((p) => p.soak === null);
    const soaked = due.find((p) => p.soak?.way === 'soak')!;
    const nothing = { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null };
    const { soak } = soaked;
    const statuses = [
      await act({
        kind: 'filled',
        potId: first!.id,
        dueOn: first!.due.dueOn,
        batchId: null,
        pouredMl: first!.fillMl,
        flushMl: first!.flushMl,
        oldReservoir: nothing,
        ppmMeterId: null,
        phMeterId: null,
      }),
      await act({ kind: 'looked', potId: second!.id, look: { cues: { crust: 'some' }, note: '', growths: null, leafMm: null } }),
      await act({
        kind: 'supplement',
        potId: soaked.id,
        dueOn: soaked.due.dueOn,
        what: soak!.what,
        way: 'soak',
        pouredMl: soak!.pouredMl,
        holdMinutes: soak!.holdMinutes,
        batchId: null,
        clockId: testId(),
      }),
    ].map((answer) => answer.status);
    expect(statuses).toEqual([200, 200, 200]);
    for (const [url, schema] of [
      ['/api/round', roundView],
      ['/api/pots', potsView],
    ] as const) {
      const after = (await kit.call('GET', url)).body;
      expect(schema.parse(after)).toEqual(after);
    }
  });
});
