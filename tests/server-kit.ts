import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FastifyInstance, RouteOptions } from 'fastify';
import { copyDemo } from '../src/demo/copy-demo.ts';
import { makeDemo } from '../src/demo/make-demo.ts';
import { buildApp } from '../src/server/app.ts';
import type { AppContext } from '../src/server/app-context.ts';
import { createTimers } from '../src/server/clock.ts';
import { openDatabase, type Database } from '../src/server/database/open.ts';
import { Backups } from '../src/server/database/backups.ts';
import { AccessStore } from '../src/server/shell/access-store.ts';
import { Authority } from '../src/server/shell/authority.ts';
import { Lan } from '../src/server/shell/lan.ts';
import { liveSettings } from '../src/server/shell/settings.ts';

export const TODAY = '2026-11-25';

/** A real server on a temporary database, with a clock that the test moves. */
export type Kit = {
  app: FastifyInstance;
  database: Database;
  clock: { at: Date };
  folder: string;
  backups: Backups;
  lan: Lan;
  /** This machine's addresses on its home network. */
  addresses: string[];
  call: Call;
  rows: <T>(sql: string, params?: unknown[]) => Promise<T[]>;
  close(): Promise<void>;
};
type Call = <T = Record<string, unknown>>(
  method: 'GET' | 'PUT' | 'POST',
  url: string,
  body?: unknown,
  headers?: Record<string, string>,
) => Promise<{ status: number; body: T }>;

/** @param weeks of demo history; 0 leaves the collection empty */
export async function serverKit(weeks = 4, options: { onRoute?: (route: RouteOptions) => void } = {}): Promise<Kit> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-'));
  const file = join(folder, 'test.sqlite');
  if (weeks > 0) copyFileSync(await demoOf(weeks), file);
  return kitOf(folder, await openDatabase(file), weeks > 0 ? 'demo' : 'own', options);
}

const demos = new Map<number, Promise<string>>();
/** A demo collection in a file, made once: every test works on a copy. */
function demoOf(weeks: number): Promise<string> {
  const made = demos.get(weeks) ?? makeDemoFile(weeks);
  demos.set(weeks, made);
  return made;
}

async function makeDemoFile(weeks: number): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-demo-'));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  const database = await openDatabase(join(folder, 'made.sqlite'));
  await database.write.run((manager) => makeDemo(manager, { today: TODAY, weeks }));
  const file = join(folder, 'demo.sqlite');
  await database.copyTo(file);
  await database.close();
  return file;
}

/** A server newly started on a copy of another one's collection, at the same moment. */
export async function newlyStarted(kit: Kit): Promise<Kit> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-'));
  const file = join(folder, 'test.sqlite');
  await kit.database.copyTo(file);
  const fresh = await kitOf(folder, await openDatabase(file), 'demo');
  fresh.clock.at = kit.clock.at;
  return fresh;
}

async function kitOf(
  folder: string,
  database: Database,
  mode: AppContext['mode'],
  { onRoute }: { onRoute?: (route: RouteOptions) => void } = {},
): Promise<Kit> {
  const addresses = ['127.0.0.2'];
  const clock = { at: new Date(`${TODAY}T09:00:00Z`) };
  const context: AppContext = {
    database,
    // A second goes by at every look, so that acts have an order as in life.
    clock: { now: () => (clock.at = new Date(clock.at.getTime() + 1000)) },
    timers: createTimers(0),
    mode,
    settings: await liveSettings(database),
    version: 'test',
    backups: new Backups(database),
    lan: new Lan({
      access: new AccessStore(join(folder, 'test.access.json')),
      authority: new Authority(join(folder, 'test.authority.json')),
      clock: { now: () => clock.at },
      addresses: () => addresses,
    }),
    trouble: { words: null },
    ...(mode === 'demo' ? {} : { copyDemo: () => database.write.run((manager) => copyDemo(manager, TODAY)) }),
  };
  const app = await buildApp({ context, ...(onRoute ? { onRoute } : {}) });
  const call: Call = async (method, url, body, headers = {}) => {
    const response = await app.inject({
      method,
      url,
      headers: { host: '127.0.0.1:4180', ...headers },
      ...(body === undefined ? {} : { payload: body as object }),
    });
    return {
      status: response.statusCode,
      body: /json\b/.test(String(response.headers['content-type'])) ? response.json() : (response.body as never),
    };
  };
  return {
    app,
    database,
    clock,
    folder,
    backups: context.backups,
    lan: context.lan,
    addresses,
    call,
    rows: (sql, params = []) => database.read.query(sql, params),
    close: async () => {
      await context.lan.end();
      await app.close();
      await database.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

let counter = 0;
/** Distinct, valid UUIDs in a readable order. */
export function testId(): string {
  return `00000000-0000-4000-8000-${(++counter * 16).toString(16).padStart(12, '0')}`;
}
