import { z } from 'zod';
import { FEED_WHATS, SCHOOLS, SOAK_WHATS } from '../core/regimen/index.ts';
import { unitsPerL } from './recipes.ts';

const ph = z
  .number('Give a pH between 3 and 9.')
  .min(3, 'Give a pH between 3 and 9.')
  .max(9, 'Give a pH between 3 and 9.');
const share = z.number('Give a share between 0 and 100 %.').min(0, 'Not below nothing.').max(1, 'At most all of it.');
const mgL = z
  .number('Give mg/L as SiO2, such as 48.')
  .positive('More than nothing, such as 48.')
  .max(1000, 'More than 1,000 mg/L is no soak.')
  .nullable();

/** By measure: mL (g) of the bottle in each litre, or a share of what its label says. */
export const feedDose = z.discriminatedUnion('by', [
  z.object({ by: z.literal('perL'), units: unitsPerL }),
  z.object({
    by: z.literal('label'),
    share: z
      .number('Give how much of the label’s dose, such as 50 %.')
      .positive('More than nothing of it, such as 50 %.')
      .max(2, 'More than twice what a label says is no dose.'),
  }),
]);

const feed = z.object({
  what: z.enum(FEED_WHATS),
  netPpm: z
    .number('Give the aim over base, such as 90.')
    .min(0, 'Not below zero.')
    .max(5000, 'Past 5,000 ppm over base nothing here can live.'),
  /** Given by measure: `netPpm` is then what it was taken to come to, and reckoned anew when it is kept. */
  dose: feedDose.nullable().default(null),
  phLow: ph,
  phHigh: ph,
  days: z
    .number('Give the days until the next watering, such as 7.')
    .int('Whole days.')
    .min(1, 'At least one day.')
    .max(90, 'Longer than 90 days is not a round.'),
});
const soak = z.object({
  what: z.enum(SOAK_WHATS),
  netPpm: z
    .number('Give ppm over the water, such as 100.')
    .positive('More than nothing, such as 100.')
    .max(1000, 'More than 1,000 ppm is no soak.')
    .nullable(),
  sio2MgL: mgL,
  firstSio2MgL: mgL,
  phLow: ph,
  phHigh: ph,
  holdMinutes: z
    .number('Give the minutes it is held, such as 30.')
    .int()
    .min(1, 'At least a minute.')
    .max(1440, 'Longer than a day is no soak.'),
  months: z.array(z.number().int().min(1).max(12)).max(12),
  allYearUnderLamps: z.boolean(),
  sprayBaskets: z.boolean(),
});

/** A regimen as it is typed: ppm over the water on the grower's pen. What does not fit together is said by the core, at its field. */
export const regimenValues = z.object({
  name: z.string().trim().min(1, 'Give the regimen a name.').max(60),
  school: z.enum(SCHOOLS),
  feeds: z.array(feed).max(7, 'At most seven waterings before it begins again.'),
  latestDays: z.number('Give whole days, such as 28.').int('Whole days.').min(1).max(180).nullable(),
  flushAt: z.enum(['watering', 'change', 'never']),
  flushTimes: z.number('How many times the reservoir, such as 3; 0 for no flush.').min(0).max(20),
  flushWith: z.enum(['plentiful', 'still']),
  wash: z.boolean(),
  soaks: z.array(soak).max(3),
  restShare: share,
  rootingShare: share,
  inBud: z.enum(['same', 'calmag']),
  soaksOnlyInGrowth: z.boolean(),
  tenderShare: share,
  byHeight: z.boolean(),
  fillWith: z.enum(['still', 'tap']).nullable(),
  morning: z.boolean(),
  dryBeforeSoak: z.boolean(),
});
export type RegimenValues = z.infer<typeof regimenValues>;

/** A school as one would begin with it, and whose figures they are. */
export const schoolView = z.object({
  school: z.enum(SCHOOLS),
  title: z.string(),
  words: z.string(),
  source: z.enum(['common practice', 'ours']),
  values: regimenValues,
});
export const schoolsView = z.object({
  schools: z.array(schoolView),
  disagreements: z.array(z.object({ about: z.string(), one: z.string(), other: z.string(), ours: z.string() })),
});
export type SchoolsView = z.infer<typeof schoolsView>;
export type SchoolView = z.infer<typeof schoolView>;

/** One visit to come, in words. */
export const comingView = z.object({
  on: z.iso.date(),
  words: z.string(),
  soaks: z.array(z.string()),
  because: z.array(z.string()),
});
export type ComingView = z.infer<typeof comingView>;
/** What some pots would be given over the weeks ahead: by what they follow, and by another regimen. */
export const whatChanges = z.object({
  weeks: z.number(),
  pots: z.array(
    z.object({
      id: z.uuid(),
      code: z.string(),
      name: z.string(),
      now: z.string(),
      visits: z.array(comingView),
      /** Said once where practice does not say, or a soak cannot be had here. */
      remarks: z.array(z.string()),
    }),
  ),
  /** Both, over those weeks: visits, soaks, still water and feed in litres. */
  before: z.object({ visits: z.number(), soaks: z.number(), mixL: z.number(), flushL: z.number() }),
  after: z.object({ visits: z.number(), soaks: z.number(), mixL: z.number(), flushL: z.number() }),
});
export type WhatChanges = z.infer<typeof whatChanges>;

export const regimenView = z.object({ id: z.uuid(), values: regimenValues, words: z.string(), pots: z.number().int() });
