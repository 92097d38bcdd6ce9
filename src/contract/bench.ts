import { z } from 'zod';
import { carePayloads } from './care.ts';
import { coachAdvice, dosing } from './coach.ts';
import { id, instant, localDate } from './common.ts';
import { PRODUCT_KINDS } from './kinds.ts';
import { MOST_PARTS, partAim, SOLID_WAYS, use } from './recipes.ts';
import { toolView } from './shelf.ts';

/** What goes in: a bottle (or jar) in use and its aim. The bench decides on the order. */
/** Batches like this one for which a large stock is made. */
export const BATCHES_OF_A_LARGE_STOCK = 4;
/** `large`: a stock for several batches; `made`: from what is left of one made earlier. */
export const startPart = z.object({
  bottleId: id,
  aim: partAim,
  solid: z.enum([...SOLID_WAYS, 'large', 'made']).default('stock'),
});

/** Starts a batch: everything of the Water step but the reading. Strength is net ppm on the grower's pen. */
export const startBatch = z.object({
  /** Which mix of the round it is for; several where they are made as one. */
  mixKey: z.string().max(200).nullable(),
  recipeId: id.nullable().default(null),
  use: use.default('feed'),
  name: z.string().trim().min(1, 'Give the batch a name.').max(80),
  waterId: id,
  vesselId: id,
  parts: z.array(startPart).max(MOST_PARTS, `At most ${MOST_PARTS} parts in one batch.`),
  /** Null: there is no strength pen, and everything goes in by measure. */
  ppmMeterId: id.nullable(),
  phMeterId: id.nullable(),
  toolIds: z.array(id).min(1, 'Choose a dropper or a syringe.'),
  volumeL: z
    .number()
    .min(0.05, 'An empty batch needs no mixing: give the litres, such as 2.6.')
    .max(1000, 'More than 1,000 L? Check the figure.'),
  phLow: z.number().min(3).max(9),
  phHigh: z.number().min(3).max(9),
  holdMinutes: z.number().min(1).max(1440).nullable().default(null),
  /** Given whole and unread: allowed where the recipe came out right often enough. */
  byRecipe: z.boolean().default(false),
  forPots: z.array(id).max(1000).default([]),
  /** Why the parts go in as they stand here and not in the order that clouds least; null: the bench orders them. */
  ownOrder: z
    .string()
    .trim()
    .min(1, 'Say why, in a few words.')
    .max(120, 'Keep it under 120 letters.')
    .nullable()
    .default(null),
});

const step = <K extends string, T extends z.ZodRawShape>(kind: K, shape: T) =>
  z.object({ kind: z.literal(kind), ...shape });

/** One act at the bench. A portion may bring its reading with it; a reading may also follow by itself. */
export const benchStep = z.discriminatedUnion('kind', [
  step('base', carePayloads.batchBase.shape),
  step('portion', carePayloads.batchPortion.shape),
  step('reading', carePayloads.batchReading.shape),
  step('leave', carePayloads.batchPartLeft.shape),
  step('thin', carePayloads.batchThinned.shape),
  step('ph', carePayloads.batchPh.shape),
  step('correction', carePayloads.batchCorrection.shape),
  step('pour', {}),
  step('abandon', { reason: z.string().max(200) }),
  step('assign', { mixKey: z.string().min(1).max(80) }),
  step('empty', { to: z.string().max(200) }),
]);

/** One row of the portion table. */
export const benchRow = z.object({
  eventId: id,
  kind: z.enum(['base', 'portion', 'reading', 'thin']),
  part: z.number().int(),
  label: z.string(),
  doseMl: z.number().nullable(),
  doseWords: z.string(),
  totalMl: z.number(),
  readsPpm: z.number().nullable(),
  netPpm: z.number().nullable(),
  ppmPerMlL: z.number().nullable(),
  /** Read with a pen later found off. */
  tainted: z.boolean(),
});

