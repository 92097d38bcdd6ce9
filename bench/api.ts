/**
 * Every screen's answer over the real routes (500 pots, 3 years of history), schema checks and all. Prints median and 95th percentile, and the
 * first look after a start and after a pot was logged.
 * `npx tsx bench/api.ts [weeks of history]`
 */
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { quantile } from 'simple-statistics';
import type { RoundView } from '../src/contract/round.ts';
import { makeDemo } from '../src/demo/make-demo.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { dueForFilling, fillOf } from './care-fill.ts';
import { benchServer } from './bench-server.ts';

const TODAY = '2026-11-25';
const LOOKS = 40;
const WEEKS = Number(process.argv[2] ?? 156);
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const database = await openDatabase(join(folder, 'x.sqlite'));
await database.write.run((manager) => makeDemo(manager, { today: TODAY, copies: 12, weeks: WEEKS }));
const app = await benchServer(database, `${TODAY}T09:00:00Z`);
const one = async (sql: string) => (await database.read.query<{ id: string }[]>(sql))[0]!.id;
const pot = await one(`SELECT id FROM pot WHERE code = 'R-07'`);
const batch = await one('SELECT id FROM batch ORDER BY startedAt DESC LIMIT 1');
const [facts] = await database.read.query<{ pots: number; lines: number }[]>(
  'SELECT (SELECT count(*) FROM pot) AS pots, (SELECT count(*) FROM care_event) AS lines',
);
console.log(`${facts!.pots} pots, ${facts!.lines} lines of log, ${WEEKS} weeks; ${LOOKS} looks each`);
for (const url of [
  '/api/shell',
  '/api/round',
  '/api/pots',
  `/api/pots/${pot}`,
  '/api/bench/batches',
  `/api/bench/batches/${batch}`,
  '/api/shelf',
  '/api/shelf/room',
  '/api/book',
  '/api/drift',
  `/api/drift/pots/${pot}`,
  '/api/drift/models',
  '/api/shell/plans',
  '/api/advice',
  `/api/advice/pots/${pot}`,
]) {
  const times: number[] = [];
  let first = 0;
  for (let i = 0; i <= LOOKS; i++) {
    const from = performance.now();
    const answer = await app.inject({ url, headers: { host: '127.0.0.1' } });
    if (answer.statusCode !== 200) throw new Error(`${url} answered ${answer.statusCode}`);
    if (i === 0) first = performance.now() - from;
    else times.push(performance.now() - from);
  }
  console.log(
    `${url.replace(/[0-9a-f-]{36}/, ':id').padEnd(26)} median ${quantile(times, 0.5).toFixed(1).padStart(6)} ms · p95 ${quantile(times, 0.95).toFixed(1).padStart(6)} ms · first ${first.toFixed(0).padStart(5)} ms`,
  );
}
// A pot is logged, and looked on: what was kept of it is made anew, of the others nothing.
const ask = async (method: 'GET' | 'PUT', url: string, payload?: object) => {
  const from = performance.now();
  const answer = await app.inject({ method, url, headers: { host: '127.0.0.1' }, ...(payload ? { payload } : {}) });
  if (answer.statusCode !== 200) throw new Error(`${url} answered ${answer.statusCode}: ${answer.body.slice(0, 200)}`);
  return { ms: performance.now() - from, body: answer.json<RoundView>() };
};
const after = new Map<string, number[]>();
const noted = (what: string, ms: number) => after.set(what, [...(after.get(what) ?? []), ms]);
for (const one of dueForFilling((await ask('GET', '/api/round')).body).slice(0, 20)) {
  noted('a pot logged', (await ask('PUT', `/api/round/acts/${randomUUID()}`, fillOf(one))).ms);
  noted('the round after it', (await ask('GET', '/api/round')).ms);
  noted('judgement of all after it', (await ask('GET', '/api/advice')).ms);
}
for (const [what, times] of after)
  console.log(
    `${what.padEnd(26)} median ${quantile(times, 0.5).toFixed(1).padStart(6)} ms · p95 ${quantile(times, 0.95).toFixed(1).padStart(6)} ms`,
  );
await app.close();
await database.close();
rmSync(folder, { recursive: true, force: true });
