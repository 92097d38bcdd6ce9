import { z } from 'zod';
import { ELEMENTS } from '../core/solution/index.ts';
import { USES } from '../core/strength/index.ts';
import { id, instant, localDate } from './common.ts';

/*
 * What goes into a batch: parts with their aims, recipes that keep them, and the rules of each kind of use.
 */

export const USE_WORDS = {
  feed: 'feed that stays in the pot',
  soak: 'short soak',
  spray: 'leaf spray',
  water: 'plain water',
} as const;
export const use = z.enum(USES);
export type { Use } from '../core/strength/index.ts';

/** Aims by element are in mg/L of it, or of SiO2, which is how silicate is spoken of. */
export const AIM_ITEMS = [...ELEMENTS, 'SiO2'] as const;

const NET = 'The aim is over the base: give more than zero, such as 90.';
const PER_L = 'Give the mL (g) a litre, such as 0.5.';
/** A dose by measure, mL (g) in each litre. */
export const unitsPerL = z.number(PER_L).positive(PER_L).max(100, 'More than 100 mL a litre is no dose.');

/** What a part aims at: net ppm on the grower's pen; mL (g) in each litre; or mg/L of an element. */
export const partAim = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('net'),
    ppm: z.number(NET).positive(NET).max(5000, 'Past 5,000 ppm over base nothing here can live. Check the figure.'),
  }),
  z.object({
    kind: z.literal('perL'),
    units: unitsPerL,
  }),
  z.object({
    kind: z.literal('element'),
    element: z.enum(AIM_ITEMS),
    mgL: z
      .number('Give mg/L, such as 22.')
      .positive('Give mg/L, such as 22.')
      .max(2000, 'More than 2,000 mg/L is a concentrate.'),
  }),
]);
export type PartAimWire = z.infer<typeof partAim>;

/** How a solid goes in: weighed into a stock, or counted in granules for want of a scale. Liquids need neither. */
export const SOLID_WAYS = ['stock', 'granules'] as const;
export const recipePart = z.object({ productId: id, aim: partAim, solid: z.enum(SOLID_WAYS).default('stock') });
export type RecipePart = z.infer<typeof recipePart>;

const ph = z.number('Give a pH, such as 5.8.').min(3, 'Between pH 3 and 9.').max(9, 'Between pH 3 and 9.');
const holdMinutes = z
  .number('Give the minutes, such as 30.')
  .min(1, 'Give the minutes, such as 30.')
  .max(1440, 'Longer than a day is no short soak.')
  .nullable();
export const MOST_PARTS = 6;

export const recipeValues = z
  .object({
    name: z.string().trim().min(1, 'Give the recipe a name.').max(60, 'Keep the name under 60 letters.'),
    use,
    parts: z.array(recipePart).max(MOST_PARTS, `At most ${MOST_PARTS} parts in one batch.`),
    waterId: id.nullable(),
    phLow: ph,
    phHigh: ph,
    holdMinutes,
    note: z.string().trim().max(300, 'Keep the note under 300 letters.'),
  })
  .refine((r) => r.use === 'water' || r.parts.length > 0, {
    path: ['parts'],
    message: 'Put at least one product in, or make it plain water.',
  })
  .refine((r) => r.phLow < r.phHigh, { path: ['phLow'], message: 'The lower pH is above the upper. Swap them.' })
  .refine((r) => new Set(r.parts.map((p) => p.productId)).size === r.parts.length, {
    path: ['parts'],
    message: 'Each product once: add its amounts up.',
  });
export type RecipeValues = z.infer<typeof recipeValues>;

/** A use's rule as the grower sets it: figures on their own pen. A band in ppm, or in percent of the aim. */
export const useRuleValues = z
  .object({
    netPpm: z.number('Give the ppm over base, such as 90.').min(0).max(5000),
    bandIn: z.enum(['percent', 'ppm']),
    below: z.number('Give how far below, such as 10.').min(0, 'Not below zero.').max(1000),
    above: z.number('Give how far above, such as 20.').min(0, 'Not below zero.').max(1000),
    hard: z.number('Give the limit above, such as 40.').min(0, 'Not below zero.').max(2000),
    phLow: ph,
    phHigh: ph,
    holdMinutes,
  })
  .refine((r) => r.hard >= r.above, { path: ['hard'], message: 'The limit lies above the top of the band.' })
  .refine((r) => r.phLow < r.phHigh, { path: ['phLow'], message: 'The lower pH is above the upper. Swap them.' });
export type UseRuleValues = z.infer<typeof useRuleValues>;

/** One act on recipes and rules. */
export const recipeAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('put'), id, values: recipeValues }),
  z.object({ kind: z.literal('retire'), id }),
  z.object({ kind: z.literal('bringBack'), id }),
  z.object({ kind: z.literal('rule'), id, use, values: useRuleValues }),
]);
export type RecipeAct = z.infer<typeof recipeAct>;

export const recipeView = z.object({
  id,
  values: recipeValues,
  retiredOn: localDate.nullable(),
  /** How its batches came out; `right`: read, and every part in its band. */
  made: z.object({
    times: z.number().int(),
    right: z.number().int(),
    unread: z.number().int(),
    lastOn: localDate.nullable(),
  }),
  /** Parts in words, as they were written down; the bench decides on the order. */
  parts: z.array(z.object({ productId: id, name: z.string(), aimWords: z.string() })),
  /** What it brings by the labels, mg/L; null without every label. */
  brings: z.array(z.object({ element: z.enum(ELEMENTS), mgL: z.number() })).nullable(),
  netPpm: z.number().nullable(),
});
export type RecipeView = z.infer<typeof recipeView>;

export const useRuleView = z.object({
  use,
  values: useRuleValues,
  staying: z.object({ phLow: z.number(), phHigh: z.number() }).nullable(),
  /** From when it holds; null: as the app came. */
  since: instant.nullable(),
  earlier: z.array(z.object({ since: instant.nullable(), values: useRuleValues })),
});
export type UseRuleView = z.infer<typeof useRuleView>;
export const recipeBook = z.object({ recipes: z.array(recipeView), rules: z.array(useRuleView) });
export type RecipeBook = z.infer<typeof recipeBook>;
