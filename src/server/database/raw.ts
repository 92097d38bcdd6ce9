import type { Sqlite } from './sqlite.ts';
import type { DataSource } from 'typeorm';

/** The driver's own connection under a source: it alone knows how a transaction truly stands. */
export function rawOf(source: DataSource): Sqlite {
  return (source.driver as unknown as { databaseConnection: Sqlite }).databaseConnection;
}

/** SQLite's or the system's own name of what went wrong, such as SQLITE_FULL or ENOSPC; "" where there is none. */
export function codeOf(error: unknown): string {
  const { code, driverError } = (error ?? {}) as { code?: unknown; driverError?: { code?: unknown } };
  const name = driverError?.code ?? code;
  return typeof name === 'string' ? name : '';
}

/** Another program holds the file just now; later it may not. */
export const isLocked = (error: unknown) => /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));
/** The bytes in the file are not what SQLite wrote there. */
export const isDamage = (error: unknown) => /^SQLITE_(CORRUPT|NOTADB)/.test(codeOf(error));
/** The disk refused: full, failing, or not to be written. */
export const isStorage = (error: unknown) =>
  /^SQLITE_(FULL|IOERR|READONLY|CANTOPEN|NOMEM|PERM)|^(ENOSPC|EDQUOT|EIO|EFBIG|EACCES|EROFS|EPERM)$/.test(
    codeOf(error),
  );
