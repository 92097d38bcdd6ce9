import { X509Certificate } from 'node:crypto';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createServer as createSecureServer, request as secureRequest } from 'node:https';
import type { AddressInfo } from 'node:net';
import type { TLSSocket } from 'node:tls';
import forge from 'node-forge';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Problem } from '../../contract/errors.ts';
import type { LanView } from '../../contract/shell.ts';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import type { Access } from './access-store.ts';
import { Authority } from './authority.ts';
import { hashPassphrase, isPassphrase } from './lan.ts';

/* Real sockets: the doors are opened on another address of the loopback, which is as good as a network for the guard. */

let kit: Kit;
let port: number;
beforeEach(async () => {
  kit = await serverKit(1);
  const url = await kit.app.listen({ host: '127.0.0.1', port: 0 });
  port = Number(new URL(url).port);
  await kit.lan.begin(kit.app, port);
});
afterEach(() => kit.close());

const access = () => JSON.parse(readFileSync(join(kit.folder, 'test.access.json'), 'utf8')) as Access;
const PASSPHRASE = 'four plain garden words';
const ask = async <T = Problem>(path: string, init: RequestInit = {}, host = '127.0.0.2') => {
  const response = await fetch(`http://${host}:${port}${path}`, {
    ...init,
    headers: { 'content-type': 'application/json', ...init.headers },
  });
  const text = await response.text();
  return {
    status: response.status,
    cookie: response.headers.get('set-cookie'),
    body: (text.startsWith('{') ? JSON.parse(text) : text) as T,
  };
};
const here = <T = LanView>(path: string, method = 'GET', body?: object) =>
  ask<T>(path, { method, ...(body ? { body: JSON.stringify(body) } : {}) }, '127.0.0.1');
const open = (passphrase: string | null = PASSPHRASE) =>
  here<LanView & Problem>('/api/shell/lan', 'PUT', { kind: 'open', passphrase });
const enter = (proof: object) => ask<Problem>('/api/shell/enter', { method: 'POST', body: JSON.stringify(proof) });

