import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What each day of the plan was foretold to take, so that it can be held against what was drawn; still water made otherwise on a day; how long things take; what wears in making it. */
const STATEMENTS = [
  `ALTER TABLE "season" ADD COLUMN "foretold" text NOT NULL DEFAULT ('[]') CONSTRAINT "ck_season_foretold" CHECK (json_valid("foretold"))`,
  `CREATE TABLE "made_day" ("id" text PRIMARY KEY NOT NULL, "waterId" text NOT NULL, "onDate" text NOT NULL, "litres" real, CONSTRAINT "ck_made_day_litres" CHECK ("litres" IS NULL OR "litres" >= 0))`,
  `CREATE TABLE "work_time" ("id" text PRIMARY KEY NOT NULL, "minutes" real, CONSTRAINT "ck_work_time_id" CHECK ("id" IN ('mix', 'pot', 'soakedPot', 'leach')), CONSTRAINT "ck_work_time_minutes" CHECK ("minutes" IS NULL OR "minutes" > 0))`,
  `CREATE TABLE "water_part" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "everyDays" integer NOT NULL, "changed" text NOT NULL, "droppedOn" text, CONSTRAINT "ck_water_part_days" CHECK ("everyDays" > 0), CONSTRAINT "ck_water_part_changed" CHECK (json_valid("changed")))`,
];

export class SeasonLife1765300000000 implements MigrationInterface {
  name = 'SeasonLife1765300000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
