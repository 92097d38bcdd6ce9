import { z } from 'zod';
import { id, localDate } from './common.ts';

/* How good the forecasts of the last month were, and what is known of where they were wrong. */

/** So many days are looked back on. */
export const LOOK_BACK_DAYS = 31;

/** What is foretold of pots, and of new clay that soaks. */
export const FORETOLD_OF_POTS = ['left', 'ppm', 'ph'] as const;
export const FORETOLD = [...FORETOLD_OF_POTS, 'clay'] as const;
export type Foretold = (typeof FORETOLD)[number];

/** What may have made a reading land outside: each is a fact of the log, none is proof. */
export const missReason = z.discriminatedUnion('kind', [
  /** Something was changed for this pot in the filling, or shortly before it; or a pen was off. */
  z.object({ kind: z.literal('turn'), title: z.string(), on: localDate, isPen: z.boolean() }),
  /** Pots filled from one mix that landed on the same side, of so many. */
  z.object({ kind: z.literal('mix'), n: z.number().int(), of: z.number().int() }),
  /** Pots read on the same day that did, of other mixes too. */
  z.object({ kind: z.literal('day'), n: z.number().int(), of: z.number().int() }),
  /** What was left was next to nothing. */
  z.object({ kind: z.literal('dry') }),
  /** So many visits of it had been read for this before. */
  z.object({ kind: z.literal('few'), n: z.number().int() }),
  /** Of a soak: what was poured off was guessed, or its water was not read before it went on. */
  z.object({ kind: z.literal('guessedOff') }),
  z.object({ kind: z.literal('unreadWater') }),
]);
export type MissReason = z.infer<typeof missReason>;

/** A reading beside what had been forecast for it: mL, ppm, pH; of clay ppm over its water’s own. */
export const lookedMark = z.object({
  /** The pot, or the batch of clay. */
  id,
  code: z.string(),
  on: localDate,
  read: z.number(),
  low: z.number(),
  middle: z.number(),
  high: z.number(),
  why: z.array(missReason),
});
export type LookedMark = z.infer<typeof lookedMark>;

export const lookBack = z.object({
  from: localDate,
  to: localDate,
  figures: z.array(
    z.object({
      what: z.enum(FORETOLD),
      readings: z.number().int(),
      inside: z.number().int(),
      /** How wide its ranges were against what the model says by itself, mean: under 1 where earlier ones came true. */
      width: z.number(),
      /** Read less forecast, mean: mL, ppm, pH, ppm of clay. */
      bias: z.number(),
      /** The newest last; those outside with what is known of why. */
      marks: z.array(lookedMark),
    }),
  ),
});
export type LookBack = z.infer<typeof lookBack>;
