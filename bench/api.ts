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
import { buildApp } from '../src/server/app.ts';
import { createTimers } from '../src/server/clock.ts';
import { Backups } from '../src/server/database/backups.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { AccessStore } from '../src/server/shell/access-store.ts';
import { Authority } from '../src/server/shell/authority.ts';
import { Lan } from '../src/server/shell/lan.ts';
import { liveSettings } from '../src/server/shell/settings.ts';
import { dueForFilling, fillOf } from './care-fill.ts';

const TODAY = '2026-11-25';
const LOOKS = 40;
const WEEKS = Number(process.argv[2] ?? 156);
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const database = await openDatabase(join(folder, 'x.sqlite'));
await database.write.run((manager) => makeDemo(manager, { today: TODAY, copies: 12, weeks: WEEKS }));
const clock = { now: () => new Date(`${TODAY}T09:00:00Z`) };
const app = await buildApp({
  context: {
    database,
    clock,
    timers: createTimers(0),
    mode: 'demo',
    settings: await liveSettings(database),
    version: 'bench',
    backups: new Backups(database),
    lan: new Lan({
      access: new AccessStore(join(folder, 'x.access.json')),
      authority: new Authority(join(folder, 'x.authority.json')),
      clock,
    }),
    trouble: { words: null },
  },
});
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
