/** Plans of generated collections: how long one takes at once, how many moves a second, and what is won by them. `npx tsx bench/season.ts` */
import { performance } from 'node:perf_hooks';
import {
  drawsBy,
  greedyPlan,
  Liver,
  PLAN_AIMS,
  searchPlan,
  type Lot,
  type PlanProblem,
} from '../src/core/plan/index.ts';

const DAYS = 42;
/** Tank in days of what the collection drinks: tight, ample. */
const TANKS = { tight: 0.9, ample: 2.5 };

function collection(pots: number, share: number, seed: number): PlanProblem {
  const draw = drawsBy(seed);
  const lots: Lot[] = [];
  for (let n = 0; lots.reduce((sum, lot) => sum + lot.potIds.length, 0) < pots; n++) {
    const size = 3 + Math.floor(draw() * 6);
    const everyDays = [7, 7, 7, 10, 14][Math.floor(draw() * 5)]!;
    const lastOn = -Math.floor(draw() * everyDays);
    lots.push({
      id: `l${n}`,
      tray: `t${Math.floor(n / 2)}`,
      potIds: Array.from({ length: size }, (_, i) => `${n}-${i}`),
      lastOn,
      dueOn: lastOn + everyDays,
      turn: 0,
      feeds: [
        {
          mix: ['feed 90', 'feed 75', 'feed 180'][Math.floor(draw() * 3)]!,
          stillL: size * (0.3 + 0.4 * draw()),
          everyDays,
        },
      ],
      soonestDays: Math.ceil(0.6 * everyDays),
      latestDays: 21,
      dryOn: lastOn + Math.ceil(everyDays * 1.4),
      dryDays: Math.ceil(everyDays * 1.4),
      soaks:
        draw() < 0.4
          ? [
              { mix: 'soak', what: 'magnesium', pinned: false, stillL: size * 0.9, from: 0, until: 20, apartDays: 21 },
              { mix: 'soak', what: 'magnesium', pinned: false, stillL: size * 0.9, from: 21, until: 41, apartDays: 21 },
            ]
          : [],
      pinned: [],
      not: [],
    });
  }
  const perDay = lots.reduce((sum, lot) => sum + lot.feeds[0]!.stillL / lot.feeds[0]!.everyDays, 0);
  const madeL = 1.35 * perDay;
  return {
    days: DAYS,
    works: Array.from({ length: DAYS }, (_, t) => t % 7 < 5 || seed % 2 === 0),
    minutesADay: null,
    tank: { startL: share * madeL, capL: 2 * share * madeL, madeL: Array.from({ length: DAYS }, () => madeL) },
    lots,
    leaches: [{ id: 'clay', name: 'clay', changeL: 2 * madeL, gapDays: 7, dueOn: 2, changes: 5 }],
    fixed: [],
    minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
  };
}

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const weights = PLAN_AIMS.nobodyLate;
console.log('pots  tank   at once ms  moves/s   points: at once → 200 000 moves   late pot-days  mixes');
for (const pots of [42, 60, 120, 200, 500])
  for (const [name, share] of Object.entries(TANKS)) {
    const runs = [1, 2, 3].map((seed) => {
      const problem = collection(pots, share, seed);
      const began = performance.now();
      const start = greedyPlan(problem);
      const atOnce = performance.now() - began;
      const moves = 200_000;
      const sought = performance.now();
      const plan = searchPlan(problem, start, { weights, moves, seed });
      const perSecond = (1000 * moves) / (performance.now() - sought);
      const liver = new Liver(problem);
      return {
        atOnce,
        perSecond,
        from: liver.cost(start, weights),
        to: liver.cost(plan, weights),
        ...liver.live(plan).totals,
      };
    });
    const of = (pick: (run: (typeof runs)[number]) => number) => median(runs.map(pick));
    console.log(
      `${String(pots).padEnd(5)} ${name.padEnd(6)} ${of((r) => r.atOnce)
        .toFixed(1)
        .padStart(8)} ${Math.round(of((r) => r.perSecond))
        .toString()
        .padStart(
          12,
        )}   ${Math.round(of((r) => r.from))} → ${Math.round(of((r) => r.to))} (${Math.round(100 * (1 - of((r) => r.to / r.from)))} % less)   ${of((r) => r.latePotDays)}   ${of((r) => r.mixes)}`,
    );
  }
