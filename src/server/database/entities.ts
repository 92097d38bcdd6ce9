import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

/*
 * Tables as EntitySchema (no decorators). CHECKs, foreign keys and unique indexes mirror the contract's bounds.
 * The care log is the truth; columns that cache something derived from it say so.
 */

export interface Setting {
  key: string;
  value: string;
}
export interface Place {
  id: string;
  name: string;
  note: string;
  position: number;
}
export interface Water {
  id: string;
  name: string;
  note: string;
  position: number;
}
export interface Meter {
  id: string;
  name: string;
  quantity: 'ppm' | 'pH';
  scale: number | null;
  resolution: number;
  device: 'typed' | 'simulated';
  position: number;
}
export interface ToolRow {
  id: string;
  kind: 'dropper' | 'syringe';
  name: string;
  dropsPerMl: number | null;
  capacityMl: number | null;
  stepMl: number | null;
  position: number;
}
export interface Vessel {
  id: string;
  name: string;
  capacityL: number;
  material: string;
  heatProof: boolean;
  position: number;
}
export interface Product {
  id: string;
  name: string;
  shortName: string;
  kind: 'feed' | 'acid' | 'base';
  guessEcPerMlL: number | null;
  label: string;
  caution: string;
  position: number;
}
export interface Bottle {
  id: string;
  productId: string;
  openedOn: string;
  note: string;
  position: number;
}
export interface RegimenRow {
  id: string;
  name: string;
  kind: 'constantDilute';
  params: string;
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
  name: string;
  placeId: string;
  position: number;
  form: 'clay' | 'water' | 'basket';
  stage: 'rooting' | 'growth' | 'rest' | 'spike' | 'bloom';
  clay: string | null;
  reservoirMl: number;
  fillMl: number;
  acquiredOn: string | null;
  note: string;
}
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
  /** Cached: the `undone` event that took this one back. */
  voidedBy: string | null;
}
export interface SimulatedTruth {
  subject: string;
  payload: string;
}

const text: EntitySchemaColumnOptions = { type: 'text' };
const textNull: EntitySchemaColumnOptions = { type: 'text', nullable: true };
const real: EntitySchemaColumnOptions = { type: 'real' };
const realNull: EntitySchemaColumnOptions = { type: 'real', nullable: true };
const int: EntitySchemaColumnOptions = { type: 'integer' };
const pk: EntitySchemaColumnOptions = { type: 'text', primary: true };
const check = (name: string, expression: string) => ({ name: `ck_${name}`, expression });
const fk = (name: string, target: string, column: string) => ({
  name: `fk_${name}`,
  target,
  columnNames: [column],
  referencedColumnNames: ['id'],
  onDelete: 'RESTRICT' as const,
});

export const SettingEntity = new EntitySchema<Setting>({ name: 'setting', tableName: 'setting', columns: { key: pk, value: text } });
export const PlaceEntity = new EntitySchema<Place>({ name: 'place', tableName: 'place', columns: { id: pk, name: text, note: text, position: int } });
export const WaterEntity = new EntitySchema<Water>({ name: 'water', tableName: 'water', columns: { id: pk, name: text, note: text, position: int } });
export const MeterEntity = new EntitySchema<Meter>({
  name: 'meter',
  tableName: 'meter',
  columns: { id: pk, name: text, quantity: text, scale: realNull, resolution: real, device: text, position: int },
  checks: [
    check('meter_quantity', `"quantity" IN ('ppm', 'pH')`),
    check('meter_scale', `"scale" IS NULL OR "scale" > 0`),
    check('meter_device', `"device" IN ('typed', 'simulated')`),
  ],
});
export const ToolEntity = new EntitySchema<ToolRow>({
  name: 'tool',
  tableName: 'tool',
  columns: { id: pk, kind: text, name: text, dropsPerMl: realNull, capacityMl: realNull, stepMl: realNull, position: int },
  checks: [check('tool_kind', `"kind" IN ('dropper', 'syringe')`), check('tool_drops', `"dropsPerMl" IS NULL OR "dropsPerMl" BETWEEN 5 AND 60`)],
});
export const VesselEntity = new EntitySchema<Vessel>({
  name: 'vessel',
  tableName: 'vessel',
  columns: { id: pk, name: text, capacityL: real, material: text, heatProof: { type: 'boolean' }, position: int },
  checks: [check('vessel_capacity', `"capacityL" > 0`)],
});
export const ProductEntity = new EntitySchema<Product>({
  name: 'product',
  tableName: 'product',
  columns: { id: pk, name: text, shortName: text, kind: text, guessEcPerMlL: realNull, label: text, caution: text, position: int },
  checks: [check('product_kind', `"kind" IN ('feed', 'acid', 'base')`), check('product_guess', `"guessEcPerMlL" IS NULL OR "guessEcPerMlL" > 0`)],
});
export const BottleEntity = new EntitySchema<Bottle>({
  name: 'bottle',
  tableName: 'bottle',
  columns: { id: pk, productId: text, openedOn: text, note: text, position: int },
  foreignKeys: [fk('bottle_product', 'product', 'productId')],
});
export const RegimenEntity = new EntitySchema<RegimenRow>({ name: 'regimen', tableName: 'regimen', columns: { id: pk, name: text, kind: text, params: text } });
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
    name: text,
    placeId: text,
    position: int,
    form: text,
    stage: text,
    clay: textNull,
    reservoirMl: real,
    fillMl: real,
    acquiredOn: textNull,
    note: text,
  },
  foreignKeys: [fk('pot_place', 'place', 'placeId')],
  indices: [{ name: 'ux_pot_code', columns: ['code'], unique: true }],
  checks: [
    check('pot_volumes', `"reservoirMl" > 0 AND "fillMl" > 0`),
    check('pot_form', `"form" IN ('clay', 'water', 'basket')`),
    check('pot_stage', `"stage" IN ('rooting', 'growth', 'rest', 'spike', 'bloom')`),
  ],
});
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
  },
  foreignKeys: [fk('care_event_pot', 'pot', 'potId'), fk('care_event_batch', 'batch', 'batchId')],
  indices: [
    { name: 'ux_care_event_id', columns: ['id'], unique: true },
    { name: 'ux_care_event_due', columns: ['dueKey'], unique: true, where: `"dueKey" IS NOT NULL AND "voidedBy" IS NULL` },
    { name: 'ix_care_event_pot', columns: ['potId', 'at'] },
    { name: 'ix_care_event_batch', columns: ['batchId', 'seq'] },
    { name: 'ix_care_event_at', columns: ['at'] },
  ],
  checks: [check('care_event_payload', `json_valid("payload")`)],
});
/** What a simulated pen truly reads. Demo only; read by the devices room alone, never by anything that estimates. */
export const SimulatedTruthEntity = new EntitySchema<SimulatedTruth>({
  name: 'simulated_truth',
  tableName: 'simulated_truth',
  columns: { subject: pk, payload: text },
});

export const ENTITIES = [
  SettingEntity,
  PlaceEntity,
  WaterEntity,
  MeterEntity,
  ToolEntity,
  VesselEntity,
  ProductEntity,
  BottleEntity,
  RegimenEntity,
  PotRegimenEntity,
  PotEntity,
  BatchEntity,
  CareEventEntity,
  SimulatedTruthEntity,
];
