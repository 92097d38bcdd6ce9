import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The season: each pot's planned waterings, what the plan was made for, and the days nobody is there. */
const TABLES = [
  `CREATE TABLE "season" ("id" text PRIMARY KEY NOT NULL, "aim" text NOT NULL, "madeAt" text NOT NULL, "minutesADay" real, "clay" text NOT NULL, CONSTRAINT "ck_season_aim" CHECK ("aim" IN ('nobodyLate', 'fewestMixes', 'leastWater')), CONSTRAINT "ck_season_minutes" CHECK ("minutesADay" IS NULL OR "minutesADay" > 0), CONSTRAINT "ck_season_clay" CHECK (json_valid("clay")))`,
  `CREATE TABLE "pot_plan" ("id" text PRIMARY KEY NOT NULL, "madeAt" text NOT NULL, "visits" text NOT NULL, "pins" text NOT NULL, "nots" text NOT NULL, CONSTRAINT "ck_pot_plan_json" CHECK (json_valid("visits") AND json_valid("pins") AND json_valid("nots")))`,
  `CREATE TABLE "away" ("id" text PRIMARY KEY NOT NULL, "fromDate" text NOT NULL, "untilDate" text NOT NULL, "droppedOn" text, CONSTRAINT "ck_away_dates" CHECK ("untilDate" >= "fromDate"))`,
];

export class Season1765200000000 implements MigrationInterface {
  name = 'Season1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of TABLES) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
