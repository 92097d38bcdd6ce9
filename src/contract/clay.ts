import { z } from 'zod';
import { carePayloads } from './care.ts';
import { id, instant, localDate, potDrawing } from './common.ts';
import { CLAY_PREPS, CLAY_WAYS, SENSITIVITIES } from './kinds.ts';
import { potValues } from './pots.ts';

const text = (most: number) => z.string().trim().max(most, `Keep this under ${most} letters.`);
const grain = z
  .number('Give the size in mm, such as 8.')
  .positive('A size is more than nothing.')
  .max(60, 'More than 60 mm is not a pebble.')
  .nullable();

/** Everything a grower writes of a batch of clay. Volumes in L, sizes in mm, the gate in ppm on the pen at hand. */
export const clayValues = z
  .object({
    name: z.string().trim().min(1, 'Give the batch a name, such as batch 7.').max(40, 'Keep it under 40 letters.'),
    grainLowMm: grain,
    grainHighMm: grain,
    volumeL: z
      .number('Give the litres of clay in the bag, such as 10.')
      .positive('A batch of no clay cannot be leached: give its litres.')
      .max(1000, 'More than 1,000 L? Check it.'),
    origin: text(80),
    price: z
      .number('Give the price, such as 7.50, or leave it empty.')
      .min(0, 'Not below nothing.')
      .max(10000)
      .nullable(),
    openedOn: localDate.nullable(),
    prep: z.enum(CLAY_PREPS),
    gatePpm: z.number('Give the ppm, such as 40.').min(5, 'Under 5 no clay gets.').max(500, 'At 500 there is no gate.'),
    coverL: z
      .number('Give the litres that cover it, or leave it empty.')
      .positive('More than nothing covers it.')
      .max(1000)
      .nullable(),
    lookEveryHours: z.union([z.literal(12), z.literal(24)]),
    way: z.enum(CLAY_WAYS),
    note: text(400),
  })
  .refine((v) => v.grainLowMm === null || v.grainHighMm === null || v.grainLowMm <= v.grainHighMm, {
    path: ['grainLowMm'],
    message: 'The smaller size is above the larger. Swap them.',
  });
export type ClayValues = z.infer<typeof clayValues>;

/** What another grower's bag was found to do, as the model believes it, and what it stands on. */
export const toldBag = z.object({
  /** Which bag it is, wherever it goes: none is counted twice. */
  bagId: id,
  name: z.string().trim().min(1).max(60),
  readings: z.number().int().min(3).max(1000),
  changes: z.number().int().min(0).max(1000),
  mean: z.array(z.number()).max(64),
  covariance: z.array(z.array(z.number()).max(64)).max(64),
});
export type ToldBag = z.infer<typeof toldBag>;
/** More of other growers' bags tell nothing more. */
export const MOST_TOLD = 6;

/** When it was done, where it was not just now. */
const at = instant.nullable();
const { clayFilled, clayRead, clayDrained, potHoldStarted, potHoldRead, potHoldDrained, potPotted } = carePayloads;

