import type { PotDrift } from '../../contract/drift.ts';
import type { Band, ForecastDay } from '../../core/drift/index.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { mL } from '../shell/format.ts';

/** A figure on a day to come, with its 90 % range. */
export type AheadPoint = { readonly on: string; readonly band: Band };
/** What is to come of a pot: from its last filling to its next visit, and from there to the one after as it is flushed. ppm on the grower's pen. */
export type Ahead = {
  readonly nowPpm: readonly AheadPoint[];
  readonly nowPh: readonly AheadPoint[];
  readonly plan: {
    readonly words: string;
    readonly ppm: readonly AheadPoint[];
    readonly ph: readonly AheadPoint[];
    readonly ml: number;
  };
  /** Flushed as lately, where that makes a difference. */
  readonly lately: { readonly words: string; readonly ppm: readonly AheadPoint[]; readonly ml: number } | undefined;
};

/** A flush that leaves so much more is another flush. */
const OTHERWISE = 1.1;

/**
 * Lays the bands of a pot's filling, and of the one that comes, on the calendar.
 * @param now from its filling on @param next from the next filling on @param scale ppm per µS/cm @param days shown from today on
 */
export function aheadOf(
  drift: PotDrift,
  now: readonly ForecastDay[],
  next: readonly ForecastDay[],
  today: string,
  scale: number,
  days: number,
): Ahead {
  const visit = drift.pot.dueOn > today ? drift.pot.dueOn : today;
  const until = daysBetween(today, visit);
  const gone = drift.now.daysGone;
  const times = ({ low, middle, high }: Band, by: number): Band => ({
    low: low * by,
    middle: middle * by,
    high: high * by,
  });
  const stretch = (
    bands: readonly ForecastDay[],
    from: number,
    count: number,
    start: string,
    of: (d: ForecastDay) => Band,
  ): AheadPoint[] => bands.slice(from, from + count + 1).map((d, i) => ({ on: plusDays(start, i), band: of(d) }));
  const after = Math.max(1, Math.min(drift.next.everyDays, days - until));
  const filled = plusDays(today, -gone);
  const { flush } = drift.pot;
  const more = flush.lately && flush.afterPpm ? flush.lately.afterPpm / flush.afterPpm : 1;
  const nextPpm = (by: number) => stretch(next, 0, after, visit, (d) => times(d.ecUsCm, scale * by));
  return {
    nowPpm: stretch(now, 0, gone + until, filled, (d) => times(d.ecUsCm, scale)),
    nowPh: drift.now.phKnown ? stretch(now, 0, gone + until, filled, (d) => d.ph) : [],
    plan: { words: flush.words, ml: flush.ml, ppm: nextPpm(1), ph: stretch(next, 0, after, visit, (d) => d.ph) },
    lately:
      more > OTHERWISE && flush.lately
        ? { words: mL(Math.round(flush.lately.ml / 10) * 10), ml: flush.lately.ml, ppm: nextPpm(more) }
        : undefined,
  };
}
