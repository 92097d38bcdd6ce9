import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What another grower's bag of the same clay was found to do: the belief a batch may begin from. */
export class ClayTold1765600000000 implements MigrationInterface {
  name = 'ClayTold1765600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE "clay_batch" ADD COLUMN "told" text CONSTRAINT "ck_clay_told" CHECK ("told" IS NULL OR json_valid("told"))`,
    );
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
