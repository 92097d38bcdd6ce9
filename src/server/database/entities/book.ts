import { EntitySchema } from 'typeorm';
import { check, fk, int, pk, real, text, textNull } from './columns.ts';

/* What the grower makes of the log: turns named and joined, and trials. Changed only through the log. */

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
  leftOn: string | null;
  leftWhy: string;
}

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
  columns: { id: pk, trialId: text, potId: text, arm: int, pair: int, leftOn: textNull, leftWhy: text },
  foreignKeys: [fk('trial_pot_trial', 'trial', 'trialId'), fk('trial_pot_pot', 'pot', 'potId')],
  indices: [
    { name: 'ux_trial_pot', columns: ['trialId', 'potId'], unique: true },
    { name: 'ix_trial_pot_pot', columns: ['potId'] },
  ],
  checks: [check('trial_pot_arm', `"arm" IN (0, 1)`)],
});
