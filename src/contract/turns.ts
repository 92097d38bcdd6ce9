import { z } from 'zod';
import { id, localDate } from './common.ts';

/* What was changed and when, found in the log, and what the weeks on either side were like. */

export const TURN_KINDS = [
  'regimen',
  'feed',
  'water',
  'clay',
  'pen',
  'penOff',
  'place',
  'light',
  'treatment',
  'trial',
  'own',
] as const;
export type TurnKind = (typeof TURN_KINDS)[number];

/** What is followed week by week. Figures are on the grower's pen, shares from 0 to 1, litres; growth the logarithm of later over earlier, a month. */
export const TURN_MEASURES = ['onTime', 'gap', 'ph', 'inWindow', 'dry', 'still', 'cost', 'troubles', 'growth'] as const;
export type TurnMeasure = (typeof TURN_MEASURES)[number];

const turnId = z.string().min(1).max(200);
export const turn = z.object({
  id: turnId,
  kind: z.enum(TURN_KINDS),
  on: localDate,
  /** Of something that lasted, such as a pen that was off: its end; null where it goes on, or has none. */
  until: localDate.nullable(),
  /** The grower's own name for it, or as it was found. */
  title: z.string(),
  named: z.boolean(),
  /** What became otherwise, and for which pots, in words. */
  what: z.array(z.string()),
  /** Pots it is about; null: all of them. */
  potIds: z.array(id).nullable(),
  hidden: z.boolean(),
  /** Turns that are part of it. */
  joined: z.array(turnId),
});
export type Turn = z.infer<typeof turn>;

export const turnWeek = z.object({
  on: localDate,
  value: z.number().nullable(),
  n: z.number().int(),
  tainted: z.boolean(),
});
export const turnsView = z.object({
  today: localDate,
  /** The first week shown begins on this day, a Monday. */
  from: localDate,
  /** The first filling ever. */
  since: localDate.nullable(),
  /** How many pots these are the weeks of. */
  pots: z.number().int(),
  turns: z.array(turn),
  measures: z.array(z.object({ key: z.enum(TURN_MEASURES), weeks: z.array(turnWeek) })),
});
export type TurnsView = z.infer<typeof turnsView>;

/** Which pots, and from when. */
export const turnsAsked = z.object({
  pot: id.optional(),
  place: id.optional(),
  from: localDate.optional(),
});

/** `against`: what it is set against, so that the season is not taken for the turn. */
export const turnFound = z.object({
  key: z.enum(TURN_MEASURES),
  before: z.number(),
  after: z.number(),
  pots: z.number().int(),
  against: z.enum(['unchanged', 'yearBefore', 'nothing']),
  difference: z.object({ mean: z.number(), low: z.number(), high: z.number() }).nullable(),
});
export type TurnFoundView = z.infer<typeof turnFound>;
export const turnCompared = z.object({
  turn,
  weeks: z.number().int(),
  /** Whole weeks since it, where they are fewer than asked for. */
  weeksSince: z.number().int(),
  found: z.array(turnFound),
  /** Other turns in these weeks that are about some of the same pots. */
  alsoMoved: z.array(z.object({ id: turnId, on: localDate, title: z.string() })),
});
export type TurnCompared = z.infer<typeof turnCompared>;
export const turnCompareAsked = z.object({
  id: turnId,
  weeks: z.coerce
    .number('Give the weeks, such as 8.')
    .int('Whole weeks.')
    .min(2, 'Two weeks at the least.')
    .max(26, 'Half a year at the most.')
    .default(8),
  pot: id.optional(),
  place: id.optional(),
});

/** What the grower says of a turn. */
export const markTurn = z.object({
  id: turnId,
  name: z.string().trim().max(80, 'Keep it under 80 letters.').optional(),
  hidden: z.boolean().optional(),
  joinedTo: turnId.nullable().optional(),
});
export type MarkTurn = z.infer<typeof markTurn>;
