import { join } from 'node:path';
import { startServer } from '../e2e/server.ts';
import { backupsIn, clear, Device, folderFor, judge, type Fault } from './load-kit.ts';

/** Puts a backup back, over and over, while eight devices log and three look. Every acknowledged act is in what was kept, or in what is here at the end. */
export async function restoresUnderWriting(cases: number): Promise<Fault> {
  const folder = folderFor('restores');
  const server = await startServer({ folder, demo: false, env: { FRUGAL_SIP_REQUESTS: '1000000' } });
  try {
    const devices = Array.from({ length: 11 }, () => new Device(() => server.url));
    const grower = new Device(() => server.url);
    const { name } = JSON.parse((await grower.request('POST', '/api/book/backups')).text) as { name: string };
    let going = true;
    let n = 1;
    const busy = devices.map(async (device, i) => {
      while (going) {
        if (i < 8) await device.act(n++);
        else if ((await device.look(i === 8 ? '/api/pots' : i === 9 ? '/api/shell' : '/api/book')) !== 200)
          device.unnamed++;
        await new Promise((resolve) => setTimeout(resolve, i < 8 ? 15 : 5));
      }
    });
    let failed = 0;
    for (let i = 0; i < cases; i++)
      if ((await grower.request('POST', `/api/book/backups/${name}/restore`)).status !== 200) failed++;
    going = false;
    await Promise.all(busy);
    for (const device of devices) while (!(await device.flush()));
    await server.stop();
    const acknowledged = devices.flatMap((device) => device.acknowledged);
    const files = [...backupsIn(folder, '.before.'), join(folder, 'collection.sqlite')];
    return {
      name: 'backup put back while eight log and three look',
      cases,
      acknowledged: acknowledged.length,
      ...judge(acknowledged, files),
      unnamed: devices.reduce((sum, device) => sum + device.unnamed, failed),
      longestMs: Math.max(...devices.map((device) => device.longestMs)),
      note: `${files.length - 1} kept collections`,
    };
  } finally {
    await server.stop('SIGKILL');
    clear(folder);
  }
}
