import type { MigrationInterface, QueryRunner } from 'typeorm';

const STATEMENTS = [
  `CREATE TABLE "setting" ("key" text PRIMARY KEY NOT NULL, "value" text NOT NULL)`,
  `CREATE TABLE "place" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "position" integer NOT NULL)`,
  `CREATE TABLE "water" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "position" integer NOT NULL)`,
  `CREATE TABLE "meter" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "quantity" text NOT NULL, "scale" real, "resolution" real NOT NULL, "device" text NOT NULL, "position" integer NOT NULL, CONSTRAINT "ck_meter_quantity" CHECK ("quantity" IN ('ppm', 'pH')), CONSTRAINT "ck_meter_scale" CHECK ("scale" IS NULL OR "scale" > 0), CONSTRAINT "ck_meter_device" CHECK ("device" IN ('typed', 'simulated')))`,
  `CREATE TABLE "tool" ("id" text PRIMARY KEY NOT NULL, "kind" text NOT NULL, "name" text NOT NULL, "dropsPerMl" real, "capacityMl" real, "stepMl" real, "position" integer NOT NULL, CONSTRAINT "ck_tool_kind" CHECK ("kind" IN ('dropper', 'syringe')), CONSTRAINT "ck_tool_drops" CHECK ("dropsPerMl" IS NULL OR "dropsPerMl" BETWEEN 5 AND 60))`,
  `CREATE TABLE "vessel" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "capacityL" real NOT NULL, "material" text NOT NULL, "heatProof" boolean NOT NULL, "position" integer NOT NULL, CONSTRAINT "ck_vessel_capacity" CHECK ("capacityL" > 0))`,
  `CREATE TABLE "product" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "shortName" text NOT NULL, "kind" text NOT NULL, "guessEcPerMlL" real, "label" text NOT NULL, "caution" text NOT NULL, "position" integer NOT NULL, CONSTRAINT "ck_product_kind" CHECK ("kind" IN ('feed', 'acid', 'base')), CONSTRAINT "ck_product_guess" CHECK ("guessEcPerMlL" IS NULL OR "guessEcPerMlL" > 0))`,
  `CREATE TABLE "bottle" ("id" text PRIMARY KEY NOT NULL, "productId" text NOT NULL, "openedOn" text NOT NULL, "note" text NOT NULL, "position" integer NOT NULL, CONSTRAINT "fk_bottle_product" FOREIGN KEY ("productId") REFERENCES "product" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "regimen" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "kind" text NOT NULL, "params" text NOT NULL)`,
  `CREATE TABLE "pot" ("id" text PRIMARY KEY NOT NULL, "code" text NOT NULL, "name" text NOT NULL, "placeId" text NOT NULL, "position" integer NOT NULL, "form" text NOT NULL, "stage" text NOT NULL, "clay" text, "reservoirMl" real NOT NULL, "fillMl" real NOT NULL, "acquiredOn" text, "note" text NOT NULL, CONSTRAINT "ck_pot_volumes" CHECK ("reservoirMl" > 0 AND "fillMl" > 0), CONSTRAINT "ck_pot_form" CHECK ("form" IN ('clay', 'water', 'basket')), CONSTRAINT "ck_pot_stage" CHECK ("stage" IN ('rooting', 'growth', 'rest', 'spike', 'bloom')), CONSTRAINT "fk_pot_place" FOREIGN KEY ("placeId") REFERENCES "place" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "pot_regimen" ("id" text PRIMARY KEY NOT NULL, "potId" text NOT NULL, "regimenId" text NOT NULL, "fromDate" text NOT NULL, "reason" text NOT NULL, CONSTRAINT "fk_pot_regimen_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_pot_regimen_regimen" FOREIGN KEY ("regimenId") REFERENCES "regimen" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "batch" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "status" text NOT NULL, "mixKey" text, "startedAt" text NOT NULL, "startedOn" text NOT NULL, "waterId" text NOT NULL, "vesselId" text NOT NULL, "bottleId" text NOT NULL, "ppmMeterId" text NOT NULL, "phMeterId" text, "toolIds" text NOT NULL, "volumeL" real NOT NULL, "thinRatio" real NOT NULL, "netEcUsCm" real NOT NULL, "phLow" real NOT NULL, "phHigh" real NOT NULL, "pouredVolumeL" real, "pouredEcUsCm" real, "pouredPh" real, "pouredAt" text, "emptied" boolean NOT NULL, "knownAfter" text, CONSTRAINT "ck_batch_status" CHECK ("status" IN ('open', 'poured', 'abandoned')), CONSTRAINT "ck_batch_volume" CHECK ("volumeL" > 0 AND "volumeL" <= 1000), CONSTRAINT "ck_batch_thin" CHECK ("thinRatio" >= 1), CONSTRAINT "ck_batch_ph" CHECK ("phLow" <= "phHigh"), CONSTRAINT "ck_batch_aim" CHECK ("netEcUsCm" > 0), CONSTRAINT "fk_batch_water" FOREIGN KEY ("waterId") REFERENCES "water" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_vessel" FOREIGN KEY ("vesselId") REFERENCES "vessel" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_bottle" FOREIGN KEY ("bottleId") REFERENCES "bottle" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_ppm" FOREIGN KEY ("ppmMeterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_ph" FOREIGN KEY ("phMeterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "care_event" ("seq" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "id" text NOT NULL, "kind" text NOT NULL, "at" text NOT NULL, "localDate" text NOT NULL, "potId" text, "batchId" text, "payload" text NOT NULL, "dueKey" text, "voidedBy" text, CONSTRAINT "ck_care_event_payload" CHECK (json_valid("payload")), CONSTRAINT "fk_care_event_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_care_event_batch" FOREIGN KEY ("batchId") REFERENCES "batch" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "simulated_truth" ("subject" text PRIMARY KEY NOT NULL, "payload" text NOT NULL)`,
  `CREATE UNIQUE INDEX "ux_pot_regimen" ON "pot_regimen" ("potId", "fromDate")`,
  `CREATE UNIQUE INDEX "ux_pot_code" ON "pot" ("code")`,
  `CREATE INDEX "ix_batch_bottle" ON "batch" ("bottleId", "startedAt")`,
  `CREATE INDEX "ix_batch_mix" ON "batch" ("mixKey", "startedAt")`,
  `CREATE UNIQUE INDEX "ux_care_event_id" ON "care_event" ("id")`,
  `CREATE UNIQUE INDEX "ux_care_event_due" ON "care_event" ("dueKey") WHERE "dueKey" IS NOT NULL AND "voidedBy" IS NULL`,
  `CREATE INDEX "ix_care_event_pot" ON "care_event" ("potId", "at")`,
  `CREATE INDEX "ix_care_event_batch" ON "care_event" ("batchId", "seq")`,
  `CREATE INDEX "ix_care_event_at" ON "care_event" ("at")`,
];

/** The first schema. Written out in full so that it never changes when the entities do. */
export class Ground1764000000000 implements MigrationInterface {
  name = 'Ground1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('The first schema is not taken back: restore a backup instead.');
  }
}
