import { z } from 'zod';
import { id, localDate } from './common.ts';
import { use } from './recipes.ts';

/* The bench's first screen: what is being made, what is left over and how old it is, and what was made lately. */

export const batchListItem = z.object({
  id,
  name: z.string(),
  use,
  status: z.enum(['open', 'poured', 'abandoned']),
  startedOn: localDate,
  time: z.string(),
  openDays: z.number().int(),
  volumeL: z.number(),
  leftMl: z.number(),
  keepsUntil: localDate.nullable(),
  readsPpm: z.number().nullable(),
  ph: z.number().nullable(),
  mixKey: z.string().nullable(),
});

/** Leftovers past their day, of all batches ever made; null where there is none. */
const pastDay = z.object({ ids: z.array(id), ml: z.number(), sinceOn: localDate }).nullable();

export const benchList = z.object({ batches: z.array(batchListItem), pastDay });
export type BatchListItem = z.infer<typeof batchListItem>;
export type BenchList = z.infer<typeof benchList>;

/** Leftovers of several batches poured out in one act, each with its own line. */
export const leftoversOut = z.object({
  leftovers: z
    .array(z.object({ eventId: id, batchId: id }))
    .min(1)
    .max(2000),
  to: z.string().max(200),
});