describe('the doors to the home network', () => {
  it('are shut until a passphrase is set on the machine itself', async () => {
    await expect(ask('/api/shell')).rejects.toThrow();
    expect((await open(null)).body.errors?.[0]).toMatchObject({ path: 'passphrase' });
    expect((await open('short')).body.errors?.[0]?.message).toMatch(/At least 10/);
    const { body } = await open();
    expect(body).toMatchObject({ on: true, hasPassphrase: true, addresses: [`http://127.0.0.2:${port}`], devices: [] });
    // Beside the collection, never in it, where backups would carry it away and back.
    expect(access()).toMatchObject({ open: true, passphrase: expect.stringMatching(/^scrypt\$/) });
    expect(await kit.rows(`SELECT key FROM setting WHERE key LIKE 'lan%'`)).toEqual([]);
    await here('/api/shell/lan', 'PUT', { kind: 'close' });
    await expect(ask('/api/shell')).rejects.toThrow();
  });
  it('let nobody in without the passphrase, and then only that device', async () => {
    await open();
    expect((await ask('/api/shell')).body).toMatchObject({ status: 401, code: 'not-let-in' });
    expect((await ask(`/api/round/acts/${testId()}`, { method: 'PUT', body: '{}' })).status).toBe(401);
    expect((await enter({ passphrase: 'four plain garden word' })).body.code).toBe('wrong-passphrase');
    const { status, cookie } = await enter({ passphrase: PASSPHRASE });
    expect(status).toBe(200);
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    const headers = { cookie: cookie!.split(';')[0]! };
    expect((await ask('/api/shell', { headers })).status).toBe(200);
    expect((await ask('/api/shell')).status).toBe(401);
    // Its token is kept as a hash only.
    const token = headers.cookie.split('=')[1]!;
    expect(access().devices).toHaveLength(1);
    expect(JSON.stringify(access())).not.toContain(token);
    const view = (await here('/api/shell/lan')).body;
    await here('/api/shell/lan', 'PUT', { kind: 'showOut', device: view.devices[0]!.id });
    expect((await ask('/api/shell', { headers })).status).toBe(401);
  });
  it('a new passphrase shows every device out', async () => {
    await open();
    const headers = { cookie: (await enter({ passphrase: PASSPHRASE })).cookie!.split(';')[0]! };
    await open('another four plain words');
    expect((await ask('/api/shell', { headers })).status).toBe(401);
    expect((await enter({ passphrase: PASSPHRASE })).body.code).toBe('wrong-passphrase');
  });
  it('a code works once, and for ten minutes', async () => {
    await open();
    const code = async () =>
      new URL((await here<{ url: string }>('/api/shell/lan/pairing', 'POST', {})).body.url).hash.slice(1);
    const key = await code();
    expect((await enter({ key })).status).toBe(200);
    expect((await enter({ key })).body).toMatchObject({
      code: 'wrong-passphrase',
      detail: expect.stringMatching(/used already/),
    });
    const old = await code();
    kit.clock.at = new Date(kit.clock.at.getTime() + 11 * 60_000);
    expect((await enter({ key: old })).body.code).toBe('wrong-passphrase');
  });
  it('wrong many times shuts the way in for a while, even for the right one; then it opens again', async () => {
    await open();
    for (let i = 0; i < 5; i++)
      expect((await enter({ passphrase: `guess number ${i}` })).body.code).toBe('wrong-passphrase');
    expect((await enter({ passphrase: PASSPHRASE })).body).toMatchObject({
      status: 429,
      detail: expect.stringMatching(/Wait \d+ seconds/),
    });
    kit.clock.at = new Date(kit.clock.at.getTime() + 61_000);
    expect((await enter({ passphrase: PASSPHRASE })).status).toBe(200);
  });
  it('are opened, shut and restored through on the machine itself only', async () => {
    await open();
    const headers = { cookie: (await enter({ passphrase: PASSPHRASE })).cookie!.split(';')[0]! };
    const by = (path: string, method: string, body: object) =>
      ask<Problem>(path, { method, headers, body: JSON.stringify(body) });
    expect((await by('/api/shell/lan', 'PUT', { kind: 'close' })).body.code).toBe('only-here');
    expect((await by('/api/shell/lan/pairing', 'POST', {})).body.code).toBe('only-here');
    expect((await by('/api/book/backups/x.daily.2026-11-25T090000.sqlite/restore', 'POST', {})).body.code).toBe(
      'only-here',
    );
    expect((await ask<LanView>('/api/shell/lan', { headers })).body.here).toBe(false);
  });
  it('answer under their own address only, and to their own page only', async () => {
    await open();
    const headers = { cookie: (await enter({ passphrase: PASSPHRASE })).cookie!.split(';')[0]! };
    const raw = (host: string, more: Record<string, string> = {}) =>
      rawRequest('127.0.0.2', port, { ...headers, host, ...more });
    expect(await raw('evil.example')).toBe(403);
    expect(await raw('127.0.0.1')).toBe(403);
    expect(await raw(`127.0.0.2:${port}`)).toBe(200);
    expect(await raw(`127.0.0.2:${port}`, { origin: 'http://evil.example' })).toBe(403);
    expect(await rawRequest('127.0.0.1', port, { host: `127.0.0.2:${port}` })).toBe(403);
  });
  it('move along when the home network gives this machine another address', async () => {
    await open();
    kit.addresses.splice(0, 1, '127.0.0.3');
    expect((await here('/api/shell/lan')).body.addresses).toEqual([`http://127.0.0.3:${port}`]);
    expect((await ask('/api/shell', {}, '127.0.0.3')).status).toBe(401);
    await expect(ask('/api/shell')).rejects.toThrow();
  });
  it('stand open again after the server was started anew, devices remembered', async () => {
    await open();
    const headers = { cookie: (await enter({ passphrase: PASSPHRASE })).cookie!.split(';')[0]! };
    await kit.lan.end();
    await expect(ask('/api/shell')).rejects.toThrow();
    await kit.lan.begin(kit.app, port);
    expect((await ask('/api/shell', { headers })).status).toBe(200);
  });
});

