import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RegimensCompared } from '../../../contract/regimens-compared.ts';
import { newlyStarted, serverKit, testId, TODAY, type Kit } from '../../../../tests/server-kit.ts';

let kit: Kit;
beforeEach(async () => {
  kit = await serverKit(26);
});
afterEach(() => kit.close());
const ask = async (query = '') => (await kit.call<RegimensCompared>('GET', `/api/book/schools${query}`)).body;
const named = (found: RegimensCompared, name: string) => found.regimens.find((r) => r.name === name)!;
const arm = (found: RegimensCompared, key: string, name: string) =>
  found.measures.find((m) => m.key === key)!.arms.find(({ regimenId }) => regimenId === named(found, name).id)!;

describe('regimens side by side', () => {
  it('each pot is its own mean since it follows its regimen; one in a trial is left out', async () => {
    const found = await ask();
    const weekly = named(found, 'Dilute 90, weekly');
    expect(found).toMatchObject({ today: TODAY, weeks: 12, against: weekly.id });
    const inTrial = await kit.rows<{ potId: string }>(
      `SELECT potId FROM trial_pot JOIN trial t ON t.id = trialId WHERE endedOn IS NULL`,
    );
    const tried = inTrial.map(({ potId }) => potId);
    expect(tried.length).toBeGreaterThan(0);
    const shown = found.measures.flatMap(({ arms }) => arms.flatMap(({ pots }) => pots.map(({ id }) => id)));
    expect(shown.filter((id) => tried.includes(id))).toEqual([]);
    expect(found.regimens.reduce((sum, r) => sum + r.pots + r.inTrial, 0)).toBe(42);
    // By hand: still water of a pot, from its fillings since.
    const one = arm(found, 'onTime', 'Dilute 90, weekly').pots[0]!;
    const fillings = await kit.rows<{ localDate: string; payload: string }>(
      `SELECT localDate, payload FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL AND potId = ? AND localDate >= ?`,
      [one.id, found.from],
    );
    const onTime = fillings.map(
      ({ localDate, payload }) => localDate <= (JSON.parse(payload) as { dueOn: string }).dueOn,
    );
    expect(one.value).toBeCloseTo(onTime.filter(Boolean).length / onTime.length, 9);
  });
  it('of a place where all pots follow one regimen nothing is set against the others, and its place is told', async () => {
    const found = await ask();
    expect(
      found.measures.every(({ arms }) =>
        arms.every(
          ({ regimenId, against }) => regimenId !== named(found, 'Dilute 75, fortnightly').id || against === 'nothing',
        ),
      ),
    ).toBe(true);
    const porch = named(found, 'Dilute 75, fortnightly');
    expect(porch.differs).toEqual(['fortnightly, not weekly', '75 ppm, not 90 ppm']);
    expect(porch.unlike).toContainEqual({ of: 'place', what: 'Cool porch', some: [12, 12], others: [0, 13] });
    const soaks = arm(found, 'ph', 'Dilute 90, soaks in season').against;
    expect(soaks).toMatchObject({ by: 'place', pots: [3, 11] });
  });
  it('is set against another where it is asked for, and says the opposite', async () => {
    const first = await ask();
    const other = named(first, 'Dilute 90, soaks in season');
    const second = await ask(`?against=${other.id}`);
    expect(second.against).toBe(other.id);
    const there = arm(first, 'ph', other.name).against;
    const back = arm(second, 'ph', 'Dilute 90, weekly').against;
    if (there === null || back === null || typeof there === 'string' || typeof back === 'string')
      throw new Error('none');
    expect(back.mean).toBeCloseTo(-there.mean, 9);
    // Of one that is none, the one most pots follow.
    expect((await ask(`?against=${testId()}`)).against).toBe(first.against);
    expect((await kit.call('GET', '/api/book/schools?weeks=1')).status).toBe(400);
  });
  it('a pot that takes up another regimen is not told of by what it was like before', async () => {
    const before = await ask();
    const [pot] = arm(before, 'ph', 'Dilute 90, weekly').pots;
    const to = named(before, 'Dilute 90, soaks in season');
    await kit.call('PUT', `/api/pots/acts/${testId()}`, {
      kind: 'regimen',
      potIds: [pot!.id],
      regimenId: to.id,
      reason: 'x',
    });
    const after = await ask();
    expect(named(after, to.name).pots).toBe(to.pots + 1);
    expect(arm(after, 'ph', to.name).pots.map(({ id }) => id)).not.toContain(pot!.id);
    expect(arm(after, 'ph', 'Dilute 90, weekly').pots.map(({ id }) => id)).not.toContain(pot!.id);
  });
  it('a pot that left is counted, and a server that was just started says the same', async () => {
    const before = await ask();
    const [pot] = arm(before, 'ph', 'Dilute 90, weekly').pots;
    await kit.call('PUT', `/api/pots/acts/${testId()}`, { kind: 'retire', potIds: [pot!.id], became: 'died' });
    const after = await ask();
    expect(named(after, 'Dilute 90, weekly')).toMatchObject({ left: 1 });
    const fresh = await newlyStarted(kit);
    try {
      expect((await fresh.call<RegimensCompared>('GET', '/api/book/schools')).body).toEqual(after);
    } finally {
      await fresh.close();
    }
  });
  it('a pot that was moved is matched by where it stands, and told of from that day on', async () => {
    const before = await ask();
    const [pot] = arm(before, 'ph', 'Dilute 75, fortnightly').pots;
    const [sill] = await kit.rows<{ id: string }>(`SELECT id FROM place WHERE name = 'East sill'`);
    await kit.call('PUT', `/api/pots/acts/${testId()}`, {
      kind: 'move',
      potIds: [pot!.id],
      placeId: sill!.id,
      beforePotId: null,
    });
    const after = await ask();
    expect(named(after, 'Dilute 75, fortnightly').pots).toBe(12);
    expect(arm(after, 'ph', 'Dilute 75, fortnightly').pots.map(({ id }) => id)).not.toContain(pot!.id);
  });
  it('a regimen all of whose pots left is told of, and nothing is set against it', async () => {
    const before = await ask();
    const herbs = named(before, 'Herbs 320, weekly');
    const potIds = arm(before, 'onTime', herbs.name).pots.map(({ id }) => id);
    await kit.call('PUT', `/api/pots/acts/${testId()}`, { kind: 'retire', potIds, became: 'eaten' });
    const after = await ask(`?against=${herbs.id}`);
    expect(named(after, herbs.name)).toMatchObject({ pots: 0, left: potIds.length });
    expect(after.against).toBe(before.against);
  });
});
