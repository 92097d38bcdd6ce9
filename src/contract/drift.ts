import { z } from 'zod';
import { carePayloads } from './care.ts';
import { id, instant, localDate, phReading, potDrawing, ppmReading } from './common.ts';
import { mixAim } from './round.ts';
import { soakView } from './soak.ts';
import { TREATMENTS } from './kinds.ts';

const figures = z.array(z.number());
/** A solution as its alkali titrates: tables over the pH axis of the core's reduced chemistry. */
const curve = z.object({
  strong: figures,
  strongAtTwice: figures,
  carbonCharge: figures,
  carbonChargeAtTwice: figures,
  carbonGas: figures,
  rest: figures,
  restAtTwice: figures,
  water: figures,
  restCo2MmolL: z.number(),
  carbonMmolL: z.number(),
  ecUsCm: z.number(),
  strongIonsMeqL: z.number(),
  ammoniumMmolL: z.number(),
  nitrateMmolL: z.number(),
});
export type CurveWire = z.infer<typeof curve>;
/** A crowd of pots that could be this one: so many figures of each, one after the other. */
const crowd = z.object({ members: z.number().int(), columns: z.number().int(), at: figures });
const width = z.object({ below: z.number(), above: z.number() });
/** A pot as the core plays it on: what it was filled with, and what is believed of it. */
export const potModel = z.object({
  potId: id,
  code: z.string(),
  curve,
  reservoirMl: z.number(),
  poreMl: z.number(),
  belief: z.object({
    crowd,
    seen: z.object({ drinks: z.number(), salts: z.number(), alkali: z.number() }),
    voices: z.object({ habit: z.number().optional(), model: z.number(), ofHabit: z.number() }),
  }),
  /** What stands in reservoir, pores and grains of each of the crowd; null where nobody knows more than the filling. */
  bodies: crowd.nullable(),
  /** Share of the fill that is left, by each of them, where something was done to the pot since it was filled; null where nothing was. */
  free: figures.nullable(),
  /** A litre of what is poured. */
  poured: z
    .object({ ecUsCm: z.number(), strongIonsMeqL: z.number(), ammoniumMmolL: z.number(), ph: z.number() })
    .nullable(),
  season: z.number(),
  window: z.object({ low: z.number(), high: z.number() }),
  /** How wide its ranges have to be to hold, by how earlier ones did. */
  widths: z.object({ left: width, ec: width, ph: width }),
  /** The pour, the flush or the wait is not the pot's usual. */
  changed: z.boolean(),
  /** 1 SD of how its pH will be read: as it was last. */
  phSd: z.number(),
  /** Days since it was filled; 0 for a filling still to come. */
  daysGone: z.number().int(),
  phKnown: z.boolean(),
});
export type PotModelWire = z.infer<typeof potModel>;
/** So many models come at a time; fewer are the last. */
export const MODELS_AT_ONCE = 100;

const figure = z.object({ mean: z.number(), sd: z.number() });
/** One pot in the Drift room. ppm on the grower's pen. */
export const driftPot = z.object({
  id,
  code: z.string(),
  name: z.string(),
  place: z.string(),
  clay: z.string().nullable(),
  drawing: potDrawing,
  dueOn: localDate,
  fillMl: z.number(),
  /** Alkali its clay and roots give in a week, µeq a pot. */
  weekUeq: figure,
  /** Visits that said something of its pH. */
  rounds: z.number().int(),
  /** Nothing was ever read of it: it stands where its clay, or pots at large, stand. */
  atLarge: z.boolean(),
  dried: z.number().int(),
  now: z.object({ ppm: z.number(), ph: z.number().nullable(), leftMl: z.number() }),
  aimPpm: z.number(),
  /** At its due day. */
  atVisit: z.object({ ppm: z.number(), ph: z.number().nullable(), leftMl: z.number() }),
  /** The level falls to 15 %; the strength passes its limit; the pH leaves the window. Null where that is further ahead than is looked. */
  dryOn: localDate.nullable(),
  saltsOn: localDate.nullable(),
  phOutOn: localDate.nullable(),
  /** What beats a dry pot before its day; null where there is enough, or it is due. */
  topUp: z.object({ what: z.enum(['plain', 'feed']), ml: z.number(), afterPpm: z.number() }).nullable(),
  /** Came out against poured, the last visits that were read; oldest first. */
  ratios: figures,
  flush: z.object({
    ml: z.number(),
    words: z.string(),
    why: z.string(),
    afterPpm: z.number().nullable(),
    lately: z.object({ ml: z.number(), afterPpm: z.number() }).nullable(),
  }),
});
export type DriftPot = z.infer<typeof driftPot>;

export const treatmentView = z.object({
  id,
  potId: id,
  code: z.string(),
  kind: z.enum(TREATMENTS),
  note: z.string(),
  fromDate: localDate,
  toDate: localDate.nullable(),
  /** pH that came out, before and since; oldest first. */
  points: z.array(z.object({ on: localDate, ph: z.number(), since: z.boolean() })),
  rounds: z.number().int(),
  verdict: z.enum(['helps', 'nothing', 'worse', 'cannotTell']),
  words: z.string(),
});
export type TreatmentView = z.infer<typeof treatmentView>;

