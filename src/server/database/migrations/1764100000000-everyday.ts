import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Tables whose CHECKs or columns change are made anew beside the old one, filled from it, and take its name (foreign keys are off while migrating). */
const REBUILDS = [
  {
    table: 'place',
    create: `CREATE TABLE "place_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "light" text, "position" real NOT NULL, "retiredOn" text, CONSTRAINT "ck_place_light" CHECK ("light" IS NULL OR "light" IN ('bright', 'medium', 'low', 'lamps', 'outdoors')))`,
    columns: 'id, name, note, light, position, retiredOn',
    from: `id, name, note, NULL, position, NULL`,
  },
  {
    table: 'water',
    create: `CREATE TABLE "water_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "position" integer NOT NULL, "kind" text NOT NULL, "tankL" real, "perDayL" real, "retiredOn" text, CONSTRAINT "ck_water_kind" CHECK ("kind" IN ('still', 'tap', 'rain', 'other')), CONSTRAINT "ck_water_stock" CHECK (("tankL" IS NULL OR "tankL" > 0) AND ("perDayL" IS NULL OR "perDayL" >= 0)))`,
    columns: 'id, name, note, position, kind, tankL, perDayL, retiredOn',
    from: `id, name, note, position, 'other', NULL, NULL, NULL`,
  },
  {
    table: 'meter',
    create: `CREATE TABLE "meter_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "quantity" text NOT NULL, "scale" real, "scaleFrom" text, "resolution" real NOT NULL, "device" text NOT NULL, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_meter_quantity" CHECK ("quantity" IN ('ppm', 'pH')), CONSTRAINT "ck_meter_scale" CHECK ("scale" IS NULL OR "scale" > 0), CONSTRAINT "ck_meter_scale_from" CHECK ("scaleFrom" IS NULL OR "scaleFrom" IN ('label', 'standard', 'guess')), CONSTRAINT "ck_meter_device" CHECK ("device" IN ('typed', 'simulated')))`,
    columns: 'id, name, quantity, scale, scaleFrom, resolution, device, position, retiredOn',
    from: `id, name, quantity, scale, CASE WHEN scale IS NULL THEN NULL ELSE 'label' END, resolution, device, position, NULL`,
  },
  {
    table: 'tool',
    create: `CREATE TABLE "tool_next" ("id" text PRIMARY KEY NOT NULL, "kind" text NOT NULL, "name" text NOT NULL, "dropsPerMl" real, "capacityMl" real, "stepMl" real, "stepG" real, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_tool_kind" CHECK ("kind" IN ('dropper', 'syringe', 'spoon', 'scale')), CONSTRAINT "ck_tool_drops" CHECK ("dropsPerMl" IS NULL OR "dropsPerMl" BETWEEN 5 AND 60), CONSTRAINT "ck_tool_sizes" CHECK (("capacityMl" IS NULL OR "capacityMl" > 0) AND ("stepMl" IS NULL OR "stepMl" > 0) AND ("stepG" IS NULL OR "stepG" > 0)))`,
    columns: 'id, kind, name, dropsPerMl, capacityMl, stepMl, stepG, position, retiredOn',
    from: `id, kind, name, dropsPerMl, capacityMl, stepMl, NULL, position, NULL`,
  },
  {
    table: 'product',
    create: `CREATE TABLE "product_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "shortName" text NOT NULL, "kind" text NOT NULL, "guessEcPerMlL" real, "recipe" text, "label" text NOT NULL, "caution" text NOT NULL, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_product_kind" CHECK ("kind" IN ('feed', 'calmag', 'magnesium', 'silicate', 'acid', 'base', 'other')), CONSTRAINT "ck_product_guess" CHECK ("guessEcPerMlL" IS NULL OR "guessEcPerMlL" > 0), CONSTRAINT "ck_product_recipe" CHECK ("recipe" IS NULL OR json_valid("recipe")))`,
    columns: 'id, name, shortName, kind, guessEcPerMlL, recipe, label, caution, position, retiredOn',
    from: `id, name, shortName, kind, guessEcPerMlL, NULL, label, caution, position, NULL`,
  },
  {
    table: 'pot',
    create: `CREATE TABLE "pot_next" ("id" text PRIMARY KEY NOT NULL, "code" text NOT NULL, "plant" text NOT NULL, "name" text NOT NULL, "placeId" text NOT NULL, "spot" text NOT NULL, "position" real NOT NULL, "medium" text NOT NULL, "stage" text NOT NULL, "clay" text, "clayL" real, "brimMl" real, "reservoirMl" real NOT NULL, "fillMl" real NOT NULL, "heightCm" real, "habit" text, "sensitivity" text NOT NULL, "origin" text NOT NULL, "acquiredOn" text, "repottedOn" text, "note" text NOT NULL, "retiredOn" text, "became" text NOT NULL, CONSTRAINT "ck_pot_volumes" CHECK ("reservoirMl" > 0 AND "fillMl" > 0 AND ("brimMl" IS NULL OR "brimMl" >= "reservoirMl") AND ("clayL" IS NULL OR "clayL" > 0)), CONSTRAINT "ck_pot_medium" CHECK ("medium" IN ('clay', 'water', 'bark', 'basket')), CONSTRAINT "ck_pot_stage" CHECK ("stage" IN ('rooting', 'growth', 'rest', 'spike', 'bloom')), CONSTRAINT "ck_pot_habit" CHECK ("habit" IS NULL OR "habit" IN ('clump', 'creeping', 'crown', 'cane', 'vine', 'bushy')), CONSTRAINT "ck_pot_sensitivity" CHECK ("sensitivity" IN ('tender', 'usual', 'hardy')), CONSTRAINT "fk_pot_place" FOREIGN KEY ("placeId") REFERENCES "place" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
    columns:
      'id, code, plant, name, placeId, spot, position, medium, stage, clay, clayL, brimMl, reservoirMl, fillMl, heightCm, habit, sensitivity, origin, acquiredOn, repottedOn, note, retiredOn, became',
    from: `id, code, name, '', placeId, '', position, form, stage, clay, NULL, NULL, reservoirMl, fillMl, NULL, NULL, 'usual', '', acquiredOn, NULL, note, NULL, ''`,
  },
];
const STATEMENTS = [
  `ALTER TABLE "vessel" ADD COLUMN "retiredOn" text`,
  `ALTER TABLE "regimen" ADD COLUMN "retiredOn" text`,
  `ALTER TABLE "bottle" ADD COLUMN "finishedOn" text`,
  `ALTER TABLE "care_event" ADD COLUMN "corrects" text`,
  `ALTER TABLE "care_event" ADD COLUMN "standsAt" integer`,
  `CREATE TABLE "session" ("tokenHash" text PRIMARY KEY NOT NULL, "device" text NOT NULL, "startedAt" text NOT NULL, "lastSeenAt" text NOT NULL)`,
  `CREATE TABLE "event_touch" ("subject" text NOT NULL, "eventId" text NOT NULL, PRIMARY KEY ("subject", "eventId"))`,
  `CREATE TABLE "planned_act" ("id" text PRIMARY KEY NOT NULL, "subjectKind" text NOT NULL, "subjectId" text, "words" text NOT NULL, "onDate" text NOT NULL, "origin" text NOT NULL, "originId" text, "doneOn" text, "droppedOn" text, CONSTRAINT "ck_planned_act_subject" CHECK ("subjectKind" IN ('pot', 'batch', 'water', 'collection')), CONSTRAINT "ck_planned_act_origin" CHECK ("origin" IN ('grower', 'round', 'bench', 'clay', 'season', 'shelf')))`,
  `CREATE TABLE "clock" ("id" text PRIMARY KEY NOT NULL, "subjectKind" text NOT NULL, "subjectId" text, "words" text NOT NULL, "startedAt" text NOT NULL, "endsAt" text NOT NULL, "origin" text NOT NULL, "stoppedAt" text, CONSTRAINT "ck_clock_subject" CHECK ("subjectKind" IN ('pot', 'batch', 'water', 'collection')), CONSTRAINT "ck_clock_origin" CHECK ("origin" IN ('grower', 'round', 'bench', 'clay', 'season', 'shelf')), CONSTRAINT "ck_clock_times" CHECK ("endsAt" >= "startedAt"))`,
  `CREATE UNIQUE INDEX "ux_pot_code" ON "pot" ("code") WHERE "retiredOn" IS NULL`,
  `CREATE INDEX "ix_pot_place" ON "pot" ("placeId", "position")`,
  `CREATE INDEX "ix_bottle_product" ON "bottle" ("productId")`,
  `CREATE INDEX "ix_batch_started" ON "batch" ("startedAt")`,
  `CREATE INDEX "ix_care_event_kind" ON "care_event" ("kind", "at")`,
  `CREATE INDEX "ix_planned_act_open" ON "planned_act" ("onDate") WHERE "doneOn" IS NULL AND "droppedOn" IS NULL`,
  `CREATE INDEX "ix_clock_running" ON "clock" ("endsAt") WHERE "stoppedAt" IS NULL`,
];

/** Everyday ground: full pots and Shelf, retiring instead of deleting, corrections, plans, clocks and let-in devices. */
export class Everyday1764100000000 implements MigrationInterface {
  name = 'Everyday1764100000000';

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
