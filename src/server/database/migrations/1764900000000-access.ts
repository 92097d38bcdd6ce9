import type { MigrationInterface, QueryRunner } from 'typeorm';

const STATEMENTS = [
  // Who may come in over the home network is kept beside the collection, in a file that no backup holds.
  `DROP TABLE "session"`,
  `DELETE FROM "setting" WHERE "key" IN ('lanPassphrase', 'lanOpen')`,
  `CREATE TABLE "act_request" ("id" text PRIMARY KEY NOT NULL, "digest" text NOT NULL, CONSTRAINT "ck_act_request_digest" CHECK (length("digest") = 64))`,
];

/** Access out of the collection; what was asked with each act, so that a number used twice is told from a repeat. */
export class Access1764900000000 implements MigrationInterface {
  name = 'Access1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
