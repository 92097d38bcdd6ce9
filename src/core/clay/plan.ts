import { requirePositive } from '../quantity/index.ts';
import { afterHours, changeWater, standardPpm, type ClayParameters, type LeachState } from './stores.ts';

/** What a leach may take. */
export type LeachLimits = {
  /** Least water that covers the clay, L. */
  readonly coverL: number;
  /** Still water at hand now and made a day, L; null where it does not matter. */
  readonly still: { readonly nowL: number; readonly perDayL: number } | null;
  /** It is looked at so often: 24 once a day, 12 twice. */
  readonly lookEveryHours: number;
  /** When it is looked at next: 0 while somebody stands over it. One look's time where it is not said. */
  readonly firstLookInHours?: number;
  readonly mostDays: number;
  /** What the standard soak may come to, over the water's base, for clay that is fit to plant, ppm. */
  readonly gatePpm: number;
};
export type LeachPlan = {
  /** From now on. */
  readonly changes: readonly { readonly inHours: number; readonly freshL: number }[];
  readonly litres: number;
  /** Until the last change, after which the water is as good as it gets. */
  readonly hours: number;
  /** What the standard soak comes to then. */
  readonly standardPpm: number;
  readonly reached: boolean;
};

const MOST_CHANGES = 14;
/** Between changes for the fewest days: longer only where still water is scarcer than a week's make. */
const LONGEST_WAIT_H = 168;
/** Sizes of a change tried, times the least that covers. */
const SIZES = [1, 1.3, 1.7, 2.2] as const;

/**
 * When to change the water, and how much, until the gate.
 * `days`: as soon as a look and the still water allow. `litres`: as few and as small changes as reach it within the days allowed, each left
 * as long as it pays; then the waits are shortened as far as the same litres allow.
 * @param leach as it stands now @returns the plan; `reached` false when not even the best of them gets there
 */
export function planLeach(
  clay: ClayParameters,
  clayL: number,
  leach: LeachState,
  limits: LeachLimits,
  aim: 'litres' | 'days',
): LeachPlan {
  requirePositive(limits.coverL, 'the water that covers the clay');
  requirePositive(limits.lookEveryHours, 'the time between looks');
  const play = (waits: readonly number[], size: number) => playPlan(clay, clayL, leach, limits, waits, size);
  const already = standardPpm(clay, clayL, leach);
  if (already <= limits.gatePpm) return { changes: [], litres: 0, hours: 0, standardPpm: already, reached: true };
  return aim === 'days' ? fewestDays(play, limits) : fewestLitres(play, limits);
}

/**
 * The grower's own way gone on with: the same wait and volume until the gate, the next change when the one under way is due.
 * @param own hours between changes and litres a change @param nextInHours until the next one
 */
export function planOwnWay(
  clay: ClayParameters,
  clayL: number,
  leach: LeachState,
  limits: LeachLimits,
  own: { readonly everyHours: number; readonly freshL: number; readonly nextInHours: number },
): LeachPlan {
  requirePositive(own.everyHours, 'the time between changes');
  requirePositive(own.freshL, 'the fresh water');
  let now = leach;
  let hours = 0;
  const changes: { inHours: number; freshL: number }[] = [];
  while (standardPpm(clay, clayL, now) > limits.gatePpm && changes.length < 2 * MOST_CHANGES) {
    const wait = changes.length === 0 ? own.nextInHours : own.everyHours;
    hours += wait;
    now = changeWater(clay, afterHours(clay, clayL, now, wait), own.freshL).leach;
    changes.push({ inHours: hours, freshL: own.freshL });
  }
  const flat = standardPpm(clay, clayL, now);
  return { changes, litres: own.freshL * changes.length, hours, standardPpm: flat, reached: flat <= limits.gatePpm };
}

type Play = (waits: readonly number[], size: number) => LeachPlan & { readonly supplied: boolean };

function fewestDays(play: Play, limits: LeachLimits): LeachPlan {
  const looks = Math.floor((limits.mostDays * 24) / limits.lookEveryHours);
  let best: LeachPlan | undefined;
  let closest: LeachPlan | undefined;
  for (const size of SIZES) {
    for (let every = 1; every <= Math.max(1, Math.ceil(LONGEST_WAIT_H / limits.lookEveryHours)); every++) {
      for (let n = 1; n * every <= looks && n <= 2 * MOST_CHANGES; n++) {
        const plan = play(new Array<number>(n).fill(every), size);
        if (!plan.supplied) break;
        if (!closest || plan.standardPpm < closest.standardPpm) closest = plan;
        if (!plan.reached) continue;
        if (!best || plan.hours < best.hours || (plan.hours === best.hours && plan.litres < best.litres)) best = plan;
        break;
      }
    }
  }
  return best ?? closest ?? play([], 1);
}

function fewestLitres(play: Play, limits: LeachLimits): LeachPlan {
  const looks = Math.floor((limits.mostDays * 24) / limits.lookEveryHours);
  let best: { plan: LeachPlan; waits: number[]; size: number } | undefined;
  let closest: LeachPlan | undefined;
  for (const size of SIZES) {
    for (let n = 1; n <= MOST_CHANGES; n++) {
      const wait = Math.floor(looks / n);
      if (wait < 1) break;
      const waits = new Array<number>(n).fill(wait);
      const plan = play(waits, size);
      if (!plan.supplied) continue;
      if (!closest || plan.standardPpm < closest.standardPpm) closest = plan;
      if (!plan.reached) continue;
      if (!best || plan.litres < best.plan.litres - 1e-9) best = { plan, waits, size };
      break;
    }
  }
  if (!best) return closest ?? play([], 1);
  return soonerWithin(play, best);
}

/** The same litres sooner: one look off any wait, the longest first, as long as the gate is still reached. */
function soonerWithin(play: Play, best: { plan: LeachPlan; waits: number[]; size: number }): LeachPlan {
  let { plan, waits } = best;
  const shorter = () => {
    for (const i of waits.map((_, k) => k).sort((a, b) => waits[b]! - waits[a]!)) {
      if (waits[i]! <= 1) continue;
      const fewer = waits.map((w, k) => (k === i ? w - 1 : w));
      const sooner = play(fewer, best.size);
      if (sooner.reached && sooner.supplied) return { plan: sooner, waits: fewer };
    }
    return undefined;
  };
  for (let next = shorter(); next; next = shorter()) ({ plan, waits } = next);
  return plan;
}

function playPlan(
  clay: ClayParameters,
  clayL: number,
  leach: LeachState,
  limits: LeachLimits,
  waits: readonly number[],
  size: number,
): LeachPlan & { supplied: boolean } {
  let now = leach;
  let hours = 0;
  let litres = 0;
  let supplied = true;
  const changes: { inHours: number; freshL: number }[] = [];
  const late = (limits.firstLookInHours ?? limits.lookEveryHours) - limits.lookEveryHours;
  for (const [i, wait] of waits.entries()) {
    const stands = wait * limits.lookEveryHours + (i === 0 ? late : 0);
    hours += stands;
    now = afterHours(clay, clayL, now, stands);
    const freshL = Math.max(0.1, size * limits.coverL - clay.retained * now.waterL);
    now = changeWater(clay, now, freshL).leach;
    litres += freshL;
    changes.push({ inHours: hours, freshL });
    if (limits.still && litres > limits.still.nowL + (limits.still.perDayL * hours) / 24 + 1e-9) supplied = false;
  }
  const flat = standardPpm(clay, clayL, now);
  return { changes, litres, hours, standardPpm: flat, reached: flat <= limits.gatePpm, supplied };
}
