import { copyAtOneMoment, removeFile } from './copy-file.ts';
import { Sqlite } from './sqlite.ts';
import { tipOf } from './tip.ts';

/*
 * Work on a copy of the collection, ready to take its place: in one transaction, all of it or nothing.
 */

export type CopyTask = {
  readonly collection: string;
  readonly upload: string;
  readonly candidate: string;
  /** Int32 × 2, shared: thousandths read; whether to stop. */
  readonly progress: SharedArrayBuffer;
};
/** `tip`: the last of the collection that the copy holds. `words`: why nothing of it can be brought in. */
export type CopyResult<Report> = {
  readonly tip: string;
  readonly report: Report | null;
  readonly words: string | null;
  readonly stopped: boolean;
};

/** Thrown where the grower has said to stop. */
export class Stopped extends Error {}

/**
 * @param work leaves the transaction open where it is to stand; rolled back, the copy is taken away
 * @param Told errors of this class tell the grower why, in words
 */
export async function inCopy<Report>(
  { collection, candidate, progress }: CopyTask,
  work: (raw: Sqlite, flags: Int32Array) => Report | Promise<Report>,
  Told: new (words: string) => Error,
): Promise<CopyResult<Report>> {
  const flags = new Int32Array(progress);
  removeFile(candidate);
  let raw: Sqlite | undefined;
  let tip = '';
  try {
    await copyAtOneMoment(collection, candidate);
    raw = new Sqlite(candidate, { fileMustExist: true });
    raw.pragma('trusted_schema = OFF');
    raw.pragma('foreign_keys = ON');
    tip = tipOf(raw);
    raw.exec('BEGIN IMMEDIATE');
    const report = await work(raw, flags);
    const stands = raw.inTransaction;
    if (stands) raw.exec('COMMIT');
    Atomics.store(flags, 0, 1000);
    raw.pragma('wal_checkpoint(TRUNCATE)');
    raw.close();
    raw = undefined;
    if (!stands) removeFile(candidate);
    return { tip, report, words: null, stopped: false };
  } catch (error) {
    if (raw?.inTransaction) raw.exec('ROLLBACK');
    raw?.close();
    removeFile(candidate);
    if (error instanceof Stopped) return { tip, report: null, words: null, stopped: true };
    if (error instanceof Told) return { tip, report: null, words: error.message, stopped: false };
    throw error;
  }
}
