import type { Lot, PlanLeach, PlanProblem, PlanWeights, SeasonPlan } from './problem.ts';

/*
 * A plan, lived day by day: the one place every figure of the season comes from, the search's as much as the screen's. On a day the round is done first
 * and then the day's still water is made.
 */

export type LivedDay = {
  /** In the tank as the day begins, after its work, and as it ends, L. */
  readonly startL: number;
  readonly afterL: number;
  readonly endL: number;
  readonly usedL: number;
  readonly madeL: number;
  /** Made and run over the top, L. */
  readonly overL: number;
  /** What the tank could not give: litres to carry in. */
  readonly carriedL: number;
  readonly minutes: number;
  readonly overMinutes: number;
  readonly mixes: readonly string[];
};

export type Lived = {
  readonly days: readonly LivedDay[];
  readonly totals: {
    readonly latePotDays: number;
    /** The worst lateness, and of how many pots. */
    readonly lateAtWorst: { readonly days: number; readonly pots: number };
    readonly dryPotDays: number;
    readonly mixes: number;
    readonly trips: number;
    readonly usedL: number;
    readonly madeL: number;
    readonly overL: number;
    readonly carriedL: number;
    readonly overMinutes: number;
    readonly missedSoakPots: number;
    /** Days of all changes of new clay's water past their own days. */
    readonly leachLateDays: number;
  };
};

/** What a plan comes to, added up lot by lot. */
class Sums {
  readonly usedL: Float64Array;
  readonly minutes: Float64Array;
  /** Made on a day: day × mix. */
  readonly mixes: Uint8Array;
  latePotDays = 0;
  lateDays = 0;
  latePots = 0;
  dryPotDays = 0;
  missedSoakPots = 0;
  leachLateDays = 0;
  /** Of what is drawn, what serves days past the plan: a lot watered on the last day is not dearer than one watered after it. */
  lentL = 0;

  constructor(
    days: number,
    private readonly mixCount: number,
    private readonly mixMinutes: number,
  ) {
    this.usedL = new Float64Array(days);
    this.minutes = new Float64Array(days);
    this.mixes = new Uint8Array(days * mixCount);
  }
  clear(): void {
    this.usedL.fill(0);
    this.minutes.fill(0);
    this.mixes.fill(0);
    this.latePotDays = this.lateDays = this.latePots = this.dryPotDays = 0;
    this.missedSoakPots = this.leachLateDays = this.lentL = 0;
  }
  draw(day: number, litres: number, minutes: number): void {
    this.usedL[day]! += litres;
    this.minutes[day]! += minutes;
  }
  /** @param mix its number; −1 where nothing is mixed */
  make(day: number, mix: number): void {
    const at = day * this.mixCount + mix;
    if (mix < 0 || this.mixes[at]) return;
    this.mixes[at] = 1;
    this.minutes[day]! += this.mixMinutes;
  }
  late(pots: number, by: number): void {
    if (by <= 0) return;
    this.latePotDays += pots * by;
    if (by > this.lateDays) [this.lateDays, this.latePots] = [by, pots];
    else if (by === this.lateDays) this.latePots += pots;
  }
  dry(pots: number, by: number): void {
    if (by > 0) this.dryPotDays += pots * by;
  }
}

/** Lives plans of one problem: their cost alone, some hundred thousand a second, or all of them. */
export class Liver {
  private readonly names: readonly string[];
  private readonly feedMix: readonly (readonly number[])[];
  private readonly soakMix: readonly (readonly number[])[];
  private readonly sums: Sums;

  constructor(readonly problem: PlanProblem) {
    const { lots, days, minutes } = problem;
    const mixes = lots.flatMap((lot) => [...lot.feeds, ...lot.soaks].map((m) => m.mix));
    this.names = [...new Set(mixes)].filter((name) => name !== '');
    const index = new Map(this.names.map((name, i) => [name, i]));
    const numbers = (of: readonly { readonly mix: string }[]) => of.map(({ mix }) => index.get(mix) ?? -1);
    this.feedMix = lots.map((lot) => numbers(lot.feeds));
    this.soakMix = lots.map((lot) => numbers(lot.soaks));
    this.sums = new Sums(days, this.names.length, minutes.mix);
  }

  /** What a plan costs by the weights; it must be one that can be. */
  cost(plan: SeasonPlan, w: PlanWeights): number {
    this.addUp(plan);
    const { sums } = this;
    let mixes = 0;
    for (const made of sums.mixes) mixes += made;
    return (
      w.latePotDay * sums.latePotDays +
      w.dryPotDay * sums.dryPotDays +
      w.missedSoakPot * sums.missedSoakPots +
      w.leachLateDay * sums.leachLateDays +
      w.mix * mixes -
      w.usedL * sums.lentL +
      this.costOfDays(w)
    );
  }
  private costOfDays(w: PlanWeights): number {
    const { tank, days, minutesADay } = this.problem;
    let cost = 0;
    let level = tank?.startL ?? Infinity;
    const cap = tank?.capL ?? Infinity;
    for (let t = 0; t < days; t++) {
      const usedL = this.sums.usedL[t]!;
      const minutes = this.sums.minutes[t]!;
      cost += w.usedL * usedL;
      if (minutes > 0) cost += w.trip;
      if (minutesADay !== null && minutes > minutesADay) cost += w.overMinute * (minutes - minutesADay);
      if (!tank) continue;
      if (usedL > level) cost += w.carriedL * (usedL - level);
      level = Math.max(0, level - usedL) + tank.madeL[t]!;
      if (level > cap) cost += w.overL * (level - cap);
      level = Math.min(level, cap);
    }
    return cost;
  }

