import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { request } from 'node:http';
import { join } from 'node:path';
import { LAN_ADDRESS, startServer } from '../e2e/server.ts';
import { clear, Device, folderFor, inFile, judge, numberOf, type Fault } from './load-kit.ts';

/** The same act sent a thousand times at once, and a second server on the same folder meanwhile. */
export async function retryStorm(copies: number): Promise<Fault> {
  const folder = folderFor('storm');
  const server = await startServer({ folder, demo: false, env: { FRUGAL_SIP_REQUESTS: '1000000' } });
  try {
    const device = new Device(() => server.url);
    const body = {
      kind: 'plan',
      planId: numberOf(2),
      subjectKind: 'collection',
      subjectId: null,
      words: 'act 1',
      onDate: '2026-12-01',
      origin: 'grower',
    };
    const [answers, second] = await Promise.all([
      Promise.all(
        Array.from({ length: copies }, () => device.request('PUT', `/api/shell/plans/acts/${numberOf(1)}`, body)),
      ),
      secondServer(folder),
    ]);
    await server.stop();
    const { times } = inFile(join(folder, 'collection.sqlite'));
    const good = answers.filter((a) => a.status === 200).length;
    if (second.code !== 1 || !/open in another Frugal Sip/.test(second.said))
      throw new Error(`The second server said: ${second.said}`);
    return {
      name: `one act sent ${copies} times at once, a second server started beside`,
      cases: copies,
      acknowledged: good,
      lost: times.get(numberOf(1)) === 1 ? 0 : 1,
      doubled: (times.get(numberOf(1)) ?? 0) > 1 ? 1 : 0,
      half: 0,
      unnamed: device.unnamed,
      longestMs: device.longestMs,
      note: 'the second server said so and ended',
    };
  } finally {
    await server.stop('SIGKILL');
    clear(folder);
  }
}

async function secondServer(folder: string): Promise<{ code: number; said: string }> {
  const child = spawn(process.execPath, [join('dist', 'server', 'main.js')], {
    env: { ...process.env, FRUGAL_SIP_DATA: folder, PORT: '0' },
  });
  let said = '';
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const [code] = (await once(child, 'exit')) as [number];
  return { code, said };
}

const PASSPHRASE = 'four plain garden words';

/** Guesses at the passphrase from many addresses, a hundred at a time, while the grower works. */
export async function loginStorm(tries: number): Promise<Fault> {
  const folder = folderFor('login');
  const server = await startServer({ folder, demo: false, env: { FRUGAL_SIP_REQUESTS: '1000000' } });
  try {
    const grower = new Device(() => server.url);
    await grower.request('PUT', '/api/shell/lan', { kind: 'open', passphrase: PASSPHRASE });
    let going = true;
    let n = 1;
    const working = (async () => {
      while (going) {
        await grower.act(n++);
        await grower.look('/api/round');
      }
    })();
    const answered = new Map<number, number>();
    for (let done = 0; done < tries; done += 100)
      await Promise.all(
        Array.from({ length: 100 }, async (_, i) => {
          // The right one among them: taken only if it comes alone.
          const status = await enterFrom(
            `127.0.0.${10 + ((done / 100 + i) % 200)}`,
            server.port,
            i === 50 ? PASSPHRASE : `guess ${done + i}`,
          );
          answered.set(status, (answered.get(status) ?? 0) + 1);
        }),
      );
    going = false;
    await working;
    await server.stop();
    const looked = (answered.get(403) ?? 0) + (answered.get(200) ?? 0);
    return {
      name: `${tries} tries at the passphrase from 200 addresses, while the grower works`,
      cases: tries,
      acknowledged: grower.acknowledged.length,
      ...judge(grower.acknowledged, [join(folder, 'collection.sqlite')]),
      unnamed: grower.unnamed,
      longestMs: grower.longestMs,
      note: `${looked} of them were looked at, the others told to wait`,
    };
  } finally {
    await server.stop('SIGKILL');
    clear(folder);
  }
}

function enterFrom(localAddress: string, port: number, passphrase: string): Promise<number> {
  return new Promise((resolve) => {
    const body = JSON.stringify({ passphrase });
    const asked = request(
      {
        host: LAN_ADDRESS,
        localAddress,
        port,
        method: 'POST',
        path: '/api/shell/enter',
        headers: {
          host: `${LAN_ADDRESS}:${port}`,
          'content-type': 'application/json',
          'content-length': Buffer.byteLength(body),
        },
      },
      (response) => {
        response.resume();
        resolve(response.statusCode ?? 0);
      },
    );
    asked.on('error', () => resolve(0));
    asked.end(body);
  });
}
