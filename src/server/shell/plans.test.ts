import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Problem } from '../../contract/errors.ts';
import type { PotsView, PotView } from '../../contract/pots.ts';
import type { RoundView } from '../../contract/round.ts';
import type { PlannedActView, SettingsValues, ShellView } from '../../contract/shell.ts';
import { serverKit, testId, TODAY, type Kit } from '../../../tests/server-kit.ts';

let kit: Kit;
beforeAll(async () => {
  kit = await serverKit(2);
});
afterAll(() => kit.close());

const act = (body: object, id = testId()) =>
  kit.call<Problem & { repeated: boolean }>('PUT', `/api/shell/plans/acts/${id}`, body);
const undo = (targetId: string) => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId });
const plans = async () => (await kit.call<{ plans: PlannedActView[] }>('GET', '/api/shell/plans')).body.plans;
const shell = async () => (await kit.call<ShellView>('GET', '/api/shell')).body;

describe('planned acts', () => {
  it('stand on one list with whom they are about and who put them there; done, moved and dropped, each undoable', async () => {
    const pot = (await kit.call<PotsView>('GET', '/api/pots')).body.places[0]!.pots[0]!;
    const planId = testId();
    await act({
      kind: 'plan',
      planId,
      subjectKind: 'pot',
      subjectId: pot.id,
      words: 'Look at the roots',
      onDate: '2026-11-28',
      origin: 'grower',
    });
    expect(await plans()).toEqual([
      expect.objectContaining({
        id: planId,
        about: `${pot.code} ${pot.name}`,
        onDate: '2026-11-28',
        daysLate: -3,
        origin: 'grower',
        doneOn: null,
      }),
    ]);
    await act({ kind: 'moveTo', planId, onDate: TODAY });
    expect((await plans())[0]!.daysLate).toBe(0);
    const done = testId();
    await act({ kind: 'done', planId }, done);
    expect((await plans())[0]!.doneOn).toBe(TODAY);
    await undo(done);
    expect((await plans())[0]!.doneOn).toBeNull();
    await act({ kind: 'drop', planId });
    expect(await plans()).toEqual([]);
    const page = (await kit.call<PotView>('GET', `/api/pots/${pot.id}`)).body;
    expect(page.visits.filter((v) => v.kind === 'changed').map((v) => v.words)).toContain(
      'Planned for 2026-11-28: Look at the roots',
    );
  });
  it('refuses a day that is past, and a subject that is not there', async () => {
    expect(
      (
        await act({
          kind: 'plan',
          planId: testId(),
          subjectKind: 'collection',
          subjectId: null,
          words: 'x',
          onDate: '2026-11-24',
          origin: 'grower',
        })
      ).body.errors?.[0]?.path,
    ).toBe('onDate');
    expect(
      (
        await act({
          kind: 'plan',
          planId: testId(),
          subjectKind: 'pot',
          subjectId: testId(),
          words: 'x',
          onDate: TODAY,
          origin: 'grower',
        })
      ).body.code,
    ).toBe('not-found');
    expect((await act({ kind: 'done', planId: testId() })).body.code).toBe('not-found');
  });
});

describe('clocks', () => {
  it('run several at once, the next to ring first, until they are stopped; starting twice is once', async () => {
    const [a, b, started] = [testId(), testId(), testId()];
    const about = { subjectKind: 'collection', subjectId: null, origin: 'grower' };
    await act({ kind: 'startClock', clockId: a, words: 'Soak', minutes: 30, ...about }, started);
    expect(
      (await act({ kind: 'startClock', clockId: a, words: 'Soak', minutes: 30, ...about }, started)).body.repeated,
    ).toBe(true);
    await act({ kind: 'startClock', clockId: b, words: 'Drain', minutes: 3, ...about });
    const running = (await shell()).clocks;
    expect(running.map((c) => c.words)).toEqual(['Drain', 'Soak']);
    expect(Date.parse(running[1]!.endsAt) - Date.parse(running[1]!.startedAt)).toBe(30 * 60_000);
    await act({ kind: 'extendClock', clockId: b, minutes: 60 });
    expect((await shell()).clocks.map((c) => c.words)).toEqual(['Soak', 'Drain']);
    const stopped = testId();
    await act({ kind: 'stopClock', clockId: a }, stopped);
    expect((await shell()).clocks.map((c) => c.words)).toEqual(['Drain']);
    await undo(stopped);
    expect((await shell()).clocks).toHaveLength(2);
    expect(
      (await act({ kind: 'startClock', clockId: testId(), words: 'x', minutes: 0, ...about })).body.errors?.[0]?.path,
    ).toBe('minutes');
  });
});

describe('settings', () => {
  it('hold at once, move the due days to working days, and can be taken back', async () => {
    const settings = (await kit.call<SettingsValues>('GET', '/api/shell/settings')).body;
    const late = async () =>
      (await kit.call<RoundView>('GET', '/api/round')).body.places
        .flatMap((p) => p.pots)
        .map((p) => new Date(`${p.due.dueOn}T12:00:00Z`).getUTCDay());
    const id = testId();
    await kit.call('PUT', `/api/shell/settings/${id}`, {
      ...settings,
      collection: 'Window ledge',
      units: 'us',
      workingDays: [3, 6],
    });
    expect(await shell()).toMatchObject({ collection: 'Window ledge', units: 'us' });
    expect(new Set(await late())).toEqual(new Set([3, 6]));
    await undo(id);
    expect(await shell()).toMatchObject({ collection: settings.collection, units: 'metric' });
    expect(
      (await kit.call<Problem>('PUT', `/api/shell/settings/${testId()}`, { ...settings, zone: 'Europe/Nowhere' })).body
        .errors?.[0]?.path,
    ).toBe('zone');
    expect(
      (await kit.call<Problem>('PUT', `/api/shell/settings/${testId()}`, { ...settings, workingDays: [] })).body
        .errors?.[0]?.message,
    ).toMatch(/at least one day/);
  });
});