  /** All of a plan, day by day. */
  live(plan: SeasonPlan): Lived {
    this.addUp(plan);
    const { sums, problem } = this;
    const lived: LivedDay[] = [];
    let startL = problem.tank?.startL ?? 0;
    for (let t = 0; t < problem.days; t++) {
      const day = this.dayOf(t, startL);
      lived.push(day);
      startL = day.endL;
    }
    const sum = (of: (day: LivedDay) => number) => lived.reduce((total, day) => total + of(day), 0);
    return {
      days: lived,
      totals: {
        latePotDays: sums.latePotDays,
        lateAtWorst: { days: sums.lateDays, pots: sums.latePots },
        dryPotDays: sums.dryPotDays,
        mixes: sum((day) => day.mixes.length),
        trips: lived.filter((day) => day.minutes > 0).length,
        usedL: sum((day) => day.usedL),
        madeL: sum((day) => day.madeL),
        overL: sum((day) => day.overL),
        carriedL: sum((day) => day.carriedL),
        overMinutes: sum((day) => day.overMinutes),
        missedSoakPots: sums.missedSoakPots,
        leachLateDays: sums.leachLateDays,
      },
    };
  }
  private dayOf(t: number, startL: number): LivedDay {
    const { tank, minutesADay } = this.problem;
    const usedL = this.sums.usedL[t]!;
    const minutes = this.sums.minutes[t]!;
    const madeL = tank?.madeL[t] ?? 0;
    const afterL = tank ? Math.max(0, startL - usedL) : 0;
    const endL = Math.min(tank?.capL ?? Infinity, afterL + madeL);
    return {
      startL,
      afterL,
      endL,
      usedL,
      madeL,
      overL: afterL + madeL - endL,
      carriedL: tank ? Math.max(0, usedL - startL) : 0,
      minutes,
      overMinutes: minutesADay === null ? 0 : Math.max(0, minutes - minutesADay),
      mixes: this.names.filter((_, m) => this.sums.mixes[t * this.names.length + m]),
    };
  }

  private addUp(plan: SeasonPlan): void {
    const { fixed, lots, leaches } = this.problem;
    this.sums.clear();
    for (const act of fixed) this.sums.draw(act.day, act.stillL, act.minutes);
    for (let l = 0; l < lots.length; l++) {
      this.addVisits(l, plan.visits[l]!);
      this.addSoaks(l, plan.soaks[l]!);
    }
    for (let b = 0; b < leaches.length; b++) this.addLeach(b, plan.leaches[b]!);
  }
  private addVisits(l: number, visits: readonly number[]): void {
    const { lots, days, minutes } = this.problem;
    const lot = lots[l]!;
    const pots = lot.potIds.length;
    let dueOn = Math.max(0, Math.min(lot.dueOn, limitFrom(lot, lot.lastOn)));
    let dryOn = Math.max(0, lot.dryOn ?? Infinity);
    for (let i = 0; i < visits.length; i++) {
      const day = visits[i]!;
      this.sums.late(pots, day - dueOn);
      this.sums.dry(pots, day - dryOn);
      const turn = (lot.turn + i) % lot.feeds.length;
      const feed = lot.feeds[turn]!;
      this.sums.make(day, this.feedMix[l]![turn]!);
      this.sums.draw(day, feed.stillL, pots * minutes.pot);
      dueOn = Math.min(day + feed.everyDays, limitFrom(lot, day));
      dryOn = lot.dryDays === null ? Infinity : day + lot.dryDays;
      if (dueOn > days) this.sums.lentL += (feed.stillL * (dueOn - days)) / feed.everyDays;
    }
    // What is not done by the end is late until then.
    this.sums.late(pots, days - dueOn);
    this.sums.dry(pots, days - dryOn);
  }
  private addSoaks(l: number, soaks: readonly number[]): void {
    const { lots, days, minutes } = this.problem;
    const lot = lots[l]!;
    for (let s = 0; s < soaks.length; s++) {
      const day = soaks[s]!;
      const soak = lot.soaks[s]!;
      if (day >= 0) {
        this.sums.make(day, this.soakMix[l]![s]!);
        this.sums.draw(day, soak.stillL, lot.potIds.length * (minutes.soakedPot - minutes.pot));
      } else if (soak.until < days) this.sums.missedSoakPots += lot.potIds.length;
    }
  }
  private addLeach(b: number, changes: readonly number[]): void {
    const leach = this.problem.leaches[b]!;
    for (const day of changes) this.sums.draw(day, leach.changeL, this.problem.minutes.leach);
    // Every change by its own day, were none late: one that is left out leaves those after it out too.
    for (let n = 0; n < leach.changes; n++)
      this.sums.leachLateDays += Math.max(0, (changes[n] ?? this.problem.days) - leachDueOn(leach, n));
  }
}

/** The day a change is due on where none before it was late. */
export const leachDueOn = ({ dueOn, gapDays }: PlanLeach, n: number): number => Math.max(0, dueOn) + n * gapDays;

const limitFrom = (lot: Lot, on: number | null): number =>
  on === null || lot.latestDays === null ? Infinity : on + lot.latestDays;
