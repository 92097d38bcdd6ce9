import { z } from 'zod';
import { MATTERS } from '../core/judgement/rule.ts';
import { id, localDate } from './common.ts';

/** One advice on a pot: what one would do next, and why. */
export const adviceView = z.object({
  rule: z.string(),
  matter: z.enum(MATTERS),
  title: z.string(),
  because: z.string(),
  then: z.string(),
  /** What taking it up does, in words. */
  doWords: z.string(),
  act: z.enum(['plan', 'plainOnly', 'backToFeed', 'hold']),
  sureWords: z.string(),
  evidence: z.array(z.object({ on: localDate, words: z.string(), eventId: id.nullable(), tainted: z.boolean() })),
  figures: z.array(z.object({ label: z.string(), value: z.number() })),
  evidenceKey: z.string(),
});
export type AdviceView = z.infer<typeof adviceView>;

/** What the grower said to an advice. */
export const answeredView = z.object({
  eventId: id,
  rule: z.string(),
  answer: z.enum(['accepted', 'declined']),
  on: localDate,
  title: z.string(),
});

/** What stayed in a pot in a month, mg, and the still water it took. */
export const givenMonth = z.object({
  month: z.string(),
  mg: z.object({ N: z.number(), P: z.number(), K: z.number(), Ca: z.number(), Mg: z.number(), Si: z.number() }),
  stillL: z.number(),
  /** Of all that was poured and flushed, as far as prices are known; null where none is. */
  cost: z.number().nullable(),
});
export type GivenMonthView = z.infer<typeof givenMonth>;

export const potAdvice = z.object({
  advices: z.array(adviceView),
  answered: z.array(answeredView),
  given: z.array(givenMonth),
  /** Nitrogen its kind of plant would use in a month of growth, mg, by its reservoir; null where practice has no figure. */
  usesN: z.object({ low: z.number(), high: z.number() }).nullable(),
});
export type PotAdvice = z.infer<typeof potAdvice>;

/** A pen thought to be off, from all its pots at once. `off` in % of the reading for strength, in pH for pH. */
export const penAdvice = z.object({
  meterId: id,
  name: z.string(),
  what: z.enum(['ppm', 'pH']),
  title: z.string(),
  because: z.string(),
  then: z.string(),
  sureWords: z.string(),
  /** Round by round, oldest first, the last the one in question. */
  rounds: z.array(z.object({ on: localDate, readings: z.number().int(), off: z.number() })),
  evidenceKey: z.string(),
});
export type PenAdvice = z.infer<typeof penAdvice>;

export const adviceRoom = z.object({
  today: localDate,
  pens: z.array(penAdvice),
  pots: z.array(z.object({ id, code: z.string(), name: z.string(), place: z.string(), advices: z.array(adviceView) })),
});
export type AdviceRoom = z.infer<typeof adviceRoom>;

export const rulesView = z.object({
  priorities: z.array(z.string()),
  rules: z.array(
    z.object({
      id: z.string(),
      matter: z.enum(MATTERS),
      seen: z.string(),
      think: z.string(),
      act: z.string(),
      source: z.string(),
      danger: z.boolean(),
      silences: z.array(z.string()),
    }),
  ),
});
export type RulesView = z.infer<typeof rulesView>;

/** Taken up, or declined until its evidence changes. */
export const adviceAct = z.object({
  kind: z.enum(['accept', 'decline']),
  potId: id,
  rule: z.string().max(40),
  evidenceKey: z.string().max(200),
  answerId: id,
  planId: id,
});
export type AdviceAct = z.infer<typeof adviceAct>;

export const penAct = z.object({
  kind: z.enum(['accept', 'decline']),
  meterId: id,
  evidenceKey: z.string().max(200),
  answerId: id,
  planId: id,
});
export type PenAct = z.infer<typeof penAct>;

/** Why what comes out swings, step by step: what the log says of each, and what is to be asked at the pot. */
export const unsteadyView = z.object({
  today: localDate,
  code: z.string(),
  name: z.string(),
  steps: z.array(
    z.object({
      id: z.enum(['ph', 'lost', 'age', 'base', 'order', 'pen']),
      title: z.string(),
      verdict: z.enum(['found', 'cleared', 'ask']),
      seen: z.string(),
      ask: z.string(),
      then: z.string(),
    }),
  ),
});
export type UnsteadyView = z.infer<typeof unsteadyView>;
