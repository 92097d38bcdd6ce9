import 'reflect-metadata';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Sqlite } from './sqlite.ts';
import { afterAll, expect, it } from 'vitest';
import { Chemistry1764200000000 } from './migrations/1764200000000-chemistry.ts';
import { Clay1764300000000 } from './migrations/1764300000000-clay.ts';
import { Everyday1764100000000 } from './migrations/1764100000000-everyday.ts';
import { Ground1764000000000 } from './migrations/1764000000000-ground.ts';
import { openDatabase } from './open.ts';
import { readBatchView } from '../bench/bench-view.ts';

const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const at = (minute: number) => `2026-11-20T09:${String(minute).padStart(2, '0')}:00.000Z`;

it('a collection from before batches had parts keeps every batch, drop and reading', async () => {
  const file = join(folder, 'old.sqlite');
  const old = new DataSource({
    type: 'better-sqlite3',
    driver: Sqlite,
    database: file,
    migrations: [Ground1764000000000, Everyday1764100000000, Chemistry1764200000000, Clay1764300000000],
    migrationsTableName: 'migrations',
  });
  await old.initialize();
  await old.query('PRAGMA foreign_keys = OFF');
  await old.runMigrations({ transaction: 'each' });
  const insert = async (table: string, row: Record<string, string | number | null>): Promise<void> => {
    const columns = Object.keys(row).map((k) => `"${k}"`);
    await old.query(
      `INSERT INTO "${table}" (${columns.join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
      Object.values(row),
    );
  };
  await insert('water', { id: id(1), name: 'Still water', note: '', position: 0, kind: 'still' });
  await insert('meter', {
    id: id(2),
    name: 'Blue pen',
    quantity: 'ppm',
    scale: 0.5,
    resolution: 1,
    device: 'typed',
    position: 0,
  });
  await insert('meter', {
    id: id(3),
    name: 'Yellow pen',
    quantity: 'pH',
    resolution: 0.1,
    device: 'typed',
    position: 1,
  });
  await insert('tool', { id: id(4), kind: 'dropper', name: 'Glass dropper', dropsPerMl: 18, position: 0 });
  await insert('vessel', { id: id(5), name: 'Bucket', capacityL: 10, material: 'plastic', heatProof: 0, position: 0 });
  await insert('product', {
    id: id(6),
    name: 'House feed',
    shortName: 'feed',
    kind: 'feed',
    guessEcPerMlL: 300,
    label: '',
    caution: '',
    position: 0,
  });
  await insert('product', {
    id: id(7),
    name: 'pH-down',
    shortName: 'down',
    kind: 'acid',
    label: '',
    caution: '',
    position: 1,
  });
  await insert('bottle', { id: id(8), productId: id(6), openedOn: '2026-11-01', note: '', position: 0 });
  await insert('batch', {
    id: id(9),
    name: 'Feed',
    status: 'poured',
    startedAt: at(0),
    startedOn: '2026-11-20',
    waterId: id(1),
    vesselId: id(5),
    bottleId: id(8),
    ppmMeterId: id(2),
    phMeterId: id(3),
    toolIds: JSON.stringify([id(4)]),
    volumeL: 4,
    thinRatio: 10,
    netEcUsCm: 180,
    phLow: 5.5,
    phHigh: 6.5,
    pouredVolumeL: 4,
    pouredEcUsCm: 200,
    pouredPh: 6,
    pouredAt: at(9),
    emptied: 0,
    knownAfter: JSON.stringify({
      belief: {
        mean: [300, 290],
        covariance: [
          [1, 0],
          [0, 1],
        ],
      },
      bottleId: id(8),
      batches: 3,
    }),
  });
  const log = (n: number, kind: string, payload: object) =>
    insert('care_event', {
      id: id(n),
      kind,
      at: at(n - 20),
      localDate: '2026-11-20',
      batchId: id(9),
      payload: JSON.stringify(payload),
    });
  await log(21, 'batchBase', { reading: { kind: 'value', value: 9 } });
  await log(22, 'batchPortion', {
    dose: { toolId: id(4), steps: 20, doseMl: 24, relativeSd: 0.05 },
    reading: { kind: 'value', value: 101 },
    confirmedOdd: false,
  });
  await log(23, 'batchPh', { reading: { kind: 'value', value: 7 } });
  await log(24, 'batchCorrection', { productId: id(7), toolId: id(4), drops: 9, reading: { kind: 'value', value: 6 } });
  await old.destroy();

  const database = await openDatabase(file);
  const view = readBatchView(database.read.manager, id(9), 'Europe/London', {
    at: new Date('2026-11-21T09:00:00Z'),
    localDate: '2026-11-21',
  });
  expect(view).toMatchObject({
    use: 'feed',
    status: 'poured',
    aimPpm: 90,
    byRecipe: false,
    ph: { corrections: 1, latest: 6 },
  });
  expect(view!.parts).toMatchObject([
    {
      name: 'House feed',
      method: 'thinned',
      mlPerUnit: 10,
      state: 'inside',
      totalMl: 24,
      aim: { netPpm: 90, lowPpm: 81, highPpm: 108, hardPpm: expect.closeTo(126, 6) as number },
    },
  ]);
  expect(view!.ph.readings.map((r) => r.after)).toEqual(['as mixed', '9\u00a0drops']);
  const [part] = await database.read.query<{ knownAfter: string }[]>('SELECT knownAfter FROM batch_part');
  expect(JSON.parse(part!.knownAfter)).toMatchObject({ source: id(8), batches: 3 });
  const [correction] = await database.read.query<{ payload: string }[]>(
    `SELECT payload FROM care_event WHERE kind = 'batchCorrection'`,
  );
  expect(JSON.parse(correction!.payload)).toEqual({
    productId: id(7),
    ratio: 1,
    dose: { toolId: id(4), steps: 9, doseMl: 0.5, relativeSd: 0.05 },
    reading: { kind: 'value', value: 6 },
  });
  expect(await database.read.query('SELECT count(*) AS n FROM care_event')).toEqual([{ n: 4 }]);
  expect(await database.read.query('PRAGMA foreign_key_check')).toEqual([]);
  await database.close();
});
