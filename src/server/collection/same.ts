import { isDeepStrictEqual } from 'node:util';

/**
 * What was folded anew, or what stood there before where both say the same: everything made of it then stands too. Of an entry that says otherwise in one field
 * the other fields stand.
 */
export function sameOr<T>(before: T | undefined, now: T): T {
  if (before === undefined || before === now) return now;
  if (!isFields(before) || !isFields(now)) return isDeepStrictEqual(before, now) ? before : now;
  const kept: Record<string, unknown> = {};
  for (const [field, value] of Object.entries(now))
    kept[field] = isDeepStrictEqual(before[field], value) ? before[field] : value;
  const fields = Object.keys(kept);
  return fields.length === Object.keys(before).length &&
    fields.every((field) => field in before && kept[field] === before[field])
    ? before
    : (kept as T);
}

const isFields = (value: unknown): value is Record<string, unknown> =>
  value !== null && typeof value === 'object' && Object.getPrototypeOf(value) === Object.prototype;

/** A map with some entries folded anew; the very same map where that changed nothing. @param anew undefined: it is no more */
export function withAnew<T>(
  before: ReadonlyMap<string, T>,
  anew: ReadonlyMap<string, T | undefined>,
): ReadonlyMap<string, T> {
  let after: Map<string, T> | undefined;
  for (const [id, entry] of anew) {
    const old = before.get(id);
    const next = entry === undefined ? undefined : sameOr(old, entry);
    if (next === old) continue;
    after ??= new Map(before);
    if (next === undefined) after.delete(id);
    else after.set(id, next);
  }
  return after ?? before;
}

/** A map in the order the file gives it; the very same map where it stood so. @param compare by everything that order goes by */
export function inOrder<T>(map: ReadonlyMap<string, T>, compare: (a: T, b: T) => number): ReadonlyMap<string, T> {
  const entries = [...map];
  return entries.every(([, entry], i) => i === 0 || compare(entries[i - 1]![1], entry) <= 0)
    ? map
    : new Map(entries.sort(([, a], [, b]) => compare(a, b)));
}

/** A map in the order of other ids; the very same map where it stood so. */
export function inOrderOf<T>(map: ReadonlyMap<string, T>, ids: Iterable<string>): ReadonlyMap<string, T> {
  const wanted = [...ids].filter((id) => map.has(id));
  const keys = [...map.keys()];
  return wanted.length !== keys.length || wanted.every((id, i) => keys[i] === id)
    ? map
    : new Map(wanted.map((id) => [id, map.get(id)!]));
}

/** By text as SQLite compares it (BINARY of plain letters). */
export const byText = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** A whole map folded anew, in its new order, with every entry that says the same as before kept. */
export function allAnew<T>(
  before: ReadonlyMap<string, T> | undefined,
  now: ReadonlyMap<string, T>,
): ReadonlyMap<string, T> {
  if (!before) return now;
  const kept = new Map([...now].map(([id, entry]) => [id, sameOr(before.get(id), entry)]));
  const ids = [...before.keys()];
  const same =
    ids.length === kept.size && [...kept].every(([id, entry], i) => ids[i] === id && before.get(id) === entry);
  return same ? before : kept;
}
