import type { MigrationInterface, QueryRunner } from 'typeorm';

const STATEMENTS = [
  `ALTER TABLE "pot" ADD COLUMN "grows" text NOT NULL DEFAULT ('houseplant') CONSTRAINT "ck_pot_grows" CHECK ("grows" IN ('orchid', 'houseplant', 'crop'))`,
  `CREATE TABLE "advice_answer" ("id" text PRIMARY KEY NOT NULL, "potId" text NOT NULL, "rule" text NOT NULL, "answer" text NOT NULL, "evidence" text NOT NULL, "onDate" text NOT NULL, CONSTRAINT "ck_advice_answer" CHECK ("answer" IN ('accepted', 'declined')), CONSTRAINT "fk_advice_answer_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE INDEX "ix_advice_answer_pot" ON "advice_answer" ("potId", "rule")`,
];

/**
 * Whose figures apply to a plant, and what was answered to advice. Regimens written before the schools stay as they are and are read as what they were, so that an act of then
 * can still be taken back.
 */
export class Schools1764700000000 implements MigrationInterface {
  name = 'Schools1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
