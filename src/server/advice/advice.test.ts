import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AdviceRoom, AdviceView, PotAdvice, RulesView } from '../../contract/advice.ts';
import type { Problem } from '../../contract/errors.ts';
import type { PotView } from '../../contract/pots.ts';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import type { PlannedActView } from '../../contract/shell.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(30);
});
afterAll(() => kit.close());

type Answer = { eventId: string; repeated: boolean } & Omit<Problem, 'status'>;
const room = async () => (await kit.call<AdviceRoom>('GET', '/api/advice')).body;
const pot = async (code: string): Promise<RoundPot> =>
  (await kit.call<RoundView>('GET', '/api/round')).body.places.flatMap((p) => p.pots).find((p) => p.code === code)!;
const adviceOf = async (code: string) =>
  (await kit.call<PotAdvice>('GET', `/api/advice/pots/${(await pot(code)).id}`)).body;
const answer = (
  kind: 'accept' | 'decline',
  potId: string,
  advice: Pick<AdviceView, 'rule' | 'evidenceKey'>,
  id = testId(),
  more = { answerId: testId(), planId: testId() },
) =>
  kit
    .call<Answer>('PUT', `/api/advice/acts/${id}`, {
      kind,
      potId,
      rule: advice.rule,
      evidenceKey: advice.evidenceKey,
      ...more,
    })
    .then((r) => ({ id, more, ...r }));
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const plans = async () => (await kit.call<{ plans: PlannedActView[] }>('GET', '/api/shell/plans')).body.plans;
const look = (potId: string, cues: object) =>
  kit.call('PUT', `/api/round/acts/${testId()}`, {
    kind: 'looked',
    potId,
    look: { cues, note: '', growths: null, leafMm: null },
  });

describe('advice on the demo', () => {
  it('finds who is salting up, whose clay pushes, and what is out of season, each with its readings', async () => {
    const { pots } = await room();
    const rules = new Map(pots.map((p) => [p.code, p.advices.map((a) => a.rule)]));
    expect(rules.get('R-07')).toContain('salts');
    expect(rules.get('L-03')).toContain('overloaded');
    expect(rules.get('P-04')).toEqual(['drift']);
    expect(rules.get('R-11')).toEqual(['holdSoak']);
    const salts = pots.find((p) => p.code === 'R-07')!.advices.find((a) => a.rule === 'salts')!;
    expect(salts.title).toMatch(/^Flush with .* not /);
    expect(salts.evidence).toHaveLength(3);
    for (const { eventId, words } of salts.evidence) {
      expect(words).toMatch(/came out \d+ of \d+/);
      expect(await kit.rows('SELECT kind FROM care_event WHERE id = ?', [eventId])).toEqual([{ kind: 'potFilled' }]);
    }
  });
  it('what it has been given adds up month by month, of what stayed', async () => {
    const { given, usesN } = await adviceOf('R-11');
    expect(given.length).toBeGreaterThan(5);
    const october = given.find((m) => m.month === '2026-10')!;
    expect(october.mg.N).toBeGreaterThan(5);
    expect(october.mg.N).toBeLessThan(40);
    expect(given.find((m) => m.month === '2026-08')!.mg.Si).toBeGreaterThan(0.1);
    expect(october.mg.Si).toBeLessThan(0.05);
    expect(october.stillL).toBeGreaterThan(0.5);
    expect(usesN!.low).toBeLessThan(usesN!.high);
  });
  it('taken up, it is on the list for its round; declined, it is not asked again until something new speaks for it', async () => {
    const { id: potId } = await pot('R-07');
    await look(potId, { tips: 'brown' });
    await look(potId, { tips: 'brown' });
    const advices = (await adviceOf('R-07')).advices;
    const [salts, calcium] = [advices.find((a) => a.rule === 'salts')!, advices.find((a) => a.rule === 'calcium')!];
    const taken = await answer('accept', potId, salts);
    expect(taken.status).toBe(200);
    expect((await answer('accept', potId, salts, taken.id, taken.more)).body.repeated).toBe(true);
    expect((await plans()).find((p) => p.subjectId === potId)).toMatchObject({ words: salts.doWords, origin: 'round' });
    const declined = await answer('decline', potId, calcium);
    expect(declined.status).toBe(200);
    const after = await adviceOf('R-07');
    expect(after.advices.filter((a) => ['salts', 'calcium'].includes(a.rule))).toEqual([]);
    expect(after.answered.map((a) => [a.rule, a.answer])).toEqual([
      ['calcium', 'declined'],
      ['salts', 'accepted'],
    ]);
    await look(potId, { tips: 'worse' });
    expect((await adviceOf('R-07')).advices.map((a) => a.rule)).toContain('calcium');
    expect((await answer('accept', potId, calcium)).body.code).toBe('changed-since');
    expect((await undo(taken.id)).status).toBe(200);
    expect((await adviceOf('R-07')).advices.map((a) => a.rule)).toContain('salts');
    expect((await plans()).some((p) => p.subjectId === potId)).toBe(false);
  });
  it('plain water and back again are changes of its regimen', async () => {
    const p = await pot('R-14');
    await look(p.id, { crust: 'ring' });
    await look(p.id, { crust: 'ring' });
    const ring = (await adviceOf('R-14')).advices.find((a) => a.rule === 'crust')!;
    expect(ring.doWords).toBe('On plain still water from today');
    expect((await answer('accept', p.id, ring)).status).toBe(200);
    const page = async () => (await kit.call<PotView>('GET', `/api/pots/${p.id}`)).body;
    expect((await page()).regimen).toMatchObject({
      name: 'Plain still water only',
      reason: expect.stringMatching(/Crust at/) as unknown,
    });
    await look(p.id, {});
    await look(p.id, {});
    const back = (await adviceOf('R-14')).advices.find((a) => a.rule === 'backToFeed')!;
    // On one day the later word takes the place of the first, and what it followed before is not yet a day old.
    kit.clock.at = new Date('2026-11-26T09:00:00Z');
    const again = (await adviceOf('R-14')).advices.find((a) => a.rule === 'backToFeed')!;
    expect(back.rule).toBe(again.rule);
    expect((await answer('accept', p.id, again)).status).toBe(200);
    expect((await page()).regimen.name).toBe('Dilute 90, weekly');
  });
  it('the rules page lists every rule with where it comes from, and the order in which they give way', async () => {
    const { rules, priorities } = (await kit.call<RulesView>('GET', '/api/advice/rules')).body;
    expect(rules.length).toBeGreaterThan(20);
    expect(rules.find((r) => r.id === 'salts')!.source).toMatch(/^model: /);
    expect(rules.find((r) => r.id === 'takesAll')!.source).toBe('ours');
    expect(priorities.length).toBeGreaterThan(4);
  });
});
