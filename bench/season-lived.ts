/**
 * Six weeks lived by the plan, mended every morning, against everything on the day it is due and everything on Sunday: thirst differs from what was foretold, and
 * some days nobody has time, which nobody knew. `npx tsx bench/season-lived.ts`
 */
import {
  drawsBy,
  greedyPlan,
  mendPlan,
  PLAN_AIMS,
  seekPlan,
  type Lot,
  type PlanProblem,
  type SeasonPlan,
} from '../src/core/plan/index.ts';
import { collection, TANKS } from './season-collection.ts';

const WORLDS = 12;
const MISSED = 0.12;
const weights = PLAN_AIMS.nobodyLate;
type Policy = 'plan' | 'due' | 'sunday';
type Sums = { late: number; dry: number; mixes: number; over: number; used: number; couldNot: number };

/** A lot as it stands on a morning. */
type Now = { lastOn: number; dueOn: number; dryOn: number };

/** A world: how much thirstier each lot is than was thought, and the days nobody has time. */
function worldOf(problem: PlanProblem, seed: number) {
  const draw = drawsBy(seed * 7919);
  const thirst = problem.lots.map(() => Math.exp(0.5 * (draw() + draw() + draw() - 1.5)));
  return { thirst, missed: Array.from({ length: problem.days }, () => draw() < MISSED) };
}

function live(problem: PlanProblem, policy: Policy, seed: number): Sums {
  const { thirst, missed } = worldOf(problem, seed);
  const tank = problem.tank!;
  const now: Now[] = problem.lots.map((lot, l) => ({
    lastOn: lot.lastOn!,
    dueOn: lot.dueOn,
    dryOn: lot.lastOn! + lot.dryDays! / thirst[l]!,
  }));
  const sums: Sums = { late: 0, dry: 0, mixes: 0, over: 0, used: 0, couldNot: 0 };
  let level = tank.startL;
  let plan: SeasonPlan | undefined;
  for (let t = 0; t < problem.days; t++) {
    const wanted = missed[t] || !problem.works[t] ? [] : wantedOn(t);
    const mixes = new Set<string>();
    for (const l of wanted) {
      const lot = problem.lots[l]!;
      const { stillL, mix, everyDays } = lot.feeds[0]!;
      if (stillL > level) {
        sums.couldNot += lot.potIds.length;
        continue;
      }
      level -= stillL;
      sums.used += stillL;
      mixes.add(mix);
      now[l] = { lastOn: t, dueOn: t + everyDays, dryOn: t + lot.dryDays! / thirst[l]! };
    }
    sums.mixes += mixes.size;
    for (const [l, { dueOn, dryOn }] of now.entries()) {
      const pots = problem.lots[l]!.potIds.length;
      if (t >= dueOn + 1) sums.late += pots;
      if (t >= dryOn + 1) sums.dry += pots;
    }
    level += tank.madeL[t]!;
    sums.over += Math.max(0, level - tank.capL!);
    level = Math.min(level, tank.capL!);
  }
  return sums;

  function wantedOn(t: number): number[] {
    const all = problem.lots.map((_, l) => l);
    const byNeed = (list: number[]) => list.sort((a, b) => now[a]!.dueOn - now[b]!.dueOn);
    if (policy === 'due') return byNeed(all.filter((l) => now[l]!.dueOn <= t));
    // On Sunday whatever falls due before the next; a day missed is a week missed.
    if (policy === 'sunday') return t % 7 === 6 ? byNeed(all.filter((l) => now[l]!.dueOn <= t + 6)) : [];
    const left = problem.days - t;
    const ahead: PlanProblem = {
      ...problem,
      days: left,
      works: problem.works.slice(t),
      tank: { ...tank, startL: level, madeL: tank.madeL.slice(t) },
      leaches: [],
      lots: problem.lots.map((lot, l): Lot => {
        const { lastOn, dueOn } = now[l]!;
        return { ...lot, lastOn: lastOn - t, dueOn: dueOn - t, dryOn: lastOn + lot.dryDays! - t, soaks: [] };
      }),
    };
    const stood = plan && {
      ...plan,
      visits: plan.visits.map((days) => days.map((day) => day - 1).filter((day) => day >= 0)),
    };
    plan = stood
      ? mendPlan(ahead, stood, { weights, moves: 8000, seed })
      : seekPlan(ahead, greedyPlan(ahead), { weights, moves: 60_000, seed });
    const today = all.filter((l) => plan!.visits[l]!.includes(0));
    return byNeed(today);
  }
}

console.log('pots tank    by          late pot-days  dry pot-days  mixes  over the top L  used L');
for (const pots of [42, 120])
  for (const [name, share] of Object.entries(TANKS))
    for (const policy of ['plan', 'due', 'sunday'] as const) {
      const runs = Array.from({ length: WORLDS }, (_, n) =>
        live({ ...collection(pots, share, n + 1), leaches: [] }, policy, n + 1),
      );
      const mean = (of: (sums: Sums) => number) =>
        (runs.reduce((sum, one) => sum + of(one), 0) / WORLDS).toFixed(0).padStart(8);
      console.log(
        `${String(pots).padEnd(4)} ${name.padEnd(7)} ${policy.padEnd(8)} ${mean((s) => s.late)}      ${mean((s) => s.dry)}    ${mean((s) => s.mixes)}  ${mean((s) => s.over)}     ${mean((s) => s.used)}`,
      );
    }
