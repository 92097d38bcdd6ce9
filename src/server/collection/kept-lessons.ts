import { createHash } from 'node:crypto';
import { rmSync, statfsSync } from 'node:fs';
import { dirname } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import type { DataSource } from 'typeorm';
import { homeOf, type Home } from '../database/home.ts';
import { Sqlite, type Statement } from '../database/sqlite.ts';
import type { Learned, LogOfPot } from './learn-pot.ts';

type Row = { pot: string; lesson: Uint8Array; sum: Uint8Array; learned: Uint8Array };

/** So much is left free for the collection itself. */
const LEAVE_FREE_BYTES = 64e6;

/**
 * What was learned of each pot, in a file beside the collection, so that a start need not learn it again. Nothing depends on it: a lesson counts only for the very
 * log it was learned from, and a file that is gone, damaged or cannot be written is as if it had not been.
 */
export class KeptLessons {
  #file: string;
  #raw: Sqlite | undefined;
  #insert: Statement | undefined;

  readonly #program: string;

  /** @param program that learns: another may learn otherwise from the same log */
  constructor(file: string, program: string) {
    this.#file = file;
    this.#program = program;
    this.#open();
    if (this.#raw) return;
    this.#forget();
    this.#open();
  }

  #open(): void {
    try {
      const raw = new Sqlite(this.#file, { timeout: 0 });
      this.#raw = raw;
      raw.pragma('journal_mode = WAL');
      raw.pragma('synchronous = NORMAL');
      raw.exec(
        'CREATE TABLE IF NOT EXISTS lesson (pot TEXT PRIMARY KEY, lesson BLOB NOT NULL, sum BLOB NOT NULL, learned BLOB NOT NULL) WITHOUT ROWID',
      );
      this.#insert = raw.prepare('INSERT OR REPLACE INTO lesson VALUES (?, ?, ?, ?)');
    } catch {
      this.#letGo();
    }
  }

  /** What a lesson depends on, and nothing else. */
  keyOf(log: LogOfPot): Buffer {
    return createHash('sha256').update(this.#program).update(JSON.stringify(log)).digest();
  }

  /** Those of the asked that were learned from just this log. */
  recall(asked: readonly { readonly potId: string; readonly key: Buffer }[]): ReadonlyMap<string, Learned> {
    const found = new Map<string, Learned>();
    if (!this.#raw) return found;
    const keys = new Map(asked.map(({ potId, key }) => [potId, key]));
    try {
      const rows = this.#raw
        .prepare<[string], Row>(
          'SELECT pot, lesson, sum, learned FROM lesson WHERE pot IN (SELECT value FROM json_each(?))',
        )
        .all(JSON.stringify([...keys.keys()]));
      for (const { pot, lesson, sum, learned } of rows)
        if (keys.get(pot)!.equals(lesson) && digest(learned).equals(sum))
          found.set(pot, deserialize(learned) as Learned);
    } catch {
      this.#forget();
    }
    return found;
  }

  /** In place of what was learned of these pots before. */
  keep(lessons: readonly { readonly potId: string; readonly key: Buffer; readonly learned: Learned }[]): void {
    const raw = this.#raw;
    if (!raw || lessons.length === 0) return;
    try {
      const { bavail, bsize } = statfsSync(dirname(this.#file));
      if (bavail * bsize < LEAVE_FREE_BYTES) return;
      raw.exec('BEGIN');
      for (const { potId, key, learned } of lessons) {
        const bytes = serialize(learned);
        this.#insert!.run(potId, key, digest(bytes), bytes);
      }
      raw.exec('COMMIT');
    } catch {
      this.#forget();
    }
  }

  close(): void {
    this.#letGo();
  }

  /** Whatever is wrong with it: a new one will do. */
  #forget(): void {
    this.#letGo();
    try {
      for (const end of ['', '-wal', '-shm']) rmSync(`${this.#file}${end}`, { force: true });
    } catch {
      return;
    }
  }

  #letGo(): void {
    try {
      this.#raw?.close();
    } catch {
      // It was damaged, or its disk is gone.
    }
    this.#raw = undefined;
    this.#insert = undefined;
  }
}

const kept = new WeakMap<Home, KeptLessons>();

/**
 * From here on what is learned of the pots of an open collection is kept beside it.
 * @param program changes with anything that is learned by
 */
export function keepLessons({ file, home }: { readonly file: string; readonly home: Home }, program: string): void {
  const lessons = new KeptLessons(`${file}.learned`, program);
  kept.set(home, lessons);
  home.closing.push(() => lessons.close());
}

export const lessonsOf = (connection: DataSource): KeptLessons | undefined => kept.get(homeOf(connection));

const digest = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest();
