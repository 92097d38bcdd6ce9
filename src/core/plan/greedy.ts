import { brokenBy } from './rules.ts';
import type { Lot, PlanProblem, SeasonPlan } from './problem.ts';

/*
 * A plan at once: day by day, what dries first, then what is late, then what is due, as far as the tank and the minutes reach; what would fall due on days
 * off is done on the last day before them. What could not be done stays due, and is dearer every day.
 */

/** As the greedy hand goes: a lot with its last watering, and what it waits for. */
type Standing = {
  readonly l: number;
  lastOn: number | null;
  dueOn: number;
  turn: number;
  dryOn: number;
};

/** @returns a plan that can be, whatever the problem */
export function greedyPlan(problem: PlanProblem): SeasonPlan {
  const { days, lots, leaches, works } = problem;
  const visits: number[][] = lots.map(() => []);
  const soaks = lots.map((lot) => lot.soaks.map(() => -1));
  const changes: number[][] = leaches.map(() => []);
  const standing = lots.map((lot, l): Standing => ({
    l,
    lastOn: lot.lastOn,
    dueOn: Math.max(0, lot.dueOn),
    turn: lot.turn,
    dryOn: Math.min(lot.dryOn ?? Infinity, limitOf(lot, lot.lastOn)),
  }));
  const nextWork = nextWorkOf(works, days);
  const hand = handOf(problem);
  for (let t = 0; t < days; t++) {
    hand.dawn(t);
    const pinned = lots.some((lot) => lot.pinned.includes(t));
    if (works[t] || pinned) {
      const off = nextWork(t) - t;
      leaches.forEach((leach, b) => {
        if (!works[t]) return;
        const last = changes[b]!.at(-1);
        const dueOn = last === undefined ? leach.dueOn : last + leach.gapDays;
        if (changes[b]!.length < leach.changes && t >= dueOn && hand.take(t, leach.changeL, problem.minutes.leach, []))
          changes[b]!.push(t);
      });
      for (const s of wanted(standing, lots, t, off, works[t]!)) {
        const lot = lots[s.l]!;
        const feed = lot.feeds[s.turn % lot.feeds.length]!;
        const soak = soakNow(lot, soaks[s.l]!, t);
        const withSoak = soak >= 0 ? lot.soaks[soak]! : undefined;
        const pots = lot.potIds.length;
        const plainMin = pots * problem.minutes.pot;
        if (
          withSoak &&
          hand.take(t, feed.stillL + withSoak.stillL, pots * problem.minutes.soakedPot, [feed.mix, withSoak.mix])
        )
          soaks[s.l]![soak] = t;
        else if (!hand.take(t, feed.stillL, plainMin, [feed.mix]) && !mustGo(s, lot, t, off)) continue;
        visits[s.l]!.push(t);
        s.lastOn = t;
        s.dueOn = t + feed.everyDays;
        s.dryOn = Math.min(lot.dryDays === null ? Infinity : t + lot.dryDays, limitOf(lot, t));
        s.turn++;
      }
    }
    hand.night(t);
  }
  const plan = { visits, soaks, leaches: changes };
  const broken = brokenBy(problem, plan);
  if (broken) throw new Error(`The plan made at once is ${broken.what} on day ${broken.day}.`);
  return plan;
}

const limitOf = (lot: Lot, on: number | null): number =>
  on === null || lot.latestDays === null ? Infinity : on + lot.latestDays;

/** The next day that may be worked on after a day; past the plan where there is none. */
const nextWorkOf = (works: readonly boolean[], days: number) => (t: number) => {
  for (let next = t + 1; next < days; next++) if (works[next]) return next;
  return days;
};

/** What is done on a day: due, late, or due before the next day that may be worked on; what dries first first, then what is longest due. */
function wanted(
  standing: readonly Standing[],
  lots: readonly Lot[],
  t: number,
  off: number,
  works: boolean,
): Standing[] {
  return standing
    .filter((s) => {
      const lot = lots[s.l]!;
      if (lot.pinned.includes(t)) return s.lastOn === null || t > s.lastOn;
      if (!works || lot.not.includes(t)) return false;
      // A pin that comes soon is its watering.
      if (lot.pinned.some((pin) => pin > t && pin < t + lot.soonestDays)) return false;
      if (s.lastOn !== null && t < s.lastOn + (lot.pinned.includes(s.lastOn) ? 1 : lot.soonestDays)) return false;
      // Of the days before the next working day the day itself is the last chance.
      return Math.min(s.dueOn, s.dryOn) < t + Math.max(1, off);
    })
    .sort((a, b) => a.dryOn - b.dryOn || a.dueOn - b.dueOn || a.l - b.l);
}

/** It would stand dry before anybody comes again, or is pinned: it is watered, and the litres are carried in. */
const mustGo = (s: Standing, lot: Lot, t: number, off: number): boolean =>
  s.dryOn < t + Math.max(1, off) || lot.pinned.includes(t);

/** The first soak of a lot that is open and not given. */
function soakNow(lot: Lot, given: readonly number[], t: number): number {
  return lot.soaks.findIndex((soak, s) => {
    const before = given[s - 1] ?? -1;
    return given[s] === -1 && soak.from <= t && t <= soak.until && (before < 0 || t >= before + soak.apartDays);
  });
}

/** What the tank and the day still give. */
function handOf({ tank, fixed, minutesADay, minutes: of }: PlanProblem) {
  let level = tank?.startL ?? Infinity;
  let left = Infinity;
  let made = new Set<string>();
  const water = (litres: number) => {
    level = Math.max(0, level - litres);
  };
  return {
    dawn(t: number) {
      left = minutesADay ?? Infinity;
      made = new Set();
      for (const act of fixed)
        if (act.day === t) {
          water(act.stillL);
          left -= act.minutes;
        }
    },
    /** Takes litres and minutes where there are enough; mixes made anyway today cost no minutes. */
    take(_t: number, litres: number, minutes: number, mixes: readonly string[]): boolean {
      const fresh = mixes.filter((mix) => mix !== '' && !made.has(mix));
      const needs = minutes + fresh.length * of.mix;
      if (litres > level + 1e-9 || needs > left) return false;
      water(litres);
      left -= needs;
      for (const mix of fresh) made.add(mix);
      return true;
    },
    night(t: number) {
      if (tank) level = Math.min(tank.capL ?? Infinity, level + tank.madeL[t]!);
    },
  };
}
