import { homedir } from 'node:os';
import { existsSync, rmSync } from 'node:fs';
import { join, dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { FastifyInstance } from 'fastify';
import { localDateOf } from '../core/regimen/index.ts';
import { makeDemo } from '../demo/make-demo.ts';
import { shiftDemo } from '../demo/shift-demo.ts';
import { buildApp } from './app.ts';
import type { AppContext } from './app-context.ts';
import { createClock, createTimers, type Clock } from './clock.ts';
import { openDatabase, type Database } from './database/open.ts';
import { readSettings } from './shell/settings.ts';

/*
 * Listens. `--demo` serves the demo collection, kept in a file of its own beside the grower's, never over it; `--reset` makes it anew.
 * Environment: FRUGAL_SIP_DATA (folder), PORT, FRUGAL_SIP_NOW (instant to start from), FRUGAL_SIP_PACE (0 makes simulated pens settle at once).
 */

const VERSION = '0.1.0';
const DEMO_ZONE = 'Europe/London';
const webFolder = join(dirname(fileURLToPath(import.meta.url)), '..', 'web');
const dataFolder = process.env['FRUGAL_SIP_DATA'] ?? join(homedir(), '.frugal-sip');
const clock = createClock(process.env['FRUGAL_SIP_NOW']);
const timers = createTimers(Number(process.env['FRUGAL_SIP_PACE'] ?? 1));
const demo = process.argv.includes('--demo');

const open: { app: FastifyInstance; database: Database }[] = [];

try {
  const port = portFrom(process.env['PORT']);
  const url = demo ? await serveDemo(port) : await serveOwn(port);
  console.log(`\nFrugal Sip ${demo ? '(the demo) ' : ''}is at ${url}`);
  console.log(`Data: ${join(dataFolder, demo ? 'demo.sqlite' : 'collection.sqlite')}\nStop it with Ctrl+C.\n`);
} catch (error) {
  console.error(explain(error));
  process.exit(1);
}

for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => void stop());

async function serveOwn(port: number): Promise<string> {
  const database = await openDatabase(join(dataFolder, 'collection.sqlite'));
  let demoUrl: Promise<string> | undefined;
  return serve(database, 'own', port, () => (demoUrl ??= serveDemo(0)));
}

async function serveDemo(port: number): Promise<string> {
  const file = join(dataFolder, 'demo.sqlite');
  if (process.argv.includes('--reset')) for (const end of ['', '-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
  const fresh = !existsSync(file);
  const database = await openDatabase(file);
  await fillDemo(database, clock, fresh);
  return serve(database, 'demo', port);
}

async function fillDemo(database: Database, now: Clock, fresh: boolean): Promise<void> {
  const today = localDateOf(now.now(), DEMO_ZONE);
  const made = await database.read.query<unknown[]>(`SELECT 1 FROM setting WHERE key = 'demoDay'`);
  if (made.length === 0) {
    if (fresh) console.log('Making the demo collection: 42 pots, 52 weeks …');
    await database.write.run((manager) => makeDemo(manager, { today }));
  } else await database.write.run((manager) => shiftDemo(manager, today));
}

async function serve(database: Database, mode: AppContext['mode'], port: number, openDemo?: () => Promise<string>): Promise<string> {
  const settings = await readSettings(database.read.manager);
  const context: AppContext = Object.freeze({ database, clock, timers, mode, settings, version: VERSION, ...(openDemo ? { openDemo } : {}) });
  const app = await buildApp({ context, webFolder });
  open.push({ app, database });
  return app.listen({ host: '127.0.0.1', port });
}

async function stop(): Promise<void> {
  for (const { app, database } of open) {
    await app.close();
    await database.close();
  }
  process.exit(0);
}

function portFrom(text: string | undefined): number {
  if (text === undefined) return 4180;
  const port = Number(text);
  if (!(Number.isInteger(port) && port >= 0 && port <= 65535)) throw new Error(`PORT is "${text}"; give a number from 0 to 65535, such as PORT=4180.`);
  return port;
}

function explain(error: unknown): string {
  const { code, message } = error as { code?: string; message?: string };
  if (code === 'EADDRINUSE') return 'That port is taken, perhaps by Frugal Sip itself in another window. Choose another: PORT=4181 npm start';
  if (code === 'EACCES' || code === 'SQLITE_CANTOPEN')
    return `The data folder ${dataFolder} cannot be written. Choose another: FRUGAL_SIP_DATA=/some/folder npm start`;
  return `Frugal Sip could not start: ${message ?? String(error)}`;
}
