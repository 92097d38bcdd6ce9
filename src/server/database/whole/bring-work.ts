import { closeSync, createWriteStream, openSync, readSync, rmSync, statSync } from 'node:fs';
import { posix } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Entry, openPromise, type ZipFile } from 'yauzl';
import type { BringReport } from '../../../contract/whole.ts';
import { inCopy, Stopped, type CopyResult, type CopyTask } from '../in-copy.ts';
import type { Sqlite } from '../sqlite.ts';
import { Merger } from './merge-whole.ts';
import { NotWhole, readWhole } from './read-whole.ts';

/*
 * In a thread of its own: a copy of the collection as it stands, and everything of a file brought into it, ready to take its place. Nothing of the collection itself
 * is touched.
 */

export type BringTask = CopyTask;
export type BringResult = CopyResult<BringReport>;

/** Records between two looks at whether to stop. */
const AT_ONCE = 500;
/** What a ZIP may unfold into: ten years of 500 pots ten times over. */
const MOST_UNFOLDED = 8 * 1024 ** 3;
const MOST_ENTRIES = 300_000;
const COLLECTION = 'collection.json';

export async function bringWhole(task: BringTask): Promise<BringResult> {
  const json = `${task.upload}.json`;
  try {
    return await inCopy(task, (raw, flags) => bring(raw, task.upload, json, flags), NotWhole);
  } finally {
    rmSync(json, { force: true });
  }
}

async function bring(raw: Sqlite, upload: string, json: string, flags: Int32Array): Promise<BringReport> {
  const zip = isZip(upload) ? await Archive.open(upload) : undefined;
  const merger = new Merger(raw);
  let madeAt: string | null = null;
  try {
    if (zip) await zip.unfold(COLLECTION, json);
    const file = zip ? json : upload;
    const size = Math.max(1, statSync(file).size);
    let [records, bytes] = [0, 0];
    const whole = readWhole(
      file,
      (head) => (madeAt = head.madeAt),
      (read) => (bytes += read),
    );
    for await (const record of whole) {
      const name = record.part === 'photos' ? (record.row as { file?: unknown } | null)?.file : undefined;
      merger.add(record, typeof name === 'string' ? await zip?.bytesOf(name) : undefined);
      if (++records % AT_ONCE !== 0) continue;
      Atomics.store(flags, 0, Math.min(999, Math.floor((1000 * bytes) / size)));
      if (Atomics.load(flags, 1) === 1) throw new Stopped();
    }
    merger.end();
    const report = merger.report(madeAt);
    if (report.problems.length > 0) raw.exec('ROLLBACK');
    return report;
  } finally {
    zip?.close();
  }
}

function isZip(file: string): boolean {
  const handle = openSync(file, 'r');
  try {
    const start = Buffer.alloc(4);
    readSync(handle, start, 0, 4, 0);
    return start.readUInt32BE(0) === 0x504b0304;
  } finally {
    closeSync(handle);
  }
}

/** A ZIP whose entries are found by name. Names that lead out of it are refused by its reader; what it unfolds into is counted, whatever its headers say. */
class Archive {
  readonly #zip: ZipFile;
  readonly #entries: ReadonlyMap<string, Entry>;
  #unfolded = 0;

  private constructor(zip: ZipFile, entries: ReadonlyMap<string, Entry>) {
    this.#zip = zip;
    this.#entries = entries;
  }

  static async open(file: string): Promise<Archive> {
    try {
      const zip = await openPromise(file, { autoClose: false });
      if (zip.entryCount > MOST_ENTRIES)
        throw new NotWhole('That ZIP holds more files than any collection. Nothing was changed.');
      const entries: Entry[] = [];
      for await (const entry of zip.eachEntry()) entries.push(entry);
      // Unpacked and packed again it may stand in a folder.
      const folders = entries.flatMap(({ fileName }) =>
        posix.basename(fileName) === COLLECTION ? [posix.dirname(fileName)] : [],
      );
      const folder = folders.sort((a, b) => a.length - b.length)[0] ?? '.';
      return new Archive(zip, new Map(entries.map((entry) => [posix.relative(folder, entry.fileName), entry])));
    } catch (error) {
      if (error instanceof NotWhole) throw error;
      throw new NotWhole(
        `That ZIP cannot be read (${String((error as Error).message).slice(0, 100)}). Save it once more, whole, and bring that in.`,
      );
    }
  }

  /** One of its files, unfolded beside it. @throws NotWhole */
  async unfold(name: string, to: string): Promise<void> {
    const entry = this.#entries.get(name);
    if (!entry)
      throw new NotWhole(`That ZIP holds no ${name}. Choose a ZIP that was saved under Book, Take it with you.`);
    await this.#reading(name, async () => {
      await pipeline(await this.#zip.openReadStreamPromise(entry), this.#counting(), createWriteStream(to));
    });
  }

  /** A small file of it, whole. */
  async bytesOf(name: string): Promise<Buffer | undefined> {
    const entry = this.#entries.get(name);
    if (!entry) return undefined;
    const parts: Buffer[] = [];
    await this.#reading(name, async () => {
      const stream = (await this.#zip.openReadStreamPromise(entry)).pipe(this.#counting());
      for await (const part of stream) parts.push(part as Buffer);
    });
    return Buffer.concat(parts);
  }

  close(): void {
    this.#zip.close();
  }

  async #reading(name: string, work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      if (error instanceof NotWhole) throw error;
      throw new NotWhole(
        `"${name}" in that ZIP cannot be read (${String((error as Error).message).slice(0, 100)}). Nothing was changed.`,
      );
    }
  }

  #counting(): Transform {
    return new Transform({
      transform: (piece: Buffer, _encoding, done) => {
        this.#unfolded += piece.length;
        if (this.#unfolded > MOST_UNFOLDED)
          done(new NotWhole('That ZIP unfolds into more than any collection. Nothing was changed.'));
        else done(null, piece);
      },
    });
  }
}
