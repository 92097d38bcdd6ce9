import { get as ask } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { serverKit, type Kit } from '../../../../tests/server-kit.ts';

let kit: Kit;
let port: number;
beforeAll(async () => {
  kit = await serverKit(40);
  await kit.app.listen({ port: 0, host: '127.0.0.1' });
  port = (kit.app.server.address() as AddressInfo).port;
}, 120_000);
afterAll(() => kit.close());

/** Reads so many bytes of an answer and then hears no more of it. */
const readSome = (path: string, bytes: number) =>
  new Promise<number>((resolve, reject) => {
    const request = ask(
      { host: '127.0.0.1', port, path: `/api/book/${path}`, headers: { host: '127.0.0.1:4180' } },
      (answer) => {
        let read = 0;
        answer.on('data', (piece: Buffer) => {
          read += piece.length;
          if (read >= bytes) answer.destroy();
        });
        answer.once('close', () => resolve(read));
        answer.once('error', () => undefined);
      },
    );
    request.once('error', reject);
  });

it.each(['whole.zip', 'whole.json', 'log.jsonl', 'tables/readings.csv'])(
  '%s, let go half way, wherever that is: the server goes on, and nothing of it stays open',
  async (path) => {
    const failed: unknown[] = [];
    const note = (error: unknown) => failed.push(error);
    process.on('uncaughtException', note).on('unhandledRejection', note);
    try {
      for (const bytes of [1, 3_000, 30_000, 90_000]) {
        expect(await readSome(path, bytes)).toBeGreaterThanOrEqual(1);
        expect((await kit.call('GET', '/api/book')).status).toBe(200);
      }
      // Whoever reads on to the end still gets all of it.
      expect(await readSome(path, Infinity)).toBeGreaterThan(90_000);
      expect(failed).toEqual([]);
    } finally {
      process.off('uncaughtException', note).off('unhandledRejection', note);
    }
  },
);
