import type { Lot, PlanProblem } from './problem.ts';
import { lotBroken } from './rules.ts';

/* The small moves a search tries. Each is made in place and can be taken back; one that cannot be is not made. */

/** A plan that is being moved about. */
export type Mutable = { visits: number[][]; soaks: number[][]; leaches: number[][] };
/** Which moves are made. */
export type MoveKinds = {
  /** As many changes of new clay’s water stay in the plan as there are. */
  readonly changesHeld: boolean;
};

/** One small move, made in place. @returns what takes it back; undefined where it cannot be */
export function moveOf(
  problem: PlanProblem,
  plan: Mutable,
  trays: readonly number[][],
  draw: () => number,
  kinds: MoveKinds = { changesHeld: false },
): (() => void) | undefined {
  const kind = draw();
  if (problem.lots.length === 0 && plan.leaches.length === 0) return undefined;
  if (plan.leaches.length > 0 && (kind < 0.06 || problem.lots.length === 0))
    return moveLeach(problem, plan, draw, kinds);
  const pick = Math.floor(draw() * problem.lots.length);
  if (kind < 0.2) return moveSoak(problem, plan, pick, draw);
  if (kind < 0.35) return moveTray(problem, plan, trays, draw);
  if (kind < 0.42) return insertOrDelete(problem, plan, pick, draw);
  if (kind < 0.55) return joinMix(problem, plan, pick, draw);
  if (kind < 0.67) return follow(problem, plan, pick, draw);
  if (kind < 0.8) return moveMix(problem, plan, pick, draw);
  return shiftVisit(problem, plan, pick, draw);
}

/** Puts a lot's days in place where they can be, its soaks going along. @returns what takes it back */
function settle(problem: PlanProblem, plan: Mutable, l: number, visits: number[], moved: ReadonlyMap<number, number>) {
  const lot = problem.lots[l]!;
  const [wasVisits, wasSoaks] = [plan.visits[l]!, plan.soaks[l]!];
  const soaks = wasSoaks.map((day) => (day < 0 ? day : (moved.get(day) ?? day)));
  if (lotBroken(problem, lot, visits, soaks)) return undefined;
  plan.visits[l] = visits;
  plan.soaks[l] = soaks;
  return () => {
    plan.visits[l] = wasVisits;
    plan.soaks[l] = wasSoaks;
  };
}

/** Of a lot one watering, or it and all after it, so many days on. */
function shifted(visits: readonly number[], from: number, by: number, tail: boolean, days: number) {
  const moved = new Map<number, number>();
  const next = visits.map((day, i) => {
    if (i < from || (i > from && !tail)) return day;
    moved.set(day, day + by);
    return day + by;
  });
  // What is shifted past the plan is no longer in it.
  return { visits: next.filter((day) => day < days), moved };
}

const byDays = (draw: () => number) => (draw() < 0.5 ? -1 : 1) * (1 + Math.floor(draw() ** 2 * 4));

function shiftVisit(problem: PlanProblem, plan: Mutable, l: number, draw: () => number) {
  const visits = plan.visits[l]!;
  if (visits.length === 0) return undefined;
  const from = Math.floor(draw() * visits.length);
  const { visits: next, moved } = shifted(visits, from, byDays(draw), draw() < 0.5, problem.days);
  return settle(problem, plan, l, draw() < 0.5 ? bridged(problem, l, next) : next, moved);
}

/** Where the wait is too long it is bridged by a watering more, as late as both sides allow; at the end of the plan too. */
function bridged({ lots, works, days }: PlanProblem, l: number, visits: readonly number[]): number[] {
  const lot = lots[l]!;
  const next: number[] = [];
  const bridge = (until: number) => {
    const last = next.at(-1) ?? lot.lastOn;
    if (last === null) return;
    const dueOn =
      next.length === 0 ? lot.dueOn : last + lot.feeds[(lot.turn + next.length - 1) % lot.feeds.length]!.everyDays;
    if (until <= dueOn) return;
    for (let day = Math.min(dueOn, until - lot.soonestDays); day >= Math.max(0, last + lot.soonestDays); day--)
      if (works[day] && !lot.not.includes(day)) return void next.push(day);
  };
  for (const day of visits) {
    bridge(day);
    next.push(day);
  }
  bridge(days - 1 + lot.soonestDays);
  return next;
}

/** A whole tray one watering on, or it and all after it. */
function moveTray(problem: PlanProblem, plan: Mutable, trays: readonly number[][], draw: () => number) {
  const tray = trays[Math.floor(draw() * trays.length)]!;
  const at = Math.floor(draw() * Math.max(...tray.map((l) => plan.visits[l]!.length), 1));
  const [by, tail, fill] = [byDays(draw), draw() < 0.6, draw() < 0.5];
  const undos: (() => void)[] = [];
  for (const l of tray) {
    const visits = plan.visits[l]!;
    if (at >= visits.length) continue;
    const { visits: next, moved } = shifted(visits, at, by, tail, problem.days);
    const undo = settle(problem, plan, l, fill ? bridged(problem, l, next) : next, moved);
    if (undo) undos.push(undo);
  }
  return undos.length > 0 ? () => undos.reverse().forEach((undo) => undo()) : undefined;
}

