import { z } from 'zod';
import { PLAN_AIM_KINDS } from '../core/plan/index.ts';
import { SOAK_WHATS } from '../core/regimen/index.ts';
import { id, instant, localDate } from './common.ts';

/* The season: what the plan of the coming weeks knows, as the plan's worker takes it, and the names it is told by. Days are counted from `on`. */

const day = z.number().int();
/** `mixL`: what is mixed for it, with the spare; `buttL`: what it takes of the rain butt. */
const lotFeed = z.object({
  mix: z.string(),
  stillL: z.number(),
  buttL: z.number(),
  mixL: z.number(),
  everyDays: day,
});
const lotSoak = z.object({
  mix: z.string(),
  what: z.enum(SOAK_WHATS),
  stillL: z.number(),
  from: day,
  until: day,
  apartDays: day,
  /** The grower chose its day: it is then the only one of its window. */
  pinned: z.boolean(),
});

const lot = z.object({
  id: z.string(),
  tray: z.string(),
  potIds: z.array(id),
  lastOn: day.nullable(),
  dueOn: day,
  turn: day,
  feeds: z.array(lotFeed),
  soonestDays: day,
  latestDays: day.nullable(),
  dryOn: day.nullable(),
  dryDays: day.nullable(),
  soaks: z.array(lotSoak),
  pinned: z.array(day),
  not: z.array(day),
});

const leach = z.object({
  id: z.string(),
  name: z.string(),
  changeL: z.number(),
  gapDays: day,
  dueOn: day,
  changes: day,
});

export const planProblem = z.object({
  days: day,
  works: z.array(z.boolean()),
  minutesADay: z.number().nullable(),
  tank: z.object({ startL: z.number(), capL: z.number().nullable(), madeL: z.array(z.number()) }).nullable(),
  lots: z.array(lot),
  leaches: z.array(leach),
  fixed: z.array(z.object({ day, stillL: z.number(), minutes: z.number(), words: z.string() })),
  minutes: z.object({ mix: z.number(), pot: z.number(), soakedPot: z.number(), leach: z.number() }),
});

/** A lane of the picture: the waterings, or the soaks of one kind, of the pots of one regimen on one place. */
const lane = z.object({
  id: z.string(),
  place: z.string(),
  what: z.string(),
  kind: z.enum(['visit', 'soak']),
  /** Which of the problem's lots stand in it. */
  lots: z.array(z.string()),
  /** Keys of the soaks shown in it; empty for waterings. */
  mixes: z.array(z.string()),
  /** Months a soak is given in, January 1; empty for waterings. */
  months: z.array(z.number().int()),
  /** Days of the plan on which the season is closed, from and to. */
  closed: z.array(z.object({ from: day, to: day })),
});

/** Nobody is there, from one day to another, both included. */
const away = z.object({ id, fromDate: localDate, untilDate: localDate });

/** What one act takes: typed by the grower, learned of so many, or thought. */
const workTime = z.object({
  minutes: z.number(),
  from: z.enum(['typed', 'learned', 'thought']),
  /** Of how many it is learned; 0 where it is not. What holds where nothing is typed stands in `otherwise`. */
  of: z.number(),
  otherwise: z.number(),
});

/** What the log taught the plan. `litres`: how many are drawn for each foretold, nine in ten; null where too few days say. */
export const learned = z.object({
  minutes: z.object({ mix: workTime, pot: workTime, soakedPot: workTime, leach: workTime }),
  litres: z.object({ times: z.number(), low: z.number(), high: z.number(), days: z.number().int() }).nullable(),
});

/** What a day was foretold to take; `plainL` by the arithmetic alone, before what earlier days taught. */
export const foretoldDay = z.object({
  on: localDate,
  stillL: z.number().min(0),
  plainL: z.number().min(0),
});
export type ForetoldDay = z.infer<typeof foretoldDay>;

