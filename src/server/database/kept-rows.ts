import type { DataSource, EntityManager } from 'typeorm';

type Kept = { stamp: string; readonly bySql: Map<string, readonly unknown[]> };
const kept = new WeakMap<DataSource, Kept>();

/**
 * Rows that every look at a room wants and that change seldom, kept until anything is written. They are shared: not to be changed.
 * Within a write they are read afresh, for a write may be undone.
 * @param sql without parameters
 */
export async function keptRows<T>(manager: EntityManager, sql: string): Promise<readonly T[]> {
  if (manager.queryRunner?.isTransactionActive) return manager.query<T[]>(sql);
  // The log grows with every act; another connection's commit shows in the data version even where it wrote no act.
  const [row] = await manager.query<{ stamp: string }[]>(
    `SELECT (SELECT data_version FROM pragma_data_version()) || ':' || coalesce((SELECT max(seq) FROM care_event), 0) AS stamp`,
  );
  const stamp = row!.stamp;
  let here = kept.get(manager.connection);
  if (here?.stamp !== stamp) kept.set(manager.connection, (here = { stamp, bySql: new Map() }));
  const found = here.bySql.get(sql);
  if (found) return found as readonly T[];
  const rows = await manager.query<T[]>(sql);
  here.bySql.set(sql, rows);
  return rows;
}
