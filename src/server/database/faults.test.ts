import { Sqlite } from './sqlite.ts';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Problem } from '../../contract/errors.ts';
import type { ShellView } from '../../contract/shell.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import { openDatabase } from './open.ts';
import { rawOf } from './raw.ts';

let kit: Kit;
beforeEach(async () => {
  kit = await serverKit(1);
});
afterEach(() => kit.close());

const file = () => kit.database.file;
const plan = (id = testId(), words = 'x'.repeat(100)) =>
  kit
    .call<Problem>('PUT', `/api/shell/plans/acts/${id}`, {
      kind: 'plan',
      planId: testId(),
      subjectKind: 'collection',
      subjectId: null,
      words,
      onDate: '2026-11-30',
      origin: 'grower',
    })
    .then((answer) => ({ id, ...answer }));

/** Which acts a stranger finds who opens the file: what is only believed by the server's own connections is not there. */
function inFile(): Set<string> {
  const db = new Sqlite(file(), { readonly: true });
  const ids = db
    .prepare<[], { id: string }>('SELECT id FROM care_event')
    .all()
    .map((row) => row.id);
  db.close();
  return new Set(ids);
}

describe('a disk that is full', () => {
  it('again and again: every act that was acknowledged is in the file, none that was refused', async () => {
    const raw = rawOf(kit.database.writer);
    const acknowledged: string[] = [];
    const refused: string[] = [];
    for (let round = 0; round < 4; round++) {
      raw.pragma(`max_page_count = ${raw.pragma('page_count', { simple: true }) as number}`);
      for (let i = 0, full = 0; full < 4 && i < 400; i++) {
        const { id, status, body } = await plan();
        if (status === 200) acknowledged.push(id);
        else {
          expect(body.code).toBe('disk-full');
          refused.push(id);
          full++;
        }
      }
      raw.pragma('max_page_count = 1000000');
      for (let i = 0; i < 3; i++) acknowledged.push((await plan()).id);
    }
    expect(refused).toHaveLength(16);
    const there = inFile();
    expect(acknowledged.filter((id) => !there.has(id))).toEqual([]);
    expect(refused.filter((id) => there.has(id))).toEqual([]);
    // What was refused is sent again, and is there once.
    for (const id of refused) expect((await plan(id)).status).toBe(200);
    expect(refused.every((id) => inFile().has(id))).toBe(true);
  });
  it('in the middle of an act of many rows takes all of it back', async () => {
    const raw = rawOf(kit.database.writer);
    raw.pragma(`max_page_count = ${(raw.pragma('page_count', { simple: true }) as number) + 2}`);
    const many = kit.database.write.run(async (manager) => {
      for (let i = 0; i < 400; i++)
        await manager.query('INSERT INTO setting (key, value) VALUES (?, ?)', [`many ${i}`, 'x'.repeat(200)]);
    });
    await expect(many).rejects.toThrow(/full/);
    raw.pragma('max_page_count = 1000000');
    expect(await kit.rows(`SELECT 1 FROM setting WHERE key LIKE 'many%'`)).toEqual([]);
    expect((await plan()).status).toBe(200);
  });
});

describe('a connection that can no longer be trusted', () => {
  it('is opened anew before the next act, and what it left open is rolled back', async () => {
    const failing = kit.database.write.run(async (manager) => {
      await manager.query(`INSERT INTO setting (key, value) VALUES ('half', 'x')`);
      throw Object.assign(new Error('disk I/O error'), { code: 'SQLITE_IOERR_FSYNC' });
    });
    await expect(failing).rejects.toThrow('disk I/O error');
    const { recoveries } = kit.database.write;
    const { id, status } = await plan();
    expect(status).toBe(200);
    expect(inFile().has(id)).toBe(true);
    expect(kit.database.write.recoveries).toBe(recoveries + 1);
    expect(await kit.rows(`SELECT 1 FROM setting WHERE key = 'half'`)).toEqual([]);
  });
  it('that says it committed what is not in the file is not believed', async () => {
    // As a transaction believed open elsewhere does: COMMIT only lets a savepoint go.
    const raw = rawOf(kit.database.writer);
    const exec = raw.exec.bind(raw);
    raw.exec = (sql: string) => (sql === 'COMMIT' ? raw : exec(sql));
    const { id, status, body } = await plan();
    expect([status, body.code]).toEqual([507, 'cannot-write']);
    expect(inFile().has(id)).toBe(false);
    // The connection is replaced, and the same act sent again is there.
    expect((await plan(id)).status).toBe(200);
    expect(inFile().has(id)).toBe(true);
  });
});

