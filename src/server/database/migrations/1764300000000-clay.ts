import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Batches of clay. What pots name as their clay stays as it is; a batch is added under that name in the Clay room. */
export class Clay1764300000000 implements MigrationInterface {
  name = 'Clay1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "clay_batch" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "grainLowMm" real, "grainHighMm" real, "volumeL" real NOT NULL, "origin" text NOT NULL, "price" real, "openedOn" text, "prep" text NOT NULL, "rinsedOn" text, "boiledOn" text, "gateEcUsCm" real NOT NULL, "coverL" real, "lookEveryHours" integer NOT NULL, "way" text NOT NULL, "note" text NOT NULL, "position" integer NOT NULL, "retiredOn" text, CONSTRAINT "ck_clay_volume" CHECK ("volumeL" > 0 AND "volumeL" <= 1000), CONSTRAINT "ck_clay_prep" CHECK ("prep" IN ('new', 'leached', 'unleached')), CONSTRAINT "ck_clay_way" CHECK ("way" IN ('litres', 'days', 'own')), CONSTRAINT "ck_clay_gate" CHECK ("gateEcUsCm" > 0), CONSTRAINT "ck_clay_looks" CHECK ("lookEveryHours" IN (12, 24)), CONSTRAINT "ck_clay_cover" CHECK ("coverL" IS NULL OR "coverL" > 0), CONSTRAINT "ck_clay_grain" CHECK ("grainLowMm" IS NULL OR "grainHighMm" IS NULL OR "grainLowMm" <= "grainHighMm"), CONSTRAINT "ck_clay_price" CHECK ("price" IS NULL OR "price" >= 0))`,
    );
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
