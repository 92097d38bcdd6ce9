import { z } from 'zod';
import { carePayloads } from './care.ts';
import { id, instant, localDate } from './common.ts';
import { toolView } from './shelf.ts';

/** Starts a batch: everything of the Water step but the reading. Strength is net ppm on the grower's pen. */
export const startBatch = z.object({
  mixKey: z.string().max(80).nullable(),
  name: z.string().trim().min(1, 'Give the batch a name.').max(80),
  waterId: id,
  vesselId: id,
  bottleId: id,
  ppmMeterId: id,
  phMeterId: id.nullable(),
  toolIds: z.array(id).min(1, 'Choose a dropper or a syringe.'),
  volumeL: z.number().min(0.05, 'An empty batch needs no mixing: give the litres, such as 2.6.').max(1000, 'More than 1,000 L? Check the figure.'),
  netPpm: z
    .number()
    .positive('The aim is over the base: give more than zero, such as 90.')
    .max(5000, 'Past 5,000 ppm over base nothing here can live. Check the figure.'),
  phLow: z.number().min(3).max(9),
  phHigh: z.number().min(3).max(9),
});

const step = <K extends string, T extends z.ZodRawShape>(kind: K, shape: T) => z.object({ kind: z.literal(kind), ...shape });

/** One act at the bench. A portion may bring its reading with it; a reading may also follow by itself. */
export const benchStep = z.discriminatedUnion('kind', [
  step('base', carePayloads.batchBase.shape),
  step('portion', carePayloads.batchPortion.shape),
  step('reading', carePayloads.batchReading.shape),
  step('thin', carePayloads.batchThinned.shape),
  step('ph', carePayloads.batchPh.shape),
  step('correction', carePayloads.batchCorrection.shape),
  step('pour', {}),
  step('abandon', { reason: z.string().max(200) }),
  step('empty', { to: z.string().max(200) }),
]);

const range = z.object({ ppm: z.number(), lowPpm: z.number(), highPpm: z.number() });

/** What the coach says next; figures in ppm on the grower's pen, volumes in L, doses in mL. */
export const coachAdvice = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('readBase') }),
  z.object({
    kind: z.literal('add'),
    portion: z.number().int(),
    portionsLikely: z.number().int(),
    doseMl: z.number(),
    steps: z.number().int(),
    toolId: id,
    toolName: z.string(),
    toolKind: z.enum(['dropper', 'syringe']),
    dropsPerMl: z.number().nullable(),
    dropSizeIsGuess: z.boolean(),
    relativeSd: z.number(),
    expected: range,
    hardPpm: z.number(),
    pastHard: z.number(),
  }),
  z.object({ kind: z.literal('readAgain'), expected: range }),
  z.object({ kind: z.literal('inside') }),
  z.object({
    kind: z.literal('thin'),
    pastHard: z.boolean(),
    plan: z.enum(['add', 'pourOffAndReplace']),
    addL: z.number(),
    pourOffL: z.number(),
    vesselName: z.string(),
    expectedPpm: z.number(),
  }),
  z.object({ kind: z.literal('tooCoarse'), stepMl: z.number() }),
  z.object({ kind: z.literal('overRange') }),
]);

