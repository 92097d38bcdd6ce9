import { z } from 'zod';
import { instant, localDate } from './common.ts';

/** What every room needs to know first. */
export const shellView = z.object({
  mode: z.enum(['demo', 'own']),
  collection: z.string(),
  now: instant,
  today: localDate,
  zone: z.string(),
  pots: z.number().int(),
  scale: z.number(),
  version: z.string(),
});
export type ShellView = z.infer<typeof shellView>;
export const demoOpened = z.object({ url: z.string() });
