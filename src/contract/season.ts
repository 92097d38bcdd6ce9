import { z } from 'zod';
import { id, localDate } from './common.ts';

/* The season: what the plan of the coming weeks knows, as the plan's worker takes it, and the names it is told by. Days are counted from `on`. */

const day = z.number().int();
const lotFeed = z.object({ mix: z.string(), stillL: z.number(), everyDays: day });
const lotSoak = z.object({ mix: z.string(), stillL: z.number(), from: day, until: day, apartDays: day });

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

export const seasonView = z.object({
  on: localDate,
  pots: z.number().int(),
  problem: planProblem,
  lanes: z.array(lane),
  codes: z.record(id, z.string()),
  mixes: z.record(z.string(), z.string()),
  /** The still water's name; null where there is none on the Shelf. */
  still: z.string().nullable(),
  /** What the plan does not know, and where to say it. */
  unknown: z.array(z.object({ words: z.string(), to: z.string() })),
});
export type SeasonView = z.infer<typeof seasonView>;
export type SeasonLane = z.infer<typeof lane>;
