import { request as rawRequest } from 'node:http';
import { connect } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RouteOptions } from 'fastify';
import { serverKit, testId, type Kit } from '../../tests/server-kit.ts';

/* The home network's door, tried by every route the API has, in many spellings. The door is another address of the loopback. */

let kit: Kit;
let port: number;
const PASSPHRASE = 'four plain garden words';
const DOOR = '127.0.0.2';
const GUEST = '127.0.0.9';
const routes: { method: string; url: string }[] = [];
beforeAll(async () => {
  kit = await serverKit(1, {
    onRoute: (route: RouteOptions) =>
      [route.method].flat().forEach((method) => routes.push({ method, url: route.url })),
  });
  port = Number(new URL(await kit.app.listen({ host: '127.0.0.1', port: 0 })).port);
  await kit.lan.begin(kit.app, port);
  await kit.lan.open(PASSPHRASE);
});
afterAll(() => kit.close());

type Answer = { status: number; body: string; type: string };
/** Sends the very bytes of a path: URL classes would tidy it. */
const send = (method: string, path: string, headers: Record<string, string> = {}, body?: string): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const asked = rawRequest(
      {
        host: DOOR,
        localAddress: GUEST,
        port,
        method,
        path,
        headers: {
          host: `${DOOR}:${port}`,
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
          ...headers,
        },
      },
      (response) => {
        let text = '';
        response.on('data', (chunk: Buffer) => {
          text += chunk.toString();
          // A stream that opened has said enough.
          if (String(response.headers['content-type']).includes('event-stream')) response.destroy();
        });
        response.on('close', () =>
          resolve({ status: response.statusCode ?? 0, body: text, type: String(response.headers['content-type']) }),
        );
      },
    );
    asked.on('error', reject);
    asked.end(body);
  });

/** The way in, and what a phone is to trust before it comes in: no secret, and nothing of the collection. */
const OPEN = /^\/api\/shell\/(enter|lock|lock\/authority\.crt)$/;
const filled = (url: string) => url.replace(/:[a-zA-Z]+/g, testId());
const hex = (letter: string) => `%${letter.charCodeAt(0).toString(16)}`;
/** One address spelt as a stranger might. */
const spellings = (url: string): string[] => [
  url,
  `${url}?x=1`,
  `${url}/`,
  url.replace('a', '%61'),
  url.replace('p', '%70').replace('i', '%69'),
  `/${[...url.slice(1)].map((c) => (c === '/' ? c : hex(c))).join('')}`,
  url.replace('/api', '/API'),
  url.replace('/api', '//api'),
  url.replace('/api', '/./api'),
  url.replace('/api', '/x/../api'),
  url.replace('/api', '/%2e%2e/api'),
  url.replace('/api/', '/api%2f'),
  url.replace('/api/', '/api//'),
  url.replace('/api', '/api;x=1'),
  url.replace('/api', '\\api'),
  `http://${DOOR}:${port}${url}`,
  `http://any${url}`,
  `//any${url}`,
  `${url}#x`,
];

describe('a stranger at the door', () => {
  it('gets nothing of any route, however its address is spelt', async () => {
    const api = routes.filter(({ url }) => url.startsWith('/api/') && !OPEN.test(url));
    expect(api.length).toBeGreaterThan(60);
    let tried = 0;
    for (const { method, url } of api)
      for (const path of spellings(filled(url))) {
        const { status, body } = await send(method, path, {}, method === 'PUT' || method === 'POST' ? '{}' : undefined);
        tried++;
        // Refused at the door; or no route at all, which is told like any page that is not there.
        expect([400, 401, 403, 404], `${method} ${path}: ${body.slice(0, 200)}`).toContain(status);
        if (status === 404 && method !== 'HEAD') expect(body).toContain('"not-found"');
      }
    expect(tried).toBeGreaterThan(1000);
    // Not one of them was carried out.
    expect(await kit.rows('SELECT * FROM act_request')).toEqual([]);
  }, 120_000);
  it('is not heard in a request that hides in another', async () => {
    const answer = await new Promise<string>((resolve) => {
      const socket = connect(port, DOOR, () =>
        socket.write(
          `POST /api/shell/enter HTTP/1.1\r\nHost: ${DOOR}:${port}\r\nContent-Type: application/json\r\nContent-Length: 4\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\nGET /api/pots HTTP/1.1\r\nHost: ${DOOR}:${port}\r\n\r\n`,
        ),
      );
      let text = '';
      socket.on('data', (chunk) => (text += chunk.toString()));
      socket.on('close', () => resolve(text));
      setTimeout(() => socket.destroy(), 500);
    });
    expect(answer).toContain('400');
    expect(answer).not.toContain('"places"');
  });
  it('who guesses a hundred at once is heard as often as one who guesses one by one, and shuts out only himself', async () => {
    const enter = (passphrase: string, headers = {}) =>
      send('POST', '/api/shell/enter', headers, JSON.stringify({ passphrase }));
    const tries = await Promise.all(Array.from({ length: 100 }, (_, i) => enter(`guess number ${i}`)));
    const heard = tries.filter((t) => t.status === 403).length;
    // One at a time; where the hundred come slowly, the next is heard once the first is answered, until the address is shut.
    expect(heard).toBeGreaterThanOrEqual(1);
    expect(heard).toBeLessThanOrEqual(5);
    expect(tries.filter((t) => t.status === 429)).toHaveLength(100 - heard);
    for (let i = 0; i < 10; i++) await enter(`another guess ${i}`);
    const late = await enter(PASSPHRASE);
    expect([late.status, late.body]).toEqual([429, expect.stringContaining('have the computer show its code')]);
    // The code works, whoever guesses.
    const { url } = kit.lan.pairing();
    const came = await send('POST', '/api/shell/enter', {}, JSON.stringify({ key: new URL(url).hash.slice(1) }));
    expect(came.status).toBe(200);
    kit.clock.at = new Date(kit.clock.at.getTime() + 3_600_000);
  });
});

