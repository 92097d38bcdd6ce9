import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The last acts of each kind on a pot by index: of what is seldom done, looking for the last eight read every line of the pot. */
export class AtHand1765000000000 implements MigrationInterface {
  name = 'AtHand1765000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE INDEX "ix_care_event_pot_kind" ON "care_event" ("potId", "kind", "at") WHERE "potId" IS NOT NULL',
    );
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