/** One row of the portion table. */
export const benchRow = z.object({
  eventId: id,
  kind: z.enum(['base', 'portion', 'reading', 'thin']),
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

/** What the chemistry says of the batch; figures of ppm on the grower's pen. Never a reading. */
export const batchPredicted = z.discriminatedUnion('known', [
  z.object({ known: z.literal(false), why: z.string() }),
  z.object({
    known: z.literal(true),
    /** Before any acid: its pH with the 90 % range, its reading, and the pH tomorrow if it stands open. */
    before: z.object({ ph: z.number(), lowPh: z.number(), highPh: z.number(), ppm: z.number(), tomorrowPh: z.number() }),
    /** With what went in since, put where the last pH reading says. */
    now: z.object({ ph: z.number(), ppm: z.number(), tomorrowPh: z.number() }),
    /** What would bring it to the middle of the window from where it stands. */
    dose: z
      .object({
        productId: id,
        ml: z.number(),
        targetPh: z.number(),
        ph: z.number(),
        ppm: z.number(),
        tomorrowPh: z.number(),
        /** What else it brings, "4 mg/L nitrogen". */
        brings: z.string(),
      })
      .nullable(),
    /** How the water is known: analysis, kit or only its reading. */
    waterFrom: z.enum(['analysis', 'kit', 'reading']),
    clouding: z.string().nullable(),
  }),
]);

export const batchView = z.object({
  id,
  name: z.string(),
  status: z.enum(['open', 'poured', 'abandoned']),
  stage: z.enum(['water', 'strength', 'ph', 'pour', 'closed']),
  mixKey: z.string().nullable(),
  potCodes: z.array(z.string()),
  startedAt: instant,
  startedOn: localDate,
  time: z.string(),
  water: z.object({ id, name: z.string(), expectedPpm: z.number().nullable() }),
  vessel: z.object({ id, name: z.string(), capacityL: z.number() }),
  product: z.object({ id, name: z.string(), short: z.string(), label: z.string() }),
  /** `off`: in words, that it was found off and not set since; null where it was not. */
  ppmMeter: z.object({ id, name: z.string(), scale: z.number(), simulated: z.boolean(), off: z.string().nullable() }),
  phMeter: z.object({ id, name: z.string(), simulated: z.boolean(), off: z.string().nullable() }).nullable(),
  acids: z.array(z.object({ id, name: z.string(), direction: z.enum(['down', 'up']), caution: z.string() })),
  tools: z.array(toolView),
  volumeL: z.number(),
  leftMl: z.number(),
  thinRatio: z.number(),
  basePpm: z.number().nullable(),
  aim: z.object({ netPpm: z.number(), lowPpm: z.number(), highPpm: z.number(), hardPpm: z.number() }),
  phWindow: z.object({ low: z.number(), high: z.number() }),
  advice: coachAdvice,
  rows: z.array(benchRow),
  /** The cone: what the batch will read for so many mL in all, with the 90 % range; drawn, never computed, by the view. */
  cone: z.array(z.object({ totalMl: z.number(), ppm: z.number(), lowPpm: z.number(), highPpm: z.number() })),
  strength: z.object({ ppmPerMlL: z.number(), sd: z.number(), batches: z.number().int(), guessPpmPerMlL: z.number() }),
  ph: z.object({
    readings: z.array(z.object({ eventId: id, ph: z.number().nullable(), label: z.string(), after: z.string(), tainted: z.boolean() })),
    corrections: z.number().int(),
    latest: z.number().nullable(),
    inside: z.boolean(),
    movedPerDrop: z.number().nullable(),
  }),
  /** What the net aim brings by the label's proportions, mg/L; null without a label. */
  aimBrings: z.array(z.object({ element: z.string(), mgL: z.number() })).nullable(),
  predicted: batchPredicted,
  lastEventId: id.nullable(),
});

export const batchListItem = z.object({
  id,
  name: z.string(),
  status: z.enum(['open', 'poured', 'abandoned']),
  startedOn: localDate,
  time: z.string(),
  volumeL: z.number(),
  leftMl: z.number(),
  readsPpm: z.number().nullable(),
  ph: z.number().nullable(),
  mixKey: z.string().nullable(),
});

export const benchList = z.object({ batches: z.array(batchListItem) });

export type StartBatch = z.infer<typeof startBatch>;
export type BenchStep = z.infer<typeof benchStep>;
export type BatchView = z.infer<typeof batchView>;
export type BatchListItem = z.infer<typeof batchListItem>;
export type CoachAdvice = z.infer<typeof coachAdvice>;
export type BenchRow = z.infer<typeof benchRow>;
