import { EntitySchema } from 'typeorm';
import { ORIGINS, SUBJECT_KINDS, type Origin, type SubjectKind } from '../../../contract/kinds.ts';
import { check, fk, intNull, oneOf, pk, text, textNull } from './columns.ts';

/* The care log that is the truth, and what is planned. Columns that cache something derived from the log say so. */

export interface CareEvent {
  seq: number;
  id: string;
  kind: string;
  at: string;
  localDate: string;
  potId: string | null;
  batchId: string | null;
  payload: string;
  /** Pot and due day: the natural key of a due act. */
  dueKey: string | null;
  /** Cached: the event that took this one back or corrected it. */
  voidedBy: string | null;
  /** A correction: the event it corrects, and the place in the order in which it stands. */
  corrects: string | null;
  standsAt: number | null;
}
/** Which records an event changed, so that a record's own history can be found. */
export interface EventTouch {
  eventId: string;
  subject: string;
}
/** An act that is to be done on a day. Changed only through the log. */
export interface PlannedAct {
  id: string;
  subjectKind: SubjectKind;
  subjectId: string | null;
  words: string;
  onDate: string;
  origin: Origin;
  originId: string | null;
  doneOn: string | null;
  droppedOn: string | null;
}
/** A wait that is running. Changed only through the log. */
export interface ClockRow {
  id: string;
  subjectKind: SubjectKind;
  subjectId: string | null;
  words: string;
  startedAt: string;
  endsAt: string;
  origin: Origin;
  stoppedAt: string | null;
}
export interface SimulatedTruth {
  subject: string;
  payload: string;
}

export const CareEventEntity = new EntitySchema<CareEvent>({
  name: 'care_event',
  tableName: 'care_event',
  columns: {
    seq: { type: 'integer', primary: true, generated: 'increment' },
    id: text,
    kind: text,
    at: text,
    localDate: text,
    potId: textNull,
    batchId: textNull,
    payload: text,
    dueKey: textNull,
    voidedBy: textNull,
    corrects: textNull,
    standsAt: intNull,
  },
  foreignKeys: [fk('care_event_pot', 'pot', 'potId'), fk('care_event_batch', 'batch', 'batchId')],
  indices: [
    { name: 'ux_care_event_id', columns: ['id'], unique: true },
    {
      name: 'ux_care_event_due',
      columns: ['dueKey'],
      unique: true,
      where: `"dueKey" IS NOT NULL AND "voidedBy" IS NULL`,
    },
    { name: 'ix_care_event_pot', columns: ['potId', 'at'] },
    { name: 'ix_care_event_pot_kind', columns: ['potId', 'kind', 'at'], where: '"potId" IS NOT NULL' },
    { name: 'ix_care_event_batch', columns: ['batchId', 'seq'] },
    { name: 'ix_care_event_at', columns: ['at'] },
    { name: 'ix_care_event_kind', columns: ['kind', 'at'] },
    { name: 'ix_care_event_day', columns: ['localDate', 'seq'] },
  ],
  checks: [check('care_event_payload', `json_valid("payload")`)],
});
export const EventTouchEntity = new EntitySchema<EventTouch>({
  name: 'event_touch',
  tableName: 'event_touch',
  columns: { subject: pk, eventId: pk },
  indices: [{ name: 'ix_event_touch_event', columns: ['eventId'] }],
});
export const PlannedActEntity = new EntitySchema<PlannedAct>({
  name: 'planned_act',
  tableName: 'planned_act',
  columns: {
    id: pk,
    subjectKind: text,
    subjectId: textNull,
    words: text,
    onDate: text,
    origin: text,
    originId: textNull,
    doneOn: textNull,
    droppedOn: textNull,
  },
  indices: [{ name: 'ix_planned_act_open', columns: ['onDate'], where: `"doneOn" IS NULL AND "droppedOn" IS NULL` }],
  checks: [
    check('planned_act_subject', oneOf('subjectKind', SUBJECT_KINDS)),
    check('planned_act_origin', oneOf('origin', ORIGINS)),
  ],
});
export const ClockEntity = new EntitySchema<ClockRow>({
  name: 'clock',
  tableName: 'clock',
  columns: {
    id: pk,
    subjectKind: text,
    subjectId: textNull,
    words: text,
    startedAt: text,
    endsAt: text,
    origin: text,
    stoppedAt: textNull,
  },
  indices: [{ name: 'ix_clock_running', columns: ['endsAt'], where: `"stoppedAt" IS NULL` }],
  checks: [
    check('clock_subject', oneOf('subjectKind', SUBJECT_KINDS)),
    check('clock_origin', oneOf('origin', ORIGINS)),
    check('clock_times', `"endsAt" >= "startedAt"`),
  ],
});
/** What a simulated pen truly reads. Demo only; read by the devices room alone, never by anything that estimates. */
export const SimulatedTruthEntity = new EntitySchema<SimulatedTruth>({
  name: 'simulated_truth',
  tableName: 'simulated_truth',
  columns: { subject: pk, payload: text },
});
