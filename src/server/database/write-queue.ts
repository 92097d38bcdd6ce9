import { randomInt } from 'node:crypto';
import type { DataSource, EntityManager, QueryRunner } from 'typeorm';
import { AppError } from '../app-error.ts';
import { crashPoint } from './crash-point.ts';
import type { Home } from './home.ts';
import { tipOf } from './tip.ts';
import { codeOf, isDamage, isLocked, isStorage, rawOf } from './raw.ts';

/** What the queue writes to, and how it makes sure. */
export type WriteTarget = {
  writer(): DataSource;
  /** The other connection: what it sees is in the file. */
  reader(): DataSource;
  /** A fresh writing connection in place of one that can no longer be trusted. */
  reopenWriter(): Promise<void>;
  /** @throws AppError when the file must not be written: damaged, or another one stands in its place */
  requireSound(): void;
  /** Told of an error that says the file itself is damaged. */
  foundDamaged(): void;
  /** Told of commits that may have changed the collection, and of those that did not. */
  readonly home: Home;
};

/** How long an act waits for another program that holds the file, and how often it looks. */
const LOCK_WAIT_MS = 2_000;
const LOCK_LOOK_MS = 20;

/**
 * Every write goes through here, one transaction after another. SQLite has one connection under TypeORM: a second transaction begun
 * while the first is open would run inside it, and the first one's rollback would take the second's "saved" rows with it.
 *
 * Transactions are begun and ended on the driver's own connection: on a full disk SQLite rolls back by itself, TypeORM's own ROLLBACK then throws and
 * it goes on counting a transaction that is none, so that later "commits" only release savepoints. After every commit the other connection
 * is asked whether the file holds it; only then is the act acknowledged.
 */
export class WriteQueue {
  #tail: Promise<unknown> = Promise.resolve();
  #listeners = new Set<() => void | Promise<void>>();
  readonly #lastWork = new Set<(manager: EntityManager) => void>();
  // Begun anywhere, so that a page that outlives the server never takes another's commit for its own.
  #commits = randomInt(2 ** 40);
  #doubtful = false;
  #recoveries = 0;
  readonly #target: WriteTarget;

  constructor(target: WriteTarget) {
    this.#target = target;
  }

