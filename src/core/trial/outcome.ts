import { mean, sampleStandardDeviation } from 'simple-statistics';
import { plusDays, type LocalDate } from '../regimen/index.ts';
import { groupDifference, pairedDifference, type Asked, type Difference } from './difference.ts';
import { FALSE_ALARM, smallestShown } from './power.ts';
import { verdictOf, type Verdict } from './verdict.ts';

const WEEK = 7;

/** A figure of a pot with the days it tells of: what the old reservoir reads says what came of the filling before it, so `since` is that filling's day. */
export type PotFigure = { readonly on: LocalDate; readonly since: LocalDate; readonly value: number };

/** A pot in a trial: its arm (0 with the change, 1 as it was), its pair, and its figures of the measure, oldest first. */
export type TrialSeries = {
  readonly id: string;
  readonly arm: 0 | 1;
  readonly pair: number;
  readonly figures: readonly PotFigure[];
  /** Its first day in the trial: fillings before it are its own past. */
  readonly fromOn: LocalDate;
  /** Its last: what was read after that says nothing. */
  readonly untilOn: LocalDate;
};

/**
 * What a pot came to: the mean of its figures in the trial less the mean of its own past, over as many weeks before. Undefined where either was never read.
 * Only what tells of fillings since its first day is in the trial: the reading on that day tells of before.
 */
export function outcomeOf(
  { figures, fromOn, untilOn }: Pick<TrialSeries, 'figures' | 'fromOn' | 'untilOn'>,
  weeks: number,
): { readonly before: number; readonly during: number; readonly outcome: number } | undefined {
  const from = plusDays(fromOn, -WEEK * weeks);
  const past = figures.filter(({ on, since }) => since >= from && on <= fromOn && since < fromOn);
  const own = figures.filter(({ on, since }) => since >= fromOn && on <= untilOn);
  if (past.length === 0 || own.length === 0) return undefined;
  const [before, during] = [mean(past.map((f) => f.value)), mean(own.map((f) => f.value))];
  return { before, during, outcome: during - before };
}

/** Fewer pots than this say nothing of how pots spread. */
const FEWEST = 4;

/**
 * How far two pots of a pair come to lie apart by themselves, 1 SD, from how much these pots' own later weeks differed from those before them: both pots of a pair do.
 * @returns undefined where too few were read for twice as many weeks
 */
export function pairSpread(
  series: readonly (readonly PotFigure[])[],
  today: LocalDate,
  weeks: number,
): number | undefined {
  const half = plusDays(today, -WEEK * weeks);
  const changes = series.flatMap(
    (figures) => outcomeOf({ figures, fromOn: half, untilOn: today }, weeks)?.outcome ?? [],
  );
  if (changes.length < FEWEST) return undefined;
  const sd = Math.SQRT2 * sampleStandardDeviation(changes);
  return sd > 0 ? sd : undefined;
}

/** A trial that is ended before its time calls real only what would come up by chance once in a thousand (Haybittle 1971, Peto 1976): then looking each week makes no more false alarms. */
export const EARLY_ALPHA = 0.001;

export type TrialFound = {
  readonly pots: readonly {
    readonly id: string;
    readonly arm: 0 | 1;
    readonly pair: number;
    readonly before: number;
    readonly outcome: number;
  }[];
  /** Pairs of which both were read. */
  readonly pairs: number;
  /** Means of the arms: with the change, as it was. */
  readonly means: readonly [number, number] | undefined;
  readonly difference: Difference | undefined;
  /** The smallest difference that so many pairs, spread like this, show four times in five. */
  readonly smallest: number | undefined;
  readonly verdict: Verdict;
};

/**
 * A trial as it stands on a day.
 * @param early it has not run its time, whether it is ended or not: nothing is called real then but at `EARLY_ALPHA`
 * @param matters the least difference that would matter
 */
export function trialFound(
  series: readonly TrialSeries[],
  weeks: number,
  early: boolean,
  matters: number,
  seed: number,
  asked: Pick<Asked, 'draws'> = {},
): TrialFound {
  const pots = series.flatMap(({ id, arm, pair, ...of }) => {
    const own = outcomeOf(of, weeks);
    return own ? [{ id, arm, pair, before: own.before, outcome: own.outcome }] : [];
  });
  const inPair = (pair: number, arm: 0 | 1) => pots.find((p) => p.pair === pair && p.arm === arm)?.outcome;
  const differences = [...new Set(series.map(({ pair }) => pair))].flatMap((pair) => {
    const [a, b] = [inPair(pair, 0), inPair(pair, 1)];
    return a === undefined || b === undefined ? [] : [a - b];
  });
  const difference = pairedDifference(differences, seed, { ...asked, alpha: early ? EARLY_ALPHA : FALSE_ALARM });
  const arm = (of: 0 | 1) => pots.filter((p) => p.arm === of).map(({ outcome }) => outcome);
  const [first, second] = [arm(0), arm(1)];
  const smallest = difference && difference.sd > 0 ? smallestShown('pairs', difference.n, difference.sd) : undefined;
  return {
    pots,
    pairs: differences.length,
    means: first.length > 0 && second.length > 0 ? [mean(first), mean(second)] : undefined,
    difference,
    smallest,
    verdict: verdictOf('pairs', difference, matters),
  };
}

/** The same pots by what they were given and not by what they were meant to get; not in pairs any more. */
export function asDone(
  found: Pick<TrialFound, 'pots'>,
  got: ReadonlyMap<string, 0 | 1>,
  seed: number,
): Difference | undefined {
  const arm = (of: 0 | 1) => found.pots.filter((p) => (got.get(p.id) ?? p.arm) === of).map(({ outcome }) => outcome);
  return groupDifference(arm(0), arm(1), seed);
}
