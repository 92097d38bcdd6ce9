import { Sqlite } from './sqlite.ts';
import { rmSync } from 'node:fs';
import { AppError } from '../app-error.ts';
import { isDamage, isLocked } from './raw.ts';

/**
 * Holds a collection for this server alone. The lock is the system's own on an empty file beside it: whatever ends the server, a crash or a pulled plug,
 * ends the lock with it.
 * @returns lets go
 * @throws AppError `in-use` when another server holds it
 */
export function holdCollection(file: string): () => void {
  const path = `${file}.lock`;
  const take = () => {
    const lock = new Sqlite(path, { timeout: 0 });
    try {
      lock.exec('BEGIN EXCLUSIVE');
      return () => lock.close();
    } catch (error) {
      lock.close();
      throw error;
    }
  };
  try {
    return take();
  } catch (error) {
    if (isLocked(error))
      throw new AppError(
        'in-use',
        'this collection is open in another Frugal Sip already. Use that one, stop it first, or choose another folder: FRUGAL_SIP_DATA=/some/folder npm start',
      );
    if (!isDamage(error)) throw error;
    rmSync(path, { force: true });
    return take();
  }
}
