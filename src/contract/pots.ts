import { z } from 'zod';
import { SIGNS } from '../core/judgement/index.ts';
import { SOAK_WHATS } from '../core/regimen/index.ts';
import { carePayloads } from './care.ts';
import { GROWTH_KEYS } from './growth.ts';
import { growthFigures, id, instant, localDate, look, phReading, potDrawing, ppmReading } from './common.ts';
import { GROWS, HABITS, LIGHTS, MEDIA, SENSITIVITIES, STAGES } from './kinds.ts';
import { potPhotoView } from './pot-photos.ts';
import { comingView, regimenValues, regimenView } from './regimens.ts';
import { due } from './round.ts';

const volumeMl = (what: string) =>
  z
    .number(`Give the ${what}, such as 250 mL.`)
    .positive(`The ${what} is more than nothing.`)
    .max(50000, 'More than 50 L? Check the figure.');
const optionalText = (most: number) => z.string().trim().max(most, `Keep this under ${most} letters.`);

/** Everything a grower writes of a pot. Volumes in mL, clay in L, height in cm. */
export const potValues = z.object({
  code: z.string().trim().min(1, 'Give the pot a code, such as A-01.').max(16, 'A code has at most 16 letters.'),
  plant: z.string().trim().min(1, 'Say what grows in it.').max(80, 'Keep it under 80 letters.'),
  name: optionalText(60),
  placeId: id,
  spot: optionalText(40),
  medium: z.enum(MEDIA),
  stage: z.enum(STAGES),
  clay: z.string().trim().max(40).nullable(),
  clayL: z.number('Give the litres of clay, such as 1.2, or leave it empty.').positive().max(200).nullable(),
  brimMl: volumeMl('brim').nullable(),
  reservoirMl: volumeMl('reservoir'),
  fillMl: volumeMl('fill limit'),
  heightCm: z.number('Give the height in cm, such as 30, or leave it empty.').positive().max(1000).nullable(),
  habit: z.enum(HABITS).nullable(),
  sensitivity: z.enum(SENSITIVITIES),
  /** Which figures of practice apply to it. */
  grows: z.enum(GROWS).default('houseplant'),
  origin: optionalText(80),
  acquiredOn: localDate.nullable(),
  repottedOn: localDate.nullable(),
  note: optionalText(1000),
});
export type PotValues = z.infer<typeof potValues>;

/** True, or what is wrong between the volumes: the fill limit lies under the brim. */
export function volumesProblem(
  v: Pick<PotValues, 'brimMl' | 'reservoirMl' | 'fillMl'>,
): { path: 'brimMl' | 'fillMl'; message: string } | undefined {
  if (v.brimMl !== null && v.brimMl < v.reservoirMl)
    return { path: 'brimMl', message: 'The brim holds less than the reservoir. One of the two is off.' };
  const most = v.brimMl ?? v.reservoirMl;
  if (v.fillMl > most)
    return {
      path: 'fillMl',
      message: `The fill limit is above ${v.brimMl === null ? 'the reservoir' : 'the brim'} (${Math.round(most)} mL). Set it lower.`,
    };
  return undefined;
}

const monthly = (low: number, high: number, say: string) =>
  z.array(z.number(say).min(low, say).max(high, say).nullable()).length(12, 'Twelve months.');
/** Means of the months on a place, January first; null where nobody measured, and then what is usual counts. */
export const placeYear = z.object({
  temperatureC: monthly(-20, 60, 'Give °C between −20 and 60, or leave it empty.'),
  humidityPct: monthly(0, 100, 'Give a relative humidity between 0 and 100 %, or leave it empty.'),
  /** Days that were thirstier, or less so, than their month. */
  days: z
    .array(z.object({ on: localDate, times: z.number().min(0.1).max(5) }))
    .max(1500, 'Four years of days are kept at the most.')
    .optional(),
});
export type PlaceYearWire = z.infer<typeof placeYear>;
export const placeValues = z.object({
  name: z.string().trim().min(1, 'Give the place a name.').max(60),
  note: optionalText(120),
  light: z.enum(LIGHTS).nullable(),
  /** Left out: as it stands. */
  year: placeYear.nullable().optional(),
});
export type PlaceValues = z.infer<typeof placeValues>;

const potIds = z.array(id).min(1, 'Choose at least one pot.').max(5000);
/** The most pots one list may bring. */
export const MOST_POTS_AT_ONCE = 1000;
/** One act on the collection. */
export const potsAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('add'),
    places: z.array(z.object({ id, values: placeValues })).max(100),
    pots: z
      .array(z.object({ id, regimenId: id, values: potValues }))
      .min(1)
      .max(MOST_POTS_AT_ONCE, `At most ${MOST_POTS_AT_ONCE} pots at once. Add the rest as a second list.`),
  }),
  z.object({ kind: z.literal('change'), potId: id, values: potValues }),
  z.object({ kind: z.literal('move'), potIds, placeId: id, beforePotId: id.nullable() }),
  z.object({
    kind: z.literal('regimen'),
    potIds,
    regimenId: id,
    reason: z.string().trim().min(1, 'Say why, in a word: you will want to know later.').max(200),
    /** From which day; today when left out. */
    fromDate: localDate.optional(),
  }),
  /** A soak asked for once, at each pot's next watering from a day on; `planIds` one for each pot, in their order. */
  z.object({
    kind: z.literal('soak'),
    potIds,
    planIds: z.array(id),
    what: z.enum(SOAK_WHATS),
    fromDate: localDate,
  }),
  z.object({
    kind: z.literal('retire'),
    potIds,
    became: z.string().trim().min(1, 'Say what became of it, in a word.').max(200),
  }),
  z.object({ kind: z.literal('bringBack'), potIds }),
  z.object({ kind: z.literal('putPlace'), placeId: id, values: placeValues }),
  z.object({ kind: z.literal('retirePlace'), placeId: id }),
  z.object({ kind: z.literal('movePlace'), placeId: id, beforePlaceId: id.nullable() }),
  z.object({ kind: z.literal('putRegimen'), regimenId: id, values: regimenValues }),
]);
export type PotsAct = z.infer<typeof potsAct>;