describe('another program that holds the file', () => {
  it('is waited for, while looks go on; held too long, the act is refused in a way that keeps it', async () => {
    const other = new Sqlite(file());
    other.exec('BEGIN IMMEDIATE');
    const waiting = plan();
    expect((await kit.call('GET', '/api/shell')).status).toBe(200);
    await new Promise((resolve) => setTimeout(resolve, 100));
    other.exec('ROLLBACK');
    expect((await waiting).status).toBe(200);
    other.exec('BEGIN IMMEDIATE');
    const late = await plan();
    expect([late.status, late.body.code]).toEqual([503, 'locked']);
    other.exec('ROLLBACK');
    other.close();
    expect((await plan(late.id)).status).toBe(200);
  });
});

describe('a second server on the same collection', () => {
  it('is told so and changes nothing; a crash leaves nothing behind that would keep the next one out', async () => {
    await expect(openDatabase(file())).rejects.toMatchObject({ code: 'in-use' });
    expect((await plan()).status).toBe(200);
    const alone = join(kit.folder, 'alone.sqlite');
    // What a lock file of a server that went down looks like, or one full of rubbish.
    writeFileSync(`${alone}.lock`, 'rubbish'.repeat(500));
    await (await openDatabase(alone)).close();
    await (await openDatabase(alone)).close();
  });
});

describe('the file moved, deleted or replaced while it is open', () => {
  it('is said in every room and nothing is written; what was logged until then is saved and put back', async () => {
    const before = await plan();
    await kit.call('POST', '/api/book/backups');
    renameSync(file(), join(kit.folder, 'elsewhere.sqlite'));
    copyFileSync(join(kit.folder, 'backups', readdirSync(join(kit.folder, 'backups'))[0]!), file());
    const refused = await plan();
    expect([refused.status, refused.body.code]).toEqual([507, 'damaged']);
    expect((await kit.call<ShellView>('GET', '/api/shell')).body.trouble).toMatch(/moved, deleted or replaced/);
    const saved = (await kit.call<{ name: string }>('POST', '/api/book/backups')).body.name;
    expect((await kit.call('POST', `/api/book/backups/${saved}/restore`)).status).toBe(200);
    expect((await kit.call<ShellView>('GET', '/api/shell')).body.trouble).toBeNull();
    expect((await plan(refused.id)).status).toBe(200);
    expect(inFile().has(before.id) && inFile().has(refused.id)).toBe(true);
  });
  it('its write-ahead log taken away is noticed too', async () => {
    expect((await plan()).status).toBe(200);
    rmSync(`${file()}-wal`);
    expect((await plan()).status).toBe(507);
  });
});

describe('a swap that fails half way', () => {
  it('before anything was moved: the rooms and acts go on', async () => {
    const { id } = await plan();
    const taken = join(kit.folder, 'taken.sqlite');
    writeFileSync(taken, 'a name that is taken');
    writeFileSync(`${file()}.next`, 'x');
    await expect(kit.database.replaceWith(`${file()}.next`, taken)).rejects.toThrow(/EEXIST/);
    expect((await kit.call('GET', '/api/pots')).status).toBe(200);
    expect((await plan()).status).toBe(200);
    expect(inFile().has(id)).toBe(true);
    expect(readFileSync(taken, 'utf8')).toBe('a name that is taken');
  });
  it('at the last step: what was there is back', async () => {
    const { id } = await plan();
    const kept = join(kit.folder, 'kept.sqlite');
    await expect(kit.database.replaceWith(join(kit.folder, 'not there'), kept)).rejects.toThrow(/ENOENT/);
    expect((await plan()).status).toBe(200);
    expect(inFile().has(id)).toBe(true);
    expect(existsSync(kept)).toBe(false);
  });
  it('of a file that had been replaced: the only copy of what was logged is not thrown away', async () => {
    const { id } = await plan();
    renameSync(file(), join(kit.folder, 'elsewhere.sqlite'));
    writeFileSync(file(), 'another file');
    const kept = join(kit.folder, 'kept.sqlite');
    await expect(kit.database.replaceWith(join(kit.folder, 'not there'), kept)).rejects.toThrow(/ENOENT/);
    const db = new Sqlite(kept, { readonly: true });
    expect(db.prepare('SELECT 1 FROM care_event WHERE id = ?').get(id)).toBeDefined();
    db.close();
  });
});