/** A part of the batch, in the order it goes in. */
export const batchPart = z.object({
  productId: id,
  name: z.string(),
  short: z.string(),
  label: z.string(),
  kind: z.enum(PRODUCT_KINDS),
  caution: z.string(),
  unit: z.enum(['mL', 'g']),
  /** As it goes in: plain, thinned first, from a stock of a solid, or counted in granules. */
  method: z.enum(['plain', 'thinned', 'stock', 'granules']),
  /** mL of what is in the dropper for one mL (g) of product. */
  mlPerUnit: z.number(),
  /** `madeOn`, `leftMl`: of one made for an earlier batch, before this one. */
  stock: z
    .object({
      grams: z.number(),
      waterMl: z.number(),
      /** Measured by so many halves of a level spoon, and not weighed. */
      halfSpoons: z.number().optional(),
      spoon: z.string().optional(),
      madeOn: localDate.optional(),
      leftMl: z.number().optional(),
    })
    .nullable(),
  aimWords: z.string(),
  /** By pen: net of the part with its band. By measure: null, and `doseUnits` says how much goes in altogether. */
  aim: z.object({ netPpm: z.number(), lowPpm: z.number(), highPpm: z.number(), hardPpm: z.number() }).nullable(),
  doseUnits: z.number().nullable(),
  /** Why it stands here in the order, and what it may cloud with. */
  reason: z.string(),
  risk: z.enum(['none', 'possible', 'sure']),
  riskWords: z.string().nullable(),
  state: z.enum(['waiting', 'now', 'inside', 'measured', 'byRecipe', 'left']),
  portions: z.number().int(),
  totalMl: z.number(),
  /** What the pen read before it, and what it brought by the pen. */
  overPpm: z.number().nullable(),
  netPpm: z.number().nullable(),
  strength: z.object({ ppmPerMlL: z.number(), sd: z.number(), batches: z.number().int(), guessPpmPerMlL: z.number() }),
  brings: z.array(z.object({ element: z.string(), mgL: z.number() })).nullable(),
});

/** What the chemistry says of the batch; figures of ppm on the grower's pen. Never a reading. */
export const batchExpected = z.discriminatedUnion('known', [
  z.object({ known: z.literal(false), why: z.string() }),
  z.object({
    known: z.literal(true),
    /** Before any acid: its pH with the 90 % range, its reading, and the pH tomorrow if it stands open. */
    before: z.object({
      ph: z.number(),
      lowPh: z.number(),
      highPh: z.number(),
      ppm: z.number(),
      tomorrowPh: z.number(),
    }),
    /** With what went in since, put where the pH readings say. */
    now: z.object({ ph: z.number(), ppm: z.number(), tomorrowPh: z.number(), inAQuarterPh: z.number() }),
    /** How the water is known: analysis, kit or only its reading. */
    waterFrom: z.enum(['analysis', 'kit', 'reading']),
    clouding: z.string().nullable(),
    /** What is in the bucket, for the curious. */
    inside: z.object({
      elements: z.array(z.object({ element: z.string(), symbol: z.string(), mgL: z.number() })),
      alkalinityMeqL: z.number(),
      dKh: z.number(),
    }),
  }),
]);

/** An acid or alkali that could bring the batch into its window. */
export const phChoice = z.object({
  productId: id,
  name: z.string(),
  direction: z.enum(['down', 'up']),
  caution: z.string(),
  /** The whole way to the middle of the window, mL as bought; null where its label is not known. */
  wholeMl: z.number().nullable(),
  brings: z.string(),
  lasts: z.string(),
  warning: z.string().nullable(),
  /** What the coach would put in next; null where there is no telling. */
  dose: z
    .object({
      ml: z.number(),
      ratio: z.number(),
      /** It stands thinned so on the bench, from the correction before. */
      asBefore: z.boolean(),
      ...dosing,
      expected: z.object({ ph: z.number(), low: z.number(), high: z.number() }),
      inWindow: z.number(),
      ppm: z.number(),
      tomorrowPh: z.number(),
      coarse: z.boolean(),
    })
    .nullable(),
  why: z.string().nullable(),
});
export type PhChoice = z.infer<typeof phChoice>;

