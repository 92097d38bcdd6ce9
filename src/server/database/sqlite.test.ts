import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { codeOf } from './raw.ts';
import { Sqlite } from './sqlite.ts';

let folder: string;
let db: Sqlite;
const at = (name: string) => join(folder, name);
const codeBy = (work: () => unknown) => {
  try {
    work();
    return 'no error';
  } catch (error) {
    return codeOf(error);
  }
};

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'frugal-sip-sqlite-'));
  db = new Sqlite(at('a.sqlite'), { timeout: 0 });
  db.pragma('journal_mode = WAL');
  db.exec('CREATE TABLE shelf (id TEXT PRIMARY KEY, ml REAL CHECK (ml >= 0), n INTEGER, note TEXT, bytes BLOB) STRICT');
  db.exec('CREATE TABLE pot (shelf TEXT REFERENCES shelf (id))');
});
afterAll(() => {
  db.close();
  rmSync(folder, { recursive: true });
});

describe('values', () => {
  const put = (id: string, values: { ml?: unknown; n?: unknown; note?: unknown; bytes?: unknown }) =>
    db
      .prepare('INSERT INTO shelf VALUES (?, ?, ?, ?, ?)')
      .run(id, values.ml ?? null, values.n ?? null, values.note ?? null, values.bytes ?? null);
  const got = (id: string) => ({
    ...db.prepare<[string], Record<string, unknown>>('SELECT * FROM shelf WHERE id = ?').get(id),
  });

  it('come back as they went in, to the last digit', () => {
    put('figures', { ml: 0.1 + 0.2, n: 2 ** 40 });
    expect(got('figures')).toMatchObject({ ml: 0.1 + 0.2, n: 2 ** 40, note: null });
    put('small', { ml: 1e-17, n: -3 });
    expect(got('small')).toMatchObject({ ml: 1e-17, n: -3 });
  });
  it('are text of any script; one that would be cut at a NUL is refused', () => {
    for (const note of ['ö 蘭 🌱', '']) {
      put(`text ${note.length}`, { note });
      expect(got(`text ${note.length}`)).toMatchObject({ note });
    }
    expect(codeBy(() => put('cut', { note: 'be\u0000fore' }))).toBe('SQLITE_MISMATCH');
  });
  it('are bytes', () => {
    put('bytes', { bytes: Buffer.from([0, 255, 0]) });
    expect(got('bytes').bytes).toEqual(new Uint8Array([0, 255, 0]));
  });
  it('that SQLite has no place for are refused, the only one and one of many, in order and by name', () => {
    for (const odd of [new Date(), undefined, true, Symbol('x'), [1], { a: 1 }, new Map()]) {
      expect(() => put('odd', { note: 'x', n: odd as never, bytes: odd ?? Symbol('none') })).toThrow(TypeError);
      if (odd instanceof Date || odd === undefined)
        expect(() => db.prepare('SELECT ? AS x').get(odd)).toThrow(/not \[object/);
    }
    expect(() => db.prepare('SELECT :day AS x').get({ day: new Date() })).toThrow(TypeError);
    expect(got('odd')).toEqual({});
  });
  it('go by name where an object of names is given', () => {
    expect(
      db
        .prepare<[{ a: number; b: string }], { x: number; y: string }>('SELECT :a AS x, :b AS y')
        .get({ a: 1.5, b: 'two' }),
    ).toMatchObject({
      x: 1.5,
      y: 'two',
    });
  });
  it('that are no text in a text’s place are read without an end of the process', () => {
    db.exec(`CREATE TABLE IF NOT EXISTS odd (a)`);
    db.exec(`INSERT INTO odd VALUES (CAST(x'ff00fe41' AS TEXT))`);
    expect(typeof db.prepare<[], { a: unknown }>('SELECT a FROM odd').get()!.a).toBe('string');
  });
});

describe('statements', () => {
  it('tell whether they answer with rows', () => {
    for (const [sql, reader] of [
      ['SELECT 1', true],
      ['  select 1', true],
      ['WITH a AS (SELECT 1) SELECT * FROM a', true],
      ['PRAGMA user_version', true],
      [`INSERT INTO shelf (id) VALUES ('r') RETURNING id`, true],
      [`INSERT INTO shelf (id) VALUES ('r')`, false],
      ['DELETE FROM pot', false],
      ['CREATE TABLE x (a)', false],
    ] as const)
      expect([sql, db.prepare(sql).reader]).toEqual([sql, reader]);
  });
  it('tell how many rows they changed', () => {
    db.exec(`INSERT INTO shelf (id) VALUES ('p'), ('q')`);
    expect(db.prepare(`UPDATE shelf SET n = 1 WHERE id IN ('p', 'q')`).run().changes).toBe(2);
  });
  it('left in the middle hold nothing: the file can be written and closed', () => {
    const other = new Sqlite(at('b.sqlite'));
    other.pragma('journal_mode = WAL');
    other.exec(`CREATE TABLE t (a); INSERT INTO t VALUES (1), (2), (3)`);
    for (const row of other.prepare<[], { a: number }>('SELECT a FROM t').iterate()) if (row.a === 2) break;
    other.exec('DELETE FROM t');
    other.close();
    // The last to close puts the log into the file, though statements of it were never let go of.
    expect(existsSync(at('b.sqlite-wal'))).toBe(false);
  });
});

describe('what went wrong', () => {
  it('has SQLite’s own name, whichever way it was asked', () => {
    db.exec(`INSERT INTO shelf (id) VALUES ('twice')`);
    const twice = db.prepare(`INSERT INTO shelf (id) VALUES ('twice')`);
    expect([codeBy(() => twice.run()), codeBy(() => twice.all()), codeBy(() => [...twice.iterate()])]).toEqual(
      Array(3).fill('SQLITE_CONSTRAINT_PRIMARYKEY'),
    );
    expect(codeBy(() => db.exec(`INSERT INTO pot VALUES ('nowhere')`))).toBe('SQLITE_CONSTRAINT_FOREIGNKEY');
    expect(codeBy(() => db.exec(`INSERT INTO shelf (id, ml) VALUES ('less', -1)`))).toBe('SQLITE_CONSTRAINT');
    expect(codeBy(() => db.prepare('SELEC 1'))).toBe('SQLITE_ERROR');
  });
  it('is told of a file that is none, is not there, or is another’s', () => {
    writeFileSync(at('words.sqlite'), 'no collection at all '.repeat(400));
    expect(codeBy(() => new Sqlite(at('words.sqlite')).pragma('quick_check'))).toBe('SQLITE_NOTADB');
    expect(codeBy(() => new Sqlite(at('none.sqlite'), { fileMustExist: true }))).toBe('SQLITE_CANTOPEN');
    expect(codeBy(() => new Sqlite(at('none.sqlite'), { readonly: true }))).toBe('SQLITE_CANTOPEN');
    expect(existsSync(at('none.sqlite'))).toBe(false);
    expect(codeBy(() => new Sqlite(at('no/folder.sqlite')))).toBe('SQLITE_CANTOPEN');
    const other = new Sqlite(at('a.sqlite'), { timeout: 0 });
    db.exec('BEGIN IMMEDIATE');
    expect(db.inTransaction).toBe(true);
    expect(codeBy(() => other.exec('BEGIN IMMEDIATE'))).toBe('SQLITE_BUSY');
    db.exec('ROLLBACK');
    expect(db.inTransaction).toBe(false);
    other.close();
    const looking = new Sqlite(at('a.sqlite'), { readonly: true });
    expect(codeBy(() => looking.exec(`INSERT INTO shelf (id) VALUES ('not so')`))).toBe('SQLITE_READONLY');
    looking.close();
  });
});

describe('a copy', () => {
  it('is whole, of one moment, while others write', async () => {
    const source = new Sqlite(at('a.sqlite'), { readonly: true });
    source.exec('BEGIN');
    const count = (of: Sqlite) => of.prepare<[], { n: number }>('SELECT count(*) AS n FROM shelf').get()!.n;
    const before = count(source);
    const made = source.backup(at('copy.sqlite'));
    for (let n = 0; n < 50; n++) db.prepare('INSERT INTO shelf (id) VALUES (?)').run(`meanwhile ${n}`);
    await made;
    source.close();
    const copy = new Sqlite(at('copy.sqlite'), { readonly: true });
    expect(count(copy)).toBe(before);
    expect(count(db)).toBe(before + 50);
    expect(copy.pragma('integrity_check', { simple: true })).toBe('ok');
    copy.close();
  });
  it('to where none can be is refused by name', async () => {
    await expect(db.backup(at('no/folder.sqlite'))).rejects.toMatchObject({ code: 'SQLITE_CANTOPEN' });
  });
  it('closing twice is closing once', () => {
    const once = new Sqlite(':memory:');
    once.close();
    expect(() => once.close()).not.toThrow();
  });
});
