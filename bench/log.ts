/**
 * The log of 500 pots over ten years (a million lines): every way to look at it over the real routes, turns and trials with it. Prints median and 95th percentile.
 * `npx tsx bench/log.ts [lines]`
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { quantile } from 'simple-statistics';
import { makeDemo } from '../src/demo/make-demo.ts';
import { fillIndex } from '../src/server/book/log/log-index.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { benchServer } from './bench-server.ts';

const TODAY = '2026-11-25';
const LOOKS = 30;
const WANTED = Number(process.argv[2] ?? 1_000_000);
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const database = await openDatabase(join(folder, 'x.sqlite'));
await database.write.run((manager) => makeDemo(manager, { today: TODAY, copies: 12, weeks: 52 }));
const lines = async () => (await database.read.query<{ n: number }[]>('SELECT count(*) AS n FROM care_event'))[0]!.n;
const aYear = await lines();
// Its year once more a year earlier, and so on: as many pots, as many mixes, as many lines a week.
const columns = (await database.read.query<{ name: string }[]>(`SELECT name FROM pragma_table_info('batch')`)).map(
  ({ name }) => name,
);
const ofYear = (id: string, years: number) =>
  `substr(${id}, 1, 24) || '${years.toString(16).padStart(4, '0')}' || substr(${id}, 29)`;
for (let years = 1; (await lines()) < WANTED; years++)
  await database.write.run(async (manager) => {
    const moved: Record<string, string> = {
      id: ofYear('id', years),
      startedAt: `strftime('%Y-%m-%dT%H:%M:%fZ', startedAt, '-${364 * years} days')`,
      startedOn: `date(startedOn, '-${364 * years} days')`,
    };
    await manager.query(
      `INSERT INTO batch (${columns.map((c) => `"${c}"`).join(', ')}) SELECT ${columns.map((c) => moved[c] ?? `"${c}"`).join(', ')} FROM batch WHERE startedOn > date('${TODAY}', '-365 days')`,
    );
    await manager.query(
      `INSERT INTO care_event (id, kind, at, localDate, potId, batchId, payload)
       SELECT lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2) || '-8' || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6))),
         kind, strftime('%Y-%m-%dT%H:%M:%fZ', at, '-' || ? || ' days'), date(localDate, '-' || ? || ' days'), potId, ${ofYear('batchId', years)}, payload
       FROM care_event WHERE seq <= ? AND kind <> 'undone'`,
      [364 * years, 364 * years, aYear],
    );
  });
const from = performance.now();
await fillIndex(
  () => database.read.manager,
  (work) => database.write.run(work),
);
const indexed = performance.now() - from;
const n = await lines();
const [size] = await database.read.query<{ mb: number }[]>('SELECT sum(length(block)) / 1e6 AS mb FROM log_index_data');
console.log(
  `${n} lines; put into the index in ${(indexed / 1000).toFixed(1)} s (${((1000 * indexed) / n).toFixed(0)} µs a line), ${size!.mb.toFixed(0)} MB`,
);

process.env['FRUGAL_SIP_REQUESTS'] = '1000000';
const app = await benchServer(database, `${TODAY}T09:00:00Z`);
const ids = async (sql: string) => (await database.read.query<{ id: string }[]>(sql)).map(({ id }) => id);
const pots = await ids(`SELECT id FROM pot ORDER BY code LIMIT ${LOOKS}`);
const places = await ids('SELECT id FROM place');
const batches = await ids(`SELECT id FROM batch ORDER BY startedAt DESC LIMIT ${LOOKS}`);
const WORDS = [
  'crust',
  'flushed',
  'r-07',
  'mould',
  'house feed',
  'tips brown',
  'sill mix',
  'lemon',
  'nothing like it',
  'a',
  '0.6',
];
const day = (i: number) => new Date(Date.parse(TODAY) - i * 97 * 86_400_000).toISOString().slice(0, 10);
const one = <T>(list: readonly T[], i: number) => list[i % list.length]!;
const turns = (await app.inject({ url: '/api/book/turns', headers: { host: '127.0.0.1' } })).json<{
  turns: { id: string }[];
}>();
const ASKED: Record<string, (i: number) => string> = {
  'turns, the year': () => '/api/book/turns',
  'turns of a place, five years': (i) => `/api/book/turns?place=${one(places, i)}&from=${day(18)}`,
  'a turn compared': (i) => `/api/book/turns/compared?id=${encodeURIComponent(one(turns.turns, i).id)}`,
  trials: () => '/api/book/trials',
  'newest days': () => '/api/book/days',
  'days from any day': (i) => `/api/book/days?to=${day(i)}`,
  'found by words': (i) => `/api/book/found?words=${encodeURIComponent(one(WORDS, i))}`,
  'found by pot': (i) => `/api/book/found?pot=${one(pots, i)}`,
  'found by place': (i) => `/api/book/found?place=${one(places, i)}`,
  'found by mix': (i) => `/api/book/found?batch=${one(batches, i)}`,
  'found by kind': (i) => `/api/book/found?kind=${one(['Round', 'Mix', 'Shelf', 'Clay', 'Skip'], i)}`,
  'tainted only': (i) => `/api/book/found?only=tainted&pot=${one(pots, i)}`,
  'put right, with a photo': (i) => `/api/book/found?only=${one(['corrected', 'photo'], i)}`,
  'words, pot and days': (i) => `/api/book/found?words=crust&pot=${one(pots, i)}&from=${day(i + 5)}&to=${day(i)}`,
  'strip of 90 days': () => '/api/book/strip',
  'strip, by words': (i) => `/api/book/strip?words=${encodeURIComponent(one(WORDS, i))}`,
  'an entry’s steps': (i) => `/api/book/steps?key=round.${day(i)}`,
};
for (const [what, url] of Object.entries(ASKED)) {
  const times: number[] = [];
  for (let i = 0; i < LOOKS; i++) {
    const begun = performance.now();
    const answer = await app.inject({ url: url(i), headers: { host: '127.0.0.1' } });
    if (answer.statusCode !== 200)
      throw new Error(`${url(i)} answered ${answer.statusCode}: ${answer.body.slice(0, 200)}`);
    times.push(performance.now() - begun);
  }
  console.log(
    `${what.padEnd(26)} median ${quantile(times, 0.5).toFixed(1).padStart(6)} ms · p95 ${quantile(times, 0.95).toFixed(1).padStart(6)} ms · most ${Math.max(...times).toFixed(0)} ms`,
  );
}
await app.close();
await database.close();
if (!process.env['KEEP']) rmSync(folder, { recursive: true, force: true });
else console.log(folder);
