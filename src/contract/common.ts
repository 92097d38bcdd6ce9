import { z } from 'zod';
import { PH_LIMITS, PPM_LIMITS } from '../core/quantity/index.ts';
import { MEDIA, STAGES } from './kinds.ts';
import { GROWTH, GROWTH_KEYS, type GrowthKey } from './growth.ts';
import { CUE_NAMES, gradesOf, SEEN, type Cue } from './seen.ts';

export const id = z.uuid();
export const localDate = z.iso.date();
export const instant = z.iso.datetime();

const bounded = (limits: { low: number; high: number }, say: string) =>
  z.number().min(limits.low, say).max(limits.high, say);
const readingOf = (limits: { low: number; high: number }, say: string) =>
  z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('value'), value: bounded(limits, say) }),
    z.object({ kind: z.literal('range'), low: bounded(limits, say), high: bounded(limits, say) }),
    z.object({ kind: z.literal('overRange') }),
    z.object({ kind: z.literal('notMeasured') }),
  ]);

/** A TDS reading as entered, ppm on the scale of the meter named beside it. */
export const ppmReading = readingOf(
  PPM_LIMITS,
  'A pen reads 0 to 9,990 ppm. If it shows its over mark, choose over range.',
);
/** A pH reading as entered. */
export const phReading = readingOf(PH_LIMITS, 'pH pens read 0 to 14. Read it again.');

export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  code: z.string(),
  detail: z.string(),
  errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  existing: z.object({ at: z.string(), eventId: z.string() }).optional(),
});

export const stage = z.enum(STAGES);
export type { Stage } from './kinds.ts';
/** What the pot section draws the roots in. */
export const potForm = z.enum(MEDIA);
export type PotForm = z.infer<typeof potForm>;

export const seen = z.enum(SEEN);

const growthFigure = (key: GrowthKey) => {
  const { most, whole, ask } = GROWTH[key];
  const figure = z
    .number(ask)
    .min(0, ask)
    .max(most, `More than ${most.toLocaleString('en-GB')}? Check it.`);
  return whole ? figure.int(ask) : figure;
};
/** What was measured of a plant, what was not left out. */
export const growthFigures = z.object(
  Object.fromEntries(GROWTH_KEYS.map((key) => [key, growthFigure(key).optional()])) as Record<
    GrowthKey,
    z.ZodOptional<z.ZodNumber>
  >,
);

/** A look at a pot; a cue that is not named was as expected. */
export const look = z.object({
  cues: z
    .partialRecord(z.enum(CUE_NAMES as [Cue, ...Cue[]]), z.string())
    .refine(
      (cues) => Object.entries(cues).every(([cue, grade]) => gradesOf(cue as Cue).includes(grade)),
      'There is no such grade.',
    ),
  note: z.string().trim().max(300, 'Keep the note under 300 letters.'),
  growths: z.number('Count the new growths, such as 2.').int('Whole growths.').min(0).max(200).nullable(),
  leafMm: z
    .number('Give the thickness in mm, such as 1.6.')
    .positive('More than nothing.')
    .max(50, 'Thicker than 50 mm is no leaf.')
    .nullable(),
  /** What was measured with it. */
  measured: growthFigures.optional(),
});

/** What the pot section draws. `level` is a share of the reservoir, `ratio` of the strength aimed at; absent means never read. */
export const potDrawing = z.object({
  level: z.number().min(0).max(1),
  levelIsGuess: z.boolean(),
  ratio: z.number().min(0).optional(),
  ph: z.number().optional(),
  phLow: z.number(),
  phHigh: z.number(),
  salts: z.number().int().min(0).max(3),
  stage,
  form: potForm,
});
export type PotDrawing = z.infer<typeof potDrawing>;

/** Several alike in one act. `loggedIds`: the lines that were written; `already`: what another device had done, left as it was. */
export const manyDone = z.object({ loggedIds: z.array(id), already: z.array(z.string()), repeated: z.boolean() });
export type ManyDone = z.infer<typeof manyDone>;
