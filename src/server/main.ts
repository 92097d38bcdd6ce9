import { homedir } from 'node:os';
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join, dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { FastifyInstance } from 'fastify';
import { localDateOf } from '../core/regimen/index.ts';
import { copyDemo } from '../demo/copy-demo.ts';
import { makeDemo } from '../demo/make-demo.ts';
import { DEMO_ZONE } from '../demo/scenario.ts';
import { shiftDemo } from '../demo/shift-demo.ts';
import { buildApp } from './app.ts';
import type { AppContext } from './app-context.ts';
import { AppError } from './app-error.ts';
import { createClock, createTimers, nextMorning } from './clock.ts';
import { Backups } from './database/backups.ts';
import { holdCollection } from './database/folder-lock.ts';
import { keepLessons } from './collection/index.ts';
import { openDatabase, type Database } from './database/open.ts';
import { keepBackedUp } from './shell/keep-backed-up.ts';
import { AccessStore, accessFileOf, carryAccessOver } from './shell/access-store.ts';
import { Authority, authorityFileOf } from './shell/authority.ts';
import { Lan } from './shell/lan.ts';
import { liveSettings, writeSetting } from './shell/settings.ts';

/*
 * Listens. `--demo` serves the demo collection, kept in a file of its own beside the grower's, never over it; `--reset` makes it anew.
 * Environment: FRUGAL_SIP_DATA (folder), PORT, FRUGAL_SIP_NOW (instant to start from), FRUGAL_SIP_PACE (0 makes simulated pens settle at
 * once), FRUGAL_SIP_LAN (addresses to open to the home network, instead of this machine's own).
 */

const VERSION = '0.2.0';
const webFolder = join(dirname(fileURLToPath(import.meta.url)), '..', 'web');
/** A hash of what this was built from; run from source it has none. */
declare const PROGRAM: string | undefined;
const dataFolder = process.env['FRUGAL_SIP_DATA'] ?? join(homedir(), '.frugal-sip');
const timers = createTimers(Number(process.env['FRUGAL_SIP_PACE'] ?? 1));
const demo = process.argv.includes('--demo');

const open: { app: FastifyInstance; database: Database; stop: () => Promise<void> }[] = [];

// Before anything is opened or said: a stop that comes early must still be an orderly one.
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => void stop());

try {
  const port = portFrom(process.env['PORT']);
  const url = demo ? await serveDemo(port) : await serveOwn(port);
  console.log(`\nFrugal Sip ${demo ? '(the demo) ' : ''}is at ${url}`);
  console.log(`Data: ${join(dataFolder, demo ? 'demo.sqlite' : 'collection.sqlite')}\nStop it with Ctrl+C.\n`);
} catch (error) {
  console.error(explain(error));
  process.exit(1);
}

async function serveOwn(port: number): Promise<string> {
  const clock = createClock(process.env['FRUGAL_SIP_NOW']);
  const file = join(dataFolder, 'collection.sqlite');
  const database = await openDatabase(file, {
    now: () => clock.now(),
    evenDamaged: true,
    beforeUpdate: (raw) => carryAccessOver(raw, accessFileOf(file)),
  });
  const trouble = database.trouble();
  if (trouble) console.error(`\n${trouble.words}\n`);
  let demoUrl: Promise<string> | undefined;
  return serve(database, 'own', port, clock, {
    openDemo: () => (demoUrl ??= serveDemo(0)),
    copyDemo: () => database.write.run((manager) => copyDemo(manager, localDateOf(clock.now(), DEMO_ZONE))),
  });
}

