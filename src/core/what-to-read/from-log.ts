import type { Foretold, SeenInterval, Widths } from '../drift/index.ts';
import { Z90 } from '../statistics/index.ts';
import { READ_TWICE, READABLES, SURPRISE_SD, surprise, type Foreseen, type Readable, type ReadState } from './ask.ts';

/* What a pot's followed log says of its readings. */

/** By what a forecast calls it. */
export const FORECAST_OF = { ppm: 'ec', ph: 'ph' } as const satisfies Record<Readable, keyof Foretold>;

/** What a visit read, in the scale of its forecast; undefined where it was not read, or with a pen that cannot be trusted. */
export const readAt = (
  interval: Pick<SeenInterval, 'cameOutEcUsCm' | 'cameOutPh'>,
  what: Readable,
): number | undefined =>
  what === 'ph'
    ? interval.cameOutPh
    : interval.cameOutEcUsCm === undefined
      ? undefined
      : Math.log(Math.max(1, interval.cameOutEcUsCm));

/** What is foretold, with its range as wide as it has to be. The wider of its two sides counts. */
export function foreseenBy(foretold: Foretold, widths: Widths, what: Readable): Foreseen {
  const { middle, half } = foretold[FORECAST_OF[what]];
  const { below, above } = widths[FORECAST_OF[what]];
  return { middle, sd: (Math.max(below, above) * half) / Z90 };
}

/**
 * A pot's readings until now.
 * @param intervals since it was set up in its clay, oldest first
 * @param everRead readings it ever had
 * @param widthsThen ranges as they were when an interval ended: asked for the last readings alone
 */
export function readStates(
  intervals: readonly SeenInterval[],
  everRead: Readonly<Record<Readable, number>>,
  widthsThen: (interval: SeenInterval) => Widths,
  now: {
    readonly foreseen: Readonly<Record<Readable, Foreseen | undefined>>;
    readonly limits: Readonly<Record<Readable, readonly number[]>>;
  },
): Record<Readable, ReadState> {
  const of = (what: Readable): ReadState => {
    const at = intervals.flatMap((interval, i) => (readAt(interval, what) === undefined ? [] : [i]));
    const last = at.at(-1);
    const offs = lastOffs(intervals, at, what, widthsThen);
    const surprised = offs.findIndex((off) => Math.abs(off) > SURPRISE_SD);
    return {
      everRead: everRead[what],
      readInClay: at.length,
      visits: intervals.length,
      unread: last === undefined ? Infinity : intervals.length - 1 - last,
      sinceSurprise: surprised < 0 ? undefined : surprised,
      lastOff: offs[0],
      foreseen: now.foreseen[what],
      limits: now.limits[what],
    };
  };
  return Object.fromEntries(READABLES.map((what) => [what, of(what)])) as Record<Readable, ReadState>;
}

/** How far off the last readings were, the newest first, in SD. */
function lastOffs(
  intervals: readonly SeenInterval[],
  at: readonly number[],
  what: Readable,
  widthsThen: (interval: SeenInterval) => Widths,
): number[] {
  return at
    .slice(-READ_TWICE)
    .reverse()
    .map((i) => {
      const interval = intervals[i]!;
      return surprise(readAt(interval, what)!, foreseenBy(interval.foretold, widthsThen(interval), what));
    });
}
