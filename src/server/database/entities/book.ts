import { EntitySchema } from 'typeorm';
import { check, fk, int, oneOf, pk, real, realNull, text, textNull } from './columns.ts';

/* What the grower makes of the log: turns named and joined, and trials; pens that send. Changed only through the log, but for the readings that were sent. */

/** What the grower says of a turn that was found in the log; `id` is the turn's own name. */
export interface TurnMark {
  id: string;
  /** Empty: as it was found. */
  name: string;
  hidden: 0 | 1;
  /** The turn it is part of. */
  joinedTo: string | null;
}
/** A question put to some pots: half of them get one thing otherwise. */
export interface TrialRow {
  id: string;
  question: string;
  /** The one thing that is changed, JSON. */
  change: string;
  measure: string;
  /** The least difference that would matter, in the measure's own unit (µS/cm, pH, a share, …). */
  matters: number;
  startOn: string;
  weeks: number;
  /** What must stay equal, in the grower's words, JSON. */
  alike: string;
  /** The lot by which pots came to their arms. */
  seed: number;
  endedOn: string | null;
  endWhy: string;
}
export interface TrialPotRow {
  id: string;
  trialId: string;
  potId: string;
  /** 0: with the change; 1: as it was. */
  arm: 0 | 1;
  pair: number;
  /** Its first day in it: the day after the start for one that had been filled when it began. */
  fromOn: string;
  leftOn: string | null;
  leftWhy: string;
}

/** A real pen that sends what it reads, by a key of its own. */
export interface InstrumentRow {
  id: string;
  name: string;
  /** The meter of the Shelf that it is. */
  meterId: string;
  /** SHA-256 of its key, in hex: the key itself is shown once and kept nowhere. */
  keyDigest: string;
  madeOn: string;
  withdrawnOn: string | null;
}
/** A reading that came from a pen, and is no line of the log until it is placed. */
export interface SentReading {
  id: string;
  instrumentId: string;
  at: string;
  /** As the pen shows it, on its own scale. */
  shown: number;
  temperatureC: number | null;
  /** Taken by a field that waited for it, or dropped. */
  became: 'taken' | 'dropped' | null;
  /** The line by which it was placed at a pot: taken back, the reading lies in the tray again. */
  eventId: string | null;
}

export const InstrumentEntity = new EntitySchema<InstrumentRow>({
  name: 'instrument',
  tableName: 'instrument',
  columns: { id: pk, name: text, meterId: text, keyDigest: text, madeOn: text, withdrawnOn: textNull },
  foreignKeys: [fk('instrument_meter', 'meter', 'meterId')],
  checks: [check('instrument_key', `length("keyDigest") = 64`)],
});
export const SentReadingEntity = new EntitySchema<SentReading>({
  name: 'sent_reading',
  tableName: 'sent_reading',
  columns: {
    id: pk,
    instrumentId: text,
    at: text,
    shown: real,
    temperatureC: realNull,
    became: textNull,
    eventId: textNull,
  },
  foreignKeys: [fk('sent_reading_instrument', 'instrument', 'instrumentId')],
  indices: [{ name: 'ix_sent_reading_at', columns: ['became', 'at'] }],
  checks: [check('sent_reading_became', `"became" IS NULL OR ${oneOf('became', ['taken', 'dropped'])}`)],
});
export const TurnMarkEntity = new EntitySchema<TurnMark>({
  name: 'turn_mark',
  tableName: 'turn_mark',
  columns: { id: pk, name: text, hidden: int, joinedTo: textNull },
  checks: [check('turn_mark_hidden', `"hidden" IN (0, 1)`)],
});
export const TrialEntity = new EntitySchema<TrialRow>({
  name: 'trial',
  tableName: 'trial',
  columns: {
    id: pk,
    question: text,
    change: text,
    measure: text,
    matters: real,
    startOn: text,
    weeks: int,
    alike: text,
    seed: int,
    endedOn: textNull,
    endWhy: text,
  },
  checks: [
    check('trial_change', `json_valid("change")`),
    check('trial_alike', `json_valid("alike")`),
    check('trial_matters', `"matters" > 0`),
    check('trial_weeks', `"weeks" > 0`),
    check('trial_ended', `"endedOn" IS NULL OR "endedOn" >= "startOn"`),
  ],
});
export const TrialPotEntity = new EntitySchema<TrialPotRow>({
  name: 'trial_pot',
  tableName: 'trial_pot',
  columns: { id: pk, trialId: text, potId: text, arm: int, pair: int, fromOn: text, leftOn: textNull, leftWhy: text },
  foreignKeys: [fk('trial_pot_trial', 'trial', 'trialId'), fk('trial_pot_pot', 'pot', 'potId')],
  indices: [
    { name: 'ux_trial_pot', columns: ['trialId', 'potId'], unique: true },
    { name: 'ix_trial_pot_pot', columns: ['potId'] },
  ],
  checks: [check('trial_pot_arm', `"arm" IN (0, 1)`)],
});
