import { z } from 'zod';
import { id, instant, localDate, phReading, ppmReading } from './common.ts';
import { STANDARD_IDS } from '../core/quantity/index.ts';
import { ALKALINITY_UNITS, ANALYSIS_ITEMS, ANALYSIS_UNITS, LABEL_ITEMS } from '../core/solution/index.ts';
import {
  CHLORINES,
  HYDROPONICS,
  METER_CONDITIONS,
  METER_KINDS,
  METER_UNITS,
  PRODUCT_KINDS,
  SCALE_SOURCES,
  TOOL_KINDS,
  UNIT_SCALE,
  WATER_KINDS,
} from './kinds.ts';

/** A dropper, a syringe, or a spoon (scoop, cap) of known size; `dropsPerMl` is null until somebody counted. */
export const toolView = z.object({
  id,
  name: z.string(),
  kind: z.enum(['dropper', 'syringe', 'spoon']),
  dropsPerMl: z.number().nullable(),
  stepMl: z.number(),
  capacityMl: z.number().nullable(),
});

/** What is on the shelf, as far as the bench needs it: nothing retired, nothing finished. */
export const shelfView = z.object({
  waters: z.array(
    z.object({ id, name: z.string(), note: z.string(), kind: z.enum(WATER_KINDS), lastBasePpm: z.number().nullable() }),
  ),
  vessels: z.array(z.object({ id, name: z.string(), capacityL: z.number(), material: z.string() })),
  bottles: z.array(
    z.object({
      id,
      productId: id,
      name: z.string(),
      kind: z.enum(PRODUCT_KINDS),
      unit: z.enum(['mL', 'g']),
      note: z.string(),
      /** What its label gives, mL (g) a litre; null where nobody wrote it down. */
      labelDose: z.number().nullable(),
      /** Whether its strength follows from its label or from a mix that was read. */
      strengthKnown: z.boolean(),
      /** What is left of a stock of it made for an earlier batch. */
      stock: z.object({ grams: z.number(), waterMl: z.number(), madeOn: localDate, leftMl: z.number() }).nullable(),
    }),
  ),
  tools: z.array(toolView),
  meters: z.array(
    z.object({
      id,
      name: z.string(),
      quantity: z.enum(['ppm', 'pH']),
      scale: z.number().nullable(),
      simulated: z.boolean(),
    }),
  ),
});
export type ShelfView = z.infer<typeof shelfView>;

const name = z.string().trim().min(1, 'Give it a name.').max(60, 'Keep the name under 60 letters.');
const note = z.string().trim().max(300, 'Keep the note under 300 letters.');
const litres = (say: string) => z.number(say).positive(say).max(10000, 'More than 10,000 L? Check the figure.');

export const dropsPerMl = z
  .number('Type how many drops made 1 mL.')
  .min(5, 'Fewer than 5 drops to the mL is a spout, not a dropper. Count again.')
  .max(60, 'More than 60 drops to the mL is not a dropper we know. Count again.');

/** "So much in so much water gave so much", as the grower says it. Null figures are not known, and then nothing is scaled from it. */
export const recipe = z.object({
  amount: z.number('Give the amount, such as 30.').positive('Give the amount, such as 30.').max(100000),
  unit: z.enum(['mL', 'drops', 'spoons', 'g', 'other']),
  /** The dropper or spoon it was counted with. */
  toolId: id.nullable(),
  /** In the grower's words where the unit is another: "capful". */
  unitWords: z.string().trim().max(40),
  waterL: litres('Give the litres of water, such as 4, or leave it empty if you do not know.').nullable(),
  readsPpm: z.number('Give what the pen read.').min(0).max(9990, 'A pen reads up to 9,990 ppm.').nullable(),
  basePpm: z.number('Give what the water read alone.').min(0).max(9990).nullable(),
  meterId: id.nullable(),
});
export type Recipe = z.infer<typeof recipe>;

const kitFigure = z.object({
  value: z
    .number('Give what the kit says, such as 8.')
    .min(0, 'Alkalinity and hardness cannot be below zero: count the drops again.')
    .max(2000, 'That is sea water. Check the figure.'),
  unit: z
    .enum(ALKALINITY_UNITS as [string, ...string[]])
    .transform((unit) => unit as (typeof ALKALINITY_UNITS)[number]),
});
/** What is known of a water beyond its reading. */
export const waterKnown = z.discriminatedUnion('method', [
  z.object({ method: z.literal('kit'), alkalinity: kitFigure, hardness: kitFigure.nullable() }),
  z.object({
    method: z.literal('analysis'),
    lines: z
      .array(
        z.object({
          item: z.enum(ANALYSIS_ITEMS),
          value: z
            .number('Give the figure.')
            .min(0, 'An analysis gives nothing below zero. Check the sign.')
            .max(100000),
          unit: z.enum(ANALYSIS_UNITS),
        }),
      )
      .min(1, 'Copy at least calcium, alkalinity and chloride.')
      .max(ANALYSIS_ITEMS.length),
    ph: z.number().min(3, 'Waters lie between pH 3 and 11.').max(11, 'Waters lie between pH 3 and 11.').nullable(),
  }),
]);
export type WaterKnown = z.infer<typeof waterKnown>;

