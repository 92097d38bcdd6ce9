/**
 * How long anybody waits for another's reckoning: while each room is looked at for the first time after a start, after a pot was logged, and after a pen was
 * marked off, a clock ticks every few milliseconds and the longest it was kept waiting is told, with the answer's own time and the memory.
 * `npx tsx bench/stalls.ts [copies of 42 pots, 12] [weeks of history, 156]`
 */
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { quantile } from 'simple-statistics';
import type { RoundView } from '../src/contract/round.ts';
import { makeDemo } from '../src/demo/make-demo.ts';
import { foldAhead, inPool } from '../src/server/collection/index.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { dueForFilling, fillOf } from './care-fill.ts';
import { benchServer } from './bench-server.ts';

const TODAY = '2026-11-25';
const [COPIES, WEEKS] = [Number(process.argv[2] ?? 12), Number(process.argv[3] ?? 156)];
const TICK_MS = 4;
const ACTS = 20;
process.env['FRUGAL_SIP_REQUESTS'] = '1000000';

const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const file = join(folder, 'x.sqlite');
let database = await openDatabase(file);
await database.write.run((manager) => makeDemo(manager, { today: TODAY, copies: COPIES, weeks: WEEKS }));
await database.close();
const from = performance.now();
database = await openDatabase(file);
const app = await benchServer(database, `${TODAY}T09:00:00Z`);
console.log(`${COPIES * 42} pots, ${WEEKS} weeks; opened in ${(performance.now() - from).toFixed(0)} ms`);
await inPool('learn', []);

/** Does something while a clock ticks. @returns what it took, and the longest the clock was held up, ms */
async function watched(work: () => Promise<unknown>): Promise<{ ms: number; held: number }> {
  let [held, last] = [0, performance.now()];
  const timer = setInterval(() => {
    const now = performance.now();
    held = Math.max(held, now - last - TICK_MS);
    last = now;
  }, TICK_MS);
  const started = performance.now();
  await work();
  const ms = performance.now() - started;
  held = Math.max(held, performance.now() - last - TICK_MS);
  clearInterval(timer);
  return { ms, held };
}
const ask = async (method: 'GET' | 'PUT', url: string, payload?: object) => {
  const answer = await app.inject({ method, url, headers: { host: '127.0.0.1' }, ...(payload ? { payload } : {}) });
  if (answer.statusCode !== 200) throw new Error(`${url} answered ${answer.statusCode}: ${answer.body.slice(0, 200)}`);
  return answer;
};
const told = (what: string, { ms, held }: { ms: number; held: number }, usual?: number) =>
  console.log(
    `${what.padEnd(34)} ${ms.toFixed(0).padStart(6)} ms · others held up ${held.toFixed(0).padStart(4)} ms at most${usual === undefined ? '' : ` · median ${usual.toFixed(0)} ms`}`,
  );

told('fold after a start', await watched(() => foldAhead(database.read.manager)));
for (const url of [
  '/api/round',
  '/api/pots',
  '/api/drift',
  '/api/advice',
  '/api/drift/models',
  '/api/drift/look-back',
  '/api/shelf/room',
  '/api/clay',
  '/api/book',
  '/api/bench/batches',
])
  told(`first ${url}`, await watched(() => ask('GET', url)));
const [pot] = await database.read.query<{ id: string }[]>('SELECT id FROM pot ORDER BY code LIMIT 1');
const rooms = [
  '/api/round',
  '/api/pots',
  '/api/advice',
  '/api/drift',
  `/api/pots/${pot!.id}`,
  `/api/drift/pots/${pot!.id}`,
];
const after = new Map<string, { ms: number; held: number }[]>();
for (const one of dueForFilling((await ask('GET', '/api/round')).json<RoundView>()).slice(0, ACTS)) {
  const noted = async (what: string, work: () => Promise<unknown>) =>
    after.set(what, [...(after.get(what) ?? []), await watched(work)]);
  await noted('a pot logged', () => ask('PUT', `/api/round/acts/${randomUUID()}`, fillOf(one)));
  for (const url of rooms) await noted(`then ${url.replace(/[0-9a-f-]{36}/, ':id')}`, () => ask('GET', url));
}
for (const [what, all] of after) {
  const ms = all.map((a) => a.ms);
  told(`${what}, p95`, { ms: quantile(ms, 0.95), held: Math.max(...all.map((a) => a.held)) }, quantile(ms, 0.5));
}
const [pen] = await database.read.query<{ id: string }[]>(
  `SELECT id FROM meter WHERE quantity = 'ppm' AND retiredOn IS NULL ORDER BY position LIMIT 1`,
);
await ask('PUT', `/api/shelf/acts/${randomUUID()}`, {
  kind: 'markMeter',
  meterId: pen!.id,
  fromOn: '2026-11-01',
  offBy: 0.1,
  why: '',
});
told('round after a pen was found off', await watched(() => ask('GET', '/api/round')));
const { rss } = process.memoryUsage();
console.log(`memory ${(rss / 1e6).toFixed(0)} MB`);
await app.close();
await database.close();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
