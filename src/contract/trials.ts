import { z } from 'zod';
import { id, localDate } from './common.ts';
import { TREATMENTS } from './kinds.ts';

/* Trials: a question put to some pots, half of which get one thing otherwise. */

/** Fewer pots are no trial. */
export const FEWEST_TRIAL_POTS = 4;

/** What is looked at. In the core's units: `strength` the logarithm of old over poured, pH, shares from 0 to 1; growth of the longest leaf, ln a month. */
export const TRIAL_MEASURES = ['strength', 'ph', 'left', 'dry', 'growth'] as const;
export type TrialMeasure = (typeof TRIAL_MEASURES)[number];

/** The one thing that is changed for the first arm. */
export const trialChange = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('flushWith'), with: z.enum(['still', 'plentiful']) }),
  z.object({
    kind: z.literal('strength'),
    share: z
      .number('Give a share, such as 50 %.')
      .min(0.1, 'A tenth of it at the least.')
      .max(2, 'Twice as much at the most.'),
  }),
  z.object({
    kind: z.literal('days'),
    times: z
      .number('Give how many times as long, such as 2.')
      .min(0.3, 'No more than three times as often.')
      .max(4, 'Four times as long at the most.'),
  }),
  z.object({
    kind: z.literal('flush'),
    timesReservoir: z
      .number('Give multiples of the reservoir, such as 6.')
      .min(0)
      .max(12, 'Twelve times the reservoir at the most.'),
  }),
  z.object({
    kind: z.literal('pourPh'),
    by: z
      .number('Give how much lower or higher, such as −0.8.')
      .min(-1.5, 'No more than 1.5 lower.')
      .max(1.5, 'No more than 1.5 higher.'),
  }),
  z.object({ kind: z.literal('regimen'), regimenId: id }),
  z.object({ kind: z.literal('treatment'), treatment: z.enum(TREATMENTS) }),
  z.object({
    kind: z.literal('own'),
    words: z
      .string()
      .trim()
      .min(1, 'Say what is done, such as “lamp a hand higher”.')
      .max(80, 'Keep it under 80 letters.'),
  }),
]);
export type TrialChange = z.infer<typeof trialChange>;

const about = {
  question: z
    .string()
    .trim()
    .min(1, 'Ask the question, such as “Does a still flush gather less salt?”')
    .max(120, 'Keep it under 120 letters.'),
  change: trialChange,
  measure: z.enum(TRIAL_MEASURES),
  /** The least difference that would matter, in the measure's own unit. */
  matters: z.number('Give the least difference that would matter to you.').positive('More than nothing.'),
  weeks: z
    .number('Give the weeks, such as 12.')
    .int('Whole weeks.')
    .min(2, 'Two weeks at the least: a trial of days shows nothing.')
    .max(52, 'A year at the most.'),
  potIds: z.array(id).max(400, 'Four hundred pots at the most.'),
};
export const trialPlanAsked = z.object({ ...about, question: z.string().max(400).default('') });
export type TrialPlanAsked = z.infer<typeof trialPlanAsked>;
export const startTrial = z.object({
  ...about,
  alike: z.array(z.string().trim().min(1).max(120)).max(12),
});
export type StartTrial = z.infer<typeof startTrial>;

const potShort = z.object({ id, code: z.string(), name: z.string(), place: z.string() });
/** What a trial could show before it is begun. */
export const trialPlan = z.object({
  pairs: z.array(z.tuple([potShort, potShort])),
  left: z.array(potShort),
  /** By measure: how far pairs come to lie apart by themselves, and from what that is known. */
  measures: z.array(
    z.object({
      measure: z.enum(TRIAL_MEASURES),
      sd: z.number(),
      /** `own`: from these pots' own past; `usual`: what such pots do, since these were not read for long enough. */
      from: z.enum(['own', 'usual']),
      /** Null where so few can show nothing at all. */
      smallest: z.number().nullable(),
      /** Pairs that it takes for what would matter; null past 2,000. Of the measure that is asked for only. */
      needed: z.number().int().nullable(),
      /** Such a change makes a difference in it of about so much, as far as anyone knows; null where nobody does. */
      usual: z.number().nullable(),
    }),
  ),
  /** What the two arms would differ in; empty where they would not. */
  differs: z.array(z.string()),
  problems: z.array(z.object({ path: z.string(), message: z.string() })),
});
export type TrialPlan = z.infer<typeof trialPlan>;

const found = z.object({ mean: z.number(), low: z.number(), high: z.number() });
export const TRIAL_VERDICTS = ['real', 'small', 'none', 'open', 'few'] as const;
export const trialView = z.object({
  id,
  question: z.string(),
  change: trialChange,
  /** What each arm gets, in words: with the change, and as it was. */
  arms: z.tuple([z.string(), z.string()]),
  measure: z.enum(TRIAL_MEASURES),
  matters: z.number(),
  startOn: localDate,
  weeks: z.number().int(),
  endOn: localDate,
  endedOn: localDate.nullable(),
  endWhy: z.string(),
  weeksGone: z.number().int(),
  /** `early`: ended before its time. */
  state: z.enum(['running', 'over', 'early', 'ended']),
  alike: z.array(z.string()),
  pots: z.array(
    potShort.extend({
      arm: z.union([z.literal(0), z.literal(1)]),
      pair: z.number().int(),
      /** Less its own past; null while it was not read on both sides. */
      outcome: z.number().nullable(),
      visits: z.number().int(),
      read: z.number().int(),
      /** Visits at which it got what the other arm gets. */
      wrong: z.number().int(),
      leftOn: localDate.nullable(),
      leftWhy: z.string(),
    }),
  ),
  pairs: z.number().int(),
  difference: found.nullable(),
  /** By what the pots were given and not by what they were meant to get; null where that is the same. */
  asDone: found.nullable(),
  smallest: z.number().nullable(),
  verdict: z.enum(TRIAL_VERDICTS),
  /** What was not kept equal, in words. */
  unequal: z.array(z.string()),
});
export type TrialView = z.infer<typeof trialView>;
export const trialsView = z.object({ today: localDate, trials: z.array(trialView) });
export type TrialsView = z.infer<typeof trialsView>;

/** `after`: what the pots of the trial follow from now on: all as before, the first arm as it is, or all with the change. */
export const endTrial = z.object({
  why: z.string().trim().max(200, 'Keep it under 200 letters.').default(''),
  after: z.enum(['back', 'keep', 'all']),
});
export const leaveTrial = z.object({
  potId: id,
  why: z.string().trim().min(1, 'Say why, in a word.').max(120, 'Keep it under 120 letters.'),
});

export const trialAct = z.discriminatedUnion('kind', [
  startTrial.extend({ kind: z.literal('start'), trialId: id }),
  endTrial.extend({ kind: z.literal('end'), trialId: id }),
  leaveTrial.extend({ kind: z.literal('leave'), trialId: id }),
]);
export type TrialAct = z.infer<typeof trialAct>;
