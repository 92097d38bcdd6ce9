import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the grower says of a turn (its name, hidden, joined to another), and trials with the pots in them. */
const STATEMENTS = [
  `CREATE TABLE "turn_mark" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "hidden" integer NOT NULL, "joinedTo" text, CONSTRAINT "ck_turn_mark_hidden" CHECK ("hidden" IN (0, 1)))`,
  `CREATE TABLE "trial" ("id" text PRIMARY KEY NOT NULL, "question" text NOT NULL, "change" text NOT NULL, "measure" text NOT NULL, "matters" real NOT NULL, "startOn" text NOT NULL, "weeks" integer NOT NULL, "alike" text NOT NULL, "seed" integer NOT NULL, "endedOn" text, "endWhy" text NOT NULL, CONSTRAINT "ck_trial_change" CHECK (json_valid("change")), CONSTRAINT "ck_trial_alike" CHECK (json_valid("alike")), CONSTRAINT "ck_trial_matters" CHECK ("matters" > 0), CONSTRAINT "ck_trial_weeks" CHECK ("weeks" > 0), CONSTRAINT "ck_trial_ended" CHECK ("endedOn" IS NULL OR "endedOn" >= "startOn"))`,
  `CREATE TABLE "trial_pot" ("id" text PRIMARY KEY NOT NULL, "trialId" text NOT NULL, "potId" text NOT NULL, "arm" integer NOT NULL, "pair" integer NOT NULL, "leftOn" text, "leftWhy" text NOT NULL, CONSTRAINT "ck_trial_pot_arm" CHECK ("arm" IN (0, 1)), CONSTRAINT "fk_trial_pot_trial" FOREIGN KEY ("trialId") REFERENCES "trial" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_trial_pot_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE UNIQUE INDEX "ux_trial_pot" ON "trial_pot" ("trialId", "potId")`,
  `CREATE INDEX "ix_trial_pot_pot" ON "trial_pot" ("potId")`,
];

export class Book1765500000000 implements MigrationInterface {
  name = 'Book1765500000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
