import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { BringState } from '../../../contract/whole.ts';
import type { AppContext } from '../../app-context.ts';
import { AppError } from '../../app-error.ts';
import { removeFile } from '../../database/copy-file.ts';
import { BRING } from '../../database/file-state.ts';
import { inFileThread } from '../../database/file-thread.ts';
import type { BringResult } from '../../database/whole/bring-work.ts';
import { noLargerThan } from '../no-larger.ts';

/** The largest file taken in: ten years of 500 pots with a photo a week. */
export const MOST_BRING_BYTES = 4 * 1024 ** 3;
/** How often it is begun anew where others log without a pause. */
const MOST_TRIES = 3;

type Brought = BringState & {
  readonly upload: string;
  readonly candidate: string;
  /** Shared with the thread: thousandths read; whether to stop. */
  readonly flags: Int32Array<SharedArrayBuffer>;
  tip: string;
  work: Promise<void>;
  /** Pressed twice, it is put in place once. */
  keeping?: Promise<BringState> | undefined;
};

/**
 * A file brought in, one at a time: read into a copy of the collection while that goes on being used; the grower is told what would come, and only then the copy takes
 * the collection's place. What was prepared is gone when the server ends.
 */
export class Bringer {
  readonly #context: AppContext;
  #now: Brought | undefined;

  constructor(context: AppContext) {
    this.#context = context;
    context.database.home.closing.push(() => this.#drop());
  }

  /** @throws AppError `busy` where another one is being read, `backup-bad` where it is too large */
  async take(name: string, body: Readable): Promise<BringState> {
    if (this.#now?.state === 'reading')
      throw new AppError('busy', 'Another file is being read. Stop that one first, or wait for it.');
    this.#drop();
    const id = randomUUID();
    const stem = `${this.#context.database.file}${BRING}${id}`;
    const upload = `${stem}.part`;
    const brought: Brought = {
      ...{ id, name, state: 'reading', done: 0, report: null, words: null, backup: null, tip: '' },
      ...{ upload, candidate: `${stem}.sqlite`, work: Promise.resolve() },
      flags: new Int32Array(new SharedArrayBuffer(8)),
    };
    this.#now = brought;
    try {
      const tooLarge = 'That file is larger than any collection. Nothing was changed.';
      await pipeline(body, noLargerThan(MOST_BRING_BYTES, tooLarge), createWriteStream(upload));
    } catch (error) {
      this.#drop();
      throw error;
    }
    brought.work = this.#read(brought);
    return stateOf(brought);
  }

  /** @throws AppError `not-found` */
  state(id: string): BringState {
    return stateOf(this.#of(id));
  }

  /** Lets it be, while it is read or once it was. */
  async stop(id: string): Promise<BringState> {
    const brought = this.#of(id);
    Atomics.store(brought.flags, 1, 1);
    await brought.work;
    if (brought.state !== 'kept') brought.state = 'stopped';
    removeFiles(brought);
    return stateOf(brought);
  }

  /** What was read takes the collection's place. @throws AppError `changed-since`, `locked`, `not-found` */
  keep(id: string): Promise<BringState> {
    const brought = this.#of(id);
    return (brought.keeping ??= this.#keep(brought).finally(() => (brought.keeping = undefined)));
  }

  async #keep(brought: Brought): Promise<BringState> {
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

  #of(id: string): Brought {
    if (this.#now?.id !== id)
      throw new AppError(
        'not-found',
        'That file is not here any more: the server was started again, or another one was chosen. Choose it again.',
      );
    return this.#now;
  }

  async #read(brought: Brought): Promise<void> {
    const { upload, candidate, flags } = brought;
    try {
      const task = { collection: this.#context.database.file, upload, candidate, progress: flags.buffer };
      note(brought, await inFileThread('bringWhole', task));
    } catch (error) {
      brought.state = 'refused';
      brought.words = `The file could not be read (${String((error as Error).message).slice(0, 160)}). Nothing was changed.`;
    }
    if (brought.state !== 'ready') removeFiles(brought);
  }

  #drop(): void {
    if (!this.#now) return;
    Atomics.store(this.#now.flags, 1, 1);
    removeFiles(this.#now);
    this.#now = undefined;
  }
}

function removeFiles({ upload, candidate }: Brought): void {
  for (const file of [upload, `${upload}.json`, candidate]) removeFile(file);
}

function note(brought: Brought, { tip, report, words, stopped }: BringResult): void {
  brought.tip = tip;
  brought.report = report;
  brought.words = words;
  if (stopped) brought.state = 'stopped';
  else brought.state = words !== null || !report || report.problems.length > 0 ? 'refused' : 'ready';
}

const stateOf = ({ id, name, state, report, words, backup, flags }: Brought): BringState => ({
  ...{ id, name, state, report, words, backup },
  done: state === 'reading' ? Atomics.load(flags, 0) / 1000 : 1,
});
