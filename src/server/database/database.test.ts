import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { EntityManager } from 'typeorm';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import { appendCareEvent } from './care-log.ts';
import { openDatabase, type Database } from './open.ts';

let folder: string;
let database: Database;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'frugal-sip-db-'));
  database = await openDatabase(join(folder, 'x.sqlite'));
});
afterEach(async () => {
  await database.close();
  rmSync(folder, { recursive: true, force: true });
});

const put = (manager: EntityManager, key: string) =>
  manager.query('INSERT INTO setting (key, value) VALUES (?, ?)', [key, 'v']);
const keys = async () =>
  (await database.read.query<{ key: string }[]>('SELECT key FROM setting ORDER BY key')).map((r) => r.key);
/** Lets everything else that is ready run first. */
const turn = () => new Promise((resolve) => setImmediate(resolve));

describe('the write queue', () => {
  it('keeps transactions apart: one that fails takes nothing of another with it', async () => {
    const failing = database.write.run(async (manager) => {
      await put(manager, 'a');
      await turn();
      await turn();
      throw new Error('changed my mind');
    });
    const other = database.write.run((manager) => put(manager, 'b'));
    await expect(failing).rejects.toThrow('changed my mind');
    await other;
    expect(await keys()).toEqual(['b']);
  });
  it('never has two transactions open on its connection', async () => {
    let open = 0;
    let most = 0;
    await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        database.write.run(async (manager) => {
          most = Math.max(most, ++open);
          await put(manager, `k${i}`);
          await turn();
          open--;
        }),
      ),
    );
    expect(most).toBe(1);
    expect(await keys()).toHaveLength(12);
  });
  it('names each commit, and no other opening of the file names one the same', async () => {
    const before = database.write.commits;
    await database.write.run((manager) => put(manager, 'a'));
    await expect(database.write.run(() => Promise.reject(new Error('no')))).rejects.toThrow('no');
    await database.write.run((manager) => put(manager, 'b'));
    expect(database.write.commits).toBe(before + 2);
    const other = await openDatabase(join(folder, 'y.sqlite'));
    expect(Math.abs(other.write.commits - database.write.commits)).toBeGreaterThan(2);
    await other.close();
  });
  it('is needed: without it, overlapping transactions on the one connection lose data or fail', async () => {
    // The very mistake the queue is there for, so that this test says so when the driver one day makes it harmless.
    const first = database.writer.transaction(async (manager) => {
      await put(manager, 'a');
      await turn();
      await turn();
      throw new Error('rolled back');
    });
    const second = database.writer
      .transaction((manager) => put(manager, 'b'))
      .then(
        () => 'told it was saved',
        () => 'told it failed',
      );
    await expect(first).rejects.toThrow();
    const told = await second;
    const saved = (await keys()).includes('b');
    expect({ told, saved }).not.toEqual({ told: 'told it was saved', saved: true });
  });
});

describe('the schema', () => {
  it('is what the entities say, after migrating', async () => {
    const { upQueries } = await database.writer.driver.createSchemaBuilder().log();
    expect(upQueries.map((q) => q.query)).toEqual([]);
  });
  it('writes ahead, fully synchronous, with foreign keys on; the reader cannot write', async () => {
    const pragma = async (name: string) =>
      Object.values((await database.writer.query<Record<string, unknown>[]>(`PRAGMA ${name}`))[0]!)[0];
    expect(await pragma('journal_mode')).toBe('wal');
    expect(await pragma('foreign_keys')).toBe(1);
    expect(await pragma('synchronous')).toBe(2);
    await expect(database.read.query(`INSERT INTO setting (key, value) VALUES ('x', 'y')`)).rejects.toThrow(/readonly/);
  });
  it('refuses what the contract refuses', async () => {
    const bad = (sql: string) =>
      expect(database.write.run((m) => m.query(sql))).rejects.toThrow(/CHECK|FOREIGN|UNIQUE/);
    await bad(`INSERT INTO vessel VALUES ('v', 'Bucket', -1, 'plastic', 0, 0, NULL)`);
    await bad(`INSERT INTO tool VALUES ('t', 'dropper', 'x', 400, NULL, NULL, NULL, 0, NULL)`);
    await bad(
      `INSERT INTO care_event (id, kind, at, localDate, payload) VALUES ('e', 'potFilled', 'x', 'x', 'not json')`,
    );
    await bad(
      `INSERT INTO care_event (id, kind, at, localDate, potId, payload) VALUES ('e', 'potFilled', 'x', 'x', 'nobody', '{}')`,
    );
  });
});

describe('the care log', () => {
  const event = (id: string, dropsPerMl = 18) => ({
    id,
    kind: 'dropperCounted' as const,
    at: new Date('2026-11-25T09:00:00Z'),
    localDate: '2026-11-25',
    payload: { toolId: testId(), dropsPerMl, before: null },
  });
  it('takes the same act once, however often it is sent', async () => {
    const same = event(testId());
    const first = await database.write.run((m) => appendCareEvent(m, same));
    const again = await database.write.run((m) => appendCareEvent(m, same));
    expect([first.repeated, again.repeated]).toEqual([false, true]);
    expect(await database.read.query('SELECT id FROM care_event')).toHaveLength(1);
  });
  it('refuses a known id with other contents, and a payload out of bounds', async () => {
    const one = event(testId());
    await database.write.run((m) => appendCareEvent(m, one));
    await expect(
      database.write.run((m) => appendCareEvent(m, { ...one, payload: { ...one.payload, dropsPerMl: 19 } })),
    ).rejects.toMatchObject({
      code: 'id-reused',
    });
    await expect(database.write.run((m) => appendCareEvent(m, event(testId(), 900)))).rejects.toMatchObject({
      code: 'invalid-request',
      errors: [{ path: 'dropsPerMl' }],
    });
  });
});

describe('the demo', () => {
  it('is the same collection for the same seed, and moves by whole days without losing a line', async () => {
    const { shiftDemo } = await import('../../demo/shift-demo.ts');
    const kits: Kit[] = [await serverKit(3), await serverKit(3)];
    const digest = async (kit: Kit) =>
      JSON.stringify(await kit.rows('SELECT id, kind, at, localDate, dueKey, payload FROM care_event ORDER BY seq'));
    expect(await digest(kits[0]!)).toBe(await digest(kits[1]!));
    const before = await kits[0]!.rows<{ n: number; first: string; last: string }>(
      'SELECT count(*) AS n, min(localDate) AS first, max(localDate) AS last FROM care_event',
    );
    expect(await kits[0]!.database.write.run((m) => shiftDemo(m, '2027-03-05'))).toBe(100);
    const after = await kits[0]!.rows<{ n: number; first: string; last: string }>(
      'SELECT count(*) AS n, min(localDate) AS first, max(localDate) AS last FROM care_event',
    );
    expect(after[0]!.n).toBe(before[0]!.n);
    const days = (a: string, b: string) => (Date.parse(b) - Date.parse(a)) / 86_400_000;
    expect(days(before[0]!.first, after[0]!.first)).toBe(100);
    expect(days(before[0]!.last, after[0]!.last)).toBe(100);
    expect(await kits[0]!.database.write.run((m) => shiftDemo(m, '2027-03-05'))).toBe(0);
    const broken = await kits[0]!.rows(
      `SELECT 1 FROM care_event WHERE dueKey IS NOT NULL AND dueKey <> potId || ':' || json_extract(payload, '$.dueOn')`,
    );
    expect(broken).toEqual([]);
    for (const kit of kits) await kit.close();
  });
});
