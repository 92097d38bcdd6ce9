import type { MigrationInterface, QueryRunner } from 'typeorm';

/** From which day each pot is in its trial, and by which line a sent reading was placed. Made anew beside the old ones, filled from them, and take their names. */
const REBUILDS = [
  {
    table: 'trial_pot',
    create: `CREATE TABLE "trial_pot_next" ("id" text PRIMARY KEY NOT NULL, "trialId" text NOT NULL, "potId" text NOT NULL, "arm" integer NOT NULL, "pair" integer NOT NULL, "fromOn" text NOT NULL, "leftOn" text, "leftWhy" text NOT NULL, CONSTRAINT "ck_trial_pot_arm" CHECK ("arm" IN (0, 1)), CONSTRAINT "fk_trial_pot_trial" FOREIGN KEY ("trialId") REFERENCES "trial" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_trial_pot_pot" FOREIGN KEY ("potId") REFERENCES "pot" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
    columns: 'id, trialId, potId, arm, pair, fromOn, leftOn, leftWhy',
    from: `id, trialId, potId, arm, pair, (SELECT startOn FROM trial WHERE trial.id = trialId), leftOn, leftWhy`,
  },
  {
    table: 'sent_reading',
    create: `CREATE TABLE "sent_reading_next" ("id" text PRIMARY KEY NOT NULL, "instrumentId" text NOT NULL, "at" text NOT NULL, "shown" real NOT NULL, "temperatureC" real, "became" text, "eventId" text, CONSTRAINT "ck_sent_reading_became" CHECK ("became" IS NULL OR "became" IN ('taken', 'dropped')), CONSTRAINT "fk_sent_reading_instrument" FOREIGN KEY ("instrumentId") REFERENCES "instrument" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`,
    columns: 'id, instrumentId, at, shown, temperatureC, became, eventId',
    // By which line one was placed was not kept until now: it stays placed.
    from: `id, instrumentId, at, shown, temperatureC, CASE "became" WHEN 'placed' THEN 'taken' ELSE "became" END, NULL`,
  },
];
const INDICES = [
  `CREATE UNIQUE INDEX "ux_trial_pot" ON "trial_pot" ("trialId", "potId")`,
  `CREATE INDEX "ix_trial_pot_pot" ON "trial_pot" ("potId")`,
  `CREATE INDEX "ix_sent_reading_at" ON "sent_reading" ("became", "at")`,
];

export class TrialDays1765550000000 implements MigrationInterface {
  name = 'TrialDays1765550000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const { table, create, columns, from } of REBUILDS) {
      await runner.query(create);
      await runner.query(`INSERT INTO "${table}_next" (${columns}) SELECT ${from} FROM "${table}"`);
      await runner.query(`DROP TABLE "${table}"`);
      await runner.query(`ALTER TABLE "${table}_next" RENAME TO "${table}"`);
    }
    for (const statement of INDICES) await runner.query(statement);
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
