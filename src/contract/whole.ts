import { z } from 'zod';

/* Everything there is, as one file: out of one collection and into another. */

export const WHOLE_FORMAT = 'Frugal Sip collection';
export const WHOLE_VERSION = 1;

/** What is wrong with a file that was to be brought in, and where. `line`: of the file, 1 the first; null for the whole. */
export const bringProblem = z.object({ line: z.number().int().nullable(), what: z.string(), message: z.string() });
export type BringProblem = z.infer<typeof bringProblem>;

/** What would come of it: of each kind of thing how many are new, and how many are here already and stay as they are here. */
export const bringReport = z.object({
  madeAt: z.string().nullable(),
  tables: z.array(
    z.object({ table: z.string(), comes: z.number().int(), here: z.number().int(), differs: z.number().int() }),
  ),
  lines: z.object({
    comes: z.number().int(),
    here: z.number().int(),
    odd: z.number().int(),
    since: z.string().nullable(),
  }),
  photos: z.object({ comes: z.number().int(), here: z.number().int() }),
  problems: z.array(bringProblem),
  moreProblems: z.number().int(),
});
export type BringReport = z.infer<typeof bringReport>;

export const bringState = z.object({
  id: z.uuid(),
  name: z.string(),
  state: z.enum(['reading', 'ready', 'refused', 'stopped', 'kept']),
  /** Share of the file that was read. */
  done: z.number().min(0).max(1),
  report: bringReport.nullable(),
  /** Why it cannot be brought in, as a whole. */
  words: z.string().nullable(),
  /** The backup made of what was there before. */
  backup: z.string().nullable(),
});
export type BringState = z.infer<typeof bringState>;