async function serveDemo(port: number): Promise<string> {
  const file = join(dataFolder, 'demo.sqlite');
  if (process.argv.includes('--reset')) {
    mkdirSync(dataFolder, { recursive: true });
    // Never from under another server that has it open.
    const letGo = holdCollection(file);
    for (const end of ['', '-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
    letGo();
  }
  const fresh = !existsSync(file);
  const clock = createClock(process.env['FRUGAL_SIP_NOW']);
  const database = await openDatabase(file, {
    now: () => clock.now(),
    beforeUpdate: (raw) => carryAccessOver(raw, accessFileOf(file)),
  });
  const today = () => localDateOf(clock.now(), DEMO_ZONE);
  const made = await database.read.query<unknown[]>(`SELECT 1 FROM setting WHERE key = 'demoDay'`);
  if (made.length === 0) {
    if (fresh) console.log('Making the demo collection: 42 pots, 52 weeks …');
    await database.write.run((manager) => makeDemo(manager, { today: today() }));
  } else await database.write.run((manager) => shiftDemo(manager, today()));
  return serve(database, 'demo', port, clock, {
    nextDay: () => {
      clock.advance(nextMorning(clock.now(), DEMO_ZONE).getTime() - clock.now().getTime());
      return database.write.run((manager) => writeSetting(manager, 'demoDay', today()));
    },
  });
}

async function serve(
  database: Database,
  mode: AppContext['mode'],
  port: number,
  clock: AppContext['clock'],
  more: Pick<AppContext, 'openDemo' | 'copyDemo' | 'nextDay'>,
): Promise<string> {
  if (typeof PROGRAM === 'string') keepLessons(database, PROGRAM);
  const lanAddresses = process.env['FRUGAL_SIP_LAN'];
  const lan = new Lan({
    access: new AccessStore(accessFileOf(database.file)),
    authority: new Authority(authorityFileOf(database.file)),
    clock,
    ...(lanAddresses === undefined ? {} : { addresses: () => lanAddresses.split(',').filter(Boolean) }),
  });
  const context: AppContext = Object.freeze({
    database,
    clock,
    timers,
    mode,
    settings: await liveSettings(database),
    version: VERSION,
    backups: new Backups(database),
    lan,
    trouble: { words: null },
    ...more,
  });
  const app = await buildApp({ context, webFolder });
  const stopBackups = mode === 'own' ? keepBackedUp(context) : () => Promise.resolve();
  const url = await app.listen({ host: '127.0.0.1', port });
  await lan.begin(app, Number(new URL(url).port));
  // Not waited for: in a large log it takes a second or two.
  if (!database.trouble()) void database.checkLines().catch((error: unknown) => console.error(error));
  open.push({
    app,
    database,
    stop: async () => {
      await stopBackups();
      await lan.end();
    },
  });
  return url;
}

async function stop(): Promise<void> {
  for (const { app, database, stop: stopMore } of open) {
    await stopMore();
    await app.close();
    await database.close();
  }
  process.exit(0);
}

function portFrom(text: string | undefined): number {
  if (text === undefined) return 4180;
  const port = Number(text);
  if (!(Number.isInteger(port) && port >= 0 && port <= 65535))
    throw new Error(`PORT is "${text}"; give a number from 0 to 65535, such as PORT=4180.`);
  return port;
}

function explain(error: unknown): string {
  const { code, message, driverError } = error as { code?: string; message?: string; driverError?: { code?: string } };
  const name = driverError?.code ?? code ?? '';
  if (demo && error instanceof AppError && error.code === 'damaged')
    return 'The demo’s file is damaged. Make it anew: npm run demo -- --reset';
  if (error instanceof AppError) return `Frugal Sip could not start: ${error.message}`;
  if (name === 'EADDRINUSE')
    return 'That port is taken, perhaps by Frugal Sip itself in another window. Choose another: PORT=4181 npm start';
  if (name === 'SQLITE_FULL' || name === 'ENOSPC')
    return 'The disk is full. Free some space, then start again; nothing was changed.';
  if (
    /^SQLITE_(CANTOPEN|READONLY|IOERR)|^(EACCES|EROFS|EPERM|ENOTDIR|EEXIST)$/.test(name) ||
    /unable to open database|readonly/.test(message ?? '')
  )
    return `The data folder ${dataFolder} cannot be written. Choose another: FRUGAL_SIP_DATA=/some/folder npm start`;
  return `Frugal Sip could not start: ${message ?? String(error)}`;
}
