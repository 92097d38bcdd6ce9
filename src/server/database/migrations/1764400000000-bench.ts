import type { MigrationInterface, QueryRunner } from 'typeorm';

const CREATE = [
  `CREATE TABLE "recipe" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "use" text NOT NULL, "parts" text NOT NULL, "waterId" text, "phLow" real NOT NULL, "phHigh" real NOT NULL, "holdMinutes" real, "note" text NOT NULL, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_recipe_use" CHECK ("use" IN ('feed', 'soak', 'spray', 'water')), CONSTRAINT "ck_recipe_parts" CHECK (json_valid("parts")), CONSTRAINT "ck_recipe_ph" CHECK ("phLow" < "phHigh"), CONSTRAINT "fk_recipe_water" FOREIGN KEY ("waterId") REFERENCES "water" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "use_rule" ("id" text PRIMARY KEY NOT NULL, "use" text NOT NULL, "since" text NOT NULL, "rule" text NOT NULL, CONSTRAINT "ck_use_rule_use" CHECK ("use" IN ('feed', 'soak', 'spray', 'water')), CONSTRAINT "ck_use_rule_json" CHECK (json_valid("rule")))`,
  `CREATE TABLE "batch_part" ("id" text PRIMARY KEY NOT NULL, "batchId" text NOT NULL, "position" integer NOT NULL, "bottleId" text NOT NULL, "source" text NOT NULL, "asked" text NOT NULL, "netEcUsCm" real, "lowEcUsCm" real, "highEcUsCm" real, "hardEcUsCm" real, "unitsPerL" real, "method" text NOT NULL, "mlPerUnit" real NOT NULL, "stock" text, "reason" text NOT NULL, "risk" text NOT NULL, "riskWords" text, "knownAfter" text, CONSTRAINT "ck_batch_part_aim" CHECK (("unitsPerL" > 0 AND "netEcUsCm" IS NULL) OR ("unitsPerL" IS NULL AND "lowEcUsCm" > 0 AND "lowEcUsCm" <= "netEcUsCm" AND "netEcUsCm" <= "highEcUsCm" AND "highEcUsCm" <= "hardEcUsCm")), CONSTRAINT "ck_batch_part_method" CHECK ("method" IN ('plain', 'thinned', 'stock', 'granules')), CONSTRAINT "ck_batch_part_thin" CHECK ("mlPerUnit" >= 1), CONSTRAINT "ck_batch_part_risk" CHECK ("risk" IN ('none', 'possible', 'sure')), CONSTRAINT "ck_batch_part_json" CHECK (json_valid("asked") AND ("stock" IS NULL OR json_valid("stock"))), CONSTRAINT "fk_batch_part_batch" FOREIGN KEY ("batchId") REFERENCES "batch" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_part_bottle" FOREIGN KEY ("bottleId") REFERENCES "bottle" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
];
const BATCH = `CREATE TABLE "batch_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "status" text NOT NULL, "mixKey" text, "startedAt" text NOT NULL, "startedOn" text NOT NULL, "waterId" text NOT NULL, "vesselId" text NOT NULL, "use" text NOT NULL, "recipeId" text, "ppmMeterId" text NOT NULL, "phMeterId" text, "toolIds" text NOT NULL, "volumeL" real NOT NULL, "netEcUsCm" real NOT NULL, "phLow" real NOT NULL, "phHigh" real NOT NULL, "holdMinutes" real, "byRecipe" boolean NOT NULL, "forPots" text NOT NULL, "pouredVolumeL" real, "pouredEcUsCm" real, "pouredPh" real, "afterAcidEcUsCm" real, "pouredAt" text, "emptied" boolean NOT NULL, CONSTRAINT "ck_batch_status" CHECK ("status" IN ('open', 'poured', 'abandoned')), CONSTRAINT "ck_batch_volume" CHECK ("volumeL" > 0 AND "volumeL" <= 1000), CONSTRAINT "ck_batch_use" CHECK ("use" IN ('feed', 'soak', 'spray', 'water')), CONSTRAINT "ck_batch_ph" CHECK ("phLow" <= "phHigh"), CONSTRAINT "ck_batch_aim" CHECK ("netEcUsCm" >= 0), CONSTRAINT "ck_batch_hold" CHECK ("holdMinutes" IS NULL OR "holdMinutes" > 0), CONSTRAINT "ck_batch_pots" CHECK (json_valid("forPots")), CONSTRAINT "fk_batch_water" FOREIGN KEY ("waterId") REFERENCES "water" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_vessel" FOREIGN KEY ("vesselId") REFERENCES "vessel" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_recipe" FOREIGN KEY ("recipeId") REFERENCES "recipe" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_ppm" FOREIGN KEY ("ppmMeterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_ph" FOREIGN KEY ("phMeterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`;
const MOVE = [
  // The band of every batch so far was a feed's: −10 %, +20 %, limit +40 %.
  `INSERT INTO "batch_part" SELECT id || ':0', id, 0, bottleId, bottleId, json_object('kind', 'ec', 'ecUsCm', netEcUsCm), netEcUsCm, netEcUsCm * 0.9, netEcUsCm * 1.2, netEcUsCm * 1.4, NULL, CASE WHEN thinRatio > 1 THEN 'thinned' ELSE 'plain' END, thinRatio, NULL, '', 'none', NULL, CASE WHEN knownAfter IS NULL THEN NULL ELSE json_remove(json_set(knownAfter, '$.source', json_extract(knownAfter, '$.bottleId')), '$.bottleId') END FROM "batch"`,
  `INSERT INTO "batch_next" SELECT id, name, status, mixKey, startedAt, startedOn, waterId, vesselId, 'feed', NULL, ppmMeterId, phMeterId, toolIds, volumeL, netEcUsCm, phLow, phHigh, NULL, 0, '[]', pouredVolumeL, pouredEcUsCm, pouredPh, afterAcidEcUsCm, pouredAt, emptied FROM "batch"`,
  `DROP TABLE "batch"`,
  `ALTER TABLE "batch_next" RENAME TO "batch"`,
  `CREATE INDEX "ix_batch_recipe" ON "batch" ("recipeId", "startedAt")`,
  `CREATE INDEX "ix_batch_mix" ON "batch" ("mixKey", "startedAt")`,
  `CREATE INDEX "ix_batch_started" ON "batch" ("startedAt")`,
  `CREATE UNIQUE INDEX "ux_batch_part" ON "batch_part" ("batchId", "position")`,
  `CREATE INDEX "ix_batch_part_bottle" ON "batch_part" ("bottleId", "batchId")`,
  `CREATE INDEX "ix_use_rule" ON "use_rule" ("use", "since")`,
  // Acts logged so far were of the first part; drops become a dose with its volume as the dropper is known now.
  `UPDATE "care_event" SET payload = json_set(payload, '$.part', 0, '$.byRecipe', json('false')) WHERE kind = 'batchPortion'`,
  `UPDATE "care_event" SET payload = json_set(payload, '$.thoughtEcUsCm', NULL, '$.confirmedOdd', json('false')) WHERE kind = 'batchBase'`,
  `UPDATE "care_event" SET payload = json_set(payload, '$.to', '', '$.keepAs', NULL) WHERE kind = 'batchThinned'`,
  `UPDATE "care_event" SET payload = json_remove(json_set(payload, '$.ratio', 1, '$.dose', json_object(
      'toolId', json_extract(payload, '$.toolId'), 'steps', json_extract(payload, '$.drops'),
      'doseMl', json_extract(payload, '$.drops') / coalesce((SELECT t.dropsPerMl FROM tool t WHERE t.id = json_extract(payload, '$.toolId')), 20.0),
      'relativeSd', CASE WHEN (SELECT t.dropsPerMl FROM tool t WHERE t.id = json_extract(payload, '$.toolId')) IS NULL THEN 0.2 ELSE 0.05 END)),
      '$.toolId', '$.drops') WHERE kind = 'batchCorrection' AND json_extract(payload, '$.drops') IS NOT NULL`,
];

/** Batches of any number of parts, recipes, and rules of use. */
export class Bench1764400000000 implements MigrationInterface {
  name = 'Bench1764400000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of [...CREATE, BATCH, ...MOVE]) await runner.query(statement);
    const broken = (await runner.query('PRAGMA foreign_key_check')) as unknown[];
    if (broken.length > 0)
      throw new Error('The collection could not be brought to this version: some of its rows point nowhere.');
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
