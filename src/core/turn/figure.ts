import type { PotFigure } from '../trial/index.ts';
import { daysBetween, type LocalDate } from '../regimen/index.ts';

export type { PotFigure };

/** One measure of one pot, oldest first. */
export type PotSeries = {
  readonly id: string;
  readonly place: string;
  readonly figures: readonly PotFigure[];
};

/** Days of a week. */
export const WEEK = 7;

/** Which week of a turn a figure belongs to: 0 the first one after it, −1 the last before; undefined for one that tells of both. */
export function weekOf({ on, since }: PotFigure, turnOn: LocalDate): number | undefined {
  const from = daysBetween(turnOn, since);
  if (from >= 0) return Math.floor(from / WEEK);
  return on <= turnOn ? Math.floor(from / WEEK) : undefined;
}

/** A pot's figures by the week of a turn, so many before and after it: several of a week are their mean. */
export function byWeek(series: PotSeries, turnOn: LocalDate, weeks: number): Map<number, number> {
  const sums = new Map<number, { sum: number; n: number }>();
  for (const figure of series.figures) {
    const week = weekOf(figure, turnOn);
    if (week === undefined || week < -weeks || week >= weeks) continue;
    const { sum, n } = sums.get(week) ?? { sum: 0, n: 0 };
    sums.set(week, { sum: sum + figure.value, n: n + 1 });
  }
  return new Map([...sums].map(([week, { sum, n }]) => [week, sum / n]));
}
