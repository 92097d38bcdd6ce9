import type { DataSource, EntityManager } from 'typeorm';

type Kept = { stamp: string; readonly by: Map<string, unknown> };
const kept = new WeakMap<DataSource, Kept>();

/**
 * Rows that every look at a room wants and that change seldom, kept until anything is written. They are shared: not to be changed.
 * @param sql without parameters
 */
export function keptRows<T>(manager: EntityManager, sql: string): Promise<readonly T[]> {
  return untilWritten(manager, sql, () => manager.query<T[]>(sql));
}

/**
 * What is put together from the collection and nothing else, kept until anything is written; asked for twice at once it is made once. Within a write it
 * is made afresh, for a write may be undone.
 * @param key names it, with all else it depends on, such as the day
 */
export async function untilWritten<T>(manager: EntityManager, key: string, make: () => Promise<T>): Promise<T> {
  if (manager.queryRunner?.isTransactionActive) return make();
  // The log grows with every act; another connection's commit shows in the data version even where it wrote no act.
  const [row] = await manager.query<{ stamp: string }[]>(
    `SELECT (SELECT data_version FROM pragma_data_version()) || ':' || coalesce((SELECT max(seq) FROM care_event), 0) AS stamp`,
  );
  const stamp = row!.stamp;
  let here = kept.get(manager.connection);
  if (here?.stamp !== stamp) kept.set(manager.connection, (here = { stamp, by: new Map() }));
  const { by } = here;
  const found = by.get(key) as Promise<T> | undefined;
  if (found) return found;
  const made = make();
  by.set(key, made);
  made.catch(() => by.delete(key));
  return made;
}
