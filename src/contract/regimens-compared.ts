import { z } from 'zod';
import { SCHOOLS } from '../core/regimen/index.ts';
import { id, localDate } from './common.ts';
import { LIGHTS } from './kinds.ts';
import { TURN_MEASURES } from './turns.ts';

/* The regimens of the collection side by side: what their pots were like over the same weeks, set against pots of the same plant and place. */

const numbers = z.tuple([z.number(), z.number()]);
/** How many of how many. */
const counted = z.tuple([z.number().int(), z.number().int()]);

/** Pots by the regimen they follow, one regimen's. `differs`, of the regimens as they are written; `unlike`, of their pots. */
export const regimenCompared = z.object({
  id,
  name: z.string(),
  school: z.enum(SCHOOLS),
  pots: z.number().int(),
  /** Pots that left the collection in these weeks: what they were like is not in the figures. */
  left: z.number().int(),
  /** Pots that were in a trial: they did not get what the regimen says. */
  inTrial: z.number().int(),
  /** What it says otherwise than the one it is set against, in words; null for that one itself. */
  differs: z.array(z.string()).nullable(),
  unlike: z.array(
    z.discriminatedUnion('of', [
      z.object({ of: z.literal('reservoirMl'), values: numbers }),
      z.object({ of: z.literal('monthsInClay'), values: numbers }),
      z.object({ of: z.literal('place'), what: z.string(), some: counted, others: counted }),
      z.object({ of: z.literal('plant'), what: z.string(), some: counted, others: counted }),
      z.object({ of: z.literal('clay'), what: z.string(), some: counted, others: counted }),
      z.object({ of: z.literal('light'), what: z.enum(LIGHTS), some: counted, others: counted }),
    ]),
  ),
});
export type RegimenCompared = z.infer<typeof regimenCompared>;

/** `nothing`: too few pots share a place with the others; `same`: every pot alike, so that nothing tells how pots differ. */
export const matchedView = z.union([
  z.enum(['nothing', 'same']),
  z.object({
    mean: z.number(),
    low: z.number(),
    high: z.number(),
    by: z.enum(['plantAndPlace', 'place']),
    sets: z.number().int(),
    pots: counted,
  }),
]);
export type MatchedView = z.infer<typeof matchedView>;

/** One regimen's pots on one measure: strength on the grower's pen, shares from 0 to 1, litres. `against` is null for the regimen the others are set against. */
export const armCompared = z.object({
  regimenId: id,
  mean: z.number().nullable(),
  pots: z.array(z.object({ id, code: z.string(), value: z.number() })),
  against: matchedView.nullable(),
});
export type ArmCompared = z.infer<typeof armCompared>;

export const regimensCompared = z.object({
  today: localDate,
  from: localDate,
  weeks: z.number().int(),
  /** Set against this one; null where fewer than two regimens have pots. */
  against: id.nullable(),
  regimens: z.array(regimenCompared),
  measures: z.array(z.object({ key: z.enum(TURN_MEASURES), arms: z.array(armCompared) })),
});
export type RegimensCompared = z.infer<typeof regimensCompared>;

export const regimensComparedAsked = z.object({
  weeks: z.coerce
    .number('Give the weeks, such as 12.')
    .int('Whole weeks.')
    .min(4, 'Four weeks at the least.')
    .max(104, 'Two years at the most.')
    .default(12),
  against: id.optional(),
});
