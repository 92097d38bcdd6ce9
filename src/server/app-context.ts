import type { Clock, Timers } from './clock.ts';
import type { Database } from './database/open.ts';

/** What every plugin is given. Resolved once at start, then frozen. */
export type AppContext = {
  readonly database: Database;
  readonly clock: Clock;
  readonly timers: Timers;
  readonly mode: 'demo' | 'own';
  /** The grower's zone and the pen scale things are shown on, read once from settings. */
  readonly settings: Settings;
  readonly version: string;
  /** Starts the demo beside the own collection and returns its address; absent in the demo itself. */
  readonly openDemo?: () => Promise<string>;
};

export type Settings = { readonly zone: string; readonly collection: string };
