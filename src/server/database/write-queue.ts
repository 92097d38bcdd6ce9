import { randomInt } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';

/**
 * Every write goes through here, one transaction after another. SQLite has one connection under TypeORM: a second transaction begun
 * while the first is open would run inside it, and the first one's rollback would take the second's "saved" rows with it.
 */
export class WriteQueue {
  #tail: Promise<unknown> = Promise.resolve();
  #listeners = new Set<() => void | Promise<void>>();
  // Begun anywhere, so that a page that outlives the server never takes another's commit for its own.
  #commits = randomInt(2 ** 40);
  readonly #source: () => DataSource;

  constructor(source: () => DataSource) {
    this.#source = source;
  }

  /** Runs `work` in a transaction of its own, after all that was asked before. Rejects, rolled back, when `work` throws. */
  run<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.#next(async () => {
      const value = await this.#source().transaction(work);
      this.#commits++;
      for (const listener of this.#listeners) await listener();
      return value;
    });
  }

  /** Runs `work` alone, outside any transaction, while every other write waits: for swapping the file under the queue. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    return this.#next(async () => {
      const value = await work();
      this.#commits++;
      for (const listener of this.#listeners) await listener();
      return value;
    });
  }

  /** Counts commits, from any number on: a name for "as of". */
  get commits(): number {
    return this.#commits;
  }

  /** Calls `listener` after every commit, before the writer hears of it. @returns how to stop */
  onCommit(listener: () => void | Promise<void>): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  /** Resolves when everything asked so far is written. */
  async idle(): Promise<void> {
    await this.#tail;
  }

  #next<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#tail.then(work);
    this.#tail = result.catch(() => undefined);
    return result;
  }
}
