import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Photos beside readings. */
export class Photo1764500000000 implements MigrationInterface {
  name = 'Photo1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "photo" ("id" text PRIMARY KEY NOT NULL, "jpeg" blob NOT NULL)`);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