export const seasonView = z.object({
  on: localDate,
  pots: z.number().int(),
  problem: planProblem,
  lanes: z.array(lane),
  codes: z.record(id, z.string()),
  mixes: z.record(z.string(), z.string()),
  /** How the bench is opened for a feed that is not on today’s round: the end of its address, without litres. */
  benches: z.record(z.string(), z.string()),
  /** The still water's name; null where there is none on the Shelf. */
  still: z.string().nullable(),
  /** The rain butt, where somebody looked into it; rain nobody can count on is none a day. */
  butt: z.object({ name: z.string(), startL: z.number(), capL: z.number().nullable(), perDayL: z.number() }).nullable(),
  /** What the plan does not know, and where to say it. */
  unknown: z.array(z.object({ words: z.string(), to: z.string() })),
  away: z.array(away),
  learned,
  /** The plan that stands, by the lots of today; `madeAt` names it. Null where none was kept. */
  kept: z
    .object({
      madeAt: instant,
      madeOn: localDate,
      aim: z.enum(PLAN_AIM_KINDS),
      visits: z.array(z.array(day)),
      soaks: z.array(z.array(day)),
      /** Days on which each clay batch's water is changed, by its id. */
      clay: z.record(id, z.array(day)),
      /** Codes of pots it planned for a day that has passed, and that were not watered since. */
      behind: z.array(z.string()),
    })
    .nullable(),
});
export type SeasonView = z.infer<typeof seasonView>;
export type SeasonLane = z.infer<typeof lane>;

const plannedVisit = z.object({ on: localDate, late: day.min(0), soaks: z.array(z.enum(SOAK_WHATS)).readonly() });
const potPlan = z.object({
  potId: id,
  visits: z.array(plannedVisit).max(400).readonly(),
  pins: z
    .array(z.object({ on: localDate, soak: z.enum(SOAK_WHATS).nullable() }))
    .max(400)
    .readonly(),
  nots: z.array(localDate).max(400).readonly(),
});
export type PotPlanned = z.infer<typeof potPlan>;

const what = z.string().trim().min(1).max(120);
const some = z.number().int().min(1);
/** What the grower did, for the Book. */
const did = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('kept') }),
  z.object({ kind: z.literal('mended'), moved: z.number().int().min(0) }),
  z.object({ kind: z.literal('minutes'), minutes: z.number().nullable() }),
  z.object({ kind: z.literal('moved'), what, pots: some, from: localDate, to: localDate }),
  z.object({ kind: z.literal('pinned'), what, pots: some, on: localDate }),
  z.object({ kind: z.literal('freed'), what, pots: some, on: localDate }),
  z.object({ kind: z.literal('notThatDay'), what, pots: some, on: localDate }),
]);
export type PlanDid = z.infer<typeof did>;

/** Keeping a plan, whole. `basis`: the plan it was made from, so that two devices do not write over each other; null where none stood. */
export const keepPlan = z.object({
  basis: instant.nullable(),
  aim: z.enum(PLAN_AIM_KINDS),
  minutesADay: z.number().positive('More than no minutes.').max(1440, 'A day has 1,440 minutes.').nullable(),
  did,
  pots: z.array(potPlan).max(5000),
  clay: z.record(id, z.array(localDate).max(400)),
  /** What each of its days takes. */
  foretold: z.array(foretoldDay).max(400).default([]),
});
export type KeepPlan = z.infer<typeof keepPlan>;
export type AskedPlan = z.input<typeof keepPlan>;

const ownMinutes = z
  .number('Give the minutes, such as 4.')
  .positive('More than no minutes.')
  .max(600, 'More than ten hours? Check it.')
  .nullable();
const partName = z.string().trim().min(1, 'Give it a name, such as membrane.').max(60, 'Keep it under 60 letters.');
const partDays = z
  .number('Give the days, such as 180.')
  .int('Give whole days.')
  .min(1, 'At least a day.')
  .max(3650, 'More than ten years? Check it.');

/** Letting the plan go: pots are due by their own days again. */
export const seasonAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('dropPlan') }),
  z.object({ kind: z.literal('away'), awayId: id, fromDate: localDate, untilDate: localDate }),
  z.object({ kind: z.literal('notAway'), awayId: id }),
  /** Still water made or brought on a day; null: as usual after all. */
  z.object({
    kind: z.literal('made'),
    on: localDate,
    litres: z
      .number('Give the litres, such as 9.')
      .min(0, 'Not below nothing.')
      .max(1000, 'More than 1,000 L? Check it.')
      .nullable(),
  }),
  /** How long things take; null: as learned, or as thought. */
  z.object({
    kind: z.literal('workTimes'),
    mix: ownMinutes,
    pot: ownMinutes,
    soakedPot: ownMinutes,
    leach: ownMinutes,
  }),
  z.object({ kind: z.literal('part'), partId: id, name: partName, everyDays: partDays, changedOn: localDate }),
  z.object({ kind: z.literal('partChanged'), partId: id, on: localDate }),
  z.object({ kind: z.literal('dropPart'), partId: id }),
]);
export type SeasonAct = z.infer<typeof seasonAct>;
