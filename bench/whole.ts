/**
 * Everything out and in, of about a hundred thousand lines: how long, and how much memory the server takes for it.
 * `npx tsx bench/whole.ts [copies of the demo] [weeks]`
 */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream, createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { makeDemo } from '../src/demo/make-demo.ts';
import { wholeZip } from '../src/server/book/whole/whole-out.ts';
import { fillIndex } from '../src/server/book/log/log-index.ts';
import { ready } from '../src/server/collection/index.ts';
import { inFileThread } from '../src/server/database/file-thread.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { snapshotOf } from '../src/server/database/snapshot.ts';
import { wholeJson } from '../src/server/database/whole/write-whole.ts';

const TODAY = '2026-11-25';
// A process of its own makes the collection: what that took is no memory of a server's.
if (process.argv[2] === 'make') {
  const [file, copies, weeks] = [process.argv[3]!, Number(process.argv[4]), Number(process.argv[5])];
  const made = await openDatabase(file);
  await made.write.run((manager) => makeDemo(manager, { today: TODAY, copies, weeks }));
  await made.close();
  process.exit(0);
}
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const file = join(folder, 'x.sqlite');
await once(fork(import.meta.filename, ['make', file, process.argv[2] ?? '12', process.argv[3] ?? '156']), 'exit');
const database = await openDatabase(file);
const [{ n }] = (await database.read.query<{ n: number }[]>('SELECT count(*) AS n FROM care_event')) as [{ n: number }];
const now = { at: new Date(`${TODAY}T09:00:00Z`), localDate: TODAY };
const moment = () => snapshotOf(database.file, now, []);
const megabytes = (bytes: number) => (bytes / 1e6).toFixed(0);

/** Seconds, and the most memory meanwhile. */
async function timed(what: string, work: () => Promise<string>): Promise<void> {
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
  const from = performance.now();
  const said = await work();
  const seconds = (performance.now() - from) / 1000;
  clearInterval(watch);
  console.log(
    `${what}: ${seconds.toFixed(1)} s, ${((100_000 / n) * seconds).toFixed(1)} s a hundred thousand lines; ${megabytes(most)} MB at the most; ${said}`,
  );
}
const to = async (file: string, stream: Readable) => {
  await pipeline(stream, createWriteStream(join(folder, file)));
  return `${megabytes(statSync(join(folder, file)).size)} MB`;
};

console.log(`${n} lines`);
const collection = await ready(() => database.read.manager, TODAY);
console.log(`with the collection open: ${megabytes(process.memoryUsage().rss)} MB`);
await timed('out as JSON', async () => {
  const raw = moment();
  const { Readable: Stream } = await import('node:stream');
  const size = await to('whole.json', Stream.from(wholeJson(raw, now.at), { objectMode: false }));
  raw.close();
  return size;
});
await timed('out as ZIP', () => to('whole.zip', wholeZip(moment(), collection, 0.5, now.at)));
for (const file of ['whole.json', 'whole.zip']) {
  const empty = await openDatabase(join(folder, `${file}.sqlite`));
  await timed(`in, ${file}`, async () => {
    const candidate = join(folder, 'candidate.sqlite');
    const upload = join(folder, 'upload');
    await pipeline(createReadStream(join(folder, file)), createWriteStream(upload));
    const progress = new SharedArrayBuffer(8);
    const { report, tip } = await inFileThread('bringWhole', { collection: empty.file, upload, candidate, progress });
    await empty.replaceWith(candidate, join(folder, `${file}.before.sqlite`), tip);
    return `${report!.lines.comes} lines came`;
  });
  await timed('put into the index of words', async () => {
    await fillIndex(
      () => empty.read.manager,
      (work) => empty.write.run(work),
    );
    return 'beside everything else';
  });
  await empty.close();
}
await database.close();
rmSync(folder, { recursive: true, force: true });
