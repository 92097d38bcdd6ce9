import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Tables made anew beside the old one, filled from it, and given its name (foreign keys are off while migrating). */
const REBUILDS = [
  {
    table: 'water',
    create: `CREATE TABLE "water_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "position" integer NOT NULL, "kind" text NOT NULL, "tankL" real, "perDayL" real, "chlorine" text NOT NULL DEFAULT ('unknown'), "costPerL" real, "known" text, "retiredOn" text, CONSTRAINT "ck_water_kind" CHECK ("kind" IN ('still', 'tap', 'rain', 'other')), CONSTRAINT "ck_water_stock" CHECK (("tankL" IS NULL OR "tankL" > 0) AND ("perDayL" IS NULL OR "perDayL" >= 0)), CONSTRAINT "ck_water_chlorine" CHECK ("chlorine" IN ('unknown', 'none', 'chlorine', 'chloramine')), CONSTRAINT "ck_water_cost" CHECK ("costPerL" IS NULL OR "costPerL" >= 0), CONSTRAINT "ck_water_known" CHECK ("known" IS NULL OR json_valid("known")))`,
    columns: 'id, name, note, position, kind, tankL, perDayL, chlorine, costPerL, known, retiredOn',
    from: `id, name, note, position, kind, tankL, perDayL, 'unknown', NULL, NULL, retiredOn`,
  },
  {
    table: 'meter',
    create: `CREATE TABLE "meter_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "kind" text NOT NULL DEFAULT ('pen'), "quantity" text NOT NULL, "unit" text NOT NULL DEFAULT ('ppm'), "scale" real, "scaleFrom" text, "resolution" real NOT NULL, "compensated" boolean NOT NULL DEFAULT (1), "checkEveryDays" real NOT NULL DEFAULT (30), "condition" text NOT NULL DEFAULT ('fine'), "device" text NOT NULL, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_meter_quantity" CHECK ("quantity" IN ('ppm', 'pH')), CONSTRAINT "ck_meter_scale" CHECK ("scale" IS NULL OR "scale" > 0), CONSTRAINT "ck_meter_scale_from" CHECK ("scaleFrom" IS NULL OR "scaleFrom" IN ('label', 'standard', 'guess')), CONSTRAINT "ck_meter_kind" CHECK ("kind" IN ('pen', 'kit')), CONSTRAINT "ck_meter_unit" CHECK ("unit" IN ('ppm', 'mS/cm', 'µS/cm')), CONSTRAINT "ck_meter_checks" CHECK ("checkEveryDays" > 0), CONSTRAINT "ck_meter_condition" CHECK ("condition" IN ('fine', 'battery', 'probe')), CONSTRAINT "ck_meter_device" CHECK ("device" IN ('typed', 'simulated')))`,
    columns:
      'id, name, kind, quantity, unit, scale, scaleFrom, resolution, compensated, checkEveryDays, condition, device, position, retiredOn',
    from: `id, name, 'pen', quantity, 'ppm', scale, scaleFrom, resolution, 1, 30, 'fine', device, position, retiredOn`,
  },
  {
    table: 'product',
    create: `CREATE TABLE "product_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "shortName" text NOT NULL, "kind" text NOT NULL, "guessEcPerMlL" real, "recipe" text, "label" text NOT NULL, "analysis" text, "hydroponics" text NOT NULL DEFAULT ('unsaid'), "topDoseMlL" real, "longestDays" real, "slowsGrowth" boolean NOT NULL DEFAULT (0), "caution" text NOT NULL, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_product_kind" CHECK ("kind" IN ('feed', 'calmag', 'magnesium', 'silicate', 'acid', 'base', 'living', 'other')), CONSTRAINT "ck_product_guess" CHECK ("guessEcPerMlL" IS NULL OR "guessEcPerMlL" > 0), CONSTRAINT "ck_product_analysis" CHECK ("analysis" IS NULL OR json_valid("analysis")), CONSTRAINT "ck_product_hydroponics" CHECK ("hydroponics" IN ('yes', 'unsaid', 'no')), CONSTRAINT "ck_product_limits" CHECK (("topDoseMlL" IS NULL OR "topDoseMlL" > 0) AND ("longestDays" IS NULL OR "longestDays" > 0)), CONSTRAINT "ck_product_recipe" CHECK ("recipe" IS NULL OR json_valid("recipe")))`,
    columns:
      'id, name, shortName, kind, guessEcPerMlL, recipe, label, analysis, hydroponics, topDoseMlL, longestDays, slowsGrowth, caution, position, retiredOn',
    from: `id, name, shortName, kind, guessEcPerMlL, recipe, label, NULL, 'unsaid', NULL, NULL, 0, caution, position, retiredOn`,
  },
];
const STATEMENTS = [
  `ALTER TABLE "bottle" ADD COLUMN "sizeMl" real`,
  `ALTER TABLE "bottle" ADD COLUMN "price" real`,
  `ALTER TABLE "batch" ADD COLUMN "afterAcidEcUsCm" real`,
];

/** Waters, instruments and products as the chemistry needs them: analyses, labels, condition and checks of pens. */
export class Chemistry1764200000000 implements MigrationInterface {
  name = 'Chemistry1764200000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const { table, create, columns, from } of REBUILDS) {
      await runner.query(create);
      await runner.query(`INSERT INTO "${table}_next" (${columns}) SELECT ${from} FROM "${table}"`);
      await runner.query(`DROP TABLE "${table}"`);
      await runner.query(`ALTER TABLE "${table}_next" RENAME TO "${table}"`);
    }
    for (const statement of STATEMENTS) await runner.query(statement);
    const broken = (await runner.query('PRAGMA foreign_key_check')) as unknown[];
    if (broken.length > 0)
      throw new Error('The collection could not be brought to this version: some of its rows point nowhere.');
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
