import { EntitySchema } from 'typeorm';
import {
  CHLORINES,
  HYDROPONICS,
  METER_CONDITIONS,
  METER_DEVICES,
  METER_KINDS,
  METER_UNITS,
  PRODUCT_KINDS,
  SCALE_SOURCES,
  TOOL_KINDS,
  WATER_KINDS,
  type Chlorine,
  type MeterCondition,
  type MeterUnit,
  type ProductKind,
  type ScaleSource,
  type ToolKind,
  type WaterKind,
} from '../../../contract/kinds.ts';
import { check, fk, int, oneOf, pk, real, realNull, text, textNull } from './columns.ts';

/* What stands on the Shelf. `retiredOn` takes a thing out of choice and leaves history as it was. */

export interface Water {
  id: string;
  name: string;
  note: string;
  position: number;
  kind: WaterKind;
  /** A tank this water is kept in, and what is made per day; null where it comes as it is wanted. */
  tankL: number | null;
  perDayL: number | null;
  chlorine: Chlorine;
  costPerL: number | null;
  /** Alkalinity and hardness by kit, or a whole analysis (JSON); null where nobody tested. */
  known: string | null;
  retiredOn: string | null;
}
export interface Meter {
  id: string;
  name: string;
  kind: (typeof METER_KINDS)[number];
  quantity: 'ppm' | 'pH';
  unit: MeterUnit;
  /** Display per µS/cm. */
  scale: number | null;
  /** How the scale is known: printed on the pen, found with a standard, or a guess. */
  scaleFrom: ScaleSource | null;
  resolution: number;
  /** Brings its reading to 25 °C by itself. */
  compensated: boolean;
  checkEveryDays: number;
  condition: MeterCondition;
  device: 'typed' | 'simulated';
  position: number;
  retiredOn: string | null;
}
export interface ToolRow {
  id: string;
  kind: ToolKind;
  name: string;
  dropsPerMl: number | null;
  /** A syringe or a spoon, full; null for a spoon nobody measured. */
  capacityMl: number | null;
  stepMl: number | null;
  /** A scale's smallest step. */
  stepG: number | null;
  position: number;
  retiredOn: string | null;
}
export interface Vessel {
  id: string;
  name: string;
  capacityL: number;
  material: string;
  heatProof: boolean;
  position: number;
  retiredOn: string | null;
}
export interface Product {
  id: string;
  name: string;
  shortName: string;
  kind: ProductKind;
  guessEcPerMlL: number | null;
  /** "So much gave so much" as the grower put it (JSON); `guessEcPerMlL` follows from it where it can be scaled. */
  recipe: string | null;
  label: string;
  /** The label's figures (JSON), as it declares them. */
  analysis: string | null;
  hydroponics: (typeof HYDROPONICS)[number];
  /** By the label: at most so much in a litre, at most so many days running. */
  topDoseMlL: number | null;
  longestDays: number | null;
  slowsGrowth: boolean;
  caution: string;
  position: number;
  retiredOn: string | null;
}
export interface Bottle {
  id: string;
  productId: string;
  openedOn: string;
  note: string;
  sizeMl: number | null;
  price: number | null;
  position: number;
  finishedOn: string | null;
}

