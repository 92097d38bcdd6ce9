import type { DataSource, EntityManager } from 'typeorm';
import { homeOf, type Home } from '../database/home.ts';
import { rawOf } from '../database/raw.ts';
import type { Collection } from './collection.ts';
import { foldAll, foldSince, lastLine } from './fold.ts';
import { rowsOf, type Rows } from './rows.ts';
import { atOnce, inSlices } from './slices.ts';

type Held = {
  readonly source: DataSource;
  readonly version: number;
  readonly logged: number;
  readonly collection: Collection;
};
type Folded = Omit<Collection, 'commit'>;

/** The collection of each open file, as it was last folded. */
const held = new WeakMap<Home, Held>();
const folding = new WeakMap<Home, Promise<void>>();
const readers = new WeakMap<DataSource, Rows>();

/**
 * The collection as a connection sees it, in one piece: whoever asks in the middle of a commit sees what was before it. Within a write what was logged in it so far
 * is in it too, and nothing of that is kept.
 */
export function collectionOf({ connection }: EntityManager): Collection {
  const home = homeOf(connection);
  const reader = home.reader();
  const committed = committedIn(home, reader);
  if (connection === reader) return committed;
  const rows = readRows(connection);
  if (lastLine(rows) === committed.seq) return committed;
  return { ...(foldSince(rows, committed) ?? atOnce(foldAll(rows, committed))), commit: committed.commit };
}

/** The collection as committed, if it is folded already. */
export function foldedNow({ connection }: EntityManager): Collection | undefined {
  return stillHeld(homeOf(connection), connection);
}

/** Folds what was committed where that takes long, slice by slice; `collectionOf` then has it. */
export async function foldAhead({ connection }: EntityManager): Promise<void> {
  const home = homeOf(connection);
  if (connection !== home.reader() || stillHeld(home, connection)) return;
  let under = folding.get(home);
  if (!under) {
    under = foldInSlices(home, connection).finally(() => folding.delete(home));
    folding.set(home, under);
  }
  await under;
}

async function foldInSlices(home: Home, source: DataSource): Promise<void> {
  const rows = readRows(source);
  const version = versionOf(rows);
  const next = foldNext(home, source, rows);
  if (next) return void keep(home, source, version, next);
  const folded = await inSlices(foldAll(rows, held.get(home)?.collection));
  // Written meanwhile, or the connection is another: whoever asks next folds what came since, or all of it once more.
  if (source.isInitialized && home.reader() === source && versionOf(rows) === version)
    keep(home, source, version, folded);
  else home.whole = true;
}

function committedIn(home: Home, source: DataSource): Collection {
  const kept = stillHeld(home, source);
  if (kept) return kept;
  const rows = readRows(source);
  const version = versionOf(rows);
  const raw = rawOf(source);
  raw.exec('BEGIN');
  try {
    return keep(
      home,
      source,
      version,
      foldNext(home, source, rows) ?? atOnce(foldAll(rows, held.get(home)?.collection)),
    );
  } finally {
    raw.exec('COMMIT');
  }
}

function stillHeld(home: Home, source: DataSource): Collection | undefined {
  const before = held.get(home);
  return before?.source === source && before.version === versionOf(readRows(source)) ? before.collection : undefined;
}

/** What the lines since make of it; undefined where everything is to be looked at. */
function foldNext(home: Home, source: DataSource, rows: Rows): Folded | undefined {
  const before = held.get(home);
  const { whole } = home;
  home.whole = false;
  if (before?.source !== source || whole) return undefined;
  if (lastLine(rows) > before.collection.seq) return foldSince(rows, before.collection);
  // Written beside the log, such as the number of an act that changed nothing: then there is nothing to fold. Anything else is looked at whole.
  const nothing = home.logged === before.logged && home.beside > 0;
  home.beside = 0;
  return nothing ? before.collection : undefined;
}

function keep(home: Home, source: DataSource, version: number, folded: Folded): Collection {
  const before = held.get(home)?.collection;
  const collection = folded === before ? before : { ...folded, commit: (before?.commit ?? 0) + 1 };
  held.set(home, { source, version, logged: home.logged, collection });
  return collection;
}

/** Changes with every commit that a connection sees. */
export const versionSeen = (manager: EntityManager): number => versionOf(rowsFor(manager));
const versionOf = (rows: Rows): number => rows<{ data_version: number }>('PRAGMA data_version')[0]!.data_version;

/** Says that rows are written that no line of the log tells of: after the commit everything is folded again. */
export function writtenBesideTheLog({ connection }: EntityManager): void {
  homeOf(connection).whole = true;
}

/** The rows as a connection sees them. */
export const rowsFor = ({ connection }: EntityManager): Rows => readRows(connection);

function readRows(source: DataSource): Rows {
  let rows = readers.get(source);
  if (!rows) readers.set(source, (rows = rowsOf(rawOf(source))));
  return rows;
}
