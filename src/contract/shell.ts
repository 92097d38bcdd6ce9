import { z } from 'zod';
import { VOLUME_UNITS } from '../core/quantity/index.ts';
import { id, instant, localDate } from './common.ts';
import { ORIGINS, SUBJECT_KINDS } from './kinds.ts';

/** Taken where nobody said how far from the equator the plants stand. */
export const USUAL_LATITUDE = 50;

/** What the grower sets for the whole collection. `workingDays` are ISO weekdays, Monday 1 to Sunday 7. */
export const settingsValues = z.object({
  collection: z.string().trim().min(1, 'Give the collection a name.').max(60),
  zone: z.string().refine(isZone, 'That time zone is not known here. Choose one such as Europe/London.'),
  units: z.enum(VOLUME_UNITS),
  workingDays: z
    .array(z.number().int().min(1).max(7))
    .min(1, 'Keep at least one day for the round.')
    .refine((days) => new Set(days).size === days.length, 'Each day once.'),
  /** Degrees, south below zero: how the light goes through the year. */
  latitude: z
    .number('Give degrees, such as 54; south of the equator with a minus.')
    .min(-66, 'Between −66 and 66.')
    .max(66, 'Between −66 and 66.')
    .default(USUAL_LATITUDE),
  /** The sign prices are told with, as one writes it: "£", "EUR"; empty: figures alone. */
  currency: z.string().trim().max(6, 'A sign such as £, or three letters.').default(''),
});
export type SettingsValues = z.infer<typeof settingsValues>;

/** How much the grower will read of the pots on a round. */
export const readChoice = z.discriminatedUnion('how', [
  z.object({ how: z.enum(['everything', 'asked', 'little']) }),
  z.object({
    how: z.literal('atMost'),
    most: z.number().int().min(0, 'Nought or more.').max(2000, 'At most 2000.'),
    of: z.enum(['dips', 'minutes']),
  }),
]);
/** All that is set, with what is set elsewhere than among the settings. */
export const allSettings = settingsValues.extend({
  reading: readChoice,
  /** Pots that are never asked for a reading, by id. */
  neverRead: z.array(id),
});
export type AllSettings = z.infer<typeof allSettings>;

function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en-GB', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

const subject = { subjectKind: z.enum(SUBJECT_KINDS), subjectId: id.nullable() };
/** An act on the list: planned for a day, with who put it there. */
export const plannedAct = z.object({
  id,
  ...subject,
  /** What the subject is called: "R-07 Coelogyne". Empty for the whole collection. */
  about: z.string(),
  words: z.string(),
  onDate: localDate,
  origin: z.enum(ORIGINS),
  daysLate: z.number().int(),
  doneOn: localDate.nullable(),
});
export type PlannedActView = z.infer<typeof plannedAct>;
export const clockView = z.object({
  id,
  ...subject,
  about: z.string(),
  words: z.string(),
  startedAt: instant,
  endsAt: instant,
});
export type ClockView = z.infer<typeof clockView>;

const planWords = z.string().trim().min(1, 'Say what is to be done.').max(120);
/** One act on plans and clocks. */
export const planAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('plan'),
    planId: id,
    ...subject,
    words: planWords,
    onDate: localDate,
    origin: z.enum(ORIGINS),
  }),
  z.object({ kind: z.literal('done'), planId: id }),
  z.object({ kind: z.literal('drop'), planId: id }),
  z.object({ kind: z.literal('moveTo'), planId: id, onDate: localDate }),
  z.object({
    kind: z.literal('startClock'),
    clockId: id,
    ...subject,
    words: planWords,
    minutes: z
      .number('Give the minutes, such as 15.')
      .positive('Give the minutes, such as 15.')
      .max(14 * 24 * 60, 'Longer than a fortnight is a plan, not a clock.'),
    origin: z.enum(ORIGINS),
  }),
  z.object({ kind: z.literal('stopClock'), clockId: id }),
  z.object({
    kind: z.literal('extendClock'),
    clockId: id,
    minutes: z
      .number()
      .positive()
      .max(24 * 60),
  }),
]);
export type PlanAct = z.infer<typeof planAct>;
export const planList = z.object({ today: localDate, plans: z.array(plannedAct) });

