import type { MigrationInterface, QueryRunner } from 'typeorm';

const STATEMENTS = [
  `CREATE TABLE "pen_answer" ("id" text PRIMARY KEY NOT NULL, "meterId" text NOT NULL, "answer" text NOT NULL, "evidence" text NOT NULL, "onDate" text NOT NULL, CONSTRAINT "ck_pen_answer" CHECK ("answer" IN ('accepted', 'declined')), CONSTRAINT "fk_pen_answer_meter" FOREIGN KEY ("meterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
  `CREATE INDEX "ix_pen_answer_meter" ON "pen_answer" ("meterId")`,
];

/** What was answered to a pen that was thought to be off. */
export class Pens1764800000000 implements MigrationInterface {
  name = 'Pens1764800000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
