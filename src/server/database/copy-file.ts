import { rmSync } from 'node:fs';
import { Sqlite } from './sqlite.ts';

/** Copies a collection that is in use, as it stands at one moment, into one file. */
export async function copyAtOneMoment(from: string, to: string): Promise<void> {
  const source = new Sqlite(from, { readonly: true, fileMustExist: true, timeout: 5000 });
  try {
    // A snapshot is held meanwhile: without it the copy would begin again with every act logged, and under a busy round never end.
    source.exec('BEGIN');
    source.prepare('SELECT count(*) FROM sqlite_master').get();
    await source.backup(to);
  } finally {
    source.close();
  }
}

/** Takes a file away with all that SQLite puts beside it. */
export function removeFile(file: string): void {
  for (const end of ['', '-wal', '-shm', '-journal']) rmSync(`${file}${end}`, { force: true });
}
