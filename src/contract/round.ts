import { z } from 'zod';
import { carePayloads } from './care.ts';
import { id, instant, localDate, potDrawing } from './common.ts';

export const due = z.object({ dueOn: localDate, status: z.enum(['late', 'due', 'soon', 'later']), daysLate: z.number().int(), words: z.string() });

export const roundPot = z.object({
  id,
  code: z.string(),
  name: z.string(),
  place: z.string(),
  clay: z.string().nullable(),
  reservoirMl: z.number(),
  fillMl: z.number(),
  flushMl: z.number(),
  /** What that is: which waters, what should run off at its end, what the pot should read once filled, and why so much. ppm on the grower's pen. */
  flush: z.object({
    stages: z.array(z.object({ waterId: id, water: z.string(), ml: z.number() })),
    runOffPpm: z.number().nullable(),
    afterPpm: z.number().nullable(),
    habitMl: z.number(),
    why: z.string(),
  }),
  due,
  /** What happened to this pot on this round, if anything. */
  done: z.object({ eventId: id, kind: z.enum(['filled', 'skipped']), at: instant, words: z.string() }).nullable(),
  mixKey: z.string().nullable(),
  drawing: potDrawing,
  expected: z.object({
    ppm: z.number().optional(),
    ph: z.number().optional(),
    leftMl: z.number().optional(),
    /** Nothing was ever read of it: what pots at large do. */
    atLarge: z.boolean(),
  }),
  /** Facts worth saying before this pot is done, each with its evidence. */
  note: z.object({ fact: z.string(), evidence: z.string() }).nullable(),
  lastPouredPpm: z.number().nullable(),
});

export const roundMix = z.object({
  key: z.string(),
  letter: z.string(),
  name: z.string(),
  netPpm: z.number(),
  phLow: z.number(),
  phHigh: z.number(),
  pots: z.number().int(),
  potsLeft: z.number().int(),
  litresToMix: z.number(),
  flushL: z.number(),
  batch: z
    .object({
      id,
      status: z.enum(['open', 'poured']),
      startedAt: instant,
      time: z.string(),
      readsPpm: z.number().nullable(),
      ph: z.number().nullable(),
      leftMl: z.number(),
      today: z.boolean(),
    })
    .nullable(),
  /** Something left over that would do for it, where nothing is made yet. */
  leftover: z.object({ id, name: z.string(), leftMl: z.number(), readsPpm: z.number() }).nullable(),
});

export const roundView = z.object({
  today: localDate,
  weekday: z.string(),
  due: z.number().int(),
  done: z.number().int(),
  late: z.number().int(),
  nextDue: z.object({ on: localDate, pots: z.number().int() }).nullable(),
  mixes: z.array(roundMix),
  places: z.array(z.object({ id, name: z.string(), note: z.string(), pots: z.array(roundPot) })),
  ppmMeter: z.object({ id, name: z.string(), simulated: z.boolean() }).nullable(),
  phMeter: z.object({ id, name: z.string(), simulated: z.boolean() }).nullable(),
});

/** One act on the round: the pot was done, or skipped with a reason. */
export const roundAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('filled'), potId: id, ...carePayloads.potFilled.shape }),
  z.object({ kind: z.literal('skipped'), potId: id, ...carePayloads.potSkipped.shape }),
]);

export const roundActDone = z.object({ eventId: id, at: instant, repeated: z.boolean() });

export type RoundView = z.infer<typeof roundView>;
export type RoundPot = z.infer<typeof roundPot>;
export type RoundMix = z.infer<typeof roundMix>;
export type RoundAct = z.infer<typeof roundAct>;
export type RoundActDone = z.infer<typeof roundActDone>;
