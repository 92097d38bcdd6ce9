import { z } from 'zod';
import { id, instant, localDate } from './common.ts';

const soakResult = z.discriminatedUnion('ok', [
  z.object({ ok: z.literal(false), message: z.string() }),
  z.object({
    ok: z.literal(true),
    firstHourUeq: z.object({ middle: z.number(), low: z.number(), high: z.number(), sd: z.number() }),
    minutes: z.number(),
    determined: z.enum(['well', 'poorly']),
    stillRising: z.boolean(),
    course: z.array(z.object({ minutes: z.number(), ph: z.number(), low: z.number(), high: z.number() })),
  }),
]);
/** A soak test as the room shows it; ppm on the grower's pen, pH as the pen showed it. */
export const soakView = z.object({
  id,
  potId: id,
  code: z.string(),
  name: z.string(),
  kind: z.enum(['still', 'feed', 'opened']),
  startedAt: instant,
  on: localDate,
  endsAt: instant,
  ended: z.boolean(),
  fillMl: z.number(),
  water: z.string(),
  covered: z.boolean(),
  carried: z.boolean(),
  leakedMl: z.number().nullable(),
  driedSince: z.boolean(),
  reads: z.array(
    z.object({
      eventId: id,
      minutes: z.number(),
      opened: z.boolean(),
      ph: z.number().nullable(),
      /** A drop kit’s range, as it showed it; null for a pen. */
      range: z.object({ low: z.number(), high: z.number() }).nullable(),
      ppm: z.number().nullable(),
      tainted: z.boolean(),
    }),
  ),
  result: soakResult,
});
export type SoakView = z.infer<typeof soakView>;
