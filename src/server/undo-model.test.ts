import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BatchView } from '../contract/bench.ts';
import type { RoundPot, RoundView } from '../contract/round.ts';
import type { ShelfView } from '../contract/shelf.ts';
import { plusDays } from '../core/regimen/index.ts';
import { serverKit, testId, TODAY, type Kit } from '../../tests/server-kit.ts';

/*
 * Whatever a grower does in whatever order, and takes back, and puts back: the log and what is derived from it agree.
 */

let kit: Kit;
let pots: RoundPot[];
let batchId: string;

beforeAll(async () => {
  kit = await serverKit(2);
  pots = potsOf(await round())
    .filter((p) => p.due.daysLate >= 0)
    .slice(0, 3);
  batchId = await pouredBatch();
});
afterAll(() => kit.close());

const round = async () => (await kit.call<RoundView>('GET', '/api/round')).body;
const potsOf = (view: RoundView) => view.places.flatMap((p) => p.pots);
const NOTHING = { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null } as const;

async function pouredBatch(): Promise<string> {
  const shelf = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
  const id = testId();
  const step = (body: object) => kit.call<BatchView>('PUT', `/api/bench/batches/${id}/steps/${testId()}`, body);
  await kit.call('PUT', `/api/bench/batches/${id}`, {
    mixKey: null,
    name: 'Model mix',
    waterId: shelf.waters[0]!.id,
    vesselId: shelf.vessels[0]!.id,
    parts: [{ bottleId: shelf.bottles[0]!.id, aim: { kind: 'net', ppm: 90 } }],
    ppmMeterId: shelf.meters[0]!.id,
    phMeterId: null,
    toolIds: [shelf.tools[0]!.id],
    volumeL: 8,
    phLow: 5.5,
    phHigh: 6.5,
  });
  await step({ kind: 'base', reading: { kind: 'value', value: 9 } });
  await step({
    kind: 'portion',
    dose: { toolId: shelf.tools[0]!.id, steps: 30, doseMl: 30 / 18, relativeSd: 0.05 },
    reading: { kind: 'value', value: 40 },
    confirmedOdd: true,
  });
  await step({ kind: 'pour' });
  return id;
}

type Command = { kind: 'fill' | 'skip' | 'undo' | 'again' | 'correct'; pot: number; pick: number };
const command = fc.record({
  kind: fc.constantFrom(
    'fill' as const,
    'skip' as const,
    'undo' as const,
    'undo' as const,
    'again' as const,
    'correct' as const,
    'correct' as const,
  ),
  pot: fc.nat({ max: 2 }),
  pick: fc.nat({ max: 30 }),
});

/** An act, its undo, the undo's undo, and that one's: once left the act void though its undo was. */
const UNDONE_FOUR_TIMES: Command[] = [
  { kind: 'skip', pot: 0, pick: 1 },
  { kind: 'undo', pot: 0, pick: 0 },
  { kind: 'undo', pot: 0, pick: 1 },
  { kind: 'undo', pot: 0, pick: 2 },
  { kind: 'undo', pot: 0, pick: 3 },
];

