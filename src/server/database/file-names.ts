import { existsSync, readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';

/*
 * Backups are whole collections in files of their own, in a folder beside the collection: `<name>.<why>.<day>T<time>.sqlite`, with `-2`, `-3` …
 * behind the time where several fall into one second.
 */

export const WHYS = {
  daily: 'daily',
  asked: 'asked',
  before: 'before restoring',
  brought: 'brought in',
  updating: 'before an update',
  damaged: 'set aside, damaged',
} as const;
export type Why = keyof typeof WHYS;

const PATTERN =
  /^[\w-]+\.(daily|asked|before|brought|updating|damaged)\.(\d{4}-\d{2}-\d{2})T(\d{2})(\d{2})(\d{2})(?:-(\d+))?\.sqlite$/;

export const backupFolderOf = (file: string) => join(dirname(file), 'backups');
export const stemOf = (file: string) => basename(file, '.sqlite');

export type BackupName = { readonly why: Why; readonly day: string; readonly at: string; readonly order: string };

/** What a file's name says of it; undefined where it is no backup's. */
export function readBackupName(name: string): BackupName | undefined {
  const found = PATTERN.exec(name);
  if (!found) return undefined;
  const [, why, day, hours, minutes, seconds, nth] = found;
  const at = `${day}T${hours}:${minutes}:${seconds}.000Z`;
  return { why: why as Why, day: day!, at, order: `${at}-${(nth ?? '1').padStart(4, '0')}` };
}

/** A name no file of the folder has. */
export function freeBackupName(folder: string, stem: string, why: Why, at: Date): string {
  const first = `${stem}.${why}.${at.toISOString().slice(0, 19).replaceAll(':', '')}`;
  for (let nth = 1; ; nth++) {
    const name = `${first}${nth === 1 ? '' : `-${nth}`}.sqlite`;
    if (!existsSync(join(folder, name))) return name;
  }
}

/** Names of the backups of one collection, oldest first. */
export function backupNames(folder: string, stem: string): string[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((name) => name.startsWith(`${stem}.`) && readBackupName(name) !== undefined)
    .sort((a, b) => (readBackupName(a)!.order < readBackupName(b)!.order ? -1 : 1));
}