/** One act in the Clay room. */
export const clayAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('put'), clayId: id, values: clayValues }),
  z.object({ kind: z.literal('prep'), clayId: id, step: z.enum(['rinsed', 'boiled']), done: z.boolean() }),
  z.object({ kind: z.literal('fill'), ...clayFilled.omit({ baseEcUsCm: true }).shape, at, unread: z.boolean() }),
  z.object({ kind: z.literal('read'), ...clayRead.shape, at, confirmedOdd: z.boolean() }),
  z.object({ kind: z.literal('drain'), ...clayDrained.shape, at }),
  z.object({ kind: z.literal('dried'), clayId: id.nullable(), potId: id.nullable() }),
  z.object({ kind: z.literal('told'), clayId: id, bag: toldBag }),
  z.object({ kind: z.literal('letGoTold'), clayId: id }),
  z.object({ kind: z.literal('retire'), clayId: id }),
  z.object({ kind: z.literal('bringBack'), clayId: id }),
  z.object({
    kind: z.literal('startHold'),
    potId: id,
    clockId: id,
    planId: id.nullable(),
    ...potHoldStarted.pick({ purpose: true, waterId: true, waterL: true, minutes: true }).shape,
  }),
  z.object({ kind: z.literal('readHold'), ...potHoldRead.omit({ words: true }).shape, confirmedOdd: z.boolean() }),
  z.object({ kind: z.literal('drainHold'), ...potHoldDrained.pick({ holdId: true, to: true }).shape }),
  z.object({
    kind: z.literal('planHolds'),
    potId: id,
    plans: z
      .array(z.object({ id, words: z.string().trim().min(1).max(120) }))
      .min(1)
      .max(12),
    onDate: localDate,
  }),
  z.object({
    kind: z.literal('potUp'),
    potId: id,
    /** The pot as it stands after; a pot that is not there yet is added. */
    values: potValues,
    regimenId: id,
    ...potPotted.pick({
      clayId: true,
      clayL: true,
      roots: true,
      peroxide: true,
      bacteria: true,
      start: true,
      weakDays: true,
    }).shape,
    confirmedNotReady: z.boolean(),
  }),
]);
export type ClayAct = z.infer<typeof clayAct>;

export const spread = z.object({ mean: z.number(), low: z.number(), high: z.number() });
/** What was done to a batch, as the model plays it; strengths net of the water's base, at the half scale (µS/cm ÷ 2). */
const leachAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('reading'), atHours: z.number(), netPpm: z.number() }),
  z.object({ kind: z.literal('change'), atHours: z.number(), freshL: z.number(), pouredOffL: z.number().optional() }),
  z.object({ kind: z.literal('fed'), atHours: z.number(), netPpm: z.number() }),
]);
export const leachHistory = z.object({ clayL: z.number(), firstL: z.number(), acts: z.array(leachAct) });
const prior = z.object({ mean: z.array(z.number()), covariance: z.array(z.array(z.number())) });

export const clayLogLine = z.object({
  eventId: id,
  kind: z.enum(['filled', 'read', 'drained', 'dried', 'potted', 'changed']),
  at: instant,
  on: localDate,
  time: z.string(),
  /** Since the first water; null outside a leach. */
  atHours: z.number().nullable(),
  words: z.string(),
  /** On the pen at hand, as read. */
  ppm: z.number().nullable(),
  ph: z.number().nullable(),
  tainted: z.boolean(),
  undoable: z.boolean(),
  correctable: z.boolean(),
});
export type ClayLogLine = z.infer<typeof clayLogLine>;

export const CLAY_STATES = ['bag', 'rinsed', 'soaking', 'ready', 'drained', 'leached', 'unleached', 'usedUp'] as const;
export type ClayState = (typeof CLAY_STATES)[number];

export const clayBatchView = z.object({
  id,
  values: clayValues,
  rinsedOn: localDate.nullable(),
  boiledOn: localDate.nullable(),
  retiredOn: localDate.nullable(),
  state: z.enum(CLAY_STATES),
  /** Fit to plant: by its expected flat reading, or because the grower says it was leached before. */
  ready: z.boolean(),
  /** Why it is ready, or what is missing. */
  why: z.string(),
  usedL: z.number(),
  leftL: z.number(),
  pots: z.array(z.object({ id, code: z.string(), name: z.string() })),
  /** The first water of the leach under way or last made, and what the model needs of it. */
  leach: z
    .object({
      startedAt: instant,
      /** Null while it stands in water. */
      drainedAt: instant.nullable(),
      waterId: id,
      /** In it by what was poured on and off, L. */
      waterL: z.number(),
      lastFilledAt: instant,
      changes: z.number().int(),
      basePpm: z.number(),
      history: leachHistory,
    })
    .nullable(),
  /** Before its first reading: clay at large, drawn to this grower's bags, and to what was poured off this one. */
  prior,
  ownBags: z.number().int(),
  /** Other growers' bags it begins from, told apart from one's own. */
  told: z.array(toldBag.pick({ name: true, readings: true, changes: true })),
  /** As it would be shared with another grower; null where too little was read. */
  card: toldBag.omit({ name: true }).nullable(),
  flatPpm: spread.nullable(),
  lastReadPpm: z.number().nullable(),
  lastPh: z.number().nullable(),
  driedOn: localDate.nullable(),
  log: z.array(clayLogLine),
});
export type ClayBatchView = z.infer<typeof clayBatchView>;

