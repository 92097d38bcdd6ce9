import { z } from 'zod';
import { FEED_WHATS, SOAK_WHATS } from '../core/regimen/index.ts';
import { ASKED_WHYS } from '../core/what-to-read/index.ts';
import { PRODUCT_KINDS } from './kinds.ts';
import { partAim, use } from './recipes.ts';
import { carePayloads } from './care.ts';
import { id, instant, localDate, look, potDrawing } from './common.ts';
import { readChoice } from './shell.ts';

export const due = z.object({
  dueOn: localDate,
  status: z.enum(['late', 'due', 'soon', 'later']),
  daysLate: z.number().int(),
  pastLimit: z.number().int(),
  words: z.string(),
});

/** How much is read of a round, or a pot that is never asked for a reading. */
export const readingAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('howMuch'), choice: readChoice }),
  z.object({ kind: z.literal('never'), potId: id, never: z.boolean() }),
]);
export type ReadingAct = z.infer<typeof readingAct>;
export type ReadChoiceView = z.infer<typeof readChoice>;

/** One kind of reading of a pot on this round. */
export const readAsk = z.object({
  /** Why it is asked; null: it may be left. */
  asked: z.enum(ASKED_WHYS).nullable(),
  /** It was asked, and there are not so many dips. */
  missed: z.boolean(),
  /** The round it will be asked on at the latest, where it may be left. */
  turnOn: localDate.nullable(),
  /** In a few words, for a list. */
  short: z.string(),
  words: z.string(),
  /** It is never asked: there is no pen for it, or the pot is taken out of all asking. */
  never: z.boolean(),
  /** Beyond these it comes as a surprise, on the grower’s own pen; null where nothing can be foretold. */
  odd: z.object({ below: z.number(), above: z.number() }).nullable(),
});
export type ReadAsk = z.infer<typeof readAsk>;

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
    /** From what it is reckoned, so that the reading just typed reckons it anew; null by the rule of thumb. Strengths in ppm on the pen. */
    by: z
      .object({
        poresPpm: z.number(),
        poreMl: z.number(),
        efficiency: z.object({ mean: z.number(), sd: z.number() }),
        mixPpm: z.number(),
        habitTimes: z.number(),
        compareMl: z.number(),
        waterIds: z.array(id),
      })
      .nullable(),
  }),
  due,
  /** What happened to this pot on this round, if anything. */
  done: z.object({ eventId: id, kind: z.enum(['filled', 'skipped']), at: instant, words: z.string() }).nullable(),
  mixKey: z.string().nullable(),
  /** What it is given today by its regimen, and what of the plant changed it. `waterId`: plain water, poured as it is. */
  watering: z.object({
    what: z.enum(FEED_WHATS),
    words: z.string(),
    because: z.array(z.string()),
    turn: z.number().int(),
    wash: z.boolean(),
    waterId: id.nullable(),
    waterName: z.string().nullable(),
  }),
  /** A supplement that is due before it is filled; `given`: today's is over, and the pot wants its flush and its fill. */
  soak: z
    .object({
      mixKey: z.string(),
      what: z.enum(SOAK_WHATS),
      way: z.enum(['soak', 'spray']),
      words: z.string(),
      holdMinutes: z.number(),
      pouredMl: z.number(),
      given: z.boolean(),
      dryFirst: z.boolean(),
    })
    .nullable(),
  /** It stands in a soak now. */
  inSoak: z.object({ id, words: z.string(), startedAt: instant, endsAt: instant.nullable() }).nullable(),
  /** What must stay dry, by how it grows. */
  keepDry: z.string().nullable(),
  /** There is not enough still water today, and waiting harms this one least. */
  waits: z.string().nullable(),
  /** The plan that stands moved it: its day, and the day it would be due by itself. */
  byPlan: z.string().nullable(),
  /** What it gets in a trial that is running. */
  trial: z.string().nullable(),
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
  /** Which readings are asked of it; null where it is not due. */
  read: z
    .object({
      ppm: readAsk,
      ph: readAsk,
      /** With more left than this, mL, something is wrong with it. */
      leftAboveMl: z.number().nullable(),
      never: z.boolean(),
    })
    .nullable(),
});

/** What a part aims at; `label`: a share of whatever the bottle’s label gives. */
export const mixAim = z.discriminatedUnion('kind', [
  ...partAim.options,
  z.object({ kind: z.literal('label'), share: z.number() }),
]);

export type MixAim = z.infer<typeof mixAim>;

