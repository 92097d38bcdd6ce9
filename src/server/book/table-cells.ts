import type { Collection, Rows } from '../collection/index.ts';

/* What the lines of a table are written with. */

export type Cell = string | number | null | undefined;
export type Lines = { readonly head: readonly string[]; readonly lines: Iterable<readonly Cell[]> };
export type Asked = { readonly collection: Collection; readonly rows: Rows; readonly scale: number };

/** A form of time takes a thousand times longer to make than to use. */
const clocks = new Map<string, Intl.DateTimeFormat>();
export function timeOf(at: string, zone: string): string {
  let clock = clocks.get(zone);
  if (!clock)
    clocks.set(
      zone,
      (clock = new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' })),
    );
  return clock.format(new Date(at));
}
export const onScale = (ecUsCm: number | undefined | null, scale: number) =>
  ecUsCm === undefined || ecUsCm === null ? null : Math.round(ecUsCm * scale);
export const ec = (ecUsCm: number | undefined | null) =>
  ecUsCm === undefined || ecUsCm === null ? null : Number(ecUsCm.toFixed(1));
export const ppmHead = (what: string, scale: number) => `${what}, ppm at ${scale}`;
