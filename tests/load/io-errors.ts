import { spawnSync } from 'node:child_process';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import { startServer } from '../e2e/server.ts';
import { clear, Device, folderFor, judge, seeded, type Fault } from './load-kit.ts';

/** The system refuses to let a file of this process grow past so many bytes: a write fails with an error that is no full disk. */
function limitFiles(pid: number, bytes: number | 'unlimited'): boolean {
  return spawnSync('prlimit', [`--pid=${pid}`, `--fsize=${bytes}:unlimited`], { stdio: 'ignore' }).status === 0;
}

/** Writes that fail at a random byte, again and again. @returns undefined where the system has no such limit */
export async function failingWrites(cases: number): Promise<Fault | undefined> {
  const folder = folderFor('io');
  const file = join(folder, 'collection.sqlite');
  const random = seeded(7);
  const server = await startServer({ folder, demo: false, env: { FRUGAL_SIP_REQUESTS: '1000000' } });
  try {
    if (!limitFiles(server.pid, 'unlimited')) return undefined;
    const device = new Device(() => server.url);
    let n = 1;
    let refused = 0;
    for (let i = 0; i < cases; i++) {
      const log = statSync(`${file}-wal`, { throwIfNoEntry: false })?.size ?? 0;
      limitFiles(server.pid, log + Math.floor(random() * 40_000));
      for (let failed = 0, tries = 0; failed < 3 && tries < 40; tries++)
        if ((await device.act(n++)) !== 200) {
          failed++;
          refused++;
        }
      if ((await device.look('/api/pots')) !== 200) device.unnamed++;
      limitFiles(server.pid, 'unlimited');
      await device.act(n++);
      for (let again = 0; !(await device.flush()); again++)
        if (again > 5) throw new Error('Acts are refused still, with the disk whole again');
    }
    await server.stop();
    return {
      name: 'writes that fail at a random byte, acts sent again',
      cases,
      acknowledged: device.acknowledged.length,
      ...judge(device.acknowledged, [file]),
      unnamed: device.unnamed,
      longestMs: device.longestMs,
      note: `${refused} acts refused meanwhile and all there in the end`,
    };
  } finally {
    await server.stop('SIGKILL');
    clear(folder);
  }
}
