import { z } from 'zod';
import { ASKED_WHYS } from '../core/what-to-read/index.ts';
import { STANDARD_IDS } from '../core/quantity/index.ts';
import { SOAK_WHATS } from '../core/regimen/index.ts';
import { growthFigures, id, instant, localDate, look, phReading, ppmReading, seen } from './common.ts';

/** What the old reservoir read when it was tipped out: each empty field is "not measured", never a guess. */
export const oldReservoir = z.object({
  ppm: ppmReading,
  ph: phReading,
  leftMl: z
    .number()
    .min(0, 'The amount left cannot be below zero.')
    .max(20000, 'More than 20 L left in a pot? Check the figure.')
    .nullable(),
});

/** Water poured through a pot from the top, in the order it was poured; mL. */
const flushStage = z.object({ waterId: id, ml: z.number().positive('More than nothing is poured.').max(100000) });

/**
 * What a pot was filled with as older records tell it: no mix of the bench, but what its water and feed were and how it read, by the pens of the line.
 * `waterEcUsCm`: what that water read then, where it is told.
 */
const toldMix = z.object({
  ppm: ppmReading,
  ph: phReading,
  waterId: id,
  waterEcUsCm: z.number().min(0).max(20000).nullable(),
  productId: id.nullable(),
  /** As far as the grower remembers, where nobody read it: reckoned with, and shown nowhere as read. */
  aboutEcUsCm: z.number().min(0).max(20000).optional(),
  aboutPh: z.number().min(0).max(14).optional(),
});
export type ToldMix = z.infer<typeof toldMix>;

/** A measured dose. `toolId` is null for granules counted by hand, and mL then stand for grams. */
export const dose = z.object({
  toolId: id.nullable(),
  steps: z.number().int('Count whole drops or marks.').min(1, 'Add at least one drop or mark.').max(2000),
  doseMl: z.number().positive('A dose is more than zero.').max(5000),
  relativeSd: z.number().min(0).max(1),
});

/** Tables that are changed only through the log, so that every change can be taken back. */
export const RECORD_TABLES = [
  'place',
  'water',
  'meter',
  'tool',
  'vessel',
  'product',
  'bottle',
  'regimen',
  'pot',
  'pot_regimen',
  'planned_act',
  'clock',
  'setting',
  'clay_batch',
  'recipe',
  'use_rule',
  'treatment',
  'advice_answer',
  'pen_answer',
  'season',
  'pot_plan',
  'away',
  'made_day',
  'work_time',
  'water_part',
  'turn_mark',
  'trial',
  'trial_pot',
  'instrument',
  'sent_reading',
] as const;
export type RecordTable = (typeof RECORD_TABLES)[number];
const record = z.record(z.string(), z.union([z.string(), z.number(), z.null()]));
/** Records an act changed, with what stood there before; `before` is null where the record is new. */
const recordChanges = z
  .array(z.object({ table: z.enum(RECORD_TABLES), id: z.string(), before: record.nullable(), after: record }))
  .max(20000);
const litresOf = (what: string) =>
  z
    .number(`Give the litres ${what}, such as 3.`)
    .positive(`More than nothing ${what}.`)
    .max(1000, 'More than 1,000 L? Check it.');
/** Whether somebody measured what came off; otherwise the figure is what is thought to drain, and teaches nothing. */
const offMeasured = z.boolean().default(true);
const pouredOff = z
  .number('Give the litres poured off, such as 3.')
  .min(0, 'Not below zero.')
  .max(1000, 'More than 1,000 L? Check it.');
const whereTo = z.string().trim().max(80, 'Keep it under 80 letters.');
const temperatureC = z
  .number('Give the temperature in °C, such as 18.')
  .min(0, 'Water below 0 °C is ice.')
  .max(60, 'That is too hot to hold; check it.')
  .nullable();