describe('a file that is damaged', () => {
  const home = () => mkdtempSync(join(tmpdir(), 'frugal-sip-damage-'));
  const make = async (folder: string) => {
    const at = join(folder, 'collection.sqlite');
    const database = await openDatabase(at);
    await database.write.run(async (manager) => {
      for (let i = 0; i < 3000; i++)
        await manager.query('INSERT INTO setting (key, value) VALUES (?, ?)', [`k${i}`, 'x'.repeat(100)]);
    });
    await database.close();
    mkdirSync(join(folder, 'backups'));
    copyFileSync(at, join(folder, 'backups', 'collection.daily.2026-11-24T090000.sqlite'));
    return at;
  };
  const spoil: Record<string, (at: string) => void> = {
    'in the middle': (at) => {
      const handle = openSync(at, 'r+');
      for (let page = 3; page < 60; page++) writeSync(handle, Buffer.alloc(2000, page), 0, 2000, page * 4096);
    },
    'down to nothing': (at) => truncateSync(at, 0),
    'into words': (at) => writeFileSync(at, 'x'.repeat(9000)),
    'by being gone': (at) => rmSync(at),
  };
  for (const [how, spoilIt] of Object.entries(spoil))
    it(`${how} is said at once, refuses writes, and makes way for a backup`, async () => {
      const folder = home();
      const at = await make(folder);
      spoilIt(at);
      await expect(openDatabase(at)).rejects.toMatchObject({ code: 'damaged' });
      const database = await openDatabase(at, { evenDamaged: true });
      expect(database.trouble()?.words).toMatch(/Book, Backups/);
      await expect(database.write.run(() => Promise.resolve())).rejects.toMatchObject({ code: 'damaged' });
      expect(() => database.read).toThrow(/Book, Backups/);
      const { Backups } = await import('./backups.ts');
      const backups = new Backups(database);
      await backups.restore('collection.daily.2026-11-24T090000.sqlite', new Date('2026-11-25T09:00:00Z'));
      expect(database.trouble()).toBeNull();
      expect(await database.read.query('SELECT count(*) AS n FROM setting')).toEqual([{ n: 3000 }]);
      await database.write.run((manager) => manager.query(`INSERT INTO setting (key, value) VALUES ('again', 'x')`));
      // What was there is set aside, never thrown away.
      if (how !== 'by being gone')
        expect(readdirSync(join(folder, 'backups')).some((name) => name.includes('.damaged.'))).toBe(true);
      await database.close();
      rmSync(folder, { recursive: true });
    });
  it('of no bytes, where there never was anything, is a new collection', async () => {
    const folder = home();
    writeFileSync(join(folder, 'collection.sqlite'), '');
    const database = await openDatabase(join(folder, 'collection.sqlite'));
    expect(database.trouble()).toBeNull();
    await database.close();
    rmSync(folder, { recursive: true });
  });
});

describe('starting', () => {
  it('clears away half copies, and a kept name that is the collection itself', async () => {
    const at = join(kit.folder, 'other.sqlite');
    await (await openDatabase(at)).close();
    const backups = join(kit.folder, 'backups');
    mkdirSync(backups, { recursive: true });
    writeFileSync(join(backups, 'other.daily.ab12.part'), 'half');
    writeFileSync(join(backups, 'test.daily.ab12.part'), 'of another collection');
    const { linkSync } = await import('node:fs');
    linkSync(at, join(backups, 'other.before.2026-11-25T090000.sqlite'));
    writeFileSync(`${at}.next`, 'was to take its place');
    await (await openDatabase(at)).close();
    expect(readdirSync(backups)).toEqual(['test.daily.ab12.part']);
    expect(existsSync(`${at}.next`)).toBe(false);
    expect(statSync(at).size).toBeGreaterThan(0);
  });
  it('copies the file before bringing it to a new version', async () => {
    const at = join(kit.folder, 'old.sqlite');
    await (await openDatabase(at)).close();
    // As the version before left it.
    const raw = new Sqlite(at);
    raw.exec(`DROP TABLE act_request; DELETE FROM migrations WHERE name LIKE 'Access%';
      CREATE TABLE "session" ("tokenHash" text PRIMARY KEY NOT NULL, "device" text NOT NULL, "startedAt" text NOT NULL, "lastSeenAt" text NOT NULL);
      INSERT INTO session VALUES ('${'a'.repeat(64)}', 'Phone', '2026-11-01T09:00:00.000Z', '2026-11-20T09:00:00.000Z');
      INSERT INTO setting VALUES ('lanPassphrase', 'scrypt$salt$key'), ('lanOpen', '1')`);
    raw.close();
    const { accessFileOf, carryAccessOver } = await import('../shell/access-store.ts');
    const open = () =>
      openDatabase(at, {
        now: () => new Date('2026-11-25T09:00:00Z'),
        beforeUpdate: (db) => carryAccessOver(db, accessFileOf(at)),
      });
    const database = await open();
    expect(await database.read.query(`SELECT 1 FROM setting WHERE key LIKE 'lan%'`)).toEqual([]);
    await database.close();
    expect(readdirSync(join(kit.folder, 'backups'))).toEqual(['old.updating.2026-11-25T090000.sqlite']);
    // Who may come in is carried over once, beside the collection.
    expect(JSON.parse(readFileSync(accessFileOf(at), 'utf8'))).toMatchObject({
      open: true,
      passphrase: 'scrypt$salt$key',
      devices: [{ device: 'Phone' }],
    });
  });
});
