import { dirname, join } from 'node:path';
import { buildApp } from '../src/server/app.ts';
import { createTimers } from '../src/server/clock.ts';
import { Backups } from '../src/server/database/backups.ts';
import type { Database } from '../src/server/database/open.ts';
import { AccessStore } from '../src/server/shell/access-store.ts';
import { Authority } from '../src/server/shell/authority.ts';
import { Lan } from '../src/server/shell/lan.ts';
import { liveSettings } from '../src/server/shell/settings.ts';

/** The whole server on a collection, at a moment that stands still; nothing listens: it is asked by `inject`. */
export async function benchServer(database: Database, at: string) {
  const folder = dirname(database.file);
  const clock = { now: () => new Date(at) };
  return buildApp({
    context: {
      database,
      clock,
      timers: createTimers(0),
      mode: 'demo',
      settings: await liveSettings(database),
      version: 'bench',
      backups: new Backups(database),
      lan: new Lan({
        access: new AccessStore(join(folder, 'x.access.json')),
        authority: new Authority(join(folder, 'x.authority.json')),
        clock,
      }),
      trouble: { words: null },
    },
  });
}
