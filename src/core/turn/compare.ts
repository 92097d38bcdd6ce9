import { mean } from 'simple-statistics';
import { plusDays, type LocalDate } from '../regimen/index.ts';
import {
  groupDifference,
  pairedDifference,
  studentQuantile,
  FALSE_ALARM,
  type Asked,
  type Difference,
} from '../trial/index.ts';
import { byWeek, WEEK, type PotSeries } from './figure.ts';

/*
 * Before and after a turn. A difference alone is also the season's, so it is set against pots of the same place that did not turn, or against the same pots in
 * the same weeks of the year before; where there is neither, it is shown and nothing is said of it (Campbell & Stanley 1963 on the one-group design;
 * Bertrand, Duflo & Mullainathan 2004, Quarterly Journal of Economics 119:249, on weeks that hang together).
 */

export type Against = 'unchanged' | 'yearBefore' | 'nothing';

/** What a measure did at a turn, in the measure's own unit. */
export type TurnFound = {
  /** Mean of the pots' own means. */
  readonly before: number;
  readonly after: number;
  /** Pots that have both. */
  readonly pots: number;
  readonly against: Against;
  /** The difference less that of what it is set against, with its 95 % interval; null where it is set against nothing, or too little was read. */
  readonly difference: Pick<Difference, 'mean' | 'low' | 'high'> | null;
};

/** A year, by whole weeks. */
const YEAR_DAYS = 52 * WEEK;
/** Fewer pots than this are no comparison. House rule. */
const FEWEST = 3;
/** Fewer weeks on a side than this say nothing of how weeks differ. */
const FEWEST_WEEKS = 3;

type Around = { readonly before: number; readonly after: number; readonly weeks: ReadonlyMap<number, number> };

/** A pot around a day; undefined where it was not measured on both sides. */
function around(series: PotSeries, on: LocalDate, weeks: number): Around | undefined {
  const by = byWeek(series, on, weeks);
  const side = (of: (week: number) => boolean) => [...by].flatMap(([week, value]) => (of(week) ? [value] : []));
  const [before, after] = [side((w) => w < 0), side((w) => w >= 0)];
  return before.length === 0 || after.length === 0
    ? undefined
    : { before: mean(before), after: mean(after), weeks: by };
}

/**
 * @param changed pots that turned @param unchanged pots that did not, anywhere; only those of the same places are set against them
 * @param weeks looked at on either side
 * @returns undefined where no pot was measured on both sides
 */
export function compareAt(
  changed: readonly PotSeries[],
  unchanged: readonly PotSeries[],
  on: LocalDate,
  weeks: number,
  seed: number,
  asked: Asked = {},
): TurnFound | undefined {
  const found = changed.flatMap((series) => {
    const now = around(series, on, weeks);
    return now ? [{ now, then: around(series, plusDays(on, -YEAR_DAYS), weeks) }] : [];
  });
  if (found.length === 0) return undefined;
  const places = new Set(changed.map(({ place }) => place));
  const mates = unchanged.flatMap((series) => (places.has(series.place) ? (around(series, on, weeks) ?? []) : []));
  const both = found.flatMap(({ now, then }) => (then ? [{ now, then }] : []));
  const shown = {
    before: mean(found.map(({ now }) => now.before)),
    after: mean(found.map(({ now }) => now.after)),
    pots: found.length,
  };
  if (mates.length >= FEWEST && found.length >= 2)
    return {
      ...shown,
      against: 'unchanged',
      difference: widest(
        groupDifference(
          found.map(({ now }) => rise(now)),
          mates.map(rise),
          seed,
          asked,
        ),
        gaps(
          found.map(({ now }) => now),
          mates,
        ),
        0,
      ),
    };
  if (both.length >= FEWEST)
    return {
      ...shown,
      against: 'yearBefore',
      difference: widest(
        pairedDifference(
          both.map(({ now, then }) => rise(now) - rise(then)),
          seed,
          asked,
        ),
        gaps(
          both.map(({ now }) => now),
          both.map(({ then }) => then),
        ),
        YEARS_TOGETHER,
      ),
    };
  return { ...shown, against: 'nothing', difference: null };
}

const rise = ({ before, after }: Around) => after - before;

/** Weeks in which both were measured: how far they lay apart, each pot counted from its own middle, so that it does not matter which were read. */
function gaps(some: readonly Around[], others: readonly Around[]): Map<number, number> {
  const [a, b] = [weekly(some), weekly(others)];
  return new Map([...a].flatMap(([week, value]) => (b.has(week) ? [[week, value - b.get(week)!] as const] : [])));
}

function weekly(pots: readonly Around[]): Map<number, number> {
  const values = new Map<number, number[]>();
  for (const { before, after, weeks } of pots)
    for (const [week, value] of weeks) {
      const own = values.get(week) ?? [];
      own.push(value - (before + after) / 2);
      values.set(week, own);
    }
  return new Map([...values].map(([week, all]) => [week, mean(all)]));
}

/** An interval that holds both for other pots and for other weeks: whatever moves all pots of a week together makes many pots no surer than few. */
function widest(
  pots: Difference | undefined,
  byWeeks: ReadonlyMap<number, number>,
  least: number,
): TurnFound['difference'] {
  const half = weekHalf(byWeeks, least);
  if (!pots || half === undefined) return null;
  return { mean: pots.mean, low: Math.min(pots.low, pots.mean - half), high: Math.max(pots.high, pots.mean + half) };
}

/** Half the 95 % interval of the mean of the weeks after less that before, by how far the weeks of a side lie apart and hang together. */
function weekHalf(byWeeks: ReadonlyMap<number, number>, least: number): number | undefined {
  const sides = [[...byWeeks].filter(([w]) => w < 0), [...byWeeks].filter(([w]) => w >= 0)].map((side) =>
    side.sort(([a], [b]) => a - b).map(([, value]) => value),
  );
  if (sides.some((side) => side.length < FEWEST_WEEKS)) return undefined;
  const residuals = sides.map((side) => side.map((value) => value - mean(side)));
  const n = byWeeks.size;
  const all = residuals.flat();
  const squares = all.reduce((sum, r) => sum + r * r, 0);
  if (squares === 0) return 0;
  const products = residuals.reduce((sum, side) => sum + side.slice(1).reduce((s, r, i) => s + r * side[i]!, 0), 0);
  // From so few weeks it comes out too low by about this much (Kendall 1954, Biometrika 41:403).
  const lag = products / squares;
  const together = Math.min(MOST_TOGETHER, Math.max(least, lag + (1 + 3 * lag) / (n / 2)));
  const spread = Math.sqrt(squares / (n - 2)) / Math.sqrt(1 - together * together * SHRINKS);
  const counts = sides.map((side) => Math.max(1.5, (side.length * (1 - together)) / (1 + together)));
  const freedom = Math.max(2, counts[0]! + counts[1]! - 2);
  return studentQuantile(1 - FALSE_ALARM / 2, freedom) * spread * Math.sqrt(1 / counts[0]! + 1 / counts[1]!);
}
const MOST_TOGETHER = 0.85;
/** Two years differ for weeks on end (a warm spring, a long fog): of so few weeks one cannot see how long, so it is held to be at least so much. House rule. */
const YEARS_TOGETHER = 0.5;
/** Weeks that hang together lie closer to their side's mean than to the true one. */
const SHRINKS = 0.5;
