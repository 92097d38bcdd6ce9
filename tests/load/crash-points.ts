import { Sqlite } from '../../src/server/database/sqlite.ts';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { CRASH_POINTS, type CrashPoint } from '../../src/server/database/crash-point.ts';
import { startServer } from '../e2e/server.ts';
import { backupsIn, clear, Device, folderFor, judge, type Fault } from './load-kit.ts';

/**
 * Pulls the plug at every named point: in the middle of a write, a backup, a restore, an update. The server must start again by itself, with every acknowledged act
 * in the collection or in what the restore kept.
 */
export async function killedAtPoints(rounds: number): Promise<Fault> {
  let [acknowledgedInAll, lost, doubled, half, slowest, cases] = [0, 0, 0, 0, 0, 0];
  const work = Array.from({ length: rounds }, (_, round) => CRASH_POINTS.map((point) => ({ point, round }))).flat();
  const worker = async () => {
    for (let next = work.shift(); next; next = work.shift()) {
      const { point, round } = next;
      const folder = folderFor('crash');
      const file = join(folder, 'collection.sqlite');
      try {
        const acknowledged = await before(folder, 5 + round);
        const crash = { FRUGAL_SIP_CRASH: `${point}:${1 + (point.startsWith('write') ? round * 3 : 0)}` };
        if (point.startsWith('update')) asTheVersionBefore(file);
        const server = await startServer({ folder, demo: false, env: crash }).catch(() => undefined);
        if (server) {
          const device = new Device(() => server.url);
          const provoked = provoke(device, point, folder);
          await Promise.race([server.gone, provoked]);
          await server.stop('SIGKILL');
          await provoked;
          acknowledged.push(...device.acknowledged);
        }
        const from = performance.now();
        const again = await startServer({ folder, demo: false });
        slowest = Math.max(slowest, performance.now() - from);
        const after = new Device(() => again.url);
        if ((await after.act(9_000)) !== 200 || (await after.look('/api/round')) !== 200)
          throw new Error(`After ${point} the server does not work`);
        acknowledged.push(...after.acknowledged);
        await again.stop();
        const verdict = judge(
          acknowledged,
          [file, ...(existsSync(join(folder, 'backups')) ? backupsIn(folder) : [])],
          !point.startsWith('update'),
        );
        cases++;
        acknowledgedInAll += acknowledged.length;
        lost += verdict.lost;
        doubled += verdict.doubled;
        half += verdict.half;
      } finally {
        clear(folder);
      }
    }
  };
  // Several at a time: most of it is waiting for servers to start.
  await Promise.all(Array.from({ length: 3 }, worker));
  return {
    name: `killed at ${CRASH_POINTS.length} named points of write, backup, restore and update`,
    cases,
    acknowledged: acknowledgedInAll,
    lost,
    doubled,
    half,
    unnamed: 0,
    note: `started again in ${Math.round(slowest)} ms at the most`,
  };
}

/** A collection with some acts, and a backup of the first of them. */
async function before(folder: string, acts: number): Promise<string[]> {
  const server = await startServer({ folder, demo: false });
  const device = new Device(() => server.url);
  await device.act(1);
  await device.request('POST', '/api/book/backups');
  for (let n = 2; n < acts; n++) await device.act(n);
  await server.stop();
  return device.acknowledged;
}

async function provoke(device: Device, point: CrashPoint, folder: string): Promise<void> {
  const writing = (async () => {
    for (let n = 1_000; n < 1_030; n++) if ((await device.act(n)) === 0) return;
  })();
  if (point.startsWith('backup')) await device.request('POST', '/api/book/backups');
  if (point.startsWith('restore'))
    await device.request('POST', `/api/book/backups/${backupsIn(folder, '.asked.')[0]!.split('/').at(-1)}/restore`);
  await writing;
}

function asTheVersionBefore(file: string): void {
  const db = new Sqlite(file);
  db.exec(`DELETE FROM migrations WHERE name LIKE 'Access%';
    CREATE TABLE kept AS SELECT * FROM act_request; DROP TABLE act_request; DROP TABLE kept;
    CREATE TABLE "session" ("tokenHash" text PRIMARY KEY NOT NULL, "device" text NOT NULL, "startedAt" text NOT NULL, "lastSeenAt" text NOT NULL)`);
  db.close();
}