/** A lot goes along with another that takes the same mix: on its days from some watering on, as far as they can be its own. */
function follow(problem: PlanProblem, plan: Mutable, l: number, draw: () => number) {
  const { lots } = problem;
  const other = Math.floor(draw() * lots.length);
  const [mine, theirs] = [plan.visits[l]!, plan.visits[other]!];
  const from = Math.floor(draw() ** 2 * mine.length);
  if (other === l || mixOf(lots[l]!, from) !== mixOf(lots[other]!, from)) return undefined;
  const lot = lots[l]!;
  const days = mine.slice(0, from);
  for (const day of theirs) {
    const last = days.at(-1) ?? lot.lastOn;
    if (last === null || day >= last + lot.soonestDays) days.push(day);
  }
  const visits = bridged(problem, l, days);
  const given = new Set(visits);
  const moved = new Map<number, number>();
  for (const day of mine) if (!given.has(day)) moved.set(day, nearest(visits, day));
  return settle(problem, plan, l, visits, moved);
}

const mixOf = (lot: Lot, i: number): string => lot.feeds[(lot.turn + i) % lot.feeds.length]!.mix;
const nearest = (days: readonly number[], day: number): number =>
  days.reduce((best, one) => (Math.abs(one - day) < Math.abs(best - day) ? one : best), -1);

/** All that takes a mix on a day to another day near it: one bucket fewer where it is made there anyway. */
function moveMix(problem: PlanProblem, plan: Mutable, l: number, draw: () => number) {
  const { lots, days } = problem;
  const visits = plan.visits[l]!;
  if (visits.length === 0) return undefined;
  const i = Math.floor(draw() * visits.length);
  const [day, mix] = [visits[i]!, mixOf(lots[l]!, i)];
  const [by, tail, fill] = [byDays(draw), draw() < 0.4, draw() < 0.5];
  const undos: (() => void)[] = [];
  for (let n = 0; n < lots.length; n++) {
    const at = plan.visits[n]!.indexOf(day);
    if (at < 0 || mixOf(lots[n]!, at) !== mix) continue;
    const { visits: next, moved } = shifted(plan.visits[n]!, at, by, tail, days);
    const undo = settle(problem, plan, n, fill ? bridged(problem, n, next) : next, moved);
    if (undo) undos.push(undo);
  }
  return undos.length > 0 ? () => undos.reverse().forEach((undo) => undo()) : undefined;
}

/** One watering onto a day near it on which another lot takes the same mix. */
function joinMix({ lots, ...problem }: PlanProblem, plan: Mutable, l: number, draw: () => number) {
  const lot = lots[l]!;
  const visits = plan.visits[l]!;
  if (visits.length === 0) return undefined;
  const i = Math.floor(draw() * visits.length);
  const mix = mixOf(lot, i);
  const other = Math.floor(draw() * lots.length);
  const near = plan.visits[other]!.filter((day, n) => {
    const of = lots[other]!;
    return mixOf(of, n) === mix && Math.abs(day - visits[i]!) <= NEAR_DAYS && day !== visits[i];
  });
  const to = near[Math.floor(draw() * near.length)];
  if (to === undefined) return undefined;
  const { visits: next, moved } = shifted(visits, i, to - visits[i]!, draw() < 0.3, problem.days);
  return settle({ lots, ...problem }, plan, l, next, moved);
}
const NEAR_DAYS = 4;

function insertOrDelete(problem: PlanProblem, plan: Mutable, l: number, draw: () => number) {
  const visits = plan.visits[l]!;
  if (draw() < 0.5) {
    const day = Math.floor(draw() * problem.days);
    if (visits.includes(day)) return undefined;
    return settle(
      problem,
      plan,
      l,
      [...visits, day].sort((a, b) => a - b),
      new Map(),
    );
  }
  if (visits.length === 0) return undefined;
  const gone = visits[Math.floor(draw() * visits.length)]!;
  return settle(
    problem,
    plan,
    l,
    visits.filter((day) => day !== gone),
    new Map([[gone, -1]]),
  );
}

/** A soak to another watering, or given where it was missed. */
function moveSoak(problem: PlanProblem, plan: Mutable, l: number, draw: () => number) {
  const lot = problem.lots[l]!;
  if (lot.soaks.length === 0) return undefined;
  const s = Math.floor(draw() * lot.soaks.length);
  const visits = plan.visits[l]!;
  const to = draw() < 0.05 ? -1 : (visits[Math.floor(draw() * visits.length)] ?? -1);
  const was = plan.soaks[l]!;
  const next = was.map((day, i) => (i === s ? to : day));
  if (lotBroken(problem, lot, visits, next)) return undefined;
  plan.soaks[l] = next;
  return () => {
    plan.soaks[l] = was;
  };
}

/** A change of still water, with those after it. */
function moveLeach(
  { leaches, works, days }: PlanProblem,
  plan: Mutable,
  draw: () => number,
  { changesHeld }: MoveKinds,
) {
  const b = Math.floor(draw() * leaches.length);
  const leach = leaches[b]!;
  const was = plan.leaches[b]!;
  const from = Math.floor(draw() * (was.length + 1));
  // Near by, anywhere, or it and those after it not within the plan at all.
  const how = draw();
  const by = how < 0.5 ? byDays(draw) : how < 0.8 ? Math.floor((2 * draw() - 1) * days) : days;
  const next = was.map((day, i) => (i < from ? day : day + by)).filter((day) => day < days);
  // One more where there is room for it.
  const last = next.at(-1);
  const room = last === undefined ? leach.dueOn : last + leach.gapDays;
  if (next.length < leach.changes && room < days && draw() < 0.5) next.push(Math.max(0, room));
  if (changesHeld && next.length !== was.length) return undefined;
  const holds = next.every(
    (day, i) => works[day] === true && day >= (i === 0 ? leach.dueOn : next[i - 1]! + leach.gapDays),
  );
  if (!holds) return undefined;
  plan.leaches[b] = next;
  return () => {
    plan.leaches[b] = was;
  };
}
