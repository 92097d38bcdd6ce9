import { z } from 'zod';
import { id } from './common.ts';

/** A dropper or syringe; `dropsPerMl` is null until somebody counted. */
export const toolView = z.object({
  id,
  name: z.string(),
  kind: z.enum(['dropper', 'syringe']),
  dropsPerMl: z.number().nullable(),
  stepMl: z.number(),
  capacityMl: z.number().nullable(),
});

/** What is on the shelf, as far as the bench needs it. */
export const shelfView = z.object({
  waters: z.array(z.object({ id, name: z.string(), note: z.string(), lastBasePpm: z.number().nullable() })),
  vessels: z.array(z.object({ id, name: z.string(), capacityL: z.number(), material: z.string() })),
  bottles: z.array(z.object({ id, productId: id, name: z.string(), kind: z.enum(['feed', 'acid', 'base']), note: z.string() })),
  tools: z.array(toolView),
  meters: z.array(z.object({ id, name: z.string(), quantity: z.enum(['ppm', 'pH']), scale: z.number().nullable(), simulated: z.boolean() })),
});
export type ShelfView = z.infer<typeof shelfView>;

export const countDropper = z.object({
  dropsPerMl: z
    .number('Type how many drops made 1 mL.')
    .min(5, 'Fewer than 5 drops to the mL is a spout, not a dropper. Count again.')
    .max(60, 'More than 60 drops to the mL is not a dropper we know. Count again.'),
});
export const dropperCounted = z.object({ toolId: id, dropsPerMl: z.number() });
