/** The little of the driver that the browser tests use to look into the database; the app itself goes through TypeORM. */
declare module 'better-sqlite3' {
  export default class Database {
    constructor(file: string, options?: { readonly?: boolean });
    prepare(sql: string): { all(...params: unknown[]): unknown[] };
    exec(sql: string): void;
    close(): void;
  }
}
