import { z } from 'zod';
import { id } from './common.ts';

/** What a simulated pen is dipped into. */
export const dipQuery = z.object({
  subject: z.enum(['batch', 'pot', 'clay', 'holdTop', 'holdHole', 'soak', 'soakOpened']),
  subjectId: id,
  /** Of a soak test: the minute at which it is dipped into; left out, now. */
  minutes: z.coerce.number().min(0).max(1440).optional(),
});
/** One display of the pen while it settles, sent as a server-sent event. */
export const dipDisplay = z.object({ shown: z.union([z.number(), z.literal('over')]), settled: z.boolean() });
export type DipSubject = z.infer<typeof dipQuery>['subject'];
export type DipDisplay = z.infer<typeof dipDisplay>;