describe('another page in the grower’s own browser', () => {
  const here = (path: string, headers: Record<string, string>) =>
    kit.app.inject({ url: path, headers: { host: '127.0.0.1:4180', ...headers } });
  it('is refused by what browsers say of it, and uses nothing of the grower’s share of requests', async () => {
    for (let i = 0; i < 1300; i++) {
      const { statusCode } = await here('/api/shell', { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' });
      if (statusCode !== 403) expect.fail(`answered ${statusCode}`);
    }
    expect((await here('/api/shell', { 'sec-fetch-site': 'same-origin' })).statusCode).toBe(200);
    expect((await here('/api/shell', { 'sec-fetch-site': 'same-site' })).statusCode).toBe(403);
    // A link to the page is followed; into the API it is not.
    const link = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' };
    expect((await here('/round', { ...link, accept: 'text/html' })).statusCode).toBe(404);
    expect((await here('/api/shell', link)).statusCode).toBe(403);
    expect((await here('/api/shell', { ...link, 'sec-fetch-dest': 'iframe' })).statusCode).toBe(403);
  });
  it('could load nothing into ours: scripts, styles and fonts come from here only', async () => {
    const policy = String((await here('/api/shell', {})).headers['content-security-policy']);
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval';");
    expect(policy).toContain("font-src 'self'");
    // WebAssembly is made from our own file; nothing else that is called unsafe is allowed.
    expect(policy.replace("'wasm-unsafe-eval'", '')).not.toMatch(/https:|unsafe/);
  });
});

describe('a device let in', () => {
  it('is not told where the data lie, is renewed while it comes, and is out at once when shown out, its open line cut', async () => {
    const cookie = await kit.lan.enter({ passphrase: PASSPHRASE }, DOOR, 'Phone');
    const headers = { cookie: `${cookie.name}=${cookie.value}` };
    expect((await send('GET', '/api/book/backups', headers)).body).toContain('"folder":null');
    const { devices } = await kit.lan.view(true);
    expect(devices[0]).toMatchObject({ device: 'Phone', lastAddress: GUEST });
    const closed = new Promise<void>((resolve, reject) => {
      const listening = rawRequest(
        {
          host: DOOR,
          localAddress: GUEST,
          port,
          path: '/api/shell/changes',
          headers: { ...headers, host: `${DOOR}:${port}` },
        },
        (response) => {
          expect(response.statusCode).toBe(200);
          response.on('close', resolve).on('error', () => resolve());
          response.resume();
          kit.lan.showOut(devices[0]!.id);
        },
      );
      listening.on('error', reject);
      listening.end();
    });
    await closed;
    expect((await send('GET', '/api/shell', headers)).status).toBe(401);
  });
  it('not seen for two months, or let in more than a year ago, comes in anew', async () => {
    const enter = async () => {
      const { name, value } = await kit.lan.enter({ key: new URL(kit.lan.pairing().url).hash.slice(1) }, DOOR, 'Phone');
      return { cookie: `${name}=${value}` };
    };
    const days = (n: number) => (kit.clock.at = new Date(kit.clock.at.getTime() + n * 86_400_000));
    const seldom = await enter();
    const often = await enter();
    for (let i = 0; i < 7; i++) {
      days(50);
      expect((await send('GET', '/api/shell', often)).status).toBe(200);
    }
    expect((await send('GET', '/api/shell', seldom)).status).toBe(401);
    days(20);
    expect((await send('GET', '/api/shell', often)).status).toBe(401);
  });
  it('is one of thirty at the most', async () => {
    for (let i = 0; i < 40; i++)
      await kit.lan.enter({ key: new URL(kit.lan.pairing().url).hash.slice(1) }, DOOR, 'x'.repeat(500));
    const { devices } = await kit.lan.view(true);
    expect(devices).toHaveLength(30);
    expect(devices[0]!.device).toHaveLength(40);
  });
});
