import 'reflect-metadata';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { afterAll, expect, it } from 'vitest';
import { MIGRATIONS } from './migrations/index.ts';
import { Book1765500000000 } from './migrations/1765500000000-book.ts';
import { openDatabase } from './open.ts';
import { Sqlite } from './sqlite.ts';

const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-trial-days-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it('a trial begun before pots had their own first day keeps its pots and arms; what was placed stays placed', async () => {
  const file = join(folder, 'old.sqlite');
  const old = new DataSource({
    type: 'better-sqlite3',
    driver: Sqlite,
    database: file,
    migrations: MIGRATIONS.slice(0, MIGRATIONS.indexOf(Book1765500000000) + 1),
    migrationsTableName: 'migrations',
  });
  await old.initialize();
  await old.query('PRAGMA foreign_keys = OFF');
  await old.runMigrations({ transaction: 'each' });
  for (const sql of [
    `INSERT INTO place (id, name, note, position) VALUES ('p', 'Sill', '', 0)`,
    `INSERT INTO pot (id, code, plant, name, placeId, spot, position, medium, stage, reservoirMl, fillMl, sensitivity, origin, note, became) VALUES ('a', 'A-1', '', '', 'p', '', 0, 'clay', 'growth', 100, 80, 'usual', '', '', '')`,
    `INSERT INTO meter (id, name, quantity, scale, scaleFrom, resolution, device, position) VALUES ('m', 'Pen', 'ppm', 0.5, 'label', 1, 'typed', 0)`,
    `INSERT INTO trial (id, question, change, measure, matters, startOn, weeks, alike, seed, endWhy) VALUES ('t', 'Does it?', '{}', 'gap', 0.1, '2026-11-20', 8, '[]', 1, '')`,
    `INSERT INTO trial_pot (id, trialId, potId, arm, pair, leftWhy) VALUES ('tp', 't', 'a', 1, 2, '')`,
    `INSERT INTO instrument (id, name, meterId, keyDigest, madeOn) VALUES ('i', 'Logger', 'm', '${'0'.repeat(64)}', '2026-11-20')`,
    ...['placed', 'dropped', null].map(
      (became, n) =>
        `INSERT INTO sent_reading (id, instrumentId, at, shown, became) VALUES ('r${n}', 'i', '2026-11-20T09:00:00.000Z', 131, ${became ? `'${became}'` : 'NULL'})`,
    ),
  ])
    await old.query(sql);
  await old.destroy();

  const database = await openDatabase(file);
  expect(await database.read.query('SELECT * FROM trial_pot')).toEqual([
    { id: 'tp', trialId: 't', potId: 'a', arm: 1, pair: 2, fromOn: '2026-11-20', leftOn: null, leftWhy: '' },
  ]);
  const sent = await database.read.query<{ id: string }[]>('SELECT id, shown, became, eventId FROM sent_reading');
  expect(sent.sort((a, b) => a.id.localeCompare(b.id))).toEqual([
    { id: 'r0', shown: 131, became: 'taken', eventId: null },
    { id: 'r1', shown: 131, became: 'dropped', eventId: null },
    { id: 'r2', shown: 131, became: null, eventId: null },
  ]);
  await database.close();
});