const percent = z
  .number('Give a percentage.')
  .min(0, 'A label declares nothing below zero.')
  .max(200, 'More than the whole. Is it in g per litre? Divide by ten.');
/** The figures of a label as it declares them; what they mean is the chemistry's. */
export const labelFigures = z.object({
  form: z.enum(['liquid', 'powder']),
  basis: z.enum(['w/w', 'w/v']),
  densityGMl: z
    .number('Give the density in g per mL, such as 1.2.')
    .positive('Give the density in g per mL, such as 1.2.')
    .max(20)
    .nullable(),
  percent: z.partialRecord(z.enum(LABEL_ITEMS), percent),
  thinned: z
    .number('Parts altogether, such as 2 for one and one.')
    .min(1, 'Parts altogether: 1 is as bought.')
    .max(1000),
});
export type LabelFigures = z.infer<typeof labelFigures>;

/** What may be written of each kind of thing on the Shelf. */
export const shelfValues = {
  water: z.object({
    name,
    note,
    kind: z.enum(WATER_KINDS),
    tankL: litres('Give the tank in litres, such as 25, or leave it empty.').nullable(),
    perDayL: z.number('Give the litres a day, such as 9, or leave it empty.').min(0).max(10000).nullable(),
    chlorine: z.enum(CHLORINES).default('unknown'),
    costPerL: z
      .number('Give the cost of a litre, such as 0.02, or leave it empty.')
      .min(0, 'A cost is not below zero.')
      .max(1000)
      .nullable()
      .default(null),
    known: waterKnown.nullable().default(null),
  }),
  meter: z
    .object({
      name,
      kind: z.enum(METER_KINDS).default('pen'),
      quantity: z.enum(['ppm', 'pH']),
      unit: z.enum(METER_UNITS).default('ppm'),
      scale: z.number().positive().max(1, 'Pens use 0.5, 0.64 or 0.7.').nullable(),
      scaleFrom: z.enum(SCALE_SOURCES).nullable(),
      resolution: z.number('Give the last digit the display shows, such as 1 or 0.1.').positive().max(10),
      compensated: z.boolean().default(true),
      checkEveryDays: z
        .number('Give the days between checks, such as 30.')
        .min(1, 'At least a day.')
        .max(730, 'Check it at least every two years.')
        .default(30),
      condition: z.enum(METER_CONDITIONS).default('fine'),
    })
    .refine((m) => m.quantity === 'pH' || m.scale !== null, {
      path: ['scale'],
      message: "Choose the pen's scale, or take ½ as a guess.",
    })
    .refine((m) => m.quantity === 'pH' || m.unit !== 'ppm' || m.scale === null || m.scale >= 0.3, {
      path: ['scale'],
      message: 'Pens use 0.5, 0.64 or 0.7.',
    })
    .transform((m) =>
      m.quantity === 'ppm' && m.unit !== 'ppm' ? { ...m, scale: UNIT_SCALE[m.unit], scaleFrom: 'label' as const } : m,
    ),
  tool: z.object({
    kind: z.enum(TOOL_KINDS),
    name,
    dropsPerMl: dropsPerMl.nullable(),
    capacityMl: z
      .number('Give what it holds in mL, such as 5.')
      .positive('Give what it holds in mL, such as 5.')
      .max(1000)
      .nullable(),
    stepMl: z
      .number('Give the smallest mark in mL, such as 0.2.')
      .positive('Give the smallest mark in mL, such as 0.2.')
      .max(100)
      .nullable(),
    stepG: z
      .number('Give the smallest step in grams, such as 0.1.')
      .positive('Give the smallest step in grams, such as 0.1.')
      .max(100)
      .nullable(),
  }),
  vessel: z.object({
    name,
    capacityL: litres('Give what it holds in litres, such as 5.'),
    material: z.string().trim().max(40),
    heatProof: z.boolean(),
  }),
  product: z.object({
    name,
    shortName: z.string().trim().max(20),
    kind: z.enum(PRODUCT_KINDS),
    label: note,
    caution: z.string().trim().max(400),
    recipe: recipe.nullable(),
    analysis: labelFigures.nullable().default(null),
    hydroponics: z.enum(HYDROPONICS).default('unsaid'),
    topDoseMlL: z
      .number('Give mL (g) per litre, such as 1.')
      .positive('Give mL (g) per litre, such as 1.')
      .max(1000)
      .nullable()
      .default(null),
    longestDays: z.number('Give days, such as 7.').positive('Give days, such as 7.').max(3650).nullable().default(null),
    slowsGrowth: z.boolean().default(false),
  }),
} as const;
export type ShelfKind = keyof typeof shelfValues;
export type ShelfValues<K extends ShelfKind = ShelfKind> = z.infer<(typeof shelfValues)[K]>;
export const SHELF_KINDS = Object.keys(shelfValues) as [ShelfKind, ...ShelfKind[]];

