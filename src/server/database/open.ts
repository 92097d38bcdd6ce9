import { copyFileSync, existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { dirname } from 'node:path';
import { DataSource } from 'typeorm';
import { AppError } from '../app-error.ts';
import { leaveOut, lookAhead, type Ahead, type AsOf, type OddLine } from './ahead.ts';
import { crashPoint } from './crash-point.ts';
import { inFileThread } from './file-thread.ts';
import { syncToDisk } from './file-work.ts';
import { holdCollection } from './folder-lock.ts';
import type { Home } from './home.ts';
import { tipOf } from './tip.ts';
import { openReader, openSources, openWriter, type BeforeUpdate, type Sources } from './sources.ts';
import { isDamage, rawOf } from './raw.ts';
import { SwapGate } from './swap-gate.ts';
import { WriteQueue } from './write-queue.ts';
import {
  type FileTrouble,
  tidy,
  troubleAtStart,
  DAMAGED,
  type Identity,
  identityOf,
  isSame,
  REPLACED,
  hasBytes,
  keep,
} from './file-state.ts';

/** An open collection: one connection that writes (only through the queue) and one that reads. */
export type Database = {
  readonly file: string;
  readonly home: Home;
  readonly write: WriteQueue;
  /** @throws AppError `busy` while a backup is being put in place, `damaged` when there is no file that could be read */
  readonly read: DataSource;
  readonly writer: DataSource;
  /** What lies ahead of now. From here on `read` leaves it out of everything read. */
  asOf(now: AsOf): Promise<Ahead>;
  /** Lines of the log that cannot be understood, as far as they were looked for: `read` leaves them out. */
  readonly oddLines: readonly OddLine[];
  /** Looks for such lines, in a thread of its own: some 25 µs a line. */
  checkLines(): Promise<void>;
  /** Looks pass here, so that a swap of the file can wait for them. */
  readonly gate: SwapGate;
  /** What is wrong with the file just now, if anything. */
  trouble(): FileTrouble | null;
  /** Notes an error that tells of damage, whoever met it. */
  noteError(error: unknown): void;
  /** Copies the collection as it stands now into a file of its own, checked whole, while it goes on being used. @throws AppError `backup-bad` */
  copyTo(file: string): Promise<void>;
  /**
   * Puts another file, brought to this version already, in this one's place. What was there is kept at `keepAs`, with every act acknowledged until then: acts asked
   * for meanwhile wait. If the other cannot be opened, what was there is back.
   * @param sameAs what `tipOf` said of the collection when the other was made of it: nothing logged since is lost in the swap
   * @returns whether there was anything to keep
   * @throws AppError `locked` when another program holds the file; `changed-since` when something was logged since
   */
  replaceWith(file: string, keepAs: string, sameAs?: string): Promise<boolean>;
  close(): Promise<void>;
};

type Options = {
  readonly now?: () => Date;
  readonly beforeUpdate?: BeforeUpdate;
  /** Serves without the file where it is damaged or gone and backups of it are there, instead of refusing to start. */
  readonly evenDamaged?: boolean;
};

/** A look that was begun on the reading connection before is over by then. */
const LOOKS_LAST_MS = 10_000;

/**
 * Opens (and creates, and migrates) the SQLite file. WAL, foreign keys on, synchronous FULL. Before a migration the file is copied to the backups.
 * @throws AppError `backup-bad` when the file was made by a newer version: it is left as it is; `in-use` when another server holds it
 */
export async function openDatabase(file: string, options: Options = {}): Promise<Database> {
  mkdirSync(dirname(file), { recursive: true });
  const letGo = holdCollection(file);
  const opened = new OpenCollection(file, options.now ?? (() => new Date()), letGo);
  try {
    tidy(file);
    const trouble = troubleAtStart(file);
    if (!trouble) await opened.begin(options.beforeUpdate);
    else if (options.evenDamaged) opened.standShut(trouble);
    else throw new AppError('damaged', trouble.words);
  } catch (error) {
    if (!(options.evenDamaged && isDamage(error))) {
      letGo();
      throw error;
    }
    opened.standShut(DAMAGED);
  }
  return opened;
}

class OpenCollection implements Database {
  readonly home: Home = { reader: () => this.#open().read, logged: 0, beside: 0, whole: false, closing: [] };
  readonly gate = new SwapGate();
  readonly write: WriteQueue;
  readonly file: string;
  readonly #now: () => Date;
  readonly #letGo: () => void;
  #sources: Sources | undefined;
  #swapping = false;
  #trouble: FileTrouble | null = null;
  #expected: Identity | undefined;
  /** Readers of before: looks under way go on with them for a moment. */
  readonly #retired = new Set<DataSource>();
  /** What the reader leaves out, told apart by this. */
  #leftOut = '';
  #odd: readonly OddLine[] = [];

  constructor(file: string, now: () => Date, letGo: () => void) {
    this.file = file;
    this.#now = now;
    this.#letGo = letGo;
    this.write = new WriteQueue({
      writer: () => this.writer,
      reader: () => this.#open().read,
      reopenWriter: () => this.#reopenWriter(),
      requireSound: () => {
        const found = this.trouble();
        if (found) throw new AppError('damaged', found.words);
      },
      foundDamaged: () => (this.#trouble ??= DAMAGED),
      home: this.home,
    });
  }

  async begin(beforeUpdate: BeforeUpdate | undefined): Promise<void> {
    this.#sources = await openSources(this.file, this.home, beforeUpdate, this.#now);
    this.#expected = identityOf(this.file);
  }

  /** Serves without the file: only its backups are to be had. */
  standShut(trouble: FileTrouble): void {
    this.#trouble = trouble;
    this.#expected = identityOf(this.file);
  }

  get read(): DataSource {
    return this.#open().read;
  }

  get writer(): DataSource {
    const { writer } = this.#open();
    if (!writer)
      throw new AppError(
        'cannot-write',
        'The data folder cannot be written, so nothing was logged. Check the folder; what you did is kept on your device.',
      );
    return writer;
  }

  get oddLines(): readonly OddLine[] {
    return this.#odd;
  }

  trouble(): FileTrouble | null {
    const { file } = this;
    if (!this.#trouble && !this.#swapping && this.#sources && !isSame(file, this.#expected)) this.#trouble = REPLACED;
    return this.#trouble;
  }

  noteError(error: unknown): void {
    if (isDamage(error)) this.#trouble ??= DAMAGED;
  }

  /** A connection that sees other rows is another connection: nothing kept of the one before can be mistaken for it. */
  async asOf(now: AsOf): Promise<Ahead> {
    const held = this.#open();
    const odd = this.#odd;
    const { key: aheadKey, ...ahead } = lookAhead(rawOf(held.read), now);
    const key = odd.length === 0 ? aheadKey : `${aheadKey} odd ${odd.map((line) => line.seq).join(' ')}`;
    if (key === this.#leftOut) return ahead;
    const next = await openReader(this.file, this.home);
    if (key !== '') leaveOut(rawOf(next), now, odd);
    if (this.#sources !== held) {
      await next.destroy();
      return ahead;
    }
    this.#leftOut = key;
    const old = held.read;
    held.read = next;
    this.#retired.add(old);
    setTimeout(() => void this.#letReaderGo(old), LOOKS_LAST_MS).unref();
    return ahead;
  }

  async checkLines(): Promise<void> {
    const of = this.#open();
    const found = await inFileThread('oddLines', { file: this.file });
    // Another file may stand here by now: its own check follows it.
    if (this.#sources === of) this.#odd = found;
  }

  async copyTo(target: string): Promise<void> {
    mkdirSync(dirname(target), { recursive: true });
    const { read } = this.#open();
    // Where another file stands in its place, only the open connection still knows ours.
    const elsewhere = this.trouble()?.kind === 'replaced';
    if (elsewhere) await rawOf(read).backup(target);
    const verdict = elsewhere
      ? await inFileThread('checkWhole', { file: target })
      : await inFileThread('copyAndCheck', { from: this.file, to: target });
    if (!verdict.ok) throw new AppError('backup-bad', verdict.words);
  }

  replaceWith(next: string, keepAs: string, sameAs?: string): Promise<boolean> {
    return this.write.alone(() =>
      this.gate.shutFor(async () => {
        if (sameAs !== undefined && tipOf(rawOf(this.#open().read)) !== sameAs)
          throw new AppError('changed-since', 'Something was logged meanwhile. Nothing was changed; try once more.');
        // Looked at before the swap, which itself changes the file in its place.
        const before = this.trouble();
        this.#swapping = true;
        try {
          return await this.#swap(next, keepAs, before);
        } finally {
          this.#swapping = false;
        }
      }),
    );
  }

  async close(): Promise<void> {
    await this.write.idle();
    for (const last of this.home.closing) last();
    await this.#closeSources();
    this.#letGo();
  }

  #open(): Sources {
    if (this.#sources) return this.#sources;
    if (this.#swapping || !this.#trouble)
      throw new AppError('busy', 'A backup is being put in place. Wait a moment and try again; nothing was lost.');
    throw new AppError('damaged', this.#trouble.words);
  }

  async #reopenWriter(): Promise<void> {
    const held = this.#open();
    const old = held.writer;
    held.writer = undefined;
    if (old?.isInitialized) await old.destroy().catch(() => undefined);
    held.writer = await openWriter(this.file, this.home);
  }

  async #letReaderGo(reader: DataSource): Promise<void> {
    if (this.#retired.delete(reader) && reader.isInitialized) await reader.destroy();
  }

  async #closeSources(): Promise<void> {
    const old = this.#sources;
    this.#sources = undefined;
    this.#leftOut = '';
    this.#odd = [];
    for (const reader of [...this.#retired]) await this.#letReaderGo(reader);
    if (old?.read.isInitialized) await old.read.destroy();
    if (old?.writer?.isInitialized) await old.writer.destroy();
  }

  async #openAgain(): Promise<void> {
    await this.begin(undefined);
  }

  /** With the queue and the gate shut: the file makes way for another one. @returns whether there was one to keep */
  async #swap(next: string, keepAs: string, before: FileTrouble | null): Promise<boolean> {
    mkdirSync(dirname(keepAs), { recursive: true });
    let kept: boolean;
    try {
      kept = await this.#setAside(before, keepAs);
    } catch (error) {
      // Nothing was moved yet: what was open is open again.
      if (!this.#sources && !before) await this.#openAgain();
      throw error;
    }
    crashPoint('restore-kept');
    const { file } = this;
    let moved = false;
    try {
      for (const end of ['-wal', '-shm', '-journal']) rmSync(`${file}${end}`, { force: true });
      crashPoint('restore-log-gone');
      // One step, and the folder synced: a plug pulled before it finds the old file, after it the new one.
      renameSync(next, file);
      moved = true;
      syncToDisk(dirname(file));
      crashPoint('restore-moved');
      await this.#openAgain();
      crashPoint('restore-opened');
      this.#trouble = null;
      return kept;
    } catch (error) {
      await this.#closeSources();
      for (const end of ['-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
      if (moved && !kept) rmSync(file, { force: true });
      else if (moved) {
        copyFileSync(keepAs, next);
        renameSync(next, file);
        // Of a file that was replaced, what was kept is the only copy there is.
      } else if (before?.kind !== 'replaced') rmSync(keepAs, { force: true });
      if (!before) await this.#openAgain();
      throw error;
    }
  }

  async #setAside(before: FileTrouble | null, keepAs: string): Promise<boolean> {
    const { file } = this;
    if (before?.kind === 'replaced') {
      // The file in place is not ours: ours is only what the open connections hold.
      await rawOf(this.#open().read).backup(keepAs);
      await this.#closeSources();
      return true;
    }
    if (this.#sources?.writer && !before) {
      const [checkpoint] = rawOf(this.writer).pragma('wal_checkpoint(TRUNCATE)') as { busy: number }[];
      if (checkpoint?.busy) throw heldElsewhere();
    }
    await this.#closeSources();
    if (!existsSync(file)) return false;
    // Closed by its last reader a whole file has no log beside it.
    if (hasBytes(`${file}-wal`)) {
      if (!before) {
        await this.#openAgain();
        throw heldElsewhere();
      }
      copyFileSync(`${file}-wal`, `${keepAs}-wal`);
    }
    keep(file, keepAs);
    return true;
  }
}

const heldElsewhere = () =>
  new AppError(
    'locked',
    'Another program holds the collection. Close it and put the backup back then; nothing was changed.',
  );
