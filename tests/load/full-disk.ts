import { spawnSync } from 'node:child_process';
import { rmSync, statfsSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startServer, type RunningServer } from '../e2e/server.ts';
import { clear, Device, folderFor, judge, seeded, type Fault } from './load-kit.ts';

/** Holds a collection of a few thousand acts, its log and the day’s backup. */
const DISK_MB = 32;

/** A disk of a few MB of memory; undefined where this user may not mount one. */
function smallDisk(): string | undefined {
  const folder = folderFor('small-disk');
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', folder], { stdio: 'ignore' }).status === 0)
    return folder;
  clear(folder);
  return undefined;
}

/**
 * Fills the disk up to a random byte in the middle of a round, again and again: a device goes on logging, keeps what is refused, and sends it again when there
 * is room. Now and then the server is killed while the disk is full.
 * @returns undefined where no small disk can be made
 */
export async function fullDisk(cases: number): Promise<Fault | undefined> {
  const folder = smallDisk();
  if (!folder) return undefined;
  const random = seeded(19);
  const ballast = join(folder, 'ballast');
  let server: RunningServer | undefined;
  const start = async () => startServer({ folder, demo: false, env: { FRUGAL_SIP_REQUESTS: '1000000' } });
  try {
    server = await start();
    const device = new Device(() => server!.url);
    let n = 1;
    let refused = 0;
    for (let i = 0; i < cases; i++) {
      const { bavail, bsize } = statfsSync(folder);
      const leave = Math.floor(random() * 200_000);
      writeFileSync(ballast, '');
      // tmpfs gives pages as they are written: what is left is a random number of bytes, rounded to one.
      try {
        writeFileSync(ballast, Buffer.alloc(Math.max(0, bavail * bsize - leave), 1));
      } catch {
        // Fuller than full: the server wrote meanwhile.
      }
      for (let full = 0, tries = 0; full < 4 && tries < 60; tries++) {
        const status = await device.act(n++);
        if (status !== 200) {
          full++;
          refused++;
        }
        if ((await device.look('/api/pots')) !== 200)
          throw new Error('A look was not answered while the disk was full');
      }
      if (i % 10 === 9) await server.stop('SIGKILL');
      truncateSync(ballast, 0);
      rmSync(ballast, { force: true });
      if (i % 10 === 9) server = await start();
      await device.act(n++);
      for (let again = 0; !(await device.flush()); again++)
        if (again > 5) throw new Error(`${device.waiting.length} acts are refused still, with room on the disk`);
    }
    await server.stop();
    return {
      name: 'disk full at a random byte, space made, acts sent again',
      cases,
      acknowledged: device.acknowledged.length,
      ...judge(device.acknowledged, [join(folder, 'collection.sqlite')]),
      unnamed: device.unnamed,
      longestMs: device.longestMs,
      note: `${refused} acts refused meanwhile and all there in the end`,
    };
  } finally {
    await server?.stop('SIGKILL');
    spawnSync('umount', [folder], { stdio: 'ignore' });
    clear(folder);
  }
}
