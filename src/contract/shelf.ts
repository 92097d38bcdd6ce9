import { z } from 'zod';
import { id, instant, localDate, phReading, ppmReading } from './common.ts';
import { PRODUCT_KINDS, SCALE_SOURCES, TOOL_KINDS, WATER_KINDS } from './kinds.ts';

/** A dropper or syringe; `dropsPerMl` is null until somebody counted. */
export const toolView = z.object({
  id,
  name: z.string(),
  kind: z.enum(['dropper', 'syringe']),
  dropsPerMl: z.number().nullable(),
  stepMl: z.number(),
  capacityMl: z.number().nullable(),
});

/** What is on the shelf, as far as the bench needs it: nothing retired, nothing finished. */
export const shelfView = z.object({
  waters: z.array(z.object({ id, name: z.string(), note: z.string(), lastBasePpm: z.number().nullable() })),
  vessels: z.array(z.object({ id, name: z.string(), capacityL: z.number(), material: z.string() })),
  bottles: z.array(z.object({ id, productId: id, name: z.string(), kind: z.enum(PRODUCT_KINDS), note: z.string() })),
  tools: z.array(toolView),
  meters: z.array(z.object({ id, name: z.string(), quantity: z.enum(['ppm', 'pH']), scale: z.number().nullable(), simulated: z.boolean() })),
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

/** What may be written of each kind of thing on the Shelf. */
export const shelfValues = {
  water: z.object({
    name,
    note,
    kind: z.enum(WATER_KINDS),
    tankL: litres('Give the tank in litres, such as 25, or leave it empty.').nullable(),
    perDayL: z.number('Give the litres a day, such as 9, or leave it empty.').min(0).max(10000).nullable(),
  }),
  meter: z
    .object({
      name,
      quantity: z.enum(['ppm', 'pH']),
      scale: z.number().min(0.3, 'Pens use 0.5, 0.64 or 0.7.').max(1, 'Pens use 0.5, 0.64 or 0.7.').nullable(),
      scaleFrom: z.enum(SCALE_SOURCES).nullable(),
      resolution: z.number('Give the last digit the display shows, such as 1 or 0.1.').positive().max(10),
    })
    .refine((m) => m.quantity === 'pH' || m.scale !== null, { path: ['scale'], message: "Choose the pen's scale, or take ½ as a guess." }),
  tool: z.object({
    kind: z.enum(TOOL_KINDS),
    name,
    dropsPerMl: dropsPerMl.nullable(),
    capacityMl: z.number('Give what it holds in mL, such as 5.').positive('Give what it holds in mL, such as 5.').max(1000).nullable(),
    stepMl: z.number('Give the smallest mark in mL, such as 0.2.').positive('Give the smallest mark in mL, such as 0.2.').max(100).nullable(),
    stepG: z.number('Give the smallest step in grams, such as 0.1.').positive('Give the smallest step in grams, such as 0.1.').max(100).nullable(),
  }),
  vessel: z.object({ name, capacityL: litres('Give what it holds in litres, such as 5.'), material: z.string().trim().max(40), heatProof: z.boolean() }),
  product: z.object({
    name,
    shortName: z.string().trim().max(20),
    kind: z.enum(PRODUCT_KINDS),
    label: note,
    caution: z.string().trim().max(400),
    recipe: recipe.nullable(),
  }),
} as const;
export type ShelfKind = keyof typeof shelfValues;
export type ShelfValues<K extends ShelfKind = ShelfKind> = z.infer<(typeof shelfValues)[K]>;
export const SHELF_KINDS = Object.keys(shelfValues) as [ShelfKind, ...ShelfKind[]];

const put = <K extends ShelfKind>(what: K) => z.object({ kind: z.literal('put'), what: z.literal(what), id, values: shelfValues[what] });
/** One act on the Shelf: adding or changing a thing, taking it out of use or back, opening a bottle, reading a water, looking into a tank. */
export const shelfAct = z.discriminatedUnion('kind', [
  z.discriminatedUnion('what', [put('water'), put('meter'), put('tool'), put('vessel'), put('product')]),
  z.object({ kind: z.literal('retire'), what: z.enum(SHELF_KINDS), id }),
  z.object({ kind: z.literal('bringBack'), what: z.enum(SHELF_KINDS), id }),
  z.object({ kind: z.literal('openBottle'), productId: id, bottleId: id, note }),
  z.object({ kind: z.literal('readWater'), waterId: id, ppm: ppmReading, ph: phReading, ppmMeterId: id.nullable(), phMeterId: id.nullable() }),
  z.object({
    kind: z.literal('countWater'),
    waterId: id,
    litres: z.number('Give the litres in the tank, such as 14.').min(0, 'A tank cannot hold less than nothing.').max(100000),
  }),
  z.object({ kind: z.literal('main'), meterId: id }),
]);
export type ShelfAct = z.infer<typeof shelfAct>;
export const actDone = z.object({ eventId: id, repeated: z.boolean() });

const used = { id, retiredOn: localDate.nullable(), /** Batches, readings or pots that lean on it. */ uses: z.number().int() };
/** A base reading of a water by date, on the grower's scale. */
export const baseReading = z.object({
  eventId: id,
  on: localDate,
  at: instant,
  ppm: z.number().nullable(),
  ph: z.number().nullable(),
  from: z.enum(['mix', 'alone']),
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
      /** What stands in the tank by the last look, what is made per day and what was mixed since. Null without a look or a tank. */
      stock: z.object({ litres: z.number(), countedL: z.number(), countedOn: localDate, usedL: z.number(), madeL: z.number() }).nullable(),
    }),
  ),
  meters: z.array(z.object({ ...used, values: shelfValues.meter, simulated: z.boolean() })),
  tools: z.array(z.object({ ...used, values: shelfValues.tool })),
  vessels: z.array(z.object({ ...used, values: shelfValues.vessel })),
  products: z.array(
    z.object({
      ...used,
      values: shelfValues.product,
      bottle: z.object({ id, openedOn: localDate, note: z.string() }).nullable(),
      /** Net ppm on the grower's scale for 1 mL in 1 L by the recipe; or why nothing is scaled from it. */
      strength: z.discriminatedUnion('known', [
        z.object({ known: z.literal(true), ppmPerMlL: z.number() }),
        z.object({ known: z.literal(false), why: z.string() }),
      ]),
    }),
  ),
});
export type ShelfRoom = z.infer<typeof shelfRoom>;

export const countDropper = z.object({ dropsPerMl });
export const dropperCounted = z.object({ toolId: id, dropsPerMl: z.number() });
