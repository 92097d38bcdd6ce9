import { closeSync, copyFileSync, mkdirSync, openSync, statSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { startServer } from '../e2e/server.ts';
import { clear, Device, folderFor, seeded, type Fault } from './load-kit.ts';

/**
 * Bytes of the file written over at random places, with a backup beside it. The server starts each time; either every room answers, or every room says that the file
 * is damaged, nothing is written, and the backup put back makes it whole.
 * @param template a data folder with a collection in it
 */
export async function damagedFiles(cases: number, template: string): Promise<Fault> {
  const random = seeded(3);
  // What went otherwise, told with the count: a fault that comes once must be known by its one coming.
  const why: string[] = [];
  let [said, stood, odd, unnamed, acknowledged] = [0, 0, 0, 0, 0];
  for (let i = 0; i < cases; i++) {
    const folder = folderFor('damage');
    const file = join(folder, 'collection.sqlite');
    mkdirSync(join(folder, 'backups'));
    copyFileSync(join(template, 'demo.sqlite'), file);
    copyFileSync(file, join(folder, 'backups', 'collection.daily.2026-11-24T090000.sqlite'));
    const handle = openSync(file, 'r+');
    for (let spot = 0; spot < 1 + Math.floor(random() * 6); spot++) {
      const bytes = Buffer.from(
        Array.from({ length: 1 + Math.floor(random() * 3000) }, () => Math.floor(random() * 256)),
      );
      writeSync(handle, bytes, 0, bytes.length, Math.floor(random() * (statSync(file).size - bytes.length)));
    }
    closeSync(handle);
    const server = await startServer({ folder, demo: false, env: { FRUGAL_SIP_REQUESTS: '1000000' } });
    try {
      const device = new Device(() => server.url);
      for (const room of [
        '/api/round',
        '/api/pots',
        '/api/clay',
        '/api/shelf/room',
        '/api/drift',
        '/api/book',
        '/api/advice',
      ])
        await device.look(room);
      const shell = JSON.parse((await device.request('GET', '/api/shell')).text) as { trouble: string | null };
      if (shell.trouble) {
        said++;
        if ((await device.act(1)) === 200) odd++;
        const back = await device.request(
          'POST',
          '/api/book/backups/collection.daily.2026-11-24T090000.sqlite/restore',
        );
        const settled = await device.flush();
        const round = await device.look('/api/round');
        if (back.status !== 200 || !settled || round !== 200) {
          odd++;
          why.push(
            `put back ${back.status}, act ${settled ? 'kept' : 'waiting'}, round ${round}, longest ${Math.round(device.longestMs)} ms`,
          );
        }
        acknowledged += device.acknowledged.length;
      } else stood++;
      unnamed += device.unnamed;
    } finally {
      await server.stop('SIGKILL');
      clear(folder);
    }
  }
  return {
    name: 'file damaged at random places, started on it, backup put back',
    cases,
    acknowledged,
    lost: odd,
    doubled: 0,
    half: 0,
    unnamed,
    note: `${said} said so and were put back, ${stood} stood (what was hit was no structure)${why.map((words) => `; ${words}`).join('')}`,
  };
}
