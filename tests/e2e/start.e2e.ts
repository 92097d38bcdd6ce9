import { Sqlite } from '../../src/server/database/sqlite.ts';
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { startServer } from './server.ts';

/* Starting where it cannot start: a plain word, and nothing changed. */

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'frugal-sip-start-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

function start(env: Record<string, string>): Promise<{ code: number | null; said: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [join('dist', 'server', 'main.js')], {
      env: { ...process.env, PORT: '0', ...env },
    });
    let said = '';
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.once('exit', (code) => resolve({ code, said }));
  });
}

it('a data folder that cannot be written is said to be, with the way out', async () => {
  writeFileSync(join(folder, 'a-file'), 'not a folder');
  const { code, said } = await start({ FRUGAL_SIP_DATA: join(folder, 'a-file') });
  expect(code).toBe(1);
  expect(said).toMatch(/cannot be written\. Choose another: FRUGAL_SIP_DATA=/);
  expect(said).not.toMatch(/at .*\.js:\d+/);
});

it('a collection from a newer version is left as it is', async () => {
  await (await startServer({ folder, demo: false })).stop();
  const file = new Sqlite(join(folder, 'collection.sqlite'));
  file.exec(`INSERT INTO migrations (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
  file.close();
  const { code, said } = await start({ FRUGAL_SIP_DATA: folder });
  expect(code).toBe(1);
  expect(said).toMatch(/newer version of Frugal Sip\. Start that version instead; nothing here was changed/);
});

it('a file that is no collection is named, and served with its backups instead of its rooms', async () => {
  writeFileSync(join(folder, 'collection.sqlite'), 'x'.repeat(5000));
  const server = await startServer({ folder, demo: false });
  const shell = (await (await fetch(`${server.url}/api/shell`)).json()) as { shut: boolean; trouble: string };
  expect(shell).toMatchObject({
    shut: true,
    trouble: expect.stringMatching(/is damaged, so nothing more is written to it\. Put a backup back/) as unknown,
  });
  expect((await fetch(`${server.url}/api/book/backups`)).status).toBe(200);
  const refused = await fetch(`${server.url}/api/round`);
  expect([refused.status, ((await refused.json()) as { code: string }).code]).toEqual([507, 'damaged']);
  await server.stop();
  expect(statSync(join(folder, 'collection.sqlite')).size).toBe(5000);
});

it('a second server on the same folder says so and ends', async () => {
  const first = await startServer({ folder, demo: false });
  const { code, said } = await start({ FRUGAL_SIP_DATA: folder });
  expect(code).toBe(1);
  expect(said).toMatch(/could not start: this collection is open in another Frugal Sip already/);
  await first.stop('SIGKILL');
  // What ends a server ends its hold.
  await (await startServer({ folder, demo: false })).stop();
});

it('a port that is taken, and one that is none', async () => {
  const holder = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => holder.once('listening', resolve));
  const { port } = holder.address() as { port: number };
  expect((await start({ FRUGAL_SIP_DATA: folder, PORT: String(port) })).said).toMatch(/That port is taken/);
  holder.close();
  expect((await start({ FRUGAL_SIP_DATA: folder, PORT: 'x' })).said).toMatch(/give a number from 0 to 65535/);
});

it('an own collection is backed up by itself on the first day it is opened', async () => {
  const server = await startServer({ folder, demo: false });
  await server.stop();
  expect(readdirSync(join(folder, 'backups'))).toEqual([expect.stringMatching(/^collection\.daily\.2026-11-25T/)]);
  const again = await startServer({ folder, demo: false });
  await again.stop();
  expect(readdirSync(join(folder, 'backups'))).toHaveLength(1);
});
