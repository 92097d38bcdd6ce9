import type { DataSource } from 'typeorm';

/** What the connections of one open collection have in common. */
export type Home = {
  /** The connection that reads. */
  reader(): DataSource;
  /** Commits that may have changed the collection, and those since the last look that did not: the number of an act that changed nothing. */
  logged: number;
  beside: number;
  /** Rows were written that no line of the log tells of, such as the demo's: after the next commit everything is looked at. */
  whole: boolean;
  /** What is to be done when the collection is closed. */
  readonly closing: (() => void)[];
};

const homes = new WeakMap<DataSource, Home>();

export function settle(source: DataSource, home: Home): DataSource {
  homes.set(source, home);
  return source;
}

export function homeOf(source: DataSource): Home {
  const home = homes.get(source);
  if (!home) throw new Error('That connection was not opened by openDatabase.');
  return home;
}
