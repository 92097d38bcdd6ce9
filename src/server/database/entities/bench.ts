import { EntitySchema } from 'typeorm';
import { USES, type Use } from '../../../core/strength/index.ts';
import { check, fk, int, oneOf, pk, real, realNull, text, textNull } from './columns.ts';

/* Batches with their parts, recipes and rules of use. Columns that cache something derived from the log say so. */

export interface Batch {
  id: string;
  name: string;
  status: 'open' | 'poured' | 'abandoned';
  mixKey: string | null;
  startedAt: string;
  startedOn: string;
  waterId: string;
  vesselId: string;
  use: Use;
  recipeId: string | null;
  /** Null where it was mixed by measure alone, with no pen. */
  ppmMeterId: string | null;
  phMeterId: string | null;
  toolIds: string;
  volumeL: number;
  /** Net that its parts by pen are meant to bring together; 0 for plain water. */
  netEcUsCm: number;
  phLow: number;
  phHigh: number;
  /** Minutes a soak is held; null where it is not. */
  holdMinutes: number | null;
  byRecipe: boolean;
  /** Pots it is meant for (JSON list of ids). */
  forPots: string;
  /** Cached from the batchPoured event, in its transaction. */
  pouredVolumeL: number | null;
  pouredEcUsCm: number | null;
  pouredPh: number | null;
  /** Cached: what it conducts after its acid, by the chemistry; the aim and the reading are before it. Null where that cannot be told. */
  afterAcidEcUsCm: number | null;
  pouredAt: string | null;
  emptied: boolean;
}
/** One product of a batch with its aim, as it was resolved when the batch was started. */
export interface BatchPart {
  id: string;
  batchId: string;
  position: number;
  bottleId: string;
  /** What was learned holds for this bottle, or this making-up of a stock. */
  source: string;
  /** As it was asked for (JSON of the contract's partAim). */
  asked: string;
  /** By pen: net aim with its band, µS/cm. By measure: null, and units (mL, g) a litre. */
  netEcUsCm: number | null;
  lowEcUsCm: number | null;
  highEcUsCm: number | null;
  hardEcUsCm: number | null;
  unitsPerL: number | null;
  method: 'plain' | 'thinned' | 'stock' | 'granules';
  /** mL of what is in the dropper for one unit of product. */
  mlPerUnit: number;
  /** A stock of a solid (JSON: grams, waterMl; of one made earlier also madeOn and leftMl); null where there is none. */
  stock: string | null;
  /** Why it stands here in the order, and what it may cloud with. */
  reason: string;
  risk: 'none' | 'possible' | 'sure';
  riskWords: string | null;
  /** Cached: what was known of the product after this batch; null where it must be replayed. Replaying a year took 100 ms a look. */
  knownAfter: string | null;
}
/** A mix the grower makes again and again. Changed only through the log. */
export interface RecipeRow {
  id: string;
  name: string;
  use: Use;
  /** JSON of the contract's recipe parts. */
  parts: string;
  waterId: string | null;
  phLow: number;
  phHigh: number;
  holdMinutes: number | null;
  note: string;
  position: number;
  retiredOn: string | null;
}
/** A photo beside a reading of a batch: a JPEG, under the number of the event that kept it. */
export interface Photo {
  id: string;
  jpeg: Buffer;
}
/** What a kind of use starts from, from a moment on; the newest holds. Changed only through the log. */
export interface UseRuleRow {
  id: string;
  use: Use;
  since: string;
  /** JSON of the core's UseRule. */
  rule: string;
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
    use: text,
    recipeId: textNull,
    ppmMeterId: textNull,
    phMeterId: textNull,
    toolIds: text,
    volumeL: real,
    netEcUsCm: real,
    phLow: real,
    phHigh: real,
    holdMinutes: realNull,
    byRecipe: { type: 'boolean' },
    forPots: text,
    pouredVolumeL: realNull,
    pouredEcUsCm: realNull,
    pouredPh: realNull,
    afterAcidEcUsCm: realNull,
    pouredAt: textNull,
    emptied: { type: 'boolean' },
  },
  foreignKeys: [
    fk('batch_water', 'water', 'waterId'),
    fk('batch_vessel', 'vessel', 'vesselId'),
    fk('batch_recipe', 'recipe', 'recipeId'),
    fk('batch_ppm', 'meter', 'ppmMeterId'),
    fk('batch_ph', 'meter', 'phMeterId'),
  ],
  indices: [
    { name: 'ix_batch_recipe', columns: ['recipeId', 'startedAt'] },
    { name: 'ix_batch_mix', columns: ['mixKey', 'startedAt'] },
    { name: 'ix_batch_started', columns: ['startedAt'] },
  ],
  checks: [
    check('batch_status', `"status" IN ('open', 'poured', 'abandoned')`),
    check('batch_volume', `"volumeL" > 0 AND "volumeL" <= 1000`),
    check('batch_use', oneOf('use', USES)),
    check('batch_ph', `"phLow" <= "phHigh"`),
    check('batch_aim', `"netEcUsCm" >= 0`),
    check('batch_hold', `"holdMinutes" IS NULL OR "holdMinutes" > 0`),
    check('batch_pots', `json_valid("forPots")`),
  ],
});
export const BatchPartEntity = new EntitySchema<BatchPart>({
  name: 'batch_part',
  tableName: 'batch_part',
  columns: {
    id: pk,
    batchId: text,
    position: int,
    bottleId: text,
    source: text,
    asked: text,
    netEcUsCm: realNull,
    lowEcUsCm: realNull,
    highEcUsCm: realNull,
    hardEcUsCm: realNull,
    unitsPerL: realNull,
    method: text,
    mlPerUnit: real,
    stock: textNull,
    reason: text,
    risk: text,
    riskWords: textNull,
    knownAfter: textNull,
  },
  foreignKeys: [fk('batch_part_batch', 'batch', 'batchId'), fk('batch_part_bottle', 'bottle', 'bottleId')],
  indices: [
    { name: 'ux_batch_part', columns: ['batchId', 'position'], unique: true },
    { name: 'ix_batch_part_bottle', columns: ['bottleId', 'batchId'] },
  ],
  checks: [
    check(
      'batch_part_aim',
      `("unitsPerL" > 0 AND "netEcUsCm" IS NULL) OR ("unitsPerL" IS NULL AND "lowEcUsCm" > 0 AND "lowEcUsCm" <= "netEcUsCm" AND "netEcUsCm" <= "highEcUsCm" AND "highEcUsCm" <= "hardEcUsCm")`,
    ),
    check('batch_part_method', oneOf('method', ['plain', 'thinned', 'stock', 'granules'])),
    check('batch_part_thin', `"mlPerUnit" >= 1`),
    check('batch_part_risk', oneOf('risk', ['none', 'possible', 'sure'])),
    check('batch_part_json', `json_valid("asked") AND ("stock" IS NULL OR json_valid("stock"))`),
  ],
});
export const RecipeEntity = new EntitySchema<RecipeRow>({
  name: 'recipe',
  tableName: 'recipe',
  columns: {
    id: pk,
    name: text,
    use: text,
    parts: text,
    waterId: textNull,
    phLow: real,
    phHigh: real,
    holdMinutes: realNull,
    note: text,
    position: int,
    retiredOn: textNull,
  },
  foreignKeys: [fk('recipe_water', 'water', 'waterId')],
  checks: [
    check('recipe_use', oneOf('use', USES)),
    check('recipe_parts', `json_valid("parts")`),
    check('recipe_ph', `"phLow" < "phHigh"`),
  ],
});
export const UseRuleEntity = new EntitySchema<UseRuleRow>({
  name: 'use_rule',
  tableName: 'use_rule',
  columns: { id: pk, use: text, since: text, rule: text },
  indices: [{ name: 'ix_use_rule', columns: ['use', 'since'] }],
  checks: [check('use_rule_use', oneOf('use', USES)), check('use_rule_json', `json_valid("rule")`)],
});
export const PhotoEntity = new EntitySchema<Photo>({
  name: 'photo',
  tableName: 'photo',
  columns: { id: pk, jpeg: { type: 'blob' } },
});
