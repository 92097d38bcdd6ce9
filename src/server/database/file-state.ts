import { Sqlite } from './sqlite.ts';
import { copyFileSync, existsSync, linkSync, readdirSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { backupFolderOf, backupNames, stemOf } from './file-names.ts';
import { syncToDisk } from './file-work.ts';
import { isDamage } from './raw.ts';

/** What is wrong with the collection's file, in words for every room. While it is so, nothing is written. */
export type FileTrouble = { readonly kind: 'damaged' | 'missing' | 'replaced'; readonly words: string };

export const DAMAGED: FileTrouble = {
  kind: 'damaged',
  words: 'The collection’s file is damaged, so nothing more is written to it. Put a backup back: Book, Backups.',
};
export const REPLACED: FileTrouble = {
  kind: 'replaced',
  words:
    'The collection’s file was moved, deleted or replaced while it was open, so nothing more is written. What was logged until then can still be saved: Book, Backups, Back up now; then put that back.',
};

/** Clears away what a machine that went down left half done: part copies, a file that was to take this one's place, a kept name that is this file still. */
/** Beside the collection: what a file that is brought in is read into, gone with the server that read it. */
export const BRING = '.bring-';

export function tidy(file: string): void {
  for (const end of ['', '-wal', '-shm', '-journal']) rmSync(`${file}.next${end}`, { force: true });
  const brought = `${basename(file)}${BRING}`;
  for (const name of readdirSync(dirname(file)))
    if (name.startsWith(brought)) rmSync(join(dirname(file), name), { force: true });
  const folder = backupFolderOf(file);
  if (!existsSync(folder)) return;
  const stem = `${stemOf(file)}.`;
  for (const name of readdirSync(folder))
    if (name.startsWith(stem) && name.includes('.part')) rmSync(join(folder, name), { force: true });
  if (!existsSync(file)) return;
  const own = statSync(file);
  for (const name of backupNames(folder, stemOf(file))) {
    const other = statSync(join(folder, name));
    if (other.ino === own.ino && other.dev === own.dev && own.nlink > 1) rmSync(join(folder, name));
  }
}

/** What stands in the collection's place at start, when that is no collection. */
export function troubleAtStart(file: string): FileTrouble | null {
  const backups = backupNames(backupFolderOf(file), stemOf(file)).length;
  const size = existsSync(file) ? statSync(file).size : undefined;
  if (size === undefined || (size === 0 && !hasBytes(`${file}-wal`))) {
    if (backups === 0) return null;
    return size === undefined
      ? {
          kind: 'missing',
          words:
            'The collection’s file is gone from its folder; its backups are there. Put the newest back: Book, Backups.',
        }
      : {
          kind: 'damaged',
          words: 'The collection’s file is empty; its backups are there. Put the newest back: Book, Backups.',
        };
  }
  let db: Sqlite | undefined;
  try {
    db = new Sqlite(file, { fileMustExist: true, timeout: 1000 });
    const found = db.pragma('quick_check(1)', { simple: true });
    return found === 'ok' ? null : DAMAGED;
  } catch (error) {
    if (isDamage(error)) return DAMAGED;
    throw error;
  } finally {
    db?.close();
  }
}
export const hasBytes = (path: string) => existsSync(path) && statSync(path).size > 0;

/** The very file that was opened, by the system's own number for it. */
export type Identity = { readonly main: string; readonly wal: string | undefined };
export function identityOf(file: string): Identity | undefined {
  const main = numberOf(file);
  return main === undefined ? undefined : { main, wal: numberOf(`${file}-wal`) };
}
export function isSame(file: string, expected: Identity | undefined): boolean {
  if (!expected) return false;
  return numberOf(file) === expected.main && (expected.wal === undefined || numberOf(`${file}-wal`) === expected.wal);
}
function numberOf(path: string): string | undefined {
  const found = statSync(path, { bigint: true, throwIfNoEntry: false });
  return found && `${found.dev}:${found.ino}`;
}

/** The file under a second name: at once, whatever its size; a system without such names copies it. */
export function keep(file: string, keepAs: string): void {
  try {
    linkSync(file, keepAs);
  } catch (error) {
    if (!/^(EPERM|ENOTSUP|EOPNOTSUPP|ENOSYS|EXDEV|EMLINK)$/.test((error as { code?: string }).code ?? '')) throw error;
    copyFileSync(file, keepAs);
  }
  syncToDisk(dirname(keepAs));
}
