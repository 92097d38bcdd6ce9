import type { DataSource, EntityManager } from 'typeorm';
import { homeOf, type Home } from '../database/home.ts';
import { rawOf } from '../database/raw.ts';
import type { Collection } from './collection.ts';
import { foldAll, foldSince, lastLine } from './fold.ts';
import { rowsOf, type Rows } from './rows.ts';

type Held = { readonly source: DataSource; readonly version: number; readonly logged: number; readonly collection: Collection };

/** The collection of each open file, as it was last folded. */
const held = new WeakMap<Home, Held>();
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
  return lastLine(rows) === committed.seq ? committed : { ...foldSince(rows, committed), commit: committed.commit };
}

function committedIn(home: Home, source: DataSource): Collection {
  const rows = readRows(source);
  const before = held.get(home);
  const version = rows<{ data_version: number }>('PRAGMA data_version')[0]!.data_version;
  if (before?.source === source && before.version === version) return before.collection;
  const fold = (make: () => Omit<Collection, 'commit'>): Collection => {
    const raw = rawOf(source);
    raw.exec('BEGIN');
    try {
      return { ...make(), commit: (before?.collection.commit ?? 0) + 1 };
    } finally {
      raw.exec('COMMIT');
    }
  };
  const keep = (collection: Collection) => {
    held.set(home, { source, version, logged: home.logged, collection });
    return collection;
  };
  const whole = home.whole;
  home.whole = false;
  if (before?.source !== source || whole) return keep(fold(() => foldAll(rows, before?.collection)));
  if (lastLine(rows) > before.collection.seq) return keep(fold(() => foldSince(rows, before.collection)));
  // Written beside the log, such as the number of an act that changed nothing: then there is nothing to fold. Anything else is looked at whole.
  if (home.logged === before.logged && home.beside !== 0) {
    home.beside = 0;
    return keep(before.collection);
  }
  return keep(fold(() => foldAll(rows, before.collection)));
}

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
