import { EntitySchema } from 'typeorm';
import {
  GROWS,
  HABITS,
  LIGHTS,
  MEDIA,
  SENSITIVITIES,
  STAGES,
  TREATMENTS,
  type Grows,
  type Habit,
  type Light,
  type Medium,
  type Sensitivity,
  type Stage,
  type TreatmentKind,
} from '../../../contract/kinds.ts';
import type { School } from '../../../core/regimen/index.ts';
import { check, fk, oneOf, pk, real, realNull, text, textNull } from './columns.ts';

/* Places, the pots on them, and the regimen each follows from a day on. */

export interface Place {
  id: string;
  name: string;
  note: string;
  light: Light | null;
  position: number;
  retiredOn: string | null;
  /** Means of the months as the grower or a logger gave them, JSON; null where nobody did. */
  year: string | null;
}
/** Something tried against a clay that pushes. Changed only through the log. */
export interface Treatment {
  id: string;
  potId: string;
  kind: TreatmentKind;
  note: string;
  fromDate: string;
  toDate: string | null;
}
/** What the grower said to an advice: taken up, or not to be asked again until its evidence changes. Changed only through the log. */
export interface AdviceAnswer {
  id: string;
  potId: string;
  rule: string;
  answer: 'accepted' | 'declined';
  /** What it stood on then. */
  evidence: string;
  onDate: string;
}
/** What the grower said to a pen that was thought to be off. Changed only through the log. */
export interface PenAnswer {
  id: string;
  meterId: string;
  answer: 'accepted' | 'declined';
  /** The round it stood on. */
  evidence: string;
  onDate: string;
}
export interface RegimenRow {
  id: string;
  name: string;
  /** Its school; a name only. */
  kind: School;
  params: string;
  retiredOn: string | null;
}
export interface PotRegimen {
  id: string;
  potId: string;
  regimenId: string;
  fromDate: string;
  reason: string;
}
export interface Pot {
  id: string;
  code: string;
  /** What it is: genus or species as the grower says it. */
  plant: string;
  /** A name of its own, or empty. */
  name: string;
  placeId: string;
  /** Where on the place, in words: "lamp end". */
  spot: string;
  /** Order on the place. Between two pots there is always room. */
  position: number;
  medium: Medium;
  stage: Stage;
  /** The clay batch it stands in. */
  clay: string | null;
  clayL: number | null;
  brimMl: number | null;
  reservoirMl: number;
  /** Never filled above this. */
  fillMl: number;
  heightCm: number | null;
  habit: Habit | null;
  sensitivity: Sensitivity;
  grows: Grows;
  origin: string;
  acquiredOn: string | null;
  repottedOn: string | null;
  note: string;
  retiredOn: string | null;
  /** What became of it. */
  became: string;
}

export const PlaceEntity = new EntitySchema<Place>({
  name: 'place',
  tableName: 'place',
  columns: { id: pk, name: text, note: text, light: textNull, position: real, retiredOn: textNull, year: textNull },
  checks: [check('place_light', `"light" IS NULL OR ${oneOf('light', LIGHTS)}`)],
});
export const RegimenEntity = new EntitySchema<RegimenRow>({
  name: 'regimen',
  tableName: 'regimen',
  columns: { id: pk, name: text, kind: text, params: text, retiredOn: textNull },
});
export const PotRegimenEntity = new EntitySchema<PotRegimen>({
  name: 'pot_regimen',
  tableName: 'pot_regimen',
  columns: { id: pk, potId: text, regimenId: text, fromDate: text, reason: text },
  foreignKeys: [fk('pot_regimen_pot', 'pot', 'potId'), fk('pot_regimen_regimen', 'regimen', 'regimenId')],
  indices: [{ name: 'ux_pot_regimen', columns: ['potId', 'fromDate'], unique: true }],
});
export const PotEntity = new EntitySchema<Pot>({
  name: 'pot',
  tableName: 'pot',
  columns: {
    id: pk,
    code: text,
    plant: text,
    name: text,
    placeId: text,
    spot: text,
    position: real,
    medium: text,
    stage: text,
    clay: textNull,
    clayL: realNull,
    brimMl: realNull,
    reservoirMl: real,
    fillMl: real,
    heightCm: realNull,
    habit: textNull,
    sensitivity: text,
    grows: { ...text, default: 'houseplant' },
    origin: text,
    acquiredOn: textNull,
    repottedOn: textNull,
    note: text,
    retiredOn: textNull,
    became: text,
  },
  foreignKeys: [fk('pot_place', 'place', 'placeId')],
  indices: [
    { name: 'ux_pot_code', columns: ['code'], unique: true, where: `"retiredOn" IS NULL` },
    { name: 'ix_pot_place', columns: ['placeId', 'position'] },
  ],
  checks: [
    check(
      'pot_volumes',
      `"reservoirMl" > 0 AND "fillMl" > 0 AND ("brimMl" IS NULL OR "brimMl" >= "reservoirMl") AND ("clayL" IS NULL OR "clayL" > 0)`,
    ),
    check('pot_medium', oneOf('medium', MEDIA)),
    check('pot_stage', oneOf('stage', STAGES)),
    check('pot_habit', `"habit" IS NULL OR ${oneOf('habit', HABITS)}`),
    check('pot_sensitivity', oneOf('sensitivity', SENSITIVITIES)),
    check('pot_grows', oneOf('grows', GROWS)),
  ],
});
export const TreatmentEntity = new EntitySchema<Treatment>({
  name: 'treatment',
  tableName: 'treatment',
  columns: { id: pk, potId: text, kind: text, note: text, fromDate: text, toDate: textNull },
  foreignKeys: [fk('treatment_pot', 'pot', 'potId')],
  indices: [{ name: 'ix_treatment_pot', columns: ['potId', 'fromDate'] }],
  checks: [
    check('treatment_kind', oneOf('kind', TREATMENTS)),
    check('treatment_days', `"toDate" IS NULL OR "toDate" >= "fromDate"`),
  ],
});
export const AdviceAnswerEntity = new EntitySchema<AdviceAnswer>({
  name: 'advice_answer',
  tableName: 'advice_answer',
  columns: { id: pk, potId: text, rule: text, answer: text, evidence: text, onDate: text },
  foreignKeys: [fk('advice_answer_pot', 'pot', 'potId')],
  indices: [{ name: 'ix_advice_answer_pot', columns: ['potId', 'rule'] }],
  checks: [check('advice_answer', oneOf('answer', ['accepted', 'declined']))],
});
export const PenAnswerEntity = new EntitySchema<PenAnswer>({
  name: 'pen_answer',
  tableName: 'pen_answer',
  columns: { id: pk, meterId: text, answer: text, evidence: text, onDate: text },
  foreignKeys: [fk('pen_answer_meter', 'meter', 'meterId')],
  indices: [{ name: 'ix_pen_answer_meter', columns: ['meterId'] }],
  checks: [check('pen_answer', oneOf('answer', ['accepted', 'declined']))],
});
