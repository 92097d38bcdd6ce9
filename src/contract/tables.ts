import { z } from 'zod';

/* Tables for a spreadsheet: what was measured, poured and mixed, a line each. */

export const TABLES = [
  'fillings',
  'readings',
  'mixes',
  'soaks',
  'waters',
  'clay',
  'looks',
  'measures',
  'trials',
] as const;
export type TableName = (typeof TABLES)[number];

/** How its figures are written. `scale`: ppm for each µS/cm, one for the whole table; where it is left out, the grower's own pen's. */
export const tableForm = z.object({
  scale: z.coerce
    .number('Give the scale, such as 0.5.')
    .min(0.4, 'Scales lie between 0.4 and 1.')
    .max(1, 'Scales lie between 0.4 and 1.')
    .optional(),
  mark: z.enum(['point', 'comma']).default('point'),
  separator: z.enum(['comma', 'semicolon', 'tab']).default('comma'),
});
export type TableForm = z.infer<typeof tableForm>;