export const holdView = z.object({
  id,
  potId: id,
  code: z.string(),
  name: z.string(),
  purpose: z.enum(['check', 'leach']),
  startedAt: instant,
  endsAt: instant,
  waterL: z.number(),
  water: z.string(),
  topPpm: z.number().nullable(),
  holePpm: z.number().nullable(),
  /** Every reading of this hold, in order: minutes since it was filled. */
  reads: z.array(z.object({ where: z.enum(['top', 'hole']), minutes: z.number(), ppm: z.number() })),
  /** What the top should read at the end, over everything, on the pen at hand; null before anything was read in this pot. */
  expectedTopPpm: spread.nullable(),
});
export type HoldView = z.infer<typeof holdView>;

export const unleachedPot = z.object({
  potId: id,
  code: z.string(),
  name: z.string(),
  place: z.string(),
  clay: z.string().nullable(),
  drawing: potDrawing,
  sensitivity: z.enum(SENSITIVITIES),
  /** What a filling takes, L. */
  waterL: z.number(),
  dueOn: localDate,
  checked: z.object({ on: localDate, topPpm: z.number().nullable(), holePpm: z.number().nullable() }).nullable(),
  /** What was measured after each hold beside what was foreseen; oldest first. */
  held: z.array(
    z.object({
      on: localDate,
      purpose: z.enum(['check', 'leach']),
      topPpm: z.number().nullable(),
      holePpm: z.number().nullable(),
    }),
  ),
  /** Salt check now and a week after each hold, on the pen at hand and over the base: only once the pot was checked. */
  bars: z.array(spread).nullable(),
  /** At or under this a check passes: the gate and what of the feed the clay holds back. */
  passPpm: z.number(),
  feedPpm: z.number(),
  verdict: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('check') }),
    z.object({ kind: z.literal('clean') }),
    z.object({ kind: z.literal('hold'), holds: z.number().int(), litres: z.number() }),
    z.object({ kind: z.literal('repot'), litres: z.number() }),
  ]),
  /** What speaks for it, in one line. */
  evidence: z.string(),
  flushAgainstHold: z.object({ flushL: z.number(), flush: z.number(), hold: z.number() }).nullable(),
  planned: z.array(z.object({ id, words: z.string(), onDate: localDate })),
});
export type UnleachedPot = z.infer<typeof unleachedPot>;

export const clayRoom = z.object({
  now: instant,
  today: localDate,
  scale: z.number(),
  batches: z.array(clayBatchView),
  waters: z.array(
    z.object({
      id,
      name: z.string(),
      kind: z.string(),
      basePpm: z.number().nullable(),
      stillNowL: z.number().nullable(),
      perDayL: z.number().nullable(),
    }),
  ),
  ppmMeter: z.object({ id, name: z.string(), simulated: z.boolean(), sends: z.boolean().optional() }).nullable(),
  phMeter: z.object({ id, name: z.string(), simulated: z.boolean(), sends: z.boolean().optional() }).nullable(),
  holds: z.array(holdView),
  unleached: z.array(unleachedPot),
  /** Named on pots, but not kept here. */
  named: z.array(z.object({ name: z.string(), pots: z.number().int() })),
  /** Where poured-off water went before, latest first. */
  poured: z.array(z.string()),
  /** The day the season's plan that stands changes a batch's water next, by its id. */
  byPlan: z.record(id, localDate).optional(),
});
export type ClayRoom = z.infer<typeof clayRoom>;