/** What every room needs to know first. */
export const shellView = z.object({
  mode: z.enum(['demo', 'own']),
  collection: z.string(),
  now: instant,
  today: localDate,
  zone: z.string(),
  units: z.enum(VOLUME_UNITS),
  currency: z.string(),
  pots: z.number().int(),
  /** Things on the Shelf: none, with no pots, is an empty folder. */
  shelf: z.number().int(),
  scale: z.number(),
  version: z.string(),
  clocks: z.array(clockView),
  /** What every room must say: the file is damaged or was replaced, or the last automatic backup failed; in words. */
  trouble: z.string().nullable(),
  /** Acts dated after now, by a clock that was wrong: marked in the Book and left out of reckoning until their time comes. */
  ahead: z.object({ count: z.number().int(), firstAt: instant }).nullable(),
  /** The collection cannot be read at all: only its backups can be looked at. */
  shut: z.boolean(),
  /** Pots that are worked out and pots there are, while that takes long: after a start, or a change that touches them all. Null when it is done. */
  reckoning: z.object({ done: z.number().int(), of: z.number().int() }).nullable(),
});
export type ShellView = z.infer<typeof shellView>;
export const demoOpened = z.object({ url: z.string() });

/** Letting other devices in over the home network. */
export const lanView = z.object({
  on: z.boolean(),
  hasPassphrase: z.boolean(),
  addresses: z.array(z.string()),
  problem: z.string().nullable(),
  /** Doors with a lock on the line, and the fingerprint of what a phone is to trust; null where there are none. */
  lock: z.object({ addresses: z.array(z.string()), fingerprint: z.string() }).nullable(),
  /** `lastAddress`: where it was last seen; "" where that is not known, or not told to this device. */
  devices: z.array(
    z.object({ id: z.string(), device: z.string(), startedAt: instant, lastSeenAt: instant, lastAddress: z.string() }),
  ),
  /** True on the machine the server runs on: only there can the passphrase be set. */
  here: z.boolean(),
});
export type LanView = z.infer<typeof lanView>;
export const passphrase = z
  .string()
  .min(10, 'At least 10 characters: four short words do well.')
  .max(200, 'At most 200 characters.');
export const lanAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('open'), passphrase: passphrase.nullable() }),
  z.object({ kind: z.literal('close') }),
  /** Doors with a lock on the line (https), beside the plain ones. */
  z.object({ kind: z.literal('lock'), on: z.boolean() }),
  z.object({ kind: z.literal('showOut'), device: z.string().regex(/^[0-9a-f]{16}$/, 'There is no such device.') }),
]);
export type LanAct = z.infer<typeof lanAct>;
/** `lock`: for the door with the lock, on a phone that trusts it already. */
export const pairingRequest = z.object({ lock: z.boolean().default(false) });
/** SHA-256 of the authority's certificate, and the door with the lock; null while there is none. */
export const lockFacts = z.object({ fingerprint: z.string(), url: z.string().nullable() });
export type LockFacts = z.infer<typeof lockFacts>;
export const pairing = z.object({ url: z.string(), until: instant });
export const enterRequest = z.union([
  z.object({ passphrase: z.string().max(200) }),
  z.object({ key: z.string().max(100) }),
]);

export const backupView = z.object({
  name: z.string(),
  at: instant,
  bytes: z.number(),
  /** Why it was made. */
  why: z.enum(['daily', 'asked', 'before restoring', 'brought in', 'before an update', 'set aside, damaged']),
  pots: z.number().int().nullable(),
  events: z.number().int().nullable(),
  problem: z.string().nullable(),
});
export type BackupView = z.infer<typeof backupView>;
/** `folder`: where they lie, told on the machine itself only. */
export const backupList = z.object({ folder: z.string().nullable(), backups: z.array(backupView) });
/** `kept`: the backup made of what was there; null where there was nothing. */
export const restored = z.object({ kept: z.string().nullable() });