export const WaterEntity = new EntitySchema<Water>({
  name: 'water',
  tableName: 'water',
  columns: {
    id: pk,
    name: text,
    note: text,
    position: int,
    kind: text,
    tankL: realNull,
    perDayL: realNull,
    chlorine: { type: 'text', default: 'unknown' },
    costPerL: realNull,
    known: textNull,
    retiredOn: textNull,
  },
  checks: [
    check('water_kind', oneOf('kind', WATER_KINDS)),
    check('water_stock', `("tankL" IS NULL OR "tankL" > 0) AND ("perDayL" IS NULL OR "perDayL" >= 0)`),
    check('water_chlorine', oneOf('chlorine', CHLORINES)),
    check('water_cost', `"costPerL" IS NULL OR "costPerL" >= 0`),
    check('water_known', `"known" IS NULL OR json_valid("known")`),
  ],
});
export const MeterEntity = new EntitySchema<Meter>({
  name: 'meter',
  tableName: 'meter',
  columns: {
    id: pk,
    name: text,
    kind: { type: 'text', default: 'pen' },
    quantity: text,
    unit: { type: 'text', default: 'ppm' },
    scale: realNull,
    scaleFrom: textNull,
    resolution: real,
    compensated: { type: 'boolean', default: true },
    checkEveryDays: { type: 'real', default: 30 },
    condition: { type: 'text', default: 'fine' },
    device: text,
    position: int,
    retiredOn: textNull,
  },
  checks: [
    check('meter_quantity', `"quantity" IN ('ppm', 'pH')`),
    check('meter_scale', `"scale" IS NULL OR "scale" > 0`),
    check('meter_scale_from', `"scaleFrom" IS NULL OR ${oneOf('scaleFrom', SCALE_SOURCES)}`),
    check('meter_kind', oneOf('kind', METER_KINDS)),
    check('meter_unit', oneOf('unit', METER_UNITS)),
    check('meter_checks', `"checkEveryDays" > 0`),
    check('meter_condition', oneOf('condition', METER_CONDITIONS)),
    check('meter_device', oneOf('device', METER_DEVICES)),
  ],
});
export const ToolEntity = new EntitySchema<ToolRow>({
  name: 'tool',
  tableName: 'tool',
  columns: {
    id: pk,
    kind: text,
    name: text,
    dropsPerMl: realNull,
    capacityMl: realNull,
    stepMl: realNull,
    stepG: realNull,
    position: int,
    retiredOn: textNull,
  },
  checks: [
    check('tool_kind', oneOf('kind', TOOL_KINDS)),
    check('tool_drops', `"dropsPerMl" IS NULL OR "dropsPerMl" BETWEEN 5 AND 60`),
    check(
      'tool_sizes',
      `("capacityMl" IS NULL OR "capacityMl" > 0) AND ("stepMl" IS NULL OR "stepMl" > 0) AND ("stepG" IS NULL OR "stepG" > 0)`,
    ),
  ],
});
export const VesselEntity = new EntitySchema<Vessel>({
  name: 'vessel',
  tableName: 'vessel',
  columns: {
    id: pk,
    name: text,
    capacityL: real,
    material: text,
    heatProof: { type: 'boolean' },
    position: int,
    retiredOn: textNull,
  },
  checks: [check('vessel_capacity', `"capacityL" > 0`)],
});
export const ProductEntity = new EntitySchema<Product>({
  name: 'product',
  tableName: 'product',
  columns: {
    id: pk,
    name: text,
    shortName: text,
    kind: text,
    guessEcPerMlL: realNull,
    recipe: textNull,
    label: text,
    analysis: textNull,
    hydroponics: { type: 'text', default: 'unsaid' },
    topDoseMlL: realNull,
    longestDays: realNull,
    slowsGrowth: { type: 'boolean', default: false },
    caution: text,
    position: int,
    retiredOn: textNull,
  },
  checks: [
    check('product_kind', oneOf('kind', PRODUCT_KINDS)),
    check('product_guess', `"guessEcPerMlL" IS NULL OR "guessEcPerMlL" > 0`),
    check('product_analysis', `"analysis" IS NULL OR json_valid("analysis")`),
    check('product_hydroponics', oneOf('hydroponics', HYDROPONICS)),
    check(
      'product_limits',
      `("topDoseMlL" IS NULL OR "topDoseMlL" > 0) AND ("longestDays" IS NULL OR "longestDays" > 0)`,
    ),
    check('product_recipe', `"recipe" IS NULL OR json_valid("recipe")`),
  ],
});
export const BottleEntity = new EntitySchema<Bottle>({
  name: 'bottle',
  tableName: 'bottle',
  columns: {
    id: pk,
    productId: text,
    openedOn: text,
    note: text,
    sizeMl: realNull,
    price: realNull,
    position: int,
    finishedOn: textNull,
  },
  foreignKeys: [fk('bottle_product', 'product', 'productId')],
  indices: [{ name: 'ix_bottle_product', columns: ['productId'] }],
});