describe('acts, corrections, undos and redos in any order', () => {
  it('leave one live act per due day, dues that follow from the live log, and a batch that adds up', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(command, { maxLength: 14 }), async (commands: Command[]) => {
        const sent: { url: string; body: unknown; id: string }[] = [];
        const put = async (url: string, body: unknown, id: string) => {
          const answer = await kit.call('PUT', url, body);
          expect([200, 400, 409]).toContain(answer.status);
          if (answer.status === 200) sent.push({ url, body, id });
        };
        for (const { kind, pot, pick } of commands) {
          const id = testId();
          const target = pots[pot]!;
          const now = potsOf(await round()).find((p) => p.id === target.id)!;
          const dueOn = now.due.dueOn;
          if (kind === 'fill') {
            await put(
              `/api/round/acts/${id}`,
              {
                kind: 'filled',
                potId: target.id,
                dueOn,
                batchId,
                pouredMl: 50,
                flushMl: 0,
                oldReservoir: NOTHING,
                ppmMeterId: null,
                phMeterId: null,
                seen: null,
              },
              id,
            );
          } else if (kind === 'skip') {
            await put(
              `/api/round/acts/${id}`,
              {
                kind: 'skipped',
                potId: target.id,
                dueOn,
                reason: 'model',
                lookAgainOn: plusDays(TODAY, 1 + (pick % 5)),
              },
              id,
            );
          } else if (kind === 'undo' && sent.length > 0) {
            await put(`/api/book/undos/${id}`, { targetId: sent[pick % sent.length]!.id }, id);
          } else if (kind === 'correct' && sent.length > 0) {
            const of = sent[pick % sent.length]!.id;
            const act = await kit.call<{ kind: string; payload: object }>('GET', `/api/book/acts/${of}`);
            if (act.status === 200 && act.body.kind === 'potFilled')
              await put(
                `/api/book/corrections/${id}`,
                { targetId: of, payload: { ...act.body.payload, pouredMl: 40 + pick } },
                id,
              );
          } else if (kind === 'again' && sent.length > 0) {
            // The same request twice is the same act once.
            const old = sent[pick % sent.length]!;
            const before = (await kit.rows<{ n: number }>('SELECT count(*) AS n FROM care_event'))[0]!.n;
            await kit.call('PUT', old.url, old.body);
            expect((await kit.rows<{ n: number }>('SELECT count(*) AS n FROM care_event'))[0]!.n).toBe(before);
          }
        }
        await agree();
        // Tidy up for the next run, through the front door: newest first, until nothing of the model is live.
        for (const { id } of [...sent].reverse())
          await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: id });
        const live = await kit.rows<{ id: string }>(
          `SELECT id FROM care_event WHERE localDate = ? AND kind IN ('potFilled', 'potSkipped') AND voidedBy IS NULL`,
          [TODAY],
        );
        for (const { id } of live) await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: id });
        await agree();
      }),
      { numRuns: 25, examples: [[UNDONE_FOUR_TIMES]] },
    );
  }, 120_000);
});

async function agree(): Promise<void> {
  expect(
    await kit.rows(
      'SELECT dueKey FROM care_event WHERE dueKey IS NOT NULL AND voidedBy IS NULL GROUP BY dueKey HAVING count(*) > 1',
    ),
  ).toEqual([]);
  // An act is void exactly when the undo that names it is live, or when the act that puts it right stands or was put right itself.
  expect(
    await kit.rows(
      `SELECT e.id FROM care_event e LEFT JOIN care_event u ON u.id = e.voidedBy LEFT JOIN care_event v ON v.id = u.voidedBy
       WHERE e.voidedBy IS NOT NULL AND NOT coalesce(
         (u.kind = 'undone' AND json_extract(u.payload, '$.targetId') = e.id AND u.voidedBy IS NULL) OR (u.corrects = e.id AND (u.voidedBy IS NULL OR v.corrects = u.id)), 0)`,
    ),
  ).toEqual([]);
  const shown = potsOf(await round());
  for (const pot of pots) {
    const live = await kit.rows<{ kind: string; localDate: string; payload: string }>(
      `SELECT kind, localDate, payload FROM care_event WHERE potId = ? AND voidedBy IS NULL AND kind IN ('potFilled', 'potSkipped') ORDER BY at, seq`,
      [pot.id],
    );
    const lastFill = live.findLastIndex((e) => e.kind === 'potFilled');
    const skip = live.slice(lastFill + 1).findLast((e) => e.kind === 'potSkipped');
    const everyDays = await intervalOf(pot.id);
    const expected = skip
      ? (JSON.parse(skip.payload) as { lookAgainOn: string }).lookAgainOn
      : plusDays(live[lastFill]!.localDate, everyDays);
    expect(shown.find((p) => p.id === pot.id)!.due.dueOn).toBe(expected);
  }
  const [drawn] = await kit.rows<{ ml: number | null }>(
    `SELECT sum(json_extract(payload, '$.pouredMl')) AS ml FROM care_event WHERE batchId = ? AND kind = 'potFilled' AND voidedBy IS NULL`,
    [batchId],
  );
  expect((await kit.call<BatchView>('GET', `/api/bench/batches/${batchId}`)).body.leftMl).toBeCloseTo(
    8000 - (drawn!.ml ?? 0),
    6,
  );
}

async function intervalOf(potId: string): Promise<number> {
  const [row] = await kit.rows<{ params: string }>(
    'SELECT r.params FROM pot_regimen pr JOIN regimen r ON r.id = pr.regimenId WHERE pr.potId = ?',
    [potId],
  );
  return (JSON.parse(row!.params) as { feeds: { days: number }[] }).feeds[0]!.days;
}
