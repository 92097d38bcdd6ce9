import { Liver } from './live.ts';
import { moveOf, type MoveKinds, type Mutable } from './moves.ts';
import type { PlanProblem, PlanWeights, SeasonPlan } from './problem.ts';

/*
 * Better plans by small moves, some for the worse at first and hardly any in the end (simulated annealing). It stops by the number of moves and draws by
 * a seed, never by the clock, so that the same question has the same answer everywhere.
 */

export type SearchOptions = {
  readonly weights: PlanWeights;
  readonly moves: number;
  readonly seed: number;
  /** What a changed watering costs against the plan that stands, a pot; 0 where nothing stands. */
  readonly keep?: { readonly plan: SeasonPlan; readonly potMoved: number };
  readonly kinds?: MoveKinds;
  /** Told now and then how far it is, 0 to 1; false stops it, and the best so far is kept. */
  readonly tell?: (share: number, cost: number) => boolean;
};

type Lots = PlanProblem['lots'];

/** Random figures from 0 up to 1 by a seed: a small counter, well stirred (mulberry32, in the public domain). */
export function drawsBy(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let x = Math.imul(state ^ (state >>> 15), 1 | state);
    x = (x + Math.imul(x ^ (x >>> 7), 61 | x)) ^ x;
    return ((x ^ (x >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** How hot it begins and ends, in mixes: several of them, and next to nothing. */
const HOT = 4;
/** A plan that stands is near its end: it is only bettered round what changed. */
const HOT_MENDING = 0.5;
const COLD = 0.04;
const TELL_EVERY = 2000;

/** @param start a plan that can be @returns the best that was found; never worse than the start */
export function searchPlan(problem: PlanProblem, start: SeasonPlan, options: SearchOptions): SeasonPlan {
  const { moves, seed, weights, keep, tell, kinds } = options;
  const liver = new Liver(problem);
  const draw = drawsBy(seed);
  const plan: Mutable = copyOf(start);
  const costOf = (p: SeasonPlan) => liver.cost(p, weights) + (keep ? movedCost(problem.lots, keep, p) : 0);
  let cost = costOf(plan);
  let best = copyOf(plan);
  let bestCost = cost;
  const trays = traysOf(problem.lots);
  const hot = keep ? HOT_MENDING : HOT;
  for (let n = 0; n < moves; n++) {
    const heat = Math.max(1, weights.mix) * hot * (COLD / hot) ** (n / moves);
    const undo = moveOf(problem, plan, trays, draw, kinds);
    if (undo) {
      const next = costOf(plan);
      if (next <= cost || draw() < Math.exp((cost - next) / heat)) {
        cost = next;
        if (cost < bestCost - 1e-9) [best, bestCost] = [copyOf(plan), cost];
      } else undo();
    }
    if (tell && n % TELL_EVERY === TELL_EVERY - 1 && !tell((n + 1) / moves, bestCost)) break;
  }
  return best;
}

const copyOf = (plan: SeasonPlan): Mutable => ({
  visits: plan.visits.map((days) => [...days]),
  soaks: plan.soaks.map((days) => [...days]),
  leaches: plan.leaches.map((days) => [...days]),
});

function traysOf(lots: Lots): number[][] {
  const trays = new Map<string, number[]>();
  for (const [l, lot] of lots.entries()) trays.set(lot.tray, [...(trays.get(lot.tray) ?? []), l]);
  return [...trays.values()];
}

/** What it costs that lots are watered on other days than in the plan that stands. */
function movedCost(
  lots: Lots,
  { plan: stood, potMoved }: NonNullable<SearchOptions['keep']>,
  plan: SeasonPlan,
): number {
  let moved = 0;
  for (let l = 0; l < lots.length; l++) {
    const was = stood.visits[l] ?? [];
    const now = plan.visits[l]!;
    // What is new past the old plan's end moves nothing.
    const end = was.at(-1) ?? -1;
    for (const day of was) if (!now.includes(day)) moved += lots[l]!.potIds.length;
    for (const day of now) if (day <= end && !was.includes(day)) moved += lots[l]!.potIds.length;
    const soaked = stood.soaks[l] ?? [];
    plan.soaks[l]!.forEach((day, s) => {
      if ((soaked[s] ?? -1) >= 0 && soaked[s] !== day) moved += lots[l]!.potIds.length;
    });
  }
  return potMoved * moved;
}

/** Each beginning is bettered by this share of the moves; the best goes on with the rest. */
const TRIED_SHARE = 0.1;

/**
 * The best plan that is found from several beginnings: the start, and it with only the first so many changes of new clay's water. Those are large, so that
 * no small move leads from one number of them to another while the tank is short; it is held in each.
 */
export function seekPlan(problem: PlanProblem, start: SeasonPlan, options: SearchOptions): SeasonPlan {
  const most = Math.max(0, ...start.leaches.map((changes) => changes.length));
  const starts = [start];
  for (let n = 0; n < most; n++)
    starts.push({ ...start, leaches: start.leaches.map((changes) => changes.slice(0, n)) });
  if (starts.length === 1) return searchPlan(problem, start, options);
  const { moves, weights, tell } = options;
  const kinds = { changesHeld: true };
  const liver = new Liver(problem);
  const each = Math.floor(TRIED_SHARE * moves);
  const rest = moves - each * starts.length;
  let [best, bestCost] = [start, Infinity];
  for (const [i, one] of starts.entries()) {
    const share = (part: number) => (each * (i + part)) / moves;
    const found = searchPlan(problem, one, {
      ...options,
      kinds,
      moves: each,
      tell: (part, cost) => tell?.(share(part), cost) ?? true,
    });
    const cost = liver.cost(found, weights);
    if (cost < bestCost) [best, bestCost] = [found, cost];
  }
  return searchPlan(problem, best, {
    ...options,
    kinds,
    moves: rest,
    tell: (part, cost) => tell?.(1 - (rest * (1 - part)) / moves, cost) ?? true,
  });
}
