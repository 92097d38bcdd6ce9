import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The log by day and by words. The index of words is made of the log alone: it is filled as lines are written, and holds no copy of what they say. */
const STATEMENTS = [
  `CREATE INDEX "ix_care_event_day" ON "care_event" ("localDate", "seq")`,
  `CREATE INDEX "ix_event_touch_event" ON "event_touch" ("eventId")`,
  `CREATE VIRTUAL TABLE "log_index" USING fts5("words", content='', detail=none, columnsize=0, prefix='2 3', tokenize="unicode61 tokenchars '-_.'")`,
  `CREATE TABLE "log_indexed" ("id" text PRIMARY KEY NOT NULL, "seq" integer NOT NULL)`,
];

export class Log1765400000000 implements MigrationInterface {
  name = 'Log1765400000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
