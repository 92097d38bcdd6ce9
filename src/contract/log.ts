import { z } from 'zod';
import { bookEntry } from './book.ts';
import { carePayloads } from './care.ts';
import { id, localDate } from './common.ts';

/* The log as it is read: by day, an evening at the bench or a round as one entry; found by words and by what a line is about. */

export const LOG_GROUPS = bookEntry.shape.group.options;
export const LOG_ONLY = ['tainted', 'photo', 'corrected', 'own'] as const;
export type LogOnly = (typeof LOG_ONLY)[number];

/** What is looked for; everything given must hold. `place`: where a pot stood then. */
export const logFilter = z.object({
  words: z.string().trim().max(200, 'Look for fewer words: 200 letters at the most.').optional(),
  pot: id.optional(),
  place: id.optional(),
  batch: id.optional(),
  kind: bookEntry.shape.group.optional(),
  only: z.enum(LOG_ONLY).optional(),
  from: localDate.optional(),
  to: localDate.optional(),
});
export type LogFilter = z.infer<typeof logFilter>;

export const logEntry = z.object({
  /** Names it among the entries; its steps are asked for by it. */
  key: z.string(),
  group: bookEntry.shape.group,
  /** First and last moment of it, in the grower's time. */
  time: z.string(),
  until: z.string(),
  /** The mix, or the pots of a round. */
  where: z.string(),
  what: z.string(),
  /** What is out of the common in it, in words; empty where nothing is. */
  standsOut: z.array(z.string()),
  readsPpm: z.number().nullable(),
  ph: z.number().nullable(),
  tainted: z.object({ ppm: z.boolean(), ph: z.boolean() }),
  batchId: id.nullable(),
  steps: z.number().int().min(1),
  /** An entry of one line is that line. */
  line: bookEntry.nullable(),
});
export type LogEntry = z.infer<typeof logEntry>;

/** Whole days of the log, newest first. `next`: ask on with it as `before`. */
export const logDays = z.object({
  days: z.array(z.object({ on: localDate, entries: z.array(logEntry) })),
  next: z.string().nullable(),
  total: z.number().int(),
  since: localDate.nullable(),
  today: localDate,
});
export type LogDays = z.infer<typeof logDays>;

export const logSteps = z.object({ steps: z.array(bookEntry) });
export type LogSteps = z.infer<typeof logSteps>;

/** How many lines each day has that answer to the filter; days without any are left out. */
export const logStrip = z.object({
  from: localDate,
  to: localDate,
  days: z.array(z.object({ on: localDate, lines: z.number().int() })),
});
export type LogStrip = z.infer<typeof logStrip>;

/** What a line can be found by beside its words. */
export const logChoices = z.object({
  pots: z.array(z.object({ id, code: z.string(), name: z.string(), retired: z.boolean() })),
  places: z.array(z.object({ id, name: z.string() })),
  /** The newest hundred. */
  batches: z.array(z.object({ id, name: z.string(), on: localDate })),
});
export type LogChoices = z.infer<typeof logChoices>;

/** A line of one's own: of no pot, of one, or of several; on its day, which may be past. */
export const writeNote = carePayloads.noteWritten.omit({ photoId: true }).extend({
  on: localDate,
  /** A picture as the camera wrote it. */
  image: z.string().nullable().default(null),
});
export type WriteNote = z.infer<typeof writeNote>;
