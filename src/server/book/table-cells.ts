import type { Collection, Rows } from '../collection/index.ts';

/* What the lines of a table are written with. */

export type Cell = string | number | null | undefined;
export type Lines = { readonly head: readonly string[]; readonly lines: Iterable<readonly Cell[]> };
export type Asked = { readonly collection: Collection; readonly rows: Rows; readonly scale: number };

/** So many lines are read at a time: a long log is never held whole, and nothing is left open between two pieces. */
const AT_ONCE = 500;

/**
 * Lines of the log that stand, of some kinds, in an order, read piece by piece: first which, then what is in them.
 * @param asked.order columns of `care_event` @param asked.where what else must hold
 */
export function* linesOfKinds<T>(
  rows: Rows,
  kinds: readonly string[],
  { order, select, where = '1' }: { order: string; select: string; where?: string },
): Generator<T> {
  const seqs = rows<{ seq: number }>(
    `SELECT seq FROM care_event WHERE kind IN (SELECT value FROM json_each(?)) AND voidedBy IS NULL AND (${where}) ORDER BY ${order}`,
    JSON.stringify(kinds),
  ).map(({ seq }) => seq);
  for (let i = 0; i < seqs.length; i += AT_ONCE)
    yield* rows<T>(
      `SELECT ${select} FROM json_each(?) p JOIN care_event e ON e.seq = p.value ORDER BY p.key`,
      JSON.stringify(seqs.slice(i, i + AT_ONCE)),
    );
}

/** A form of time takes a thousand times longer to make than to use. */
const clocks = new Map<string, Intl.DateTimeFormat>();
/** The minutes told already: a round has many lines in one. */
const told = new Map<string, string>();
const MOST_TOLD = 20_000;
export function timeOf(at: string, zone: string): string {
  const key = `${zone} ${at.slice(0, 16)}`;
  const known = told.get(key);
  if (known !== undefined) return known;
  let clock = clocks.get(zone);
  if (!clock)
    clocks.set(
      zone,
      (clock = new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' })),
    );
  const time = clock.format(new Date(at));
  if (told.size >= MOST_TOLD) told.clear();
  told.set(key, time);
  return time;
}
export const onScale = (ecUsCm: number | undefined | null, scale: number) =>
  ecUsCm === undefined || ecUsCm === null ? null : Math.round(ecUsCm * scale);
export const ec = (ecUsCm: number | undefined | null) =>
  ecUsCm === undefined || ecUsCm === null ? null : Number(ecUsCm.toFixed(1));
export const ppmHead = (what: string, scale: number) => `${what}, ppm at ${scale}`;