const put = <K extends ShelfKind>(what: K) =>
  z.object({ kind: z.literal('put'), what: z.literal(what), id, values: shelfValues[what] });
/** One act on the Shelf: adding or changing a thing, taking it out of use or back, opening a bottle, reading a water, looking into a tank. */
export const shelfAct = z.discriminatedUnion('kind', [
  z.discriminatedUnion('what', [put('water'), put('meter'), put('tool'), put('vessel'), put('product')]),
  z.object({ kind: z.literal('retire'), what: z.enum(SHELF_KINDS), id }),
  z.object({ kind: z.literal('bringBack'), what: z.enum(SHELF_KINDS), id }),
  z.object({
    kind: z.literal('openBottle'),
    productId: id,
    bottleId: id,
    note,
    sizeMl: z
      .number('Give the mL (or grams), such as 500.')
      .positive('Give the mL (or grams), such as 500.')
      .max(1_000_000)
      .nullable()
      .default(null),
    price: z
      .number('Give the price, or leave it empty.')
      .min(0, 'A price is not below zero.')
      .max(1_000_000)
      .nullable()
      .default(null),
  }),
  /** A pen looked at in a standard or in air. */
  z.object({
    kind: z.literal('checkMeter'),
    meterId: id,
    standard: z.enum(
      ['zero', ...STANDARD_IDS],
      'Choose a standard that exists: 1413 µS/cm, or pH 4.01, 6.86, 7.00, 9.18, 10.01.',
    ),
    shown: z.number('Give what it shows.').min(0, 'A pen never shows below zero.').max(99999),
    temperatureC: z
      .number('Give the temperature in °C, or leave it empty.')
      .min(0, 'A standard is used between 0 and 50 °C.')
      .max(50, 'A standard is used between 0 and 50 °C.')
      .nullable(),
    settled: z.boolean(),
    adjusted: z.boolean(),
  }),
  /** A pen found off: its readings since its last good check, or since a day, are not to be trusted. */
  z.object({
    kind: z.literal('markMeter'),
    meterId: id,
    fromOn: localDate.nullable(),
    offBy: z.number().min(-10).max(10).nullable(),
    why: z.string().trim().max(200),
  }),
  z.object({
    kind: z.literal('readWater'),
    waterId: id,
    ppm: ppmReading,
    ph: phReading,
    ppmMeterId: id.nullable(),
    phMeterId: id.nullable(),
    temperatureC: z
      .number('Give the temperature in °C.')
      .min(0, 'Between 0 and 50 °C.')
      .max(50, 'Between 0 and 50 °C.')
      .nullable()
      .optional(),
  }),
  z.object({
    kind: z.literal('countWater'),
    waterId: id,
    litres: z
      .number('Give the litres in the tank, such as 14.')
      .min(0, 'A tank cannot hold less than nothing.')
      .max(100000),
  }),
  z.object({ kind: z.literal('main'), meterId: id }),
]);
export type ShelfAct = z.infer<typeof shelfAct>;
export const actDone = z.object({ eventId: id, repeated: z.boolean() });

