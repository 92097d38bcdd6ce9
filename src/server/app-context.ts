import type { Clock, Timers } from './clock.ts';
import type { Backups } from './database/backups.ts';
import type { Database } from './database/open.ts';
import type { Lan } from './shell/lan.ts';
import type { Settings } from './shell/settings.ts';

/** What every plugin is given. Resolved once at start, then frozen. */
export type AppContext = {
  readonly database: Database;
  readonly clock: Clock;
  readonly timers: Timers;
  readonly mode: 'demo' | 'own';
  /** The grower's settings; they follow the database. */
  readonly settings: Settings;
  readonly version: string;
  readonly backups: Backups;
  readonly lan: Lan;
  /** What went wrong at the last automatic backup, in words. */
  readonly trouble: { words: string | null };
  /** Starts the demo beside the own collection and returns its address; absent in the demo itself. */
  readonly openDemo?: () => Promise<string>;
  /** Fills the empty own collection with a copy of the demo, its pens typed; absent in the demo itself. */
  readonly copyDemo?: () => Promise<void>;
  /** Lets a day go by; the demo only. */
  readonly nextDay?: () => Promise<void>;
};
