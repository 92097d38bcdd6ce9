import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';

/** The instant every browser test starts at: a Wednesday morning. */
export const NOW = '2026-11-25T09:00:00Z';

/** Stands in for the home network: another address of the loopback, which only the doors listen on. */
export const LAN_ADDRESS = '127.0.0.2';

export type RunningServer = {
  url: string;
  port: number;
  pid: number;
  folder: string;
  gone: Promise<unknown>;
  stop(signal?: NodeJS.Signals): Promise<void>;
};

/**
 * Starts the built server as a process of its own, as the README's commands do, on a data folder of the test's.
 * Simulated pens settle fifty times faster than real ones.
 */
export async function startServer({
  folder,
  demo,
  port = 0,
  env = {},
}: {
  folder: string;
  demo: boolean;
  port?: number;
  env?: Record<string, string>;
}): Promise<RunningServer> {
  const child = spawn(process.execPath, [join('dist', 'server', 'main.js'), ...(demo ? ['--demo'] : [])], {
    env: {
      ...process.env,
      FRUGAL_SIP_DATA: folder,
      FRUGAL_SIP_NOW: NOW,
      FRUGAL_SIP_PACE: '0.02',
      FRUGAL_SIP_LAN: LAN_ADDRESS,
      PORT: String(port),
      ...env,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const url = await addressOf(child);
  return {
    url,
    pid: child.pid!,
    gone: once(child, 'exit'),
    port: Number(new URL(url).port),
    folder,
    stop: async (signal = 'SIGTERM') => {
      if (child.exitCode !== null || child.signalCode !== null) return;
      const gone = once(child, 'exit');
      child.kill(signal);
      await gone;
    },
  };
}

function addressOf(child: ChildProcess): Promise<string> {
  return new Promise((resolve, reject) => {
    let said = '';
    const hear = (chunk: Buffer) => {
      said += chunk.toString();
      const found = /is at (http:\S+)/.exec(said);
      if (found?.[1]) resolve(found[1]);
    };
    child.stdout?.on('data', hear);
    child.stderr?.on('data', hear);
    child.once('exit', (code) => reject(new Error(`The server stopped with ${code} before it listened: ${said}`)));
  });
}
