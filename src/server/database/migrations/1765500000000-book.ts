import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the grower says of a turn (its name, hidden, joined to another), trials with the pots in them, and pens that send what they read. */
const STATEMENTS = [
  `CREATE TABLE "turn_mark" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "hidden" integer NOT NULL, "joinedTo" text, CONSTRAINT "ck_turn_mark_hidden" CHECK ("hidden" IN (0, 1)))`,
  `CREATE TABLE "trial" ("id" text PRIMARY KEY NOT NULL, "question" text NOT NULL, "change" text NOT NULL, "measure" text NOT NULL, "matters" real NOT NULL, "startOn" text NOT NULL, "weeks" integer NOT NULL, "alike" text NOT NULL, "seed" integer NOT NULL, "endedOn" text, "endWhy" text NOT NULL, CONSTRAINT "ck_trial_change" CHECK (json_valid("change")), CONSTRAINT "ck_trial_alike" CHECK (json_valid("alike")), CONSTRAINT "ck_trial_matters" CHECK ("matters" > 0), CONSTRAINT "ck_trial_weeks" CHECK ("weeks" > 0), CONSTRAINT "ck_trial_ended" CHECK ("endedOn" IS NULL OR "endedOn" >= "startOn"))`,
  `CREATE TABLE "trial_pot" ("id" text PRIMARY KEY NOT NULL, "trialId" text NOT NULL, "potId" text NOT NULL, "arm" integer NOT NULL, "pair" integer NOT NULL, "leftOn" text, "leftWhy" text NOT NULL, CONSTRAINT "ck_trial_pot_arm" CHECK ("arm" IN (0, 1)), CONSTRAINT "fk_trial_pot_trial" FOREIGN KEY ("trialId") REFERENCES "trial" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_trial_pot_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE UNIQUE INDEX "ux_trial_pot" ON "trial_pot" ("trialId", "potId")`,
  `CREATE INDEX "ix_trial_pot_pot" ON "trial_pot" ("potId")`,
  `CREATE TABLE "instrument" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "meterId" text NOT NULL, "keyDigest" text NOT NULL, "madeOn" text NOT NULL, "withdrawnOn" text, CONSTRAINT "ck_instrument_key" CHECK (length("keyDigest") = 64), CONSTRAINT "fk_instrument_meter" FOREIGN KEY ("meterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE TABLE "sent_reading" ("id" text PRIMARY KEY NOT NULL, "instrumentId" text NOT NULL, "at" text NOT NULL, "shown" real NOT NULL, "temperatureC" real, "became" text, CONSTRAINT "ck_sent_reading_became" CHECK ("became" IS NULL OR "became" IN ('taken', 'placed', 'dropped')), CONSTRAINT "fk_sent_reading_instrument" FOREIGN KEY ("instrumentId") REFERENCES "instrument" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE INDEX "ix_sent_reading_at" ON "sent_reading" ("became", "at")`,
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
