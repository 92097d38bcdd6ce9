import { Liver, type Lived } from './live.ts';
import type { Lot, PlanProblem, PlanWeights, SeasonPlan } from './problem.ts';
import { lotBroken, type BrokenRule } from './rules.ts';

/*
 * Why an act stands where it stands: it alone is put on another day, everything else as planned, and the first thing that breaks is named. All figures are
 * those of the plan lived day by day.
 */

/** Some lots watered together on a day, or soaked together. */
export type PlanAct = { readonly kind: 'visit' | 'soak'; readonly lots: readonly number[]; readonly day: number };

/** What breaks where an act is put on another day; `nothing` where that would be as good. */
export type Breaks =
  | { readonly kind: 'rule'; readonly rule: BrokenRule }
  /** A day's work wants more than stands in the tank. */
  | { readonly kind: 'tank'; readonly day: number; readonly wantsL: number; readonly hasL: number }
  | { readonly kind: 'minutes'; readonly day: number; readonly over: number }
  | { readonly kind: 'dry'; readonly potDays: number }
  | { readonly kind: 'soaks'; readonly pots: number }
  | { readonly kind: 'late'; readonly potDays: number }
  | { readonly kind: 'leach'; readonly days: number }
  | { readonly kind: 'mixes'; readonly more: number }
  | { readonly kind: 'trips'; readonly more: number }
  | { readonly kind: 'water'; readonly litres: number }
  | { readonly kind: 'nothing' };

/** A day an act could stand on, what breaks there, and how many points more the plan would cost. */
export type OtherDay = { readonly day: number; readonly breaks: Breaks; readonly more: number };

/** Less than this is told apart by nobody, L. */
const TOLD_L = 0.05;

export class Why {
  private readonly liver: Liver;
  private readonly base: Lived;
  private readonly cost: number;

  constructor(
    private readonly problem: PlanProblem,
    private readonly plan: SeasonPlan,
    private readonly weights: PlanWeights,
  ) {
    this.liver = new Liver(problem);
    this.base = this.liver.live(plan);
    this.cost = this.liver.cost(plan, weights);
  }

  /** The day an act falls on by itself: when its lots are due after the watering before, or a soak's first watering that is open to it. */
  naturalDay(act: PlanAct): number {
    const days = act.lots.map((l) => (act.kind === 'visit' ? this.dueOf(l, act.day) : this.firstOpen(l, act.day)));
    return days.length === 0 ? act.day : Math.min(...days);
  }

  /** The last day it may stand on without being late or out of its month. */
  lastDay(act: PlanAct): number {
    const until = act.lots.map((l) => {
      const s = this.soakAt(l, act.day);
      return act.kind === 'soak' && s >= 0 ? this.problem.lots[l]!.soaks[s]!.until : this.dueOf(l, act.day);
    });
    return Math.max(act.day, ...until);
  }

  /** An act put on another day, and what breaks. */
  onDay(act: PlanAct, day: number): OtherDay {
    const moved = this.moved(act, day);
    for (const l of act.lots) {
      const broken = lotBroken(this.problem, withoutPins(this.problem.lots[l]!), moved.visits[l]!, moved.soaks[l]!);
      if (broken) return { day, breaks: { kind: 'rule', rule: broken.what }, more: Infinity };
    }
    const more = this.liver.cost(moved, this.weights) - this.cost;
    return { day, breaks: this.whatBreaks(this.liver.live(moved), more), more };
  }

  /** The next best day within a few of it that breaks nothing but costs more. */
  runnerUp(act: PlanAct, from: number, to: number): OtherDay | undefined {
    let best: OtherDay | undefined;
    for (let day = Math.max(0, from); day <= Math.min(this.problem.days - 1, to); day++) {
      if (day === act.day) continue;
      const other = this.onDay(act, day);
      if (Number.isFinite(other.more) && (!best || other.more < best.more)) best = other;
    }
    return best;
  }

  /** The plan with one act on another day. A soak goes with the watering of that day where there is one, or takes its own along. */
  moved({ kind, lots, day: from }: PlanAct, to: number): SeasonPlan {
    const visits = [...this.plan.visits];
    const soaks = [...this.plan.soaks];
    for (const l of lots) {
      const has = visits[l]!.includes(to);
      const stays = kind === 'soak' && has;
      if (!stays) visits[l] = [...new Set(visits[l]!.map((d) => (d === from ? to : d)))].sort((a, b) => a - b);
      soaks[l] = soaks[l]!.map((d) => (d === from ? to : d));
    }
    return { ...this.plan, visits, soaks };
  }

  private whatBreaks(lived: Lived, more: number): Breaks {
    const worse = (of: (totals: Lived['totals']) => number) => of(lived.totals) - of(this.base.totals);
    const short = lived.days.findIndex((day, t) => day.carriedL > this.base.days[t]!.carriedL + TOLD_L);
    if (short >= 0) {
      const { usedL, startL } = lived.days[short]!;
      return { kind: 'tank', day: short, wantsL: usedL, hasL: startL };
    }
    const long = lived.days.findIndex((day, t) => day.overMinutes > this.base.days[t]!.overMinutes + 1);
    if (long >= 0) return { kind: 'minutes', day: long, over: lived.days[long]!.overMinutes };
    if (more <= 1e-9) return { kind: 'nothing' };
    return this.largest(worse);
  }