const meter = z.object({ id, name: z.string(), simulated: z.boolean(), sends: z.boolean().optional() }).nullable();
export const driftRoom = z.object({
  now: instant,
  today: localDate,
  scale: z.number(),
  ppmMeter: meter,
  phMeter: meter,
  /** That the pH pen is off, by how much and since when; null where it is in order. */
  penNote: z.string().nullable(),
  pots: z.array(driftPot),
  /** Pots never filled with a mix that is known: nothing can be foretold of them yet. */
  unknown: z.array(
    z.object({
      id,
      code: z.string(),
      name: z.string(),
      drawing: potDrawing,
      fillMl: z.number(),
      soaks: z.array(z.lazy(() => soakView)),
      compared: z.string().nullable(),
    }),
  ),
  clays: z.array(z.object({ name: z.string(), pots: z.number().int(), weekUeq: figure })),
  /** Tests under way. */
  soaking: z.array(soakView),
  treatments: z.array(treatmentView),
});
export type DriftRoom = z.infer<typeof driftRoom>;

/** Ends of a drift told apart: pH as poured, and at the next visit by the air alone, with what the pores held, and with clay and roots. */
const shares = z.object({
  poured: z.number(),
  air: z.number(),
  pores: z.number(),
  clay: z.number(),
  flushWater: z.string().nullable(),
});

export const potDrift = z.object({
  pot: driftPot,
  /** As it stands since it was last filled. */
  now: potModel,
  /** The filling that comes: with the mix of its regimen, after the flush that is planned. */
  next: z.object({
    model: potModel,
    everyDays: z.number().int(),
    mixKey: z.string(),
    /** As its regimen says it: over base, or a dose. */
    aim: mixAim,
    /** Litres of the batch it will be made in, for so many pots, and the pH that mix has by itself. */
    litres: z.number(),
    pots: z.number().int(),
    naturalPh: z.number(),
    batch: z.object({ id, status: z.enum(['open', 'poured']) }).nullable(),
    pourPh: z.object({ low: z.number(), high: z.number() }),
  }),
  shares,
  /** What drops out at the next visit's pH, mg in the reservoir; null where nothing does. */
  lost: z
    .object({
      ph: z.number(),
      elements: z.array(z.object({ element: z.enum(['P', 'Ca', 'Mg', 'Fe']), mg: z.number() })),
      crustMg: z.number(),
    })
    .nullable(),
  soaks: z.array(soakView),
  compared: z.string().nullable(),
});
export type PotDrift = z.infer<typeof potDrift>;

/** What brings the next batch to a pH: each acid (or alkali) on the Shelf, mL as bought. */
export const acidsFor = z.object({
  fromPh: z.number(),
  toPh: z.number(),
  litres: z.number(),
  choices: z.array(
    z.object({
      productId: id,
      name: z.string(),
      ml: z.number(),
      words: z.string(),
      brings: z.string(),
      lasts: z.string(),
      caution: z.string(),
    }),
  ),
  why: z.string().nullable(),
});
export type AcidsFor = z.infer<typeof acidsFor>;

/** One mix for several pots: where to pour it, and who would have liked it otherwise. */
export const mixAdvice = z.object({
  pourPh: z.number().nullable(),
  days: z.number(),
  inside: z.number(),
  insideAtUsual: z.number(),
  pots: z.number().int(),
  suffer: z.array(z.object({ id, code: z.string(), inside: z.number(), best: z.number(), bestPh: z.number() })),
});
export type MixAdvice = z.infer<typeof mixAdvice>;

const { soakStarted, soakRead } = carePayloads;
const note = z.string().trim().max(200, 'Keep it under 200 letters.');
/** One act in the Drift room. */
export const driftAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('startSoak'),
    potId: id,
    clockIds: z.array(id).max(6),
    batchId: id.nullable(),
    ...soakStarted.pick({ soakKind: true, waterId: true, fillMl: true, aged: true, covered: true, minutes: true })
      .shape,
  }),
  z.object({
    kind: z.literal('readSoak'),
    soakId: id,
    /** Null: just now. */
    afterMinutes: soakRead.shape.afterMinutes.nullable(),
    opened: z.boolean(),
    ph: phReading,
    ppm: ppmReading,
    phMeterId: id.nullable(),
    ppmMeterId: id.nullable(),
    confirmedOdd: z.boolean(),
  }),
  z.object({
    kind: z.literal('endSoak'),
    soakId: id,
    leakedMl: z.number().min(0, 'Not below zero.').max(20000).nullable(),
  }),
  z.object({
    kind: z.literal('startTreatment'),
    treatmentId: id,
    potId: id,
    treatment: z.enum(TREATMENTS),
    note,
    fromDate: localDate,
  }),
  z.object({ kind: z.literal('endTreatment'), treatmentId: id }),
]);
export type DriftAct = z.infer<typeof driftAct>;

/** What a pot can be filled with for a test: mixes that stand ready, and waters. */
export const driftChoices = z.object({
  batches: z.array(z.object({ id, words: z.string() })),
  waters: z.array(z.object({ id, name: z.string() })),
});
export type DriftChoices = z.infer<typeof driftChoices>;

/** A pot of which nothing can be foretold yet, and what would change that. */
export const notYet = z.object({ notYet: z.string() });
export type NotYet = z.infer<typeof notYet>;
