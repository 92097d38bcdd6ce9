import { z } from 'zod';
import { id, instant, localDate, phReading, potDrawing, ppmReading, seen } from './common.ts';
import { due } from './round.ts';

export const potListItem = z.object({
  id,
  code: z.string(),
  name: z.string(),
  clay: z.string().nullable(),
  reservoirMl: z.number(),
  regimen: z.string(),
  due,
  drawing: potDrawing,
  lastPouredPpm: z.number().nullable(),
  lastCameOut: z.object({ ppm: z.number().nullable(), ph: z.number().nullable(), on: localDate }).nullable(),
});

export const potsView = z.object({
  today: localDate,
  places: z.array(z.object({ id, name: z.string(), note: z.string(), pots: z.array(potListItem) })),
});

/** One visit as the pot's page tells it; ppm on the grower's pen. */
export const potVisit = z.object({
  eventId: id,
  kind: z.enum(['filled', 'skipped']),
  at: instant,
  on: localDate,
  time: z.string(),
  pouredPpm: z.number().nullable(),
  pouredPh: z.number().nullable(),
  pouredMl: z.number().nullable(),
  flushMl: z.number().nullable(),
  cameOutPpm: ppmReading,
  cameOutPh: phReading,
  cameOutPpmOnScale: z.number().nullable(),
  leftMl: z.number().nullable(),
  seen: z.array(seen).nullable(),
  words: z.string(),
  batchId: id.nullable(),
});

export const potView = z.object({
  today: localDate,
  pot: potListItem.extend({ place: z.string(), placeNote: z.string(), fillMl: z.number(), acquiredOn: localDate.nullable(), note: z.string() }),
  regimen: z.object({ name: z.string(), words: z.string(), since: localDate, reason: z.string() }),
  aim: z.object({ lowPpm: z.number(), highPpm: z.number(), netPpm: z.number(), basePpm: z.number().nullable() }),
  phWindow: z.object({ low: z.number(), high: z.number() }),
  visits: z.array(potVisit),
  neighbours: z.object({ before: z.object({ id, code: z.string() }).nullable(), after: z.object({ id, code: z.string() }).nullable() }),
});

export type PotsView = z.infer<typeof potsView>;
export type PotListItem = z.infer<typeof potListItem>;
export type PotView = z.infer<typeof potView>;
export type PotVisit = z.infer<typeof potVisit>;