  /** The largest part of what it would cost more. */
  private largest(worse: (of: (totals: Lived['totals']) => number) => number): Breaks {
    const w = this.weights;
    const parts: [number, Breaks][] = [
      [w.dryPotDay * worse((t) => t.dryPotDays), { kind: 'dry', potDays: worse((t) => t.dryPotDays) }],
      [w.missedSoakPot * worse((t) => t.missedSoakPots), { kind: 'soaks', pots: worse((t) => t.missedSoakPots) }],
      [w.latePotDay * worse((t) => t.latePotDays), { kind: 'late', potDays: worse((t) => t.latePotDays) }],
      [w.leachLateDay * worse((t) => t.leachLateDays), { kind: 'leach', days: worse((t) => t.leachLateDays) }],
      [w.mix * worse((t) => t.mixes), { kind: 'mixes', more: worse((t) => t.mixes) }],
      [w.trip * worse((t) => t.trips), { kind: 'trips', more: worse((t) => t.trips) }],
      [
        w.usedL * worse((t) => t.usedL) + w.overL * worse((t) => t.overL),
        {
          kind: 'water',
          litres: Math.max(
            worse((t) => t.usedL),
            worse((t) => t.overL),
          ),
        },
      ],
    ];
    const [points, most] = parts.reduce((max, part) => (part[0] > max[0] ? part : max));
    // Watered sooner each time it drinks more often; what is saved past the plan is told as water.
    return points > 0 ? most : { kind: 'water', litres: 0 };
  }

  private dueOf(l: number, day: number): number {
    const lot = this.problem.lots[l]!;
    const i = this.plan.visits[l]!.indexOf(day);
    return i < 0 ? day : Math.max(0, visitDueOn(lot, this.plan.visits[l]!, i));
  }
  private firstOpen(l: number, day: number): number {
    const soak = this.problem.lots[l]!.soaks[this.soakAt(l, day)];
    return (soak && this.plan.visits[l]!.find((visit) => visit >= soak.from)) ?? day;
  }
  private soakAt = (l: number, day: number): number => this.plan.soaks[l]!.indexOf(day);
}

const withoutPins = (lot: Lot): Lot => ({ ...lot, pinned: [] });

/** When the i-th watering of a lot's plan is due, by its rota and its outer limit; before the plan's first day where it is late already. */
export function visitDueOn(lot: Lot, visits: readonly number[], i: number): number {
  const last = i === 0 ? lot.lastOn : visits[i - 1]!;
  const limit = last === null || lot.latestDays === null ? Infinity : last + lot.latestDays;
  const byRota = i === 0 ? lot.dueOn : visits[i - 1]! + lot.feeds[(lot.turn + i - 1) % lot.feeds.length]!.everyDays;
  return Math.min(byRota, limit);
}

/**
 * Takes back every move that nothing justifies: waterings that share a bucket stand on the day they are due unless another is cheaper, and soaks are given at
 * the first watering they may be given at, likewise.
 */
export function justified(problem: PlanProblem, plan: SeasonPlan, weights: PlanWeights): SeasonPlan {
  const liver = new Liver(problem);
  let best = plan;
  let cost = liver.cost(plan, weights);
  /** @returns whether it can be and is no dearer */
  const tryOn = (next: SeasonPlan, lots: readonly number[]): boolean => {
    if (lots.some((l) => lotBroken(problem, problem.lots[l]!, next.visits[l]!, next.soaks[l]!))) return false;
    const points = liver.cost(next, weights);
    if (points > cost + 1e-9) return false;
    [best, cost] = [next, points];
    return true;
  };
  for (const { day, lots, due } of movedVisits(problem, plan)) {
    const put = (days: readonly number[], n: number) =>
      lots.includes(n) ? days.map((one) => (one === day ? due : one)) : days;
    // All that shared the bucket, or else each for itself.
    if (tryOn({ ...best, visits: best.visits.map(put), soaks: best.soaks.map(put) }, lots)) continue;
    for (const l of lots) {
      const alone = (days: readonly number[], n: number) => (n === l ? put(days, n) : days);
      tryOn({ ...best, visits: best.visits.map(alone), soaks: best.soaks.map(alone) }, [l]);
    }
  }
  for (const { day, mix, lots } of soakGroups(problem, best)) {
    const first = lots[0]!;
    for (const sooner of best.visits[first]!.filter((one) => one < day)) {
      const soaks = best.soaks.map((days, n) =>
        lots.includes(n)
          ? days.map((one, s) => (one === day && problem.lots[n]!.soaks[s]!.mix === mix ? sooner : one))
          : days,
      );
      if (tryOn({ ...best, soaks }, lots)) break;
    }
  }
  return best;
}

/** Waterings off their own day that share a mix, a day, and the day they are due. */
function movedVisits(problem: PlanProblem, plan: SeasonPlan) {
  const groups = new Map<string, { day: number; due: number; lots: number[] }>();
  for (const [l, lot] of problem.lots.entries())
    for (const [i, day] of plan.visits[l]!.entries()) {
      const due = Math.max(0, visitDueOn(lot, plan.visits[l]!, i));
      if (day === due || due >= problem.days || lot.pinned.includes(day)) continue;
      const key = [lot.feeds[(lot.turn + i) % lot.feeds.length]!.mix, day, due].join('|');
      const group = groups.get(key) ?? { day, due, lots: [] };
      group.lots.push(l);
      groups.set(key, group);
    }
  return [...groups.values()].sort((a, b) => a.day - b.day);
}

/** Soaks that share a mix and a day. */
function soakGroups(problem: PlanProblem, plan: SeasonPlan) {
  const groups = new Map<string, { day: number; mix: string; lots: number[] }>();
  for (const [l, lot] of problem.lots.entries())
    for (const [s, { mix, pinned }] of lot.soaks.entries()) {
      const day = plan.soaks[l]![s]!;
      if (day < 0 || pinned) continue;
      const group = groups.get(`${mix}|${day}`) ?? { day, mix, lots: [] };
      group.lots.push(l);
      groups.set(`${mix}|${day}`, group);
    }
  return [...groups.values()].sort((a, b) => a.day - b.day);
}
