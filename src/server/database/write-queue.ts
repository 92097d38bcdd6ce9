import type { DataSource, EntityManager } from 'typeorm';

/**
 * Every write goes through here, one transaction after another. SQLite has one connection under TypeORM: a second transaction begun
 * while the first is open would run inside it, and the first one's rollback would take the second's "saved" rows with it.
 */
export class WriteQueue {
  #tail: Promise<unknown> = Promise.resolve();
  readonly #source: DataSource;

  constructor(source: DataSource) {
    this.#source = source;
  }

  /** Runs `work` in a transaction of its own, after all that was asked before. Rejects, rolled back, when `work` throws. */
  run<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const result = this.#tail.then(() => this.#source.transaction(work));
    this.#tail = result.catch(() => undefined);
    return result;
  }

  /** Resolves when everything asked so far is written. */
  async idle(): Promise<void> {
    await this.#tail;
  }
}
