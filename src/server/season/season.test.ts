import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, TODAY, type Kit } from '../../../tests/server-kit.ts';
import type { RoundView } from '../../contract/round.ts';
import type { SeasonView } from '../../contract/season.ts';
import { brokenBy, greedyPlan, Liver, PLAN_AIMS, searchPlan } from '../../core/plan/index.ts';
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
