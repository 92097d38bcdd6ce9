import type { MigrationInterface, QueryRunner } from 'typeorm';

const ORIGIN = `CHECK ("origin" IN ('grower', 'round', 'bench', 'clay', 'drift', 'season', 'shelf'))`;
const STATEMENTS = [
  `ALTER TABLE "place" ADD COLUMN "year" text`,
  `CREATE TABLE "treatment" ("id" text PRIMARY KEY NOT NULL, "potId" text NOT NULL, "kind" text NOT NULL, "note" text NOT NULL, "fromDate" text NOT NULL, "toDate" text, CONSTRAINT "ck_treatment_kind" CHECK ("kind" IN ('acidSoak', 'feedSoak', 'wet', 'peat', 'buffered', 'otherClay', 'lowerPour')), CONSTRAINT "ck_treatment_days" CHECK ("toDate" IS NULL OR "toDate" >= "fromDate"), CONSTRAINT "fk_treatment_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE INDEX "ix_treatment_pot" ON "treatment" ("potId", "fromDate")`,
  // One more room that plans and starts clocks: the tables are made anew for their check.
  `CREATE TABLE "planned_act_next" ("id" text PRIMARY KEY NOT NULL, "subjectKind" text NOT NULL, "subjectId" text, "words" text NOT NULL, "onDate" text NOT NULL, "origin" text NOT NULL, "originId" text, "doneOn" text, "droppedOn" text, CONSTRAINT "ck_planned_act_subject" CHECK ("subjectKind" IN ('pot', 'batch', 'water', 'collection')), CONSTRAINT "ck_planned_act_origin" ${ORIGIN})`,
  `INSERT INTO "planned_act_next" SELECT id, subjectKind, subjectId, words, onDate, origin, originId, doneOn, droppedOn FROM "planned_act"`,
  `DROP TABLE "planned_act"`,
  `ALTER TABLE "planned_act_next" RENAME TO "planned_act"`,
  `CREATE INDEX "ix_planned_act_open" ON "planned_act" ("onDate") WHERE "doneOn" IS NULL AND "droppedOn" IS NULL`,
  `CREATE TABLE "clock_next" ("id" text PRIMARY KEY NOT NULL, "subjectKind" text NOT NULL, "subjectId" text, "words" text NOT NULL, "startedAt" text NOT NULL, "endsAt" text NOT NULL, "origin" text NOT NULL, "stoppedAt" text, CONSTRAINT "ck_clock_subject" CHECK ("subjectKind" IN ('pot', 'batch', 'water', 'collection')), CONSTRAINT "ck_clock_origin" ${ORIGIN}, CONSTRAINT "ck_clock_times" CHECK ("endsAt" >= "startedAt"))`,
  `INSERT INTO "clock_next" SELECT id, subjectKind, subjectId, words, startedAt, endsAt, origin, stoppedAt FROM "clock"`,
  `DROP TABLE "clock"`,
  `ALTER TABLE "clock_next" RENAME TO "clock"`,
  `CREATE INDEX "ix_clock_running" ON "clock" ("endsAt") WHERE "stoppedAt" IS NULL`,
];

/** The year of a place, what is tried against a clay that pushes, and clocks of the Drift room. */
export class Drift1764600000000 implements MigrationInterface {
  name = 'Drift1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
