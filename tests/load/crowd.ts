import { cpSync } from 'node:fs';
import { join } from 'node:path';
import { LAN_ADDRESS, startServer } from '../e2e/server.ts';
import { clear, Device, folderFor, judge, memoryOf, type Fault } from './load-kit.ts';

const PASSPHRASE = 'four plain garden words';

/**
 * Twenty devices on the home network log and look for a while.
 * @param template a data folder with a collection in it
 */
export async function crowd(seconds: number, template: string): Promise<Fault> {
  const folder = folderFor('crowd');
  cpSync(join(template, 'demo.sqlite'), join(folder, 'collection.sqlite'));
  const server = await startServer({ folder, demo: false });
  try {
    const owner = new Device(() => server.url);
    await owner.request('PUT', '/api/shell/lan', { kind: 'open', passphrase: PASSPHRASE });
    const door = `http://${LAN_ADDRESS}:${server.port}`;
    const devices: Device[] = [];
    for (let i = 0; i < 20; i++) {
      const { url } = JSON.parse((await owner.request('POST', '/api/shell/lan/pairing', {})).text) as { url: string };
      const entered = await fetch(`${door}/api/shell/enter`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ key: new URL(url).hash.slice(1) }),
      });
      devices.push(new Device(() => door, { cookie: entered.headers.get('set-cookie')!.split(';')[0]! }));
    }
    const until = Date.now() + seconds * 1000;
    const rooms = ['/api/round', '/api/pots', '/api/shell', '/api/book', '/api/advice'];
    let n = 1;
    let memory = 0;
    const waits: number[] = [];
    await Promise.all(
      devices.map(async (device, i) => {
        for (let turn = i; Date.now() < until; turn++) {
          const from = performance.now();
          if (turn % 5 === 0) await device.act(n++);
          else await device.look(rooms[turn % rooms.length]!);
          waits.push(performance.now() - from);
          memory = Math.max(memory, memoryOf(server.pid));
          // A hand does not press faster.
          await new Promise((resolve) => setTimeout(resolve, 400));
        }
        while (!(await device.flush()));
      }),
    );
    await server.stop();
    const acknowledged = devices.flatMap((device) => device.acknowledged);
    waits.sort((a, b) => a - b);
    return {
      name: `20 devices for ${seconds} s`,
      cases: waits.length,
      acknowledged: acknowledged.length,
      ...judge(acknowledged, [join(folder, 'collection.sqlite')]),
      unnamed: devices.reduce((sum, device) => sum + device.unnamed, 0),
      longestMs: waits.at(-1) ?? 0,
      note: `median ${Math.round(waits[Math.floor(waits.length / 2)] ?? 0)} ms, 99 % in ${Math.round(waits[Math.floor(waits.length * 0.99)] ?? 0)} ms; ${Math.round(memory)} MB`,
    };
  } finally {
    await server.stop('SIGKILL');
    clear(folder);
  }
}
