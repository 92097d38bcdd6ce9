import type { DatabaseSyncInstance, StatementSyncInstance } from '@photostructure/sqlite';
import { existsSync } from 'node:fs';

/*
 * The way into SQLite: Node's own where it has it whole (22.16 and later), else a package of the same interface that brings its binaries along, so that
 * nothing is compiled. Here is what the house and TypeORM (whose `driver` this is) use of it, with SQLite's own names for what went wrong.
 */
type Native = {
  readonly DatabaseSync: new (file: string, options: { readOnly?: boolean; timeout?: number }) => DatabaseSyncInstance;
  readonly backup: (source: DatabaseSyncInstance, target: string) => Promise<number>;
};
type OwnOfNode = Native & { readonly StatementSync: { readonly prototype: object } };

const ownOfNode = (process as { getBuiltinModule?: (name: string) => OwnOfNode | undefined }).getBuiltinModule?.(
  'node:sqlite',
);
const native: Native =
  ownOfNode && 'backup' in ownOfNode && 'columns' in ownOfNode.StatementSync.prototype
    ? ownOfNode
    : await import('@photostructure/sqlite');

type Options = {
  readonly readonly?: boolean;
  /** A file that is not there is an error, where otherwise it is made. */
  readonly fileMustExist?: boolean;
  /** How long a lock of another program is waited for, in ms; 5000 where nothing is said. */
  readonly timeout?: number;
};

/** One connection to a file. All but `backup` is done when it returns. Errors carry SQLite's name of them as their `code`. */
export class Sqlite {
  readonly #db: DatabaseSyncInstance;

  /** @throws SQLITE_CANTOPEN, SQLITE_NOTADB and their like */
  constructor(file: string, { readonly: readOnly = false, fileMustExist = false, timeout = 5000 }: Options = {}) {
    if (fileMustExist && !existsSync(file))
      throw Object.assign(new Error('unable to open database file'), { code: 'SQLITE_CANTOPEN' });
    this.#db = named(() => new native.DatabaseSync(file, { readOnly, timeout }));
  }

  get inTransaction(): boolean {
    return this.#db.isTransaction;
  }

  prepare<P extends readonly unknown[] = unknown[], R = unknown>(sql: string): Statement<P, R> {
    return new Statement<P, R>(
      named(() => this.#db.prepare(sql)),
      sql,
    );
  }

  /** Runs any number of statements and hears nothing of what they answer. */
  exec(sql: string): void {
    named(() => this.#db.exec(sql));
  }

  /** What a PRAGMA answers; `simple`: the first value of its first row. */
  pragma(text: string, { simple = false } = {}): unknown {
    const rows = this.prepare<[], Record<string, unknown>>(`PRAGMA ${text}`).all();
    return simple ? Object.values(rows[0] ?? {})[0] : rows;
  }

  /** Copies all of it into a file of its own. */
  async backup(target: string): Promise<void> {
    await native.backup(this.#db, target).catch((error: unknown) => {
      throw withName(error);
    });
  }

  close(): void {
    if (this.#db.isOpen) named(() => this.#db.close());
  }
}

/** A prepared statement. A value that is no text, number, bytes or null is refused: as the only one it would be taken for names and bound as nothing. */
class Statement<P extends readonly unknown[] = unknown[], R = unknown> {
  /** Whether it answers with rows. */
  readonly reader: boolean;

  constructor(
    private readonly statement: StatementSyncInstance,
    sql: string,
  ) {
    // Telling its columns takes thrice as long as preparing it: asked only where the first word does not say it.
    this.reader = /^\s*select\b/i.test(sql) || statement.columns().length > 0;
  }

  all(...values: P): R[] {
    return named(() => this.statement.all(...bindable(values)) as R[]);
  }
  get(...values: P): R | undefined {
    return named(() => this.statement.get(...bindable(values)) as R | undefined);
  }
  run(...values: P): { changes: number; lastInsertRowid: number | bigint } {
    return named(() => this.statement.run(...bindable(values)));
  }
  *iterate(...values: P): Generator<R> {
    const rows = named(() => this.statement.iterate(...bindable(values)) as IterableIterator<R>);
    try {
      for (let row = named(() => rows.next()); !row.done; row = named(() => rows.next())) yield row.value;
    } finally {
      rows.return?.();
    }
  }
}
export type { Statement };

/** Values in order, or one plain object with the values by name. @throws TypeError; SQLITE_MISMATCH for a text that would be cut at its NUL */
function bindable(values: readonly unknown[]): readonly unknown[] {
  const [first] = values;
  for (const value of isNames(first) ? [...(Object.values(first) as unknown[]), ...values.slice(1)] : values) {
    if (
      typeof value === 'object'
        ? value !== null && !ArrayBuffer.isView(value)
        : !['string', 'number', 'bigint'].includes(typeof value)
    )
      throw new TypeError(`SQLite takes text, numbers, bytes and null, not ${Object.prototype.toString.call(value)}.`);
    if (typeof value === 'string' && value.includes('\0'))
      throw Object.assign(new Error('a text with a NUL in it'), { code: 'SQLITE_MISMATCH' });
  }
  return values;
}
const isNames = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

/** SQLite's result codes that are told apart somewhere, by their number (sqlite.org/rescode.html). */
const CODES: Readonly<Record<number, string>> = {
  1: 'ERROR',
  3: 'PERM',
  5: 'BUSY',
  6: 'LOCKED',
  7: 'NOMEM',
  8: 'READONLY',
  10: 'IOERR',
  11: 'CORRUPT',
  13: 'FULL',
  14: 'CANTOPEN',
  19: 'CONSTRAINT',
  26: 'NOTADB',
  787: 'CONSTRAINT_FOREIGNKEY',
  1555: 'CONSTRAINT_PRIMARYKEY',
  2067: 'CONSTRAINT_UNIQUE',
};
function withName(error: unknown): unknown {
  const found = error as { code?: string; errcode?: number; message?: string };
  if (!(error instanceof Error) || found.code !== 'ERR_SQLITE_ERROR') return error;
  const number = found.errcode ?? 0;
  const name = CODES[number] ?? CODES[number & 0xff] ?? 'ERROR';
  return Object.assign(error, { code: `SQLITE_${name}` });
}

function named<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw withName(error);
  }
}
