import type { MigrationInterface, QueryRunner } from 'typeorm';

const BATCH = `CREATE TABLE "batch_next" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "status" text NOT NULL, "mixKey" text, "startedAt" text NOT NULL, "startedOn" text NOT NULL, "waterId" text NOT NULL, "vesselId" text NOT NULL, "use" text NOT NULL, "recipeId" text, "ppmMeterId" text, "phMeterId" text, "toolIds" text NOT NULL, "volumeL" real NOT NULL, "netEcUsCm" real NOT NULL, "phLow" real NOT NULL, "phHigh" real NOT NULL, "holdMinutes" real, "byRecipe" boolean NOT NULL, "forPots" text NOT NULL, "pouredVolumeL" real, "pouredEcUsCm" real, "pouredPh" real, "afterAcidEcUsCm" real, "pouredAt" text, "emptied" boolean NOT NULL, CONSTRAINT "ck_batch_status" CHECK ("status" IN ('open', 'poured', 'abandoned')), CONSTRAINT "ck_batch_volume" CHECK ("volumeL" > 0 AND "volumeL" <= 1000), CONSTRAINT "ck_batch_use" CHECK ("use" IN ('feed', 'soak', 'spray', 'water')), CONSTRAINT "ck_batch_ph" CHECK ("phLow" <= "phHigh"), CONSTRAINT "ck_batch_aim" CHECK ("netEcUsCm" >= 0), CONSTRAINT "ck_batch_hold" CHECK ("holdMinutes" IS NULL OR "holdMinutes" > 0), CONSTRAINT "ck_batch_pots" CHECK (json_valid("forPots")), CONSTRAINT "fk_batch_water" FOREIGN KEY ("waterId") REFERENCES "water" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_vessel" FOREIGN KEY ("vesselId") REFERENCES "vessel" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_recipe" FOREIGN KEY ("recipeId") REFERENCES "recipe" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_ppm" FOREIGN KEY ("ppmMeterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION, CONSTRAINT "fk_batch_ph" FOREIGN KEY ("phMeterId") REFERENCES "meter" ("id") ON DELETE RESTRICT ON UPDATE NO ACTION)`;
const COLUMNS =
  'id, name, status, mixKey, startedAt, startedOn, waterId, vesselId, "use", recipeId, ppmMeterId, phMeterId, toolIds, volumeL, netEcUsCm, phLow, phHigh, holdMinutes, byRecipe, forPots, pouredVolumeL, pouredEcUsCm, pouredPh, afterAcidEcUsCm, pouredAt, emptied';
const MOVE = [
  `INSERT INTO "batch_next" (${COLUMNS}) SELECT ${COLUMNS} FROM "batch"`,
  `DROP TABLE "batch"`,
  `ALTER TABLE "batch_next" RENAME TO "batch"`,
  `CREATE INDEX "ix_batch_recipe" ON "batch" ("recipeId", "startedAt")`,
  `CREATE INDEX "ix_batch_mix" ON "batch" ("mixKey", "startedAt")`,
  `CREATE INDEX "ix_batch_started" ON "batch" ("startedAt")`,
];

/** A batch may be mixed by measure alone, with no strength pen. */
export class NoPen1765100000000 implements MigrationInterface {
  name = 'NoPen1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of [BATCH, ...MOVE]) await runner.query(statement);
    const broken = (await runner.query('PRAGMA foreign_key_check')) as unknown[];
    if (broken.length > 0)
      throw new Error('The collection could not be brought to this version: some of its rows point nowhere.');
  }

  async down(): Promise<void> {
    throw new Error('This schema is not taken back: restore a backup instead.');
  }
}