/** Payloads of the care log, one per kind of event. The log is append-only; an event is taken back by an `undone` event that names it. */
export const carePayloads = {
  potFilled: z.object({
    dueOn: localDate,
    batchId: id.nullable(),
    pouredMl: z.number().positive('The fill is more than zero.').max(20000),
    flushMl: z.number().min(0).max(100000),
    /** Which waters that was, where it is known. */
    flushWith: z.array(flushStage).max(4).default([]),
    /** What ran off at the end of the flush: another sample than the old reservoir. */
    runOffPpm: ppmReading.default({ kind: 'notMeasured' }),
    oldReservoir,
    ppmMeterId: id.nullable(),
    phMeterId: id.nullable(),
    /** As looks were noted before they had grades. */
    seen: z.array(seen).nullable().default(null),
    look: look.nullable().default(null),
    /** Plain water poured as it is, and what it last read; null where it was a mix. */
    waterId: id.nullable().default(null),
    waterEcUsCm: z.number().min(0).nullable().default(null),
    /** Which watering of the regimen's rota it was. */
    turn: z.number().int().min(0).max(20).nullable().default(null),
    /** Brought in from older records: nobody knows when it was due, nor how long it took. */
    brought: z.boolean().optional(),
    told: toldMix.optional(),
    /** Why each kind of reading was asked of it, where only what is asked is read. */
    askedFor: z.object({ ppm: z.enum(ASKED_WHYS).nullable(), ph: z.enum(ASKED_WHYS).nullable() }).optional(),
  }),
  /** A pot filled to the brim with a supplement, or its leaves sprayed with it. */
  supplementStarted: z.object({
    dueOn: localDate,
    what: z.enum(SOAK_WHATS),
    way: z.enum(['soak', 'spray']),
    pouredMl: z
      .number('Give the mL, such as 600.')
      .positive('More than nothing.')
      .max(50000, 'More than 50 L in one pot? Check it.'),
    holdMinutes: z.number().min(1).max(1440).nullable(),
    words: z.string().max(400),
    changes: recordChanges,
  }),
  supplementEnded: z.object({ supplementId: id, words: z.string().max(400), changes: recordChanges }),
  /** In a hurry, onto what stands there: a dry pot is worse. */
  potToppedUp: z.object({
    waterId: id.nullable(),
    ml: z
      .number('Give the mL poured, such as 80.')
      .positive('More than nothing is poured.')
      .max(20000, 'More than 20 L? Check it.'),
    words: z.string().max(400),
  }),
  /** Looked over outside a filling. */
  potLooked: z.object({ look, words: z.string().max(400) }),
  /** The reservoir read where it stands, between fillings. */
  potReread: z.object({
    ...oldReservoir.shape,
    ppmMeterId: id.nullable(),
    phMeterId: id.nullable(),
    words: z.string().max(400),
    /** Of the water in the pot, °C; absent where nobody measured it. */
    temperatureC: z.number().min(0).max(60).nullable().optional(),
  }),
  /** Measured of the plant. `from`: a photo it was taken from, with what in it is of known length and both ends, as shares of its width and height. */
  potMeasured: z.object({
    figures: growthFigures,
    from: z
      .object({
        photoId: id,
        knownCm: z.number('Give the length in cm, such as 10.').positive('More than nothing.').max(300),
        scale: z.array(z.number().min(0).max(1)).length(4),
        ends: z.array(z.number().min(0).max(1)).length(4),
      })
      .nullable(),
  }),
  /** A picture of the pot; the event's number is the picture's. */
  potPhotoKept: z.object({ words: z.string().max(200) }),
  potSkipped: z.object({
    dueOn: localDate,
    reason: z.string().trim().min(1, 'Say why, in a word.').max(200),
    lookAgainOn: localDate,
  }),
  batchStarted: z.object({ volumeL: z.number().positive() }),
  /**
   * `thoughtEcUsCm`: what is taken for it where it was not measured (a dead pen, or none), as that water last read, or as waters of its kind do;
   * `thoughtSd`: 1 SD of that as a share, null for as it last read.
   */
  batchBase: z.object({
    reading: ppmReading,
    thoughtEcUsCm: z.number().min(0).nullable().default(null),
    thoughtSd: z.number().positive().nullable().default(null),
    confirmedOdd: z.boolean().default(false),
  }),
  /** `part`: which of the batch's parts, in its order. `byRecipe`: nobody means to read it. */
  batchPortion: z.object({
    part: z.number().int().min(0).max(20).default(0),
    dose,
    reading: ppmReading.nullable(),
    confirmedOdd: z.boolean(),
    byRecipe: z.boolean().default(false),
  }),
  /** A part left as it stands: short of its aim, or not read. */
  batchPartLeft: z.object({ part: z.number().int().min(0).max(20), why: z.enum(['coarse', 'enough', 'unread']) }),
  batchReading: z.object({ reading: ppmReading, confirmedOdd: z.boolean() }),
  /** `to`: who gets what was poured off; `keepAs`: the batch it is kept as, where it is. */
  batchThinned: z.object({
    pourOffL: z.number().min(0),
    addL: z.number().positive('Add some water.'),
    reading: ppmReading.nullable(),
    to: z.string().trim().max(80).default(''),
    keepAs: id.nullable().default(null),
  }),
  batchPh: z.object({ reading: phReading, confirmedOdd: z.boolean().default(false) }),
  /** `dose` is of what is in the dropper; `ratio`: one part of the product in so many, 1 as bought. */
  batchCorrection: z.object({
    productId: id,
    dose,
    ratio: z.number().min(1).max(1000).default(1),
    reading: phReading.nullable(),
    confirmedOdd: z.boolean().default(false),
  }),
  batchPoured: z.object({
    volumeL: z.number().positive(),
    readsEcUsCm: z.number().nullable(),
    ph: z.number().nullable(),
  }),
  batchAbandoned: z.object({ volumeL: z.number().min(0), reason: z.string().max(200) }),
  /** A picture put beside a reading of a batch, such as the colours of a kit; the event's number is the picture's. */
  photoKept: z.object({ ofEventId: id }),
  /** What is left over is taken for a mix of the round. */
  batchAssigned: z.object({ mixKey: z.string().max(80), before: z.string().max(80).nullable() }),
  batchEmptied: z.object({ leftMl: z.number().min(0), to: z.string().max(200) }),
  dropperCounted: z.object({ toolId: id, dropsPerMl: z.number().min(5).max(60), before: z.number().nullable() }),
  /** A water read by itself, between mixes. */
  waterRead: z.object({
    waterId: id,
    ppm: ppmReading,
    ph: phReading,
    ppmMeterId: id.nullable(),
    phMeterId: id.nullable(),
    /** Of the sample, for a pen that does not bring its reading to 25 °C; absent where nobody measured it. */
    temperatureC: z.number().min(0).max(50).nullable().optional(),
  }),
  /** What stands in a tank, looked at. */
  waterCounted: z.object({ waterId: id, litres: z.number().min(0).max(100000) }),
  /** A pen looked at in a standard or in air; `shown` on its own scale. */
  meterChecked: z.object({
    meterId: id,
    standard: z.enum(['zero', ...STANDARD_IDS]),
    shown: z.number().min(0).max(99999),
    temperatureC: z.number().min(0).max(50).nullable(),
    settled: z.boolean(),
    adjusted: z.boolean(),
  }),
  /** A pen found off: what it read since then is tainted. `from` null: since its last good check. */
  meterMarkedOff: z.object({
    meterId: id,
    from: instant.nullable(),
    offBy: z.number().nullable(),
    why: z.string().max(200),
  }),
  /** Records added or changed together: the shelf, pots, plans, clocks. `before` is null where the record is new. */
  recordsChanged: z.object({
    group: z.enum(['Shelf', 'Pots', 'Plan', 'Clock', 'Settings', 'Clay', 'Bench', 'Drift', 'Advice', 'Trial']),
    words: z.string().max(400),
    changes: recordChanges.min(1),
  }),
  /** Water poured on a batch of clay: its first, or fresh after some was poured off. `baseEcUsCm` as last read of that water then. */
  clayFilled: z.object({
    clayId: id,
    waterId: id,
    pouredOffL: pouredOff,
    offMeasured,
    to: whereTo,
    freshL: litresOf('poured on'),
    baseEcUsCm: z.number().min(0).nullable(),
  }),
  clayRead: z.object({
    clayId: id,
    ppm: ppmReading,
    ph: phReading,
    ppmMeterId: id.nullable(),
    phMeterId: id.nullable(),
    temperatureC,
  }),
  /** The soak is over: drained, and kept damp or dry. */
  clayDrained: z.object({ clayId: id, pouredOffL: pouredOff, offMeasured, to: whereTo }),
  /** A batch, or the clay in a pot, ran dry: it pushes pH afresh. */
  clayDried: z.object({ clayId: id.nullable(), words: z.string().max(400) }),
  /** A pot filled with its holes taped: a salt check, or an in-pot leach. `fedEcUsCm`: what stood in it before, as far as known. */
  potHoldStarted: z.object({
    purpose: z.enum(['check', 'leach']),
    waterId: id,
    waterL: litresOf('poured in'),
    minutes: z
      .number('Give the minutes, such as 60.')
      .positive('Give the minutes, such as 60.')
      .max(1440, 'Longer than a day is a soak, not a hold.'),
    baseEcUsCm: z.number().min(0).nullable(),
    fedEcUsCm: z.number().min(0).nullable(),
    words: z.string().max(400),
    changes: recordChanges,
  }),
  potHoldRead: z.object({
    holdId: id,
    where: z.enum(['top', 'hole']),
    reading: ppmReading,
    ppmMeterId: id.nullable(),
    words: z.string().max(400),
  }),
  potHoldDrained: z.object({ holdId: id, to: whereTo, words: z.string().max(400), changes: recordChanges }),
  /** A pot filled with its holes taped, to read what its clay gives off. */
  soakStarted: z.object({
    soakKind: z.enum(['still', 'feed']),
    waterId: id.nullable(),
    fillMl: z
      .number('Give the mL poured in, such as 250.')
      .positive('More than nothing is poured in.')
      .max(20000, 'More than 20 L in one pot? Check it.'),
    /** Stood open for a day and more: its carbon is then at rest with the air. */
    aged: z.boolean(),
    covered: z.boolean(),
    minutes: z
      .number('Give the minutes, such as 60.')
      .min(5, 'Five minutes at the least.')
      .max(240, 'Longer than four hours tells no more.'),
    words: z.string().max(400),
    changes: recordChanges,
  }),
  /** `afterMinutes` since it was filled; `opened`: what was collected was stirred and stood open for a day. */
  soakRead: z.object({
    soakId: id,
    afterMinutes: z
      .number('Give the minutes since it was filled.')
      .min(0, 'A reading comes after the filling.')
      .max(14 * 1440),
    opened: z.boolean(),
    ph: phReading,
    ppm: ppmReading,
    phMeterId: id.nullable(),
    ppmMeterId: id.nullable(),
    words: z.string().max(400),
  }),
  soakEnded: z.object({
    soakId: id,
    leakedMl: z.number().min(0, 'Not below zero.').max(20000).nullable(),
    words: z.string().max(400),
    changes: recordChanges,
  }),
  /** A plant potted up, or converted from soil: what was done, and every record it set. */
  potPotted: z.object({
    potId: id,
    clayId: id.nullable(),
    clayL: z.number().min(0).max(200),
    notReady: z.boolean(),
    roots: z.enum(['sound', 'some cut', 'few left', 'none']),
    peroxide: z.boolean(),
    bacteria: z.boolean(),
    start: z.enum(['feed', 'weak']),
    weakDays: z.number().int().min(0).max(90),
    words: z.string().max(400),
    changes: recordChanges.min(1),
  }),
  /** A line of the grower's own: of no pot, of one, or of several. `photoId`: the picture kept with it. */
  noteWritten: z.object({
    words: z.string().trim().min(1, 'Write a word or two.').max(2000, 'Keep it under 2,000 letters.'),
    potIds: z.array(id).max(1000),
    photoId: id.nullable(),
    /** It changed what lasts: it stands among the turns. */
    lasts: z.boolean().optional(),
  }),
  /** Older records brought in, a line each: which lines those are stands in `event_touch`. */
  linesBrought: z.object({
    words: z.string().max(400),
    lines: z.number().int().min(1),
    from: localDate,
    to: localDate,
  }),
  undone: z.object({ targetId: id, targetKind: z.string() }),
} as const;

export type CareKind = keyof typeof carePayloads;
export type CarePayload<K extends CareKind> = z.infer<(typeof carePayloads)[K]>;
export const careKinds = Object.keys(carePayloads) as [CareKind, ...CareKind[]];
