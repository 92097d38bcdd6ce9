import { z } from 'zod';
import { id, instant, localDate } from './common.ts';

/* A door for home-made pens and loggers: each has a key, and sends what it shows. */

/** What a pen sends: the figure on its display, in its own unit. The same `id` again is the same reading. */
export const sendReading = z.object({
  id: id.optional(),
  shown: z
    .number('Send the figure the pen shows, such as {"shown": 131}.')
    .min(0, 'Not below zero.')
    .max(99999, 'No pen shows so much.'),
  temperatureC: z.number().min(-5, 'Give °C.').max(60, 'Give °C.').nullable().default(null),
});
/** `waits`: a field waited for it and has it; otherwise it lies in the tray. */
export const readingSent = z.object({ id, repeated: z.boolean(), waits: z.boolean() });

export const instrumentView = z.object({
  id,
  name: z.string(),
  meterId: id,
  meter: z.string(),
  unit: z.string(),
  madeOn: localDate,
  withdrawnOn: localDate.nullable(),
  lastAt: instant.nullable(),
});
export const trayReading = z.object({
  id,
  instrument: z.string(),
  meterId: id,
  quantity: z.enum(['ppm', 'pH']),
  unit: z.string(),
  shown: z.number(),
  temperatureC: z.number().nullable(),
  at: instant,
});
export const instrumentsView = z.object({
  today: localDate,
  instruments: z.array(instrumentView),
  /** Sent and not yet placed, the newest first. */
  tray: z.array(trayReading),
  /** Meters of the Shelf that could send. */
  meters: z.array(z.object({ id, name: z.string(), unit: z.string() })),
});
export type InstrumentsView = z.infer<typeof instrumentsView>;

export const instrumentAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('make'),
    instrumentId: id,
    name: z.string().trim().min(1, 'Give it a name, such as “bench logger”.').max(60, 'Keep it under 60 letters.'),
    meterId: id,
    /** Its key, made on the page and shown there once. */
    key: z.string().regex(/^[A-Za-z0-9_-]{32,64}$/, 'A key is 32 letters or figures at the least.'),
  }),
  z.object({ kind: z.literal('withdraw'), instrumentId: id }),
  z.object({ kind: z.literal('place'), readingId: id, potId: id }),
  z.object({ kind: z.literal('drop'), readingId: id }),
]);
export type InstrumentAct = z.infer<typeof instrumentAct>;
