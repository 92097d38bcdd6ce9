/**
 * Plans of generated collections: how long one takes at once, how many moves a second, what is won by them, how many mixes are proven to be the least, and how
 * much a watering put on another day moves besides. `npx tsx bench/season.ts`
 */
import load from 'highs';
import { performance } from 'node:perf_hooks';
import {
  fewestMixesOf,
  fitPlan,
  greedyPlan,
  justified,
  Liver,
  mendPlan,
  movedBetween,
  PLAN_AIMS,
  seekPlan,
} from '../src/core/plan/index.ts';
import { atLeast } from '../src/web/season/at-least.ts';
import { noCheaperThan } from '../src/web/season/whole-bound.ts';
import { collection, TANKS } from './season-collection.ts';

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const weights = PLAN_AIMS.nobodyLate;
const highs = await load();
const MOVES = 300_000;

function run(pots: number, share: number, seed: number) {
  const problem = collection(pots, share, seed);
  const timed = <T>(of: () => T): [T, number] => {
    const began = performance.now();
    const made = of();
    return [made, performance.now() - began];
  };
  const [start, atOnce] = timed(() => greedyPlan(problem));
  const [found, sought] = timed(() =>
    justified(problem, seekPlan(problem, start, { weights, moves: MOVES, seed }), weights),
  );
  const [bound, proving] = timed(() =>
    [...fewestMixesOf(problem).values()].reduce((sum, model) => sum + atLeast(highs, model), 0),
  );
  const [least, bounding] = timed(() => noCheaperThan(highs, problem, weights)!);
  // The first lot with a visit in the second week, put two days on and pinned there.
  const l = found.visits.findIndex((days) => days.some((day) => day >= 7 && day < 12));
  const day = found.visits[l]!.find((one) => one >= 7 && one < 12)!;
  const pinned = { ...problem, lots: problem.lots.map((lot, n) => (n === l ? { ...lot, pinned: [day + 2] } : lot)) };
  const stood = {
    ...found,
    visits: found.visits.map((days, n) => (n === l ? days.map((d) => (d === day ? day + 2 : d)) : days)),
  };
  const [, answered] = timed(() => fitPlan(pinned, stood));
  const [mended, mending] = timed(() => mendPlan(pinned, stood, { weights, moves: 60_000, seed }));
  const others = new Set(
    movedBetween(stood, mended)
      .filter(({ lot }) => lot !== l)
      .map(({ lot, from }) => `${problem.lots[lot]!.tray}.${from}`),
  );
  const liver = new Liver(problem);
  const { totals } = liver.live(found);
  return {
    ...{ atOnce, sought, bound, proving, answered, mending, others: others.size },
    bounding,
    apart: 1 - least / liver.cost(found, weights),
    won: 1 - liver.cost(found, weights) / liver.cost(start, weights),
    ...totals,
  };
}

console.log(
  'pots tank   at once  300 000 moves  won   late pot-days  dry  mixes  at least (proven in)   no better than by (proven in)   a drag: answered, mended, other tray-days',
);
for (const pots of [42, 60, 120, 200, 500])
  for (const [name, share] of Object.entries(TANKS)) {
    const runs = [1, 2, 3].map((seed) => run(pots, share, seed));
    const of = (pick: (one: (typeof runs)[number]) => number) => median(runs.map(pick));
    const ms = (pick: (one: (typeof runs)[number]) => number) => `${Math.round(of(pick))} ms`;
    console.log(
      [
        `${String(pots).padEnd(4)} ${name.padEnd(6)}`,
        ms((r) => r.atOnce).padStart(8),
        ms((r) => r.sought).padStart(12),
        `${Math.round(100 * of((r) => r.won))} %`.padStart(6),
        of((r) => r.latePotDays),
        of((r) => r.dryPotDays),
        of((r) => r.mixes),
        `${of((r) => r.bound)} (${ms((r) => r.proving)})`,
        `${Math.round(100 * of((r) => r.apart))} % (most ${Math.round(100 * Math.max(...runs.map((r) => r.apart)))}; ${ms((r) => r.bounding)})`,
        `${ms((r) => r.answered)}, ${ms((r) => r.mending)}, ${of((r) => r.others)} (most ${Math.max(...runs.map((r) => r.others))})`,
      ].join('  '),
    );
  }