export const batchView = z.object({
  id,
  name: z.string(),
  use,
  recipeId: id.nullable(),
  status: z.enum(['open', 'poured', 'abandoned']),
  stage: z.enum(['water', 'strength', 'ph', 'pour', 'closed']),
  mixKey: z.string().nullable(),
  potCodes: z.array(z.string()),
  forPots: z.array(z.object({ id, code: z.string() })),
  startedAt: instant,
  startedOn: localDate,
  time: z.string(),
  /** Days since it was started, while it is open. */
  openDays: z.number().int(),
  water: z.object({ id, name: z.string(), expectedPpm: z.number().nullable() }),
  vessel: z.object({ id, name: z.string(), capacityL: z.number() }),
  parts: z.array(batchPart),
  /** The part whose turn it is; as many as there are parts when all are in. */
  at: z.number().int(),
  byRecipe: z.boolean(),
  /** Of every figure in ppm here. */
  scale: z.number(),
  /** `off`: in words, that it was found off and not set since; null where it was not. No pen at all: everything goes in by measure. */
  ppmMeter: z
    .object({
      id,
      name: z.string(),
      simulated: z.boolean(),
      sends: z.boolean().optional(),
      off: z.string().nullable(),
      /** What it last showed in air, where that is more than it may; 0 where it is in order. */
      zeroBy: z.number(),
    })
    .nullable(),
  phMeter: z
    .object({
      id,
      name: z.string(),
      kind: z.enum(['pen', 'kit']),
      simulated: z.boolean(),
      sends: z.boolean().optional(),
      off: z.string().nullable(),
    })
    .nullable(),
  tools: z.array(toolView),
  volumeL: z.number(),
  leftMl: z.number(),
  /** What it read when it was poured; null while it is open, or where nobody read. */
  pouredPpm: z.number().nullable(),
  /** Until when what is left may be used; null while it is open. */
  keepsUntil: localDate.nullable(),
  basePpm: z.number().nullable(),
  /** Nobody read the water: it is taken as it last read, or as such waters do. */
  baseIsThought: z.boolean(),
  /** Net that all parts by pen are meant to bring together, as planned; with what measured parts bring, as far as known. */
  aimPpm: z.number(),
  netPpm: z.number(),
  /** What batches by this recipe usually bring over the water, where this one brings a fifth more: then something else is wrong. */
  usualNetPpm: z.number().nullable(),
  phWindow: z.object({ low: z.number(), high: z.number() }),
  holdMinutes: z.number().nullable(),
  advice: coachAdvice,
  rows: z.array(benchRow),
  /** The cone: what the batch will read for so many mL of the part in all, with the 90 % range; drawn, never computed, by the view. */
  cone: z.array(z.object({ totalMl: z.number(), ppm: z.number(), lowPpm: z.number(), highPpm: z.number() })),
  ph: z.object({
    readings: z.array(
      z.object({
        eventId: id,
        ph: z.number().nullable(),
        label: z.string(),
        after: z.string(),
        tainted: z.boolean(),
        photos: z.array(z.object({ id, time: z.string() })),
      }),
    ),
    corrections: z.number().int(),
    /** Where it stands, put right by what the pen is known to be off, and that amount: what the pen shows is so much more. */
    latest: z.number().nullable(),
    penOffBy: z.number(),
    inside: z.boolean(),
    movedPerStep: z.number().nullable(),
    /** How much stronger than their labels the doses acted here; null before the first was read. */
    response: z.number().nullable(),
    choices: z.array(phChoice),
  }),
  expected: batchExpected,
  lastEventId: id.nullable(),
});

/** Something to know before a batch is started; `stop` keeps it from starting. */
export const beforeNotice = z.object({
  level: z.enum(['stop', 'mind', 'fine']),
  about: z.enum(['water', 'product', 'vessel', 'pen', 'pots']),
  words: z.string(),
});
export const beforeStart = z.object({
  notices: z.array(beforeNotice),
  /** What will be done, in order. */
  steps: z.array(z.object({ words: z.string(), why: z.string().nullable() })),
  trust: z.object({ trusted: z.boolean(), why: z.string() }).nullable(),
});
export type BeforeStart = z.infer<typeof beforeStart>;

export type StartBatch = z.input<typeof startBatch>;
export type StartBatchRead = z.infer<typeof startBatch>;
export type BenchStep = z.input<typeof benchStep>;
export type BenchStepRead = z.infer<typeof benchStep>;
export type BatchView = z.infer<typeof batchView>;
export type BatchPartView = z.infer<typeof batchPart>;
export type BenchRow = z.infer<typeof benchRow>;