export const potListItem = z.object({
  id,
  code: z.string(),
  /** Its own name, or else the plant's. */
  name: z.string(),
  plant: z.string(),
  spot: z.string(),
  clay: z.string().nullable(),
  reservoirMl: z.number(),
  sensitivity: z.enum(SENSITIVITIES),
  regimenId: id,
  regimen: z.string(),
  /** Lines of its log that cannot be understood and are left out: it cannot be reckoned whole. */
  oddLines: z.number().int(),
  due,
  drawing: potDrawing,
  lastPouredPpm: z.number().nullable(),
  lastCameOut: z.object({ ppm: z.number().nullable(), ph: z.number().nullable(), on: localDate }).nullable(),
  stand: z.object({
    /** Come-out ÷ the pour before it, and both, ppm, at the last visit where both were read; null on plain water, or where nobody read. */
    ran: z.object({ ratio: z.number(), pouredPpm: z.number(), cameOutPpm: z.number(), on: localDate }).nullable(),
    /** pH as it came out, oldest first, the last eight visits. */
    phs: z.array(z.object({ on: localDate, ph: z.number() })),
    /** Days from today until it is down to 15 %; null where nobody knows, or past what is looked ahead. */
    dryInDays: z.number().int().nullable(),
    leftMl: z.number().nullable(),
    /** Most pressing first. */
    signs: z.array(z.enum(SIGNS)),
    /** Larger is worse; 0 for nothing. */
    trouble: z.number(),
  }),
  /** Soaks that are in season for it by its regimen, or were asked for. */
  soaksOpen: z.array(z.enum(SOAK_WHATS)),
});

export const potsView = z.object({
  today: localDate,
  places: z.array(
    z.object({
      id,
      name: z.string(),
      note: z.string(),
      light: z.enum(LIGHTS).nullable(),
      year: placeYear.nullable(),
      pots: z.array(potListItem),
    }),
  ),
  regimens: z.array(regimenView),
  retired: z.array(z.object({ id, code: z.string(), name: z.string(), on: localDate, became: z.string() })),
});

/** One visit as the pot's page tells it; ppm on the grower's pen. */
export const potVisit = z.object({
  eventId: id,
  kind: z.enum(['filled', 'skipped', 'changed', 'soaked', 'sprayed', 'toppedUp', 'looked', 'reread']),
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
  /** Which of its figures a pen gave that was later found off. */
  tainted: z.array(z.enum(['pouredPpm', 'pouredPh', 'cameOutPpm', 'cameOutPh'])),
  look: look.nullable(),
  /** A soak or spray: of what. */
  supplement: z.enum(SOAK_WHATS).nullable(),
  words: z.string(),
  /** What stood here before it was corrected, in words. */
  was: z.string().nullable(),
  batchId: id.nullable(),
});

export const potView = z.object({
  today: localDate,
  pot: potListItem.extend({
    place: z.string(),
    placeNote: z.string(),
    retiredOn: localDate.nullable(),
    became: z.string(),
  }),
  values: potValues,
  regimen: z.object({ name: z.string(), words: z.string(), since: localDate, reason: z.string() }),
  /** What it will follow from a later day: a weak start that climbs. */
  nextRegimens: z.array(z.object({ name: z.string(), words: z.string(), from: localDate })),
  earlierRegimens: z.array(z.object({ name: z.string(), since: localDate, reason: z.string() })),
  aim: z.object({ lowPpm: z.number(), highPpm: z.number(), netPpm: z.number(), basePpm: z.number().nullable() }),
  phWindow: z.object({ low: z.number(), high: z.number() }),
  visits: z.array(potVisit),
  /** The weeks ahead, if each visit is done on its day. */
  coming: z.array(comingView),
  /** Every look at it, oldest first. */
  looks: z.array(z.object({ eventId: id, on: localDate, look })),
  /** What was measured of it, oldest first: at a look, on a day for measuring, or in a photo. */
  measures: z.array(z.object({ eventId: id, on: localDate, figures: growthFigures, photoId: id.nullable() })),
  photos: z.array(potPhotoView),
  /** What was last poured, to look into: product, mL (g) in a litre, water. Null where its mix was not measured. */
  lastMix: z.object({ productId: id, doseMlL: z.number(), waterId: id }).nullable(),
  neighbours: z.object({
    before: z.object({ id, code: z.string() }).nullable(),
    after: z.object({ id, code: z.string() }).nullable(),
  }),
});

export type PotsView = z.infer<typeof potsView>;
export type PotListItem = z.infer<typeof potListItem>;
export type PotView = z.infer<typeof potView>;
export type PotVisit = z.infer<typeof potVisit>;

/** What was measured of a plant on a day; `from`: in which photo, and where in it. */
export const measurePot = z.object({
  ...carePayloads.potMeasured.pick({ figures: true, from: true }).shape,
  on: localDate,
});
export type MeasurePot = z.infer<typeof measurePot>;
/** What was last measured of each pot, and when. */
export const lastMeasured = z.object({
  pots: z.array(
    z.object({ potId: id, last: z.array(z.object({ key: z.enum(GROWTH_KEYS), on: localDate, value: z.number() })) }),
  ),
});
export type LastMeasured = z.infer<typeof lastMeasured>;