  /**
   * Runs `work` in a transaction of its own, after all that was asked before. Rejects, rolled back, when `work` throws.
   * @throws AppError `locked` when another program holds the file, `cannot-write` when the file does not hold what was committed
   */
  run<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.#next(async () => {
      const value = await this.#transaction(work);
      await this.#tell();
      return value;
    });
  }

  /** Runs `work` alone, outside any transaction, while every other write waits: for swapping the file under the queue. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    return this.#next(async () => {
      const value = await work();
      this.#commits++;
      await this.#tell();
      return value;
    });
  }

  /** Counts commits, from any number on: a name for "as of". */
  get commits(): number {
    return this.#commits;
  }

  /** How often the writing connection had to be put right after an error. */
  get recoveries(): number {
    return this.#recoveries;
  }

  /** Calls `listener` after every commit, before the writer hears of it. @returns how to stop */
  onCommit(listener: () => void | Promise<void>): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  /** Calls `work` within every transaction, after what it was begun for: what is kept beside the log is written with it, or not at all. */
  beforeCommit(work: (manager: EntityManager) => void): void {
    this.#lastWork.add(work);
  }

  /** Resolves when everything asked so far is written. */
  async idle(): Promise<void> {
    await this.#tail;
  }

  async #transaction<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    if (this.#doubtful) await this.#recover();
    this.#target.requireSound();
    const runner = this.#target.writer().createQueryRunner();
    try {
      await this.#begin(runner);
      crashPoint('write-begun');
      const before = changesOf(runner);
      const value = await work(runner.manager);
      for (const last of this.#lastWork) last(runner.manager);
      crashPoint('write-done');
      const { rows, acts } = changesOf(runner);
      this.#commit(runner);
      // The number of an act that changed nothing is no news of the collection.
      if (rows - before.rows === acts - before.acts) this.#target.home.beside++;
      else this.#target.home.logged++;
      return value;
    } catch (error) {
      this.#rollBack(runner);
      if (isDamage(error)) this.#target.foundDamaged();
      // A full disk leaves the connection as good as it was; after a failing one nothing it remembers is relied on.
      if (isStorage(error) && codeOf(error) !== 'SQLITE_FULL') this.#doubtful = true;
      throw error;
    }
  }

  /** Takes the write lock at once, so that no work is begun that cannot be written; waits for it without holding up the server. */
  async #begin(runner: QueryRunner): Promise<void> {
    const raw = rawOf(runner.dataSource);
    const state = stateOf(runner);
    if (raw.inTransaction || state.isTransactionActive) this.#rollBack(runner);
    for (let waited = 0; ; waited += LOCK_LOOK_MS) {
      try {
        raw.exec('BEGIN IMMEDIATE');
        break;
      } catch (error) {
        if (!isLocked(error)) throw error;
        if (waited >= LOCK_WAIT_MS)
          throw new AppError(
            'locked',
            'Another program holds the collection, so nothing was logged. Close it; what you did is kept on your device and sent again.',
          );
        await new Promise((resolve) => setTimeout(resolve, LOCK_LOOK_MS));
      }
    }
    state.isTransactionActive = true;
    state.transactionDepth = 1;
  }

  /** Ends the transaction and asks the other connection whether it is in the file. */
  #commit(runner: QueryRunner): void {
    const raw = rawOf(runner.dataSource);
    const reader = rawOf(this.#target.reader());
    const tip = tipOf(raw);
    if (!raw.inTransaction) throw notInFile();
    raw.exec('COMMIT');
    crashPoint('write-committed');
    setIdle(runner);
    const seen = tipOf(reader);
    if (raw.inTransaction || seen !== tip) {
      this.#doubtful = true;
      throw notInFile();
    }
    this.#commits++;
  }

  /** Nothing of what was begun is left standing, whatever the connection believes. */
  #rollBack(runner: QueryRunner): void {
    const raw = rawOf(runner.dataSource);
    try {
      if (raw.inTransaction) raw.exec('ROLLBACK');
    } catch {
      this.#doubtful = true;
    }
    if (raw.inTransaction) this.#doubtful = true;
    setIdle(runner);
  }

  /** @throws whatever keeps the file from being opened: then the act is refused, and the next one tries again */
  async #recover(): Promise<void> {
    await this.#target.reopenWriter();
    this.#recoveries++;
    this.#doubtful = false;
  }

  async #tell(): Promise<void> {
    // What is committed stays so, whatever befalls those who are told of it.
    for (const listener of this.#listeners) {
      try {
        await listener();
      } catch (error) {
        console.error(error);
      }
    }
  }

  #next<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#tail.then(work);
    this.#tail = result.catch(() => undefined);
    return result;
  }
}

/** Rows this connection changed so far, and acts that have a number. */
function changesOf(runner: QueryRunner): { rows: number; acts: number } {
  return rawOf(runner.dataSource)
    .prepare<[], { rows: number; acts: number }>(
      'SELECT total_changes() AS rows, (SELECT coalesce(max(rowid), 0) FROM act_request) AS acts',
    )
    .get()!;
}

/** What TypeORM believes of the transaction; it is told, since it is not asked. */
function stateOf(runner: QueryRunner): { isTransactionActive: boolean; transactionDepth: number } {
  return runner as unknown as { isTransactionActive: boolean; transactionDepth: number };
}
function setIdle(runner: QueryRunner): void {
  const state = stateOf(runner);
  state.isTransactionActive = false;
  state.transactionDepth = 0;
}

function notInFile(): AppError {
  return new AppError(
    'cannot-write',
    'The collection’s file did not take what was written, so nothing counts as logged. What you did is kept on your device and sent again.',
  );
}
