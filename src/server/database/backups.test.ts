import {
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Sqlite } from './sqlite.ts';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Problem } from '../../contract/errors.ts';
import type { PotsView } from '../../contract/pots.ts';
import type { BackupView } from '../../contract/shell.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import { Ground1764000000000 } from './migrations/1764000000000-ground.ts';
import { openDatabase } from './open.ts';

let kit: Kit;
beforeEach(async () => {
  kit = await serverKit(1);
});
afterEach(() => kit.close());

const list = async () => (await kit.call<{ backups: BackupView[] }>('GET', '/api/book/backups')).body.backups;
const make = async () => (await kit.call<{ name: string }>('POST', '/api/book/backups')).body.name;
const restore = (name: string) => kit.call<Problem & { kept: string }>('POST', `/api/book/backups/${name}/restore`);
const pots = async () => (await kit.call<PotsView>('GET', '/api/pots')).body.places.flatMap((p) => p.pots);
const retire = (potId: string) =>
  kit.call('PUT', `/api/pots/acts/${testId()}`, { kind: 'retire', potIds: [potId], became: 'lost' });
const folder = () => join(kit.folder, 'backups');

describe('backups', () => {
  it('hold the whole collection in one file, and bring it back whole; what was there is kept first', async () => {
    const before = await pots();
    const name = await make();
    expect(readdirSync(folder())).toEqual([name]);
    await retire(before[0]!.id);
    await retire(before[1]!.id);
    expect(await pots()).toHaveLength(before.length - 2);
    const { body } = await restore(name);
    expect(await pots()).toEqual(before);
    expect((await list()).map((b) => b.why).sort()).toEqual(['asked', 'before restoring']);
    await restore(body.kept);
    expect(await pots()).toHaveLength(before.length - 2);
    // And it goes on being written.
    expect((await retire(before[2]!.id)).status).toBe(200);
  });
  it('are made once a day, and fourteen are kept', async () => {
    const day = (n: number) => new Date(Date.UTC(2026, 10, 1 + n, 9));
    for (let n = 0; n < 16; n++) expect(await kit.backups.daily(day(n))).toBeDefined();
    expect(await kit.backups.daily(day(15))).toBeUndefined();
    const names = readdirSync(folder()).sort();
    expect(names).toHaveLength(14);
    expect(names[0]).toContain('2026-11-03');
  });
  it('say what is in them', async () => {
    await make();
    const [events] = await kit.rows<{ n: number }>('SELECT count(*) AS n FROM care_event');
    expect(await list()).toEqual([
      expect.objectContaining({ why: 'asked', pots: 42, events: events!.n, problem: null }),
    ]);
  });
  it('that are damaged, foreign or newer are refused with nothing changed', async () => {
    const before = await pots();
    const good = await make();
    const at = (n: number) => `test.asked.2026-01-0${n}T090000.sqlite`;
    writeFileSync(join(folder(), at(1)), 'not a database at all, only words');
    copyFileSync(join(folder(), good), join(folder(), at(2)));
    truncateSync(join(folder(), at(2)), Math.floor(readFileSync(join(folder(), good)).length / 2));
    copyFileSync(join(folder(), good), join(folder(), at(3)));
    const newer = new Sqlite(join(folder(), at(3)));
    newer.exec(`INSERT INTO migrations (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
    newer.close();
    const foreign = new Sqlite(join(folder(), at(4)));
    foreign.exec('CREATE TABLE songs (title text)');
    foreign.close();
    for (const [n, why] of [
      [1, /not a collection|damaged/],
      [2, /damaged/],
      [3, /newer version/],
      [4, /not a collection/],
    ] as const) {
      expect((await restore(at(n))).body).toMatchObject({
        status: 422,
        code: 'backup-bad',
        detail: expect.stringMatching(why),
      });
    }
    expect((await restore('../../etc/passwd')).status).toBe(404);
    expect((await restore('test.asked.2020-01-01T090000.sqlite')).body.code).toBe('not-found');
    expect(await pots()).toEqual(before);
    expect((await list()).filter((b) => b.problem !== null).length).toBeGreaterThanOrEqual(3);
  });
  it('are taken away and brought in as files; what is brought in is checked first', async () => {
    const name = await make();
    const file = await kit.app.inject({ url: `/api/book/backups/${name}`, headers: { host: '127.0.0.1' } });
    expect(file.headers['content-disposition']).toContain(name);
    const bring = (payload: Buffer) =>
      kit.app.inject({
        method: 'POST',
        url: '/api/book/backups/bring',
        headers: { host: '127.0.0.1', 'content-type': 'application/vnd.sqlite3' },
        payload,
      });
    expect((await bring(Buffer.from('rubbish'))).json<Problem>().code).toBe('backup-bad');
    const brought = (await bring(file.rawPayload)).json<{ name: string }>().name;
    expect(brought).toContain('.brought.');
    expect((await restore(brought)).status).toBe(200);
    expect(readdirSync(folder()).some((n) => n.endsWith('.part'))).toBe(false);
  });
});

/** A backup of the collection as it stands, changed by a stranger's hand. */
const spoilt = async (sql: string) => {
  const name = await make();
  const at = `test.asked.2026-02-0${++spoiltCount}T090000.sqlite`;
  copyFileSync(join(folder(), name), join(folder(), at));
  const db = new Sqlite(join(folder(), at));
  db.exec(sql);
  db.close();
  return at;
};
let spoiltCount = 0;

describe('a backup put back while others write', () => {
  const plan = (id = testId()) =>
    kit
      .call('PUT', `/api/shell/plans/acts/${id}`, {
        kind: 'plan',
        planId: testId(),
        subjectKind: 'collection',
        subjectId: null,
        words: 'under way',
        onDate: '2026-11-30',
        origin: 'grower',
      })
      .then(({ status }) => (status === 200 ? id : undefined));
  const actsIn = (path: string) => {
    const db = new Sqlite(path, { readonly: true });
    const ids = db.prepare('SELECT id FROM care_event').all() as { id: string }[];
    db.close();
    return ids.map((row) => row.id);
  };
  it('loses none of what was acknowledged: each act is in what was kept or in what is here now; looks are answered throughout', async () => {
    const name = await make();
    const acknowledged: string[] = [];
    let odd: string | undefined;
    let going = true;
    const writers = Array.from({ length: 8 }, async () => {
      while (going) {
        const id = await plan();
        if (id) acknowledged.push(id);
        else odd ??= 'an act was refused';
      }
    });
    const lookers = Array.from({ length: 3 }, async () => {
      while (going) {
        const { status } = await kit.call('GET', '/api/pots');
        if (status !== 200) odd ??= `a look was answered ${status}`;
        await new Promise((resolve) => setTimeout(resolve, 5));
      }
    });
    const kept: string[] = [];
    for (let i = 0; i < 4; i++) kept.push((await restore(name)).body.kept);
    going = false;
    await Promise.all([...writers, ...lookers]);
    expect(odd).toBeUndefined();
    expect(acknowledged.length).toBeGreaterThan(50);
    const times = new Map<string, number>();
    for (const path of [...kept.map((k) => join(folder(), k)), kit.database.file])
      for (const id of actsIn(path)) times.set(id, (times.get(id) ?? 0) + 1);
    expect(acknowledged.filter((id) => times.get(id) !== 1)).toEqual([]);
  });
  it('two in one second keep both; three asked for at once are all made', async () => {
    const name = await make();
    const now = kit.clock.at;
    const [one, two] = await Promise.all([restore(name), restore(name)]);
    kit.clock.at = now;
    expect([one.status, two.status]).toEqual([200, 200]);
    expect(one.body.kept).not.toBe(two.body.kept);
    const at = new Date('2026-11-26T09:00:00Z');
    const names = await Promise.all([1, 2, 3].map(() => kit.backups.make('asked', at)));
    expect(new Set(names).size).toBe(3);
    expect(names.every((n) => readdirSync(folder()).includes(n))).toBe(true);
  });
});

describe('a file made to do harm', () => {
  it('with a trigger, a view, or a table not ours is refused with its name', async () => {
    for (const [sql, words] of [
      [`CREATE TRIGGER spy AFTER INSERT ON care_event BEGIN DELETE FROM pot_regimen; END`, /a trigger "spy"/],
      [`CREATE VIEW songs AS SELECT * FROM pot`, /a view "songs"/],
      [`CREATE TABLE songs (title text)`, /a table "songs"/],
      [`CREATE VIRTUAL TABLE words USING fts5(body)`, /a table "words/],
      [`CREATE INDEX ix_songs ON pot (note)`, /an index "ix_songs"/],
      [`ALTER TABLE setting ADD COLUMN more text`, /The table "setting"/],
      [
        `UPDATE setting SET value = '[99]' WHERE key = 'workingDays'; INSERT OR REPLACE INTO setting VALUES ('workingDays', '[99]')`,
        /The setting "workingDays"/,
      ],
    ] as const) {
      const name = await spoilt(sql);
      expect((await restore(name)).body, sql).toMatchObject({
        status: 422,
        code: 'backup-bad',
        detail: expect.stringMatching(words),
      });
    }
    expect((await list()).length).toBeGreaterThan(6);
    expect(await pots()).toHaveLength(42);
  });
  it('that cannot be brought to this version changes nothing, and the rooms go on', async () => {
    const at = 'test.asked.2026-03-01T090000.sqlite';
    mkdirSync(folder(), { recursive: true });
    const raw = new Sqlite(join(folder(), at));
    const statements: string[] = [];
    await new Ground1764000000000().up({ query: async (sql: string) => void statements.push(sql) } as never);
    for (const sql of statements) raw.exec(sql);
    raw.exec('DROP TABLE tool');
    raw.exec(`CREATE TABLE migrations (id integer PRIMARY KEY AUTOINCREMENT NOT NULL, timestamp bigint NOT NULL, name varchar NOT NULL);
      INSERT INTO migrations (timestamp, name) VALUES (1764000000000, 'Ground1764000000000')`);
    raw.close();
    expect((await restore(at)).body).toMatchObject({
      code: 'backup-bad',
      detail: expect.stringMatching(/could not be brought to this version/),
    });
    expect(await pots()).toHaveLength(42);
    expect((await retire((await pots())[0]!.id)).status).toBe(200);
    expect(readdirSync(kit.folder).filter((name) => name.includes('.next'))).toEqual([]);
  });
  it('brings no access with it: the owner’s passphrase, devices and doors stay as they are', async () => {
    await kit.lan.open('four plain garden words');
    const { value } = await kit.lan.enter({ passphrase: 'four plain garden words' }, '127.0.0.9', 'Phone');
    // A backup of the version before, which kept access in the collection.
    const name = await spoilt(`DROP TABLE act_request; DELETE FROM migrations WHERE name LIKE 'Access%';
      CREATE TABLE "session" ("tokenHash" text PRIMARY KEY NOT NULL, "device" text NOT NULL, "startedAt" text NOT NULL, "lastSeenAt" text NOT NULL);
      INSERT INTO session VALUES ('${'b'.repeat(64)}', 'A thief', '2026-11-01T09:00:00.000Z', '2026-11-24T09:00:00.000Z');
      INSERT INTO setting VALUES ('lanPassphrase', 'scrypt$c2FsdA$a2V5'), ('lanOpen', '0')`);
    expect((await restore(name)).status).toBe(200);
    const { devices, hasPassphrase } = await kit.lan.view(true);
    expect(devices.map((d) => d.device)).toEqual(['Phone']);
    expect(hasPassphrase).toBe(true);
    await kit.lan.enter({ passphrase: 'four plain garden words' }, '127.0.0.9', 'Phone');
    expect(
      kit.lan.letIn({
        cookies: { frugal_sip_device: value },
        ip: '127.0.0.9',
        raw: { socket: { once: () => undefined, destroy: () => undefined } },
      } as never),
    ).toBeDefined();
    expect(await kit.rows(`SELECT 1 FROM setting WHERE key LIKE 'lan%'`)).toEqual([]);
    // And a device once shown out is not let in again by going back.
    const before = await make();
    kit.lan.showOut(devices[0]!.id);
    await restore(before);
    expect((await kit.lan.view(true)).devices.map((d) => d.id)).not.toContain(devices[0]!.id);
  });
  it('dated ahead of today never pushes out today’s', async () => {
    mkdirSync(folder(), { recursive: true });
    const good = await make();
    for (let day = 10; day < 30; day++)
      copyFileSync(join(folder(), good), join(folder(), `test.daily.2031-01-${day}T090000.sqlite`));
    expect(await kit.backups.daily(new Date('2026-11-25T10:00:00Z'))).toBeDefined();
    expect(await kit.backups.daily(new Date('2026-11-25T11:00:00Z'))).toBeUndefined();
    expect((await list()).filter((b) => b.why === 'daily')).toHaveLength(21);
  });
});

describe('a collection this version cannot use', () => {
  it('written by a newer one is left as it is, with a plain word', async () => {
    const file = join(kit.folder, 'newer.sqlite');
    await (await openDatabase(file)).close();
    const raw = new Sqlite(file);
    raw.exec(`INSERT INTO migrations (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
    raw.close();
    await expect(openDatabase(file)).rejects.toThrow(/newer version of Frugal Sip/);
  });
  it('written by the first version is brought along with every row in place', async () => {
    const home = mkdtempSync(join(tmpdir(), 'frugal-sip-old-'));
    const file = join(home, 'old.sqlite');
    mkdirSync(home, { recursive: true });
    const raw = new Sqlite(file);
    const statements: string[] = [];
    await new Ground1764000000000().up({ query: async (sql: string) => void statements.push(sql) } as never);
    for (const sql of statements) raw.exec(sql);
    raw.exec(`CREATE TABLE migrations (id integer PRIMARY KEY AUTOINCREMENT NOT NULL, timestamp bigint NOT NULL, name varchar NOT NULL);
      INSERT INTO migrations (timestamp, name) VALUES (1764000000000, 'Ground1764000000000');
      INSERT INTO place VALUES ('p', 'Sill', 'bright', 0);
      INSERT INTO meter VALUES ('m', 'Pen', 'ppm', 0.7, 1, 'typed', 0), ('h', 'pH pen', 'pH', NULL, 0.1, 'typed', 1);
      INSERT INTO water VALUES ('w', 'Rain', '', 0);
      INSERT INTO vessel VALUES ('v', 'Bucket', 10, 'plastic', 0, 0);
      INSERT INTO product VALUES ('f', 'Feed', 'feed', 'feed', 300, '', '', 0);
      INSERT INTO bottle VALUES ('b', 'f', '2026-01-01', '', 0);
      INSERT INTO tool VALUES ('t', 'dropper', 'Glass', 18, NULL, NULL, 0);
      INSERT INTO regimen VALUES ('r', 'Weekly', 'constantDilute', '{"netEcUsCm":180,"everyDays":7,"flushTimesReservoir":3,"pourPhLow":5.5,"pourPhHigh":6.5}');
      INSERT INTO pot VALUES ('a', 'A-1', 'Hoya', 'p', 0, 'basket', 'spike', 'batch 2', 250, 240, '2025-05-01', 'by the door');
      INSERT INTO pot_regimen VALUES ('pr', 'a', 'r', '2026-01-01', 'why not');
      INSERT INTO batch VALUES ('x', 'Mix', 'open', NULL, '2026-01-01T09:00:00.000Z', '2026-01-01', 'w', 'v', 'b', 'm', 'h', '["t"]', 2, 1, 180, 5.5, 6.5, NULL, NULL, NULL, NULL, 0, NULL);
      INSERT INTO care_event (id, kind, at, localDate, potId, batchId, payload) VALUES ('e', 'batchStarted', '2026-01-01T09:00:00.000Z', '2026-01-01', NULL, 'x', '{"volumeL":2}');`);
    raw.close();
    const database = await openDatabase(file);
    expect(
      (
        await database.read.query<Record<string, unknown>[]>(
          'SELECT code, plant, name, medium, stage, clay, reservoirMl, fillMl, note, sensitivity, retiredOn FROM pot',
        )
      )[0],
    ).toEqual({
      code: 'A-1',
      plant: 'Hoya',
      name: '',
      medium: 'basket',
      stage: 'spike',
      clay: 'batch 2',
      reservoirMl: 250,
      fillMl: 240,
      note: 'by the door',
      sensitivity: 'usual',
      retiredOn: null,
    });
    expect(await database.read.query('SELECT id, scale, scaleFrom FROM meter ORDER BY position')).toEqual([
      { id: 'm', scale: 0.7, scaleFrom: 'label' },
      { id: 'h', scale: null, scaleFrom: null },
    ]);
    expect(await database.read.query('PRAGMA foreign_key_check')).toEqual([]);
    const counts = await database.read.query<{ n: number }[]>(
      `SELECT count(*) AS n FROM (SELECT id FROM place UNION ALL SELECT id FROM meter UNION ALL SELECT id FROM water UNION ALL SELECT id FROM vessel UNION ALL SELECT id FROM product
       UNION ALL SELECT id FROM bottle UNION ALL SELECT id FROM tool UNION ALL SELECT id FROM regimen UNION ALL SELECT id FROM pot UNION ALL SELECT id FROM pot_regimen UNION ALL SELECT id FROM batch UNION ALL SELECT id FROM care_event)`,
    );
    expect(counts[0]!.n).toBe(13);
    await database.close();
    rmSync(home, { recursive: true, force: true });
  });
});

describe('a disk that is full', () => {
  it('refuses the act with a plain word, keeps what was there, and takes acts again when there is room', async () => {
    const target = (await pots())[0]!;
    const [pages] = await kit.database.writer.query<{ page_count: number }[]>('PRAGMA page_count');
    await kit.database.writer.query(`PRAGMA max_page_count = ${pages!.page_count}`);
    let answer = await retire(target.id);
    // The last page may still have room for a line or two.
    for (let i = 0; i < 200 && answer.status === 200; i++)
      answer = await kit.call('PUT', `/api/shell/plans/acts/${testId()}`, {
        kind: 'plan',
        planId: testId(),
        subjectKind: 'collection',
        subjectId: null,
        words: 'x'.repeat(100),
        onDate: '2026-11-30',
        origin: 'grower',
      });
    expect(answer).toMatchObject({
      status: 507,
      body: { code: 'disk-full', detail: expect.stringMatching(/nothing was logged/) },
    });
    expect((await kit.rows<{ integrity_check: string }>('PRAGMA integrity_check'))[0]!.integrity_check).toBe('ok');
    await kit.database.writer.query('PRAGMA max_page_count = 1000000');
    expect((await retire((await pots())[1]!.id)).status).toBe(200);
  });
});
