import { listed, type Rows } from './rows.ts';

/** What a field of a record held from each moment on, oldest first; the first from ever. Values as the record keeps them. */
export type Versions = readonly { readonly from: string; readonly value: string | null }[];

/** The versions of one field of some records, by record: from the log, which tells of every change that stands with what was there before it. */
export function versionsOf(
  rows: Rows,
  table: 'water' | 'product' | 'pot',
  ids: readonly string[],
  field: string,
): Map<string, Versions> {
  const found = new Map<string, { from: string; value: string | null }[]>();
  for (const { id, at, before, after, isNew } of rows<{
    id: string;
    at: string;
    before: string | null;
    after: string | null;
    isNew: number;
  }>(
    `SELECT json_extract(c.value, '$.id') AS id, e.at, json_extract(c.value, '$.before.' || ?) AS before, json_extract(c.value, '$.after.' || ?) AS after,
       json_extract(c.value, '$.before') IS NULL AS isNew
     FROM json_each(?) j JOIN event_touch t ON t.subject = ? || ':' || j.value JOIN care_event e ON e.id = t.eventId AND e.kind = 'recordsChanged' AND e.voidedBy IS NULL,
       json_each(e.payload, '$.changes') c
     WHERE json_extract(c.value, '$.table') = ? AND json_extract(c.value, '$.id') = j.value AND json_type(c.value, '$.after.' || ?) IS NOT NULL
     ORDER BY coalesce(e.standsAt, e.seq)`,
    field,
    field,
    listed(ids),
    table,
    table,
    field,
  )) {
    const versions = found.get(id);
    if (!versions)
      found.set(
        id,
        isNew
          ? [{ from: '', value: after }]
          : [
              { from: '', value: before },
              { from: at, value: after },
            ],
      );
    else versions.push({ from: at, value: after });
  }
  return found;
}

/** What held at a moment. */
export function versionAt(versions: Versions, at: string): string | null {
  return versions.findLast(({ from }) => from <= at)?.value ?? null;
}

/** The first that was known after a moment at which nothing was. */
export function firstKnown(versions: Versions, at: string): string | null {
  return versions.find(({ from, value }) => from > at && value !== null)?.value ?? null;
}

/** Versions that end at what the record holds: one made without a line in the log held it from ever. */
export function upTo(versions: Versions | undefined, now: string | null): Versions {
  if (!versions) return [{ from: '', value: now }];
  const last = versions.at(-1)!;
  return last.value === now ? versions : [...versions.slice(0, -1), { from: last.from, value: now }];
}