export const roundMix = z.object({
  key: z.string(),
  letter: z.string(),
  name: z.string(),
  use,
  /** Plain water: nothing to mix. */
  noMixing: z.boolean(),
  /** What goes in, by kind of product; the bench takes the bottle in use of each. */
  parts: z.array(z.object({ kind: z.enum(PRODUCT_KINDS), aim: mixAim })),
  holdMinutes: z.number().nullable(),
  fillWith: z.enum(['still', 'tap']).nullable(),
  potIds: z.array(id),
  /** Soaks one person can do: minutes from now at which each is begun and drained. */
  stagger: z.array(z.object({ potId: id, code: z.string(), startMin: z.number(), drainMin: z.number() })),
  /** Another mix of this round that could be in the same bucket. */
  oneWith: z
    .object({
      key: z.string(),
      letter: z.string(),
      netPpm: z.number(),
      phLow: z.number(),
      phHigh: z.number(),
      litres: z.number(),
    })
    .nullable(),
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
      /** What may be poured of it: jugs and buckets are read by eye. */
      pourableMl: z.number(),
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
  /** Some regimen of this round is for mornings only; otherwise when life allows. */
  morning: z.boolean(),
  /** What it takes one person, minutes. */
  minutes: z.number(),
  /**
   * Dips of the pots that are still to do: asked for by themselves, made by what was chosen, asked and left out for want of dips, and all that could be
   * made; `little`, made where only little is read. `pots`: those that are read. `minutes`: of each way.
   */
  reading: z.object({
    choice: readChoice,
    asked: z.number().int(),
    made: z.number().int(),
    missed: z.number().int(),
    all: z.number().int(),
    little: z.number().int(),
    /** Dips of this round that were made already; a budget counts them. */
    done: z.number().int(),
    pots: z.number().int(),
    minutes: z.object({ everything: z.number(), asked: z.number(), little: z.number(), made: z.number() }),
    /** Pots that are never asked, by code. */
    never: z.array(z.string()),
    /** Pens that want to be seen in buffer or standard, whatever their readings say. */
    pens: z.array(z.object({ meterId: id, words: z.string() })),
  }),
  /** Still water: in the tank, wanted by this round, and which pots wait where it does not reach. Null where nobody looked into a tank. */
  still: z.object({ litres: z.number(), needL: z.number(), waits: z.array(z.string()) }).nullable(),
  /** Waters to pour as they are: for a top-up in a hurry. */
  waters: z.array(z.object({ id, name: z.string(), ppm: z.number(), scarce: z.boolean() })),
  mixes: z.array(roundMix),
  places: z.array(z.object({ id, name: z.string(), note: z.string(), pots: z.array(roundPot) })),
  ppmMeter: z.object({ id, name: z.string(), simulated: z.boolean(), sends: z.boolean().optional() }).nullable(),
  phMeter: z.object({ id, name: z.string(), simulated: z.boolean(), sends: z.boolean().optional() }).nullable(),
});

/** One act on the round: the pot was done, skipped with a reason, put in a soak and out of it, sprayed, topped up, only looked over, or read where it stands. */
export const roundAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('filled'),
    potId: id,
    ...carePayloads.potFilled.shape,
    /** A volume that was asked about stands. */
    confirmedOdd: z.boolean().default(false),
  }),
  z.object({ kind: z.literal('skipped'), potId: id, ...carePayloads.potSkipped.shape }),
  z.object({
    kind: z.literal('supplement'),
    potId: id,
    batchId: id.nullable(),
    clockId: id,
    ...carePayloads.supplementStarted.pick({ dueOn: true, what: true, way: true, pouredMl: true, holdMinutes: true })
      .shape,
  }),
  z.object({ kind: z.literal('drained'), potId: id, supplementId: id }),
  z.object({
    kind: z.literal('toppedUp'),
    potId: id,
    ...carePayloads.potToppedUp.pick({ waterId: true, ml: true }).shape,
    batchId: id.nullable().default(null),
  }),
  z.object({ kind: z.literal('looked'), potId: id, look }),
  z.object({ kind: z.literal('reread'), potId: id, ...carePayloads.potReread.omit({ words: true }).shape }),
]);

const filledAct = roundAct.options[0];
/** Several pots filled in one act: each a line of its own, with an id of its own, all or none. */
export const roundMany = z.object({
  fills: z
    .array(z.object({ eventId: id, act: filledAct }))
    .min(1, 'Choose the pots.')
    .max(1000, 'At most 1,000 pots at once.'),
});
export const roundActDone = z.object({ eventId: id, at: instant, repeated: z.boolean() });

export type RoundView = z.infer<typeof roundView>;
export type RoundPot = z.infer<typeof roundPot>;
export type RoundMix = z.infer<typeof roundMix>;
/** As it is sent: what is left out stands at what the contract takes for it. */
export type RoundAct = z.input<typeof roundAct>;
export type RoundActRead = z.infer<typeof roundAct>;
export type RoundActDone = z.infer<typeof roundActDone>;
