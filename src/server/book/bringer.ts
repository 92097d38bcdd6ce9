import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { removeFile } from '../database/copy-file.ts';
import { BRING } from '../database/file-state.ts';
import type { CopyResult, CopyTask } from '../database/in-copy.ts';
import { noLargerThan } from './no-larger.ts';

/** How often it is begun anew where others log without a pause. */
const MOST_TRIES = 3;

/** A file on its way in. `sent`: here, and not yet told how it is to be read. */
export type Bringing<Report> = {
  readonly id: string;
  readonly name: string;
  readonly state: 'sent' | 'reading' | 'ready' | 'refused' | 'stopped' | 'kept';
  readonly done: number;
  readonly report: Report | null;
  readonly words: string | null;
  readonly backup: string | null;
};
type Brought<Report, Ask> = { -readonly [K in keyof Bringing<Report>]: Bringing<Report>[K] } & {
  readonly upload: string;
  readonly candidate: string;
  /** Shared with the thread: thousandths read; whether to stop. */
  readonly flags: Int32Array<SharedArrayBuffer>;
  /** How it is to be read. */
  ask?: Ask | undefined;
  tip: string;
  work: Promise<void>;
  /** Pressed twice, it is put in place once. */
  keeping?: Promise<Bringing<Report>> | undefined;
};
type Reading<Report, Ask> = {
  readonly mostBytes: number;
  readonly tooLarge: string;
  /** Reads the file into a copy of the collection, in a thread of its own. */
  read(task: CopyTask, ask: Ask, of: { readonly id: string; readonly name: string }): Promise<CopyResult<Report>>;
  /** It can be read otherwise once it was refused: till then it stays. */
  readonly again: boolean;
  /** Whether nothing of it can be brought in. */
  refuses(report: Report): boolean;
};

/**
 * A file brought in, one at a time: read into a copy of the collection while that goes on being used; the grower is told what would come, and only then the copy takes
 * the collection's place. What was prepared is gone when the server ends.
 */
export class Bringer<Report, Ask> {
  readonly #context: AppContext;
  readonly #reading: Reading<Report, Ask>;
  #now: Brought<Report, Ask> | undefined;

