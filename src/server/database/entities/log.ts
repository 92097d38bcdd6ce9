import { EntitySchema } from 'typeorm';
import { ORIGINS, SUBJECT_KINDS, type Origin, type SubjectKind } from '../../../contract/kinds.ts';
import { check, fk, intNull, oneOf, pk, real, realNull, text, textNull } from './columns.ts';

/* Batches, the care log that is the truth, and what is planned. Columns that cache something derived from the log say so. */

export interface Batch {
  id: string;
  name: string;
  status: 'open' | 'poured' | 'abandoned';
  mixKey: string | null;
  startedAt: string;
  startedOn: string;
  waterId: string;
  vesselId: string;
  bottleId: string;
  ppmMeterId: string;
  phMeterId: string | null;
  toolIds: string;
  volumeL: number;
  thinRatio: number;
  netEcUsCm: number;
  phLow: number;
  phHigh: number;
  /** Cached from the batchPoured event, in its transaction. */
  pouredVolumeL: number | null;
  pouredEcUsCm: number | null;
  pouredPh: number | null;
  /** Cached: what it conducts after its acid, by the chemistry; the aim and the reading are before it. Null where that cannot be told. */
  afterAcidEcUsCm: number | null;
  pouredAt: string | null;
  emptied: boolean;
  /** Cached: what was known of the product after this batch; null where it must be replayed. Replaying a year took 100 ms a look. */
  knownAfter: string | null;
}
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

export const BatchEntity = new EntitySchema<Batch>({
  name: 'batch',
  tableName: 'batch',
  columns: {
    id: pk,
    name: text,
    status: text,
    mixKey: textNull,
    startedAt: text,
    startedOn: text,
    waterId: text,
    vesselId: text,
    bottleId: text,
    ppmMeterId: text,
    phMeterId: textNull,
    toolIds: text,
    volumeL: real,
    thinRatio: real,
    netEcUsCm: real,
    phLow: real,
    phHigh: real,
    pouredVolumeL: realNull,
    pouredEcUsCm: realNull,
    pouredPh: realNull,
    afterAcidEcUsCm: realNull,
    pouredAt: textNull,
    emptied: { type: 'boolean' },
    knownAfter: textNull,
  },
  foreignKeys: [
    fk('batch_water', 'water', 'waterId'),
    fk('batch_vessel', 'vessel', 'vesselId'),
    fk('batch_bottle', 'bottle', 'bottleId'),
    fk('batch_ppm', 'meter', 'ppmMeterId'),
    fk('batch_ph', 'meter', 'phMeterId'),
  ],
  indices: [
    { name: 'ix_batch_bottle', columns: ['bottleId', 'startedAt'] },
    { name: 'ix_batch_mix', columns: ['mixKey', 'startedAt'] },
    { name: 'ix_batch_started', columns: ['startedAt'] },
  ],
  checks: [
    check('batch_status', `"status" IN ('open', 'poured', 'abandoned')`),
    check('batch_volume', `"volumeL" > 0 AND "volumeL" <= 1000`),
    check('batch_thin', `"thinRatio" >= 1`),
    check('batch_ph', `"phLow" <= "phHigh"`),
    check('batch_aim', `"netEcUsCm" > 0`),
  ],
});
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
    { name: 'ux_care_event_due', columns: ['dueKey'], unique: true, where: `"dueKey" IS NOT NULL AND "voidedBy" IS NULL` },
    { name: 'ix_care_event_pot', columns: ['potId', 'at'] },
    { name: 'ix_care_event_batch', columns: ['batchId', 'seq'] },
    { name: 'ix_care_event_at', columns: ['at'] },
    { name: 'ix_care_event_kind', columns: ['kind', 'at'] },
  ],
  checks: [check('care_event_payload', `json_valid("payload")`)],
});
export const EventTouchEntity = new EntitySchema<EventTouch>({
  name: 'event_touch',
  tableName: 'event_touch',
  columns: { subject: pk, eventId: pk },
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
  checks: [check('planned_act_subject', oneOf('subjectKind', SUBJECT_KINDS)), check('planned_act_origin', oneOf('origin', ORIGINS))],
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
