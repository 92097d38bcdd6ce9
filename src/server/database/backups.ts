import { randomBytes } from 'node:crypto';
import { existsSync, linkSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { BackupView } from '../../contract/shell.ts';
import { AppError } from '../app-error.ts';
import { crashPoint } from './crash-point.ts';
import { backupFolderOf, backupNames, freeBackupName, readBackupName, stemOf, WHYS, type Why } from './file-names.ts';
import { inFileThread } from './file-thread.ts';
import { syncToDisk, type FileVerdict, type Found } from './file-work.ts';
import type { Database } from './open.ts';

/** Daily backups kept; those made on request or before a restore are kept until the grower removes them. */
const DAILY_KEPT = 14;

/**
 * Backups of a collection. Each is checked before it counts: a half-written copy never takes the name. One is made or put back at a time; the
 * work on whole files is done in a thread of its own.
 */
export class Backups {
  readonly folder: string;
  readonly #database: Database;
  readonly #stem: string;
  #line: Promise<unknown> = Promise.resolve();
  /** What was found in a file, by its name, size and time: files do not change once they have their name. */
  #looked = new Map<string, Inside>();

  constructor(database: Database) {
    this.#database = database;
    this.folder = backupFolderOf(database.file);
    this.#stem = stemOf(database.file);
  }

  /** Makes a backup and checks it. @throws AppError `backup-bad`, `disk-full`, `cannot-write` */
  make(why: Why, at: Date): Promise<string> {
    return this.#inLine(() => this.#make(why, at));
  }

  /**
   * The day's backup, when there is none yet; old daily ones beyond the last fourteen go. Those dated ahead of today (a clock that was wrong) are neither
   * counted nor removed. @returns its name, or undefined
   */
  daily(at: Date): Promise<string | undefined> {
    return this.#inLine(async () => {
      const day = at.toISOString().slice(0, 10);
      const dailies = () =>
        this.#names().filter((name) => readBackupName(name)!.why === 'daily' && readBackupName(name)!.day <= day);
      if (dailies().some((name) => readBackupName(name)!.day === day)) return undefined;
      const made = await this.#make('daily', at);
      for (const name of dailies().slice(0, -DAILY_KEPT)) rmSync(join(this.folder, name), { force: true });
      return made;
    });
  }

  /** Every backup, newest first, with what is in it. */
  async list(): Promise<BackupView[]> {
    const views: BackupView[] = [];
    for (const name of this.#names().reverse()) {
      const path = join(this.folder, name);
      const stat = statSync(path, { throwIfNoEntry: false });
      if (!stat) continue;
      const { at, why } = readBackupName(name)!;
      views.push({
        name,
        at,
        bytes: stat.size,
        why: WHYS[why],
        ...(await this.#lookInto(path, `${name} ${stat.size} ${stat.mtimeMs}`)),
      });
    }
    return views;
  }

  /** The path of a backup by name. @throws AppError `not-found` */
  pathOf(name: string): string {
    if (!readBackupName(name) || !existsSync(join(this.folder, name)))
      throw new AppError('not-found', 'There is no such backup in the folder.');
    return join(this.folder, name);
  }

  /** Where a file brought in from elsewhere is written before it is checked. `accept` gives it its name, `refuse` takes it away. */
  incoming(at: Date): { part: string; accept(): Promise<string>; refuse(): void } {
    const part = this.#part('brought');
    const refuse = () => rmSync(part, { force: true });
    return {
      part,
      refuse,
      accept: () =>
        this.#inLine(async () => {
          try {
            requireSound(await inFileThread('checkWhole', { file: part }));
            await inFileThread('closeJournal', { file: part });
            return this.#name(part, 'brought', at);
          } catch (error) {
            refuse();
            throw error;
          }
        }),
    };
  }

  /**
   * Puts a backup in the collection's place. A copy of it is checked whole and brought to this version first, while the collection goes on being used; then
   * the two change places between two acts, and what was there is kept as a backup of its own.
   * @returns the name of the backup made of what was there; null where there was nothing
   * @throws AppError `not-found`, `backup-bad`, `locked`: then nothing was changed
   */
  restore(name: string, at: Date): Promise<string | null> {
    return this.#inLine(async () => {
      const next = `${this.#database.file}.next`;
      try {
        requireSound(await inFileThread('prepareCandidate', { from: this.pathOf(name), to: next }));
        crashPoint('restore-prepared');
        const kept = freeBackupName(
          this.folder,
          this.#stem,
          this.#database.trouble()?.kind === 'damaged' ? 'damaged' : 'before',
          at,
        );
        const there = await this.#database.replaceWith(next, join(this.folder, kept));
        // It is in place, whatever is found in it.
        await this.#database.checkLines().catch((error: unknown) => console.error(error));
        if (!there) return null;
        // From now on it is nobody's: it can be carried about as one file.
        if (readBackupName(kept)!.why === 'before')
          await inFileThread('closeJournal', { file: join(this.folder, kept) });
        return kept;
      } finally {
        rmSync(next, { force: true });
      }
    });
  }

  /**
   * Puts a file that was made of the collection, and checked, in the collection's place; what was there is kept as a backup of its own.
   * @param madeOf what `tipOf` said of the collection when the file was made of it
   * @returns the name of that backup
   * @throws AppError `changed-since` where something was logged since, `locked`: then nothing was changed
   */
  putInPlace(file: string, madeOf: string, at: Date): Promise<string> {
    return this.#inLine(async () => {
      const kept = freeBackupName(this.folder, this.#stem, 'before', at);
      await this.#database.replaceWith(file, join(this.folder, kept), madeOf);
      await this.#database.checkLines().catch((error: unknown) => console.error(error));
      await inFileThread('closeJournal', { file: join(this.folder, kept) });
      return kept;
    });
  }

  async #make(why: Why, at: Date): Promise<string> {
    const part = this.#part(why);
    try {
      await this.#database.copyTo(part);
      crashPoint('backup-copied');
      return this.#name(part, why, at);
    } catch (error) {
      rmSync(part, { force: true });
      throw error;
    }
  }

  #part(why: Why): string {
    mkdirSync(this.folder, { recursive: true });
    return join(this.folder, `${this.#stem}.${why}.${randomBytes(6).toString('hex')}.part`);
  }

  /** Gives a checked file its name, never over another. */
  #name(part: string, why: Why, at: Date): string {
    const name = freeBackupName(this.folder, this.#stem, why, at);
    try {
      linkSync(part, join(this.folder, name));
      rmSync(part);
    } catch {
      // A file system without second names.
      renameSync(part, join(this.folder, name));
    }
    syncToDisk(this.folder);
    crashPoint('backup-named');
    return name;
  }

  #names(): string[] {
    return backupNames(this.folder, this.#stem);
  }

  async #lookInto(path: string, key: string): Promise<Inside> {
    let inside = this.#looked.get(key);
    if (!inside) {
      try {
        const verdict = await inFileThread('lookInto', { file: path });
        inside = verdict.ok
          ? { ...verdict.found, problem: null }
          : { pots: null, events: null, problem: verdict.words };
      } catch {
        return { pots: null, events: null, problem: 'It cannot be read.' };
      }
      this.#looked.set(key, inside);
    }
    return inside;
  }

  #inLine<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#line.then(work);
    this.#line = result.catch(() => undefined);
    return result;
  }
}

type Inside = { readonly pots: number | null; readonly events: number | null; readonly problem: string | null };

function requireSound(verdict: FileVerdict): Found {
  if (!verdict.ok) throw new AppError('backup-bad', verdict.words);
  return verdict.found;
}