  constructor(context: AppContext, reading: Reading<Report, Ask>) {
    this.#context = context;
    this.#reading = reading;
    context.database.home.closing.push(() => this.#drop());
  }

  /**
   * @param ask how it is to be read; where that is asked once it is here, undefined
   * @throws AppError `busy` where another one is being read, `backup-bad` where it is too large
   */
  async take(name: string, body: Readable, ask?: Ask): Promise<Bringing<Report>> {
    if (this.#now?.state === 'reading')
      throw new AppError('busy', 'Another file is being read. Stop that one first, or wait for it.');
    this.#drop();
    const id = randomUUID();
    const stem = `${this.#context.database.file}${BRING}${id}`;
    const upload = `${stem}.part`;
    const brought: Brought<Report, Ask> = {
      ...{ id, name, state: 'sent', done: 0, report: null, words: null, backup: null, tip: '' },
      ...{ upload, candidate: `${stem}.sqlite`, work: Promise.resolve() },
      flags: new Int32Array(new SharedArrayBuffer(8)),
    };
    this.#now = brought;
    try {
      const { mostBytes, tooLarge } = this.#reading;
      await pipeline(body, noLargerThan(mostBytes, tooLarge), createWriteStream(upload));
    } catch (error) {
      this.#drop();
      throw error;
    }
    if (ask !== undefined) this.#begin(brought, ask);
    return stateOf(brought);
  }

  /** Reads it, or reads it otherwise. @throws AppError `not-found`; `busy` while it is being read */
  readAs(id: string, ask: Ask): Bringing<Report> {
    const brought = this.#of(id);
    if (brought.state === 'reading')
      throw new AppError('busy', 'It is being read already. Stop that first, or wait for it.');
    if (brought.state === 'kept' || brought.state === 'stopped')
      throw new AppError('not-found', 'That file is not here any more. Choose it again.');
    this.#begin(brought, ask);
    return stateOf(brought);
  }

  #begin(brought: Brought<Report, Ask>, ask: Ask): void {
    Object.assign(brought, { ask, state: 'reading', report: null, words: null });
    Atomics.store(brought.flags, 0, 0);
    brought.work = this.#read(brought);
  }

  /** @throws AppError `not-found` */
  state(id: string): Bringing<Report> {
    return stateOf(this.#of(id));
  }

  /** Lets it be, while it is read or once it was. */
  async stop(id: string): Promise<Bringing<Report>> {
    const brought = this.#of(id);
    Atomics.store(brought.flags, 1, 1);
    await brought.work;
    if (brought.state !== 'kept') brought.state = 'stopped';
    removeFiles(brought);
    return stateOf(brought);
  }

  /** What was read takes the collection's place. @throws AppError `changed-since`, `locked`, `not-found` */
  keep(id: string): Promise<Bringing<Report>> {
    const brought = this.#of(id);
    return (brought.keeping ??= this.#keep(brought).finally(() => (brought.keeping = undefined)));
  }

  async #keep(brought: Brought<Report, Ask>): Promise<Bringing<Report>> {
    if (brought.state === 'kept') return stateOf(brought);
    for (let tries = 1; brought.state === 'ready'; tries++) {
      try {
        const { backups, clock } = this.#context;
        brought.backup = await backups.putInPlace(brought.candidate, brought.tip, clock.now());
        brought.state = 'kept';
      } catch (error) {
        if (!(error instanceof AppError && error.code === 'changed-since') || tries === MOST_TRIES) throw error;
        // Something was logged since it was read: it is read into that.
        brought.state = 'reading';
        await this.#read(brought);
      }
    }
    if (brought.state === 'stopped')
      throw new AppError('not-found', 'There is nothing ready to be brought in. Choose the file again.');
    removeFiles(brought);
    return stateOf(brought);
  }

  #of(id: string): Brought<Report, Ask> {
    if (this.#now?.id !== id)
      throw new AppError(
        'not-found',
        'That file is not here any more: the server was started again, or another one was chosen. Choose it again.',
      );
    return this.#now;
  }

  async #read(brought: Brought<Report, Ask>): Promise<void> {
    const { upload, candidate, flags, id, name } = brought;
    try {
      const task = { collection: this.#context.database.file, upload, candidate, progress: flags.buffer };
      this.#note(brought, await this.#reading.read(task, brought.ask!, { id, name }));
    } catch (error) {
      brought.state = 'refused';
      brought.words = `The file could not be read (${String((error as Error).message).slice(0, 160)}). Nothing was changed.`;
    }
    if (brought.state === 'stopped' || (brought.state === 'refused' && !this.#reading.again)) removeFiles(brought);
    else if (brought.state !== 'ready') removeFile(candidate);
  }

  #note(brought: Brought<Report, Ask>, { tip, report, words, stopped }: CopyResult<Report>): void {
    brought.tip = tip;
    brought.report = report;
    brought.words = words;
    if (stopped) brought.state = 'stopped';
    else brought.state = words !== null || !report || this.#reading.refuses(report) ? 'refused' : 'ready';
  }

  #drop(): void {
    if (!this.#now) return;
    Atomics.store(this.#now.flags, 1, 1);
    removeFiles(this.#now);
    this.#now = undefined;
  }
}

function removeFiles({ upload, candidate }: { readonly upload: string; readonly candidate: string }): void {
  for (const file of [upload, `${upload}.json`, candidate]) removeFile(file);
}

const stateOf = <Report, Ask>({
  id,
  name,
  state,
  report,
  words,
  backup,
  flags,
}: Brought<Report, Ask>): Bringing<Report> => ({
  ...{ id, name, state, report, words, backup },
  done: state === 'reading' ? Atomics.load(flags, 0) / 1000 : state === 'sent' ? 0 : 1,
});