describe('doors with a lock on the line', () => {
  type Locked = { status: number; cookie: string; body: string; authorized: boolean };
  const facts = async () => (await ask<{ fingerprint: string; url: string | null }>('/api/shell/lock')).body;
  const authority = async () => (await ask<string>('/api/shell/lock/authority.crt')).body;
  const locked = (
    path: string,
    ca: string,
    { method = 'GET', headers = {}, body }: { method?: string; headers?: Record<string, string>; body?: string } = {},
  ) =>
    new Promise<Locked>((resolve, reject) => {
      const asked = secureRequest(
        {
          host: '127.0.0.2',
          port: port + 363 > 65_535 ? port - 363 : port + 363,
          path,
          method,
          ca,
          headers: { ...(body ? { 'content-type': 'application/json' } : {}), ...headers },
          agent: false,
        },
        (response) => {
          let text = '';
          response.on('data', (chunk: Buffer) => (text += chunk.toString()));
          response.on('end', () =>
            resolve({
              status: response.statusCode ?? 0,
              cookie: (response.headers['set-cookie'] ?? [])[0] ?? '',
              body: text,
              authorized: (response.socket as TLSSocket).authorized,
            }),
          );
        },
      );
      asked.on('error', reject);
      asked.end(body);
    });
  it('stand beside the plain ones, vouched for by an authority of the collection’s own that vouches for home networks only', async () => {
    await open();
    expect((await facts()).url).toBeNull();
    const { body } = await here('/api/shell/lan', 'PUT', { kind: 'lock', on: true });
    const ca = await authority();
    const own = new X509Certificate(ca);
    expect(own.ca).toBe(true);
    expect(own.verify(own.publicKey)).toBe(true);
    expect(body.lock).toMatchObject({ fingerprint: own.fingerprint256 });
    expect((await facts()).fingerprint).toBe(own.fingerprint256);
    expect(forge.pki.certificateFromPem(ca).getExtension('nameConstraints')).toMatchObject({ critical: true });
    // A client that trusts it gets through to the door, and is asked for the passphrase like everybody.
    const stranger = await locked('/api/pots', ca);
    expect([stranger.authorized, stranger.status]).toEqual([true, 401]);
    // One that does not, does not.
    await expect(
      locked('/api/pots', await new Authority(join(kit.folder, 'another.json')).certificate(new Date())),
    ).rejects.toThrow(/self|unable|issuer|signature/i);
    // The same after the server was started anew: a phone trusts it once.
    await kit.lan.end();
    await kit.lan.begin(kit.app, port);
    expect((await locked('/api/pots', ca)).authorized).toBe(true);
    expect((await facts()).fingerprint).toBe(own.fingerprint256);
    await here('/api/shell/lan', 'PUT', { kind: 'lock', on: false });
    await expect(locked('/api/pots', ca)).rejects.toThrow();
    expect((await ask('/api/shell')).status).toBe(401);
  });
  it('let in by a cookie of their own that goes over no plain line; their own page only', async () => {
    await open();
    await here('/api/shell/lan', 'PUT', { kind: 'lock', on: true });
    const ca = await authority();
    const host = new URL((await facts()).url!).host;
    const entered = await locked('/api/shell/enter', ca, {
      method: 'POST',
      body: JSON.stringify({ passphrase: PASSPHRASE }),
      headers: { origin: `https://${host}` },
    });
    expect(entered.status).toBe(200);
    expect(entered.cookie).toMatch(/^__Host-frugal_sip_device=.*Secure/);
    const cookie = entered.cookie.split(';')[0]!;
    expect((await locked('/api/shell', ca, { headers: { cookie } })).status).toBe(200);
    // Over the plain door the same cookie is nobody's.
    expect((await ask('/api/shell', { headers: { cookie } })).status).toBe(401);
    expect((await locked('/api/shell', ca, { headers: { cookie, origin: `http://${host}` } })).status).toBe(403);
  });
  it('vouches for no other site, whoever has its key: a browser refuses it', async () => {
    const now = new Date();
    const mine = new Authority(join(kit.folder, 'mine.json'));
    const ca = await mine.certificate(now);
    for (const [address, name] of [
      ['93.184.216.34', /not.*permitted|constraint|permitted subtree/i],
      ['8.8.8.8', /permitted/i],
    ] as const) {
      const { key, cert } = await mine.certificateFor([address], now);
      const server = createSecureServer({ key, cert }, (_request, response) => response.end('stolen')).listen(
        0,
        '127.0.0.1',
      );
      await once(server, 'listening');
      const failed = await new Promise<string>((resolve) => {
        secureRequest(
          {
            host: '127.0.0.1',
            port: (server.address() as AddressInfo).port,
            ca,
            agent: false,
            checkServerIdentity: () => undefined,
          },
          () => resolve('it was taken'),
        )
          .on('error', (error) => resolve(error.message))
          .end();
      });
      expect(failed).toMatch(name);
      server.close();
    }
  });
});

describe('passphrases', () => {
  it('are kept salted and slow, never the same twice', async () => {
    const [a, b] = [await hashPassphrase(PASSPHRASE), await hashPassphrase(PASSPHRASE)];
    expect(a).not.toBe(b);
    expect(await isPassphrase(PASSPHRASE, a)).toBe(true);
    expect(await isPassphrase(`${PASSPHRASE} `, a)).toBe(false);
    expect(await isPassphrase('', 'scrypt$')).toBe(false);
  });
});

/** fetch chooses Host and Origin itself; this one sends what it is told. */
async function rawRequest(address: string, at: number, headers: Record<string, string>): Promise<number> {
  const { request } = await import('node:http');
  return new Promise((resolve, reject) => {
    request({ host: address, port: at, path: '/api/shell', headers }, (response) => {
      response.resume();
      resolve(response.statusCode ?? 0);
    })
      .on('error', reject)
      .end();
  });
}
