import { z } from 'zod';
import { careKinds } from './care.ts';
import { id, instant, localDate } from './common.ts';

export const bookEntry = z.object({
  id,
  kind: z.enum(careKinds),
  at: instant,
  on: localDate,
  time: z.string(),
  group: z.enum(['Round', 'Mix', 'Skip', 'Check', 'Undo']),
  where: z.string(),
  what: z.string(),
  readsPpm: z.number().nullable(),
  ph: z.number().nullable(),
  potId: id.nullable(),
  batchId: id.nullable(),
  undone: z.boolean(),
  undoable: z.boolean(),
});

export const bookPage = z.object({
  entries: z.array(bookEntry),
  next: z.number().int().nullable(),
  total: z.number().int(),
  since: localDate.nullable(),
  today: localDate,
});

export const undoRequest = z.object({ targetId: id });
export const undoDone = z.object({ eventId: id, targetId: id, words: z.string(), repeated: z.boolean() });

export type BookEntry = z.infer<typeof bookEntry>;
export type BookPage = z.infer<typeof bookPage>;
export type UndoDone = z.infer<typeof undoDone>;
