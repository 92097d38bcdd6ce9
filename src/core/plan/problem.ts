import type { SoakWhat } from '../regimen/index.ts';

/*
 * What a season plan is about. Days are whole numbers from the first day of the plan, 0; water is still water in litres; work is in minutes. One lot is
 * a handful of neighbours that are watered together: the same place, regimen and phase.
 */

/** Still water that is made day by day into a tank. */
export type PlanTank = {
  /** What stands in it as the first day begins, L. */
  readonly startL: number;
  /** Where it runs over, L; null where it never does. */
  readonly capL: number | null;
  /** Made each day, after that day's work, L. */
  readonly madeL: readonly number[];
};

/** One watering of a lot's rota: the mix it takes, and what it draws of the still water with its flush and the spare, L. */
export type LotFeed = { readonly mix: string; readonly stillL: number; readonly everyDays: number };

/** A soak a lot is due once within a window, given at a watering. */
export type LotSoak = {
  readonly mix: string;
  readonly what: SoakWhat;
  /** The grower chose its day: it is then the only one of its window. */
  readonly pinned: boolean;
  readonly stillL: number;
  /** The days it may be given on, both included. */
  readonly from: number;
  readonly until: number;
  /** Not sooner than so many days after the one before it in the list. */
  readonly apartDays: number;
};

export type Lot = {
  readonly id: string;
  /** Lots of one tray are told as one where they are watered together. */
  readonly tray: string;
  readonly potIds: readonly string[];
  /** The day it was last filled, 0 or before; null where it never was. */
  readonly lastOn: number | null;
  /** The day its next watering is due, which may lie in the past. */
  readonly dueOn: number;
  /** What is due next is `feeds[turn % feeds.length]`. */
  readonly turn: number;
  readonly feeds: readonly LotFeed[];
  /** Not sooner than so many days after the watering before. */
  readonly soonestDays: number;
  /** The old water is too old after so many days; null where nothing is set. */
  readonly latestDays: number | null;
  /** As it stands it is dry on this day, by the careful end of its forecast; null where that is past the plan or nobody knows. */
  readonly dryOn: number | null;
  /** Filled anew it is dry after so many days. */
  readonly dryDays: number | null;
  readonly soaks: readonly LotSoak[];
  /** Days the grower pinned a watering to, and days on which it is not to be. A pin holds on a day off and however soon it is. */
  readonly pinned: readonly number[];
  readonly not: readonly number[];
};

/** New clay in its still water: every change draws as much, not sooner than so many days after the one before. */
export type PlanLeach = {
  readonly id: string;
  readonly name: string;
  readonly changeL: number;
  readonly gapDays: number;
  /** The first change is due on this day; so many are to come. */
  readonly dueOn: number;
  readonly changes: number;
};

/** Something that stands on its day: an hour's hold, an act planned by hand. */
export type FixedAct = {
  readonly day: number;
  readonly stillL: number;
  readonly minutes: number;
  readonly words: string;
};

export type PlanProblem = {
  readonly days: number;
  /** May be worked on: a working day, and nobody is away. */
  readonly works: readonly boolean[];
  /** Minutes there are on a day; null where nobody counts them. */
  readonly minutesADay: number | null;
  /** Null where still water is no bound. */
  readonly tank: PlanTank | null;
  readonly lots: readonly Lot[];
  readonly leaches: readonly PlanLeach[];
  readonly fixed: readonly FixedAct[];
  readonly minutes: {
    readonly mix: number;
    readonly pot: number;
    readonly soakedPot: number;
    readonly leach: number;
  };
};

/** The days of every act, by lot and leach in the problem's order. A soak that is given is given on one of its lot's visits; −1 where it is not. */
export type SeasonPlan = {
  readonly visits: readonly (readonly number[])[];
  readonly soaks: readonly (readonly number[])[];
  readonly leaches: readonly (readonly number[])[];
};

/** What each thing that can go wrong is worth against the others. */
export type PlanWeights = {
  readonly latePotDay: number;
  readonly dryPotDay: number;
  readonly mix: number;
  readonly trip: number;
  readonly overL: number;
  readonly usedL: number;
  readonly carriedL: number;
  readonly overMinute: number;
  readonly missedSoakPot: number;
  readonly leachLateDay: number;
};

export const PLAN_AIM_KINDS = ['nobodyLate', 'fewestMixes', 'leastWater'] as const;
export type PlanAim = (typeof PLAN_AIM_KINDS)[number];

/** Points that behaved in trials of the formulation. House rule. */
const POINTS: PlanWeights = {
  latePotDay: 10,
  dryPotDay: 40,
  mix: 8,
  trip: 2,
  overL: 0.3,
  usedL: 0.5,
  carriedL: 60,
  overMinute: 0.6,
  missedSoakPot: 120,
  leachLateDay: 15,
};

/** What matters most; late, dry and missed stay dearer than what is saved, so that nothing is put off to save it. */
export const PLAN_AIMS: Readonly<Record<PlanAim, PlanWeights>> = {
  nobodyLate: { ...POINTS, latePotDay: 200, dryPotDay: 400 },
  fewestMixes: { ...POINTS, latePotDay: 4, mix: 40, trip: 8 },
  leastWater: { ...POINTS, latePotDay: 4, usedL: 3, overL: 1 },
};