const used = {
  id,
  retiredOn: localDate.nullable(),
  /** Batches, readings or pots that lean on it. */ uses: z.number().int(),
};
/** A base reading of a water by date, on the grower's scale. */
export const baseReading = z.object({
  eventId: id,
  on: localDate,
  at: instant,
  ppm: z.number().nullable(),
  ph: z.number().nullable(),
  from: z.enum(['mix', 'alone']),
  /** Read with a pen later found off. */
  tainted: z.boolean(),
});
/** A check of a pen, in its own figures: how far it was off (a share, or pH), and whether that is in order. */
export const meterCheck = z.object({
  id,
  at: instant,
  on: localDate,
  standard: z.enum(['zero', ...STANDARD_IDS]),
  shown: z.number(),
  temperatureC: z.number().nullable(),
  settled: z.boolean(),
  adjusted: z.boolean(),
  error: z.number(),
  good: z.boolean(),
});
export const meterTaint = z.object({
  markId: id,
  from: instant.nullable(),
  to: instant.nullable(),
  /** Local days of the two, for words. */
  fromOn: localDate.nullable(),
  toOn: localDate.nullable(),
  offBy: z.number().nullable(),
  why: z.string(),
  readings: z.number().int(),
  batches: z.number().int(),
});
/** The whole Shelf as its room shows it. */
export const shelfRoom = z.object({
  today: localDate,
  scale: z.number(),
  mainPpmMeterId: id.nullable(),
  mainPhMeterId: id.nullable(),
  waters: z.array(
    z.object({
      ...used,
      values: shelfValues.water,
      readings: z.array(baseReading),
      /** Median of each month's readings that can be trusted, oldest first, at most 13. */
      months: z.array(z.object({ month: z.string(), ppm: z.number(), readings: z.number().int() })),
      /** What stands in the tank by the last look, what is made per day and what was mixed since. Null without a look or a tank. */
      stock: z
        .object({
          litres: z.number(),
          countedL: z.number(),
          countedOn: localDate,
          usedL: z.number(),
          madeL: z.number(),
        })
        .nullable(),
    }),
  ),
  meters: z.array(
    z.object({
      ...used,
      values: shelfValues.meter,
      simulated: z.boolean(),
      /** Newest first. */
      checks: z.array(meterCheck),
      offset: z.number().nullable(),
      slope: z.number().nullable(),
      lastGoodOn: localDate.nullable(),
      /** From when it would be tainted if it were marked now; null: all it ever read. */
      wouldTaintFromOn: localDate.nullable(),
      dueOn: localDate.nullable(),
      taints: z.array(meterTaint),
    }),
  ),
  tools: z.array(z.object({ ...used, values: shelfValues.tool })),
  vessels: z.array(z.object({ ...used, values: shelfValues.vessel })),
  products: z.array(
    z.object({
      ...used,
      values: shelfValues.product,
      bottle: z
        .object({
          id,
          openedOn: localDate,
          note: z.string(),
          sizeMl: z.number().nullable(),
          price: z.number().nullable(),
          /** By what the bench gave out since it was opened; null where its size was never given. */
          leftMl: z.number().nullable(),
          perDayMl: z.number(),
          daysLeft: z.number().nullable(),
          /** Since when it is given without a fortnight's rest. */
          runSince: localDate.nullable(),
        })
        .nullable(),
      /** What the bench learned of the bottle in use: ppm on the grower's scale for 1 mL in 1 L, 1 SD, batches. */
      learned: z.object({ ppmPerMlL: z.number(), sd: z.number(), batches: z.number().int() }).nullable(),
      /** Net ppm on the grower's scale for 1 mL in 1 L by the recipe; or why nothing is scaled from it. */
      strength: z.discriminatedUnion('known', [
        z.object({ known: z.literal(true), ppmPerMlL: z.number() }),
        z.object({ known: z.literal(false), why: z.string() }),
      ]),
    }),
  ),
});
export type ShelfRoom = z.infer<typeof shelfRoom>;

/** What a product's batches taught, oldest first, on the grower's scale. */
export const strengthHistory = z.object({
  points: z.array(
    z.object({
      batchId: id,
      name: z.string(),
      on: localDate,
      /** What this batch gave for 1 mL in 1 L; null where nothing was read. */
      ppmPerMlL: z.number().nullable(),
      mean: z.number(),
      sd: z.number(),
      newBottle: z.boolean(),
      tainted: z.boolean(),
    }),
  ),
});
export type StrengthHistory = z.infer<typeof strengthHistory>;
/** Everything a pen read, newest last, on its own scale. */
export const meterReadings = z.object({
  readings: z.array(
    z.object({
      eventId: id,
      at: instant,
      on: localDate,
      value: z.number(),
      of: z.enum(['water', 'batch', 'pot', 'clay']),
      subjectId: id,
      name: z.string(),
      tainted: z.boolean(),
    }),
  ),
});
export type MeterReadings = z.infer<typeof meterReadings>;

export const countDropper = z.object({ dropsPerMl });
export const dropperCounted = z.object({ toolId: id, dropsPerMl: z.number() });
