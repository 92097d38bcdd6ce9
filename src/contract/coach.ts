import { z } from 'zod';
import { id } from './common.ts';

const range = z.object({ ppm: z.number(), lowPpm: z.number(), highPpm: z.number() });
const toolKind = z.enum(['dropper', 'syringe', 'spoon', 'granules']);
/** A dose with the tool it is measured by. */
export const dosing = {
  doseMl: z.number(),
  steps: z.number().int(),
  toolId: id.nullable(),
  toolName: z.string(),
  toolKind,
  dropsPerMl: z.number().nullable(),
  dropSizeIsGuess: z.boolean(),
  relativeSd: z.number(),
};

const thinning = z.object({
  plan: z.enum(['add', 'pourOffAndReplace']),
  addL: z.number(),
  pourOffL: z.number(),
  expectedPpm: z.number(),
});

/** What the coach says next; figures in ppm on the grower's pen, volumes in L, doses in mL of what is in the dropper (grams of granules). */
export const coachAdvice = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('readBase') }),
  z.object({
    kind: z.literal('add'),
    part: z.number().int(),
    /** `coach`: a portion towards the band; `measure`: all of it by the litre; `recipe`: all of it, and unread. */
    way: z.enum(['coach', 'measure', 'recipe']),
    portion: z.number().int(),
    portionsLikely: z.number().int(),
    ...dosing,
    expected: range,
    hardPpm: z.number().nullable(),
    pastHard: z.number(),
    /** Whole drops (halves of a spoon) that land in the band; null where they are not counted. */
    window: z.object({ from: z.number().int(), to: z.number().int() }).nullable(),
  }),
  z.object({ kind: z.literal('readAgain'), part: z.number().int(), expected: range }),
  z.object({ kind: z.literal('inside') }),
  z.object({
    kind: z.literal('thin'),
    part: z.number().int(),
    pastHard: z.boolean(),
    vesselName: z.string(),
    /** The least water, back to the edge of the band; and back to the aim. */
    edge: thinning,
    aim: thinning,
    topPpm: z.number(),
    hardPpm: z.number(),
  }),
  z.object({ kind: z.literal('tooCoarse'), part: z.number().int(), stepMl: z.number() }),
  z.object({ kind: z.literal('overRange'), part: z.number().int() }),
]);
export type CoachAdvice = z.infer<typeof coachAdvice>;
