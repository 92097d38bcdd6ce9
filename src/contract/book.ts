import { z } from 'zod';
import { careKinds } from './care.ts';
import { id, instant, localDate } from './common.ts';

export const bookEntry = z.object({
  id,
  /** `unknown`: the line cannot be understood. */
  kind: z.enum([...careKinds, 'unknown']),
  at: instant,
  on: localDate,
  time: z.string(),
  group: z.enum([
    'Round',
    'Mix',
    'Skip',
    'Check',
    'Shelf',
    'Pots',
    'Plan',
    'Clock',
    'Settings',
    'Clay',
    'Bench',
    'Drift',
    'Advice',
    'Own',
    'Trial',
    'Undo',
  ]),
  where: z.string(),
  what: z.string(),
  /** A correction: what stood there before, shown struck through. */
  was: z.string().nullable(),
  correctable: z.boolean(),
  /** It no longer stands because it was put right, not taken back. */
  corrected: z.boolean(),
  readsPpm: z.number().nullable(),
  ph: z.number().nullable(),
  /** Read with a pen later found off. */
  tainted: z.object({ ppm: z.boolean(), ph: z.boolean() }),
  potId: id.nullable(),
  batchId: id.nullable(),
  /** The picture it is, or holds. */
  photoId: id.nullable(),
  /** Dated after now: it counts once its time has come. */
  ahead: z.boolean(),
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

/** What can be put right in one act, as it stands now; each kind of act lets other fields be corrected. */
export const correctable = z.object({
  eventId: id,
  kind: z.enum(careKinds),
  words: z.string(),
  payload: z.unknown(),
  ppmScale: z.number(),
});
/** The act with its figures put right. The old one stays in the log, struck through. */
export const correctRequest = z.object({ targetId: id, payload: z.record(z.string(), z.unknown()) });
/** `alsoIds`: the other lines of an act that wrote several; all or none are taken back. */
export const undoRequest = z.object({ targetId: id, alsoIds: z.array(id).max(1000).default([]) });
export const undoDone = z.object({ eventId: id, targetId: id, words: z.string(), repeated: z.boolean() });

export type Correctable = z.infer<typeof correctable>;
export type BookEntry = z.infer<typeof bookEntry>;
export type BookPage = z.infer<typeof bookPage>;
export type UndoDone = z.infer<typeof undoDone>;
