import type { TurnMeasure } from '../../../contract/turns.ts';
import { daysBetween } from '../../../core/regimen/index.ts';
import type { PotFigure } from '../../../core/turn/index.ts';
import type { PastVisit, PotPast } from '../../collection/index.ts';

/** The pH in which most of what a plant takes up can be had (common practice). */
export const WINDOW = { low: 5.5, high: 6.5 };

type Of = {
  /** µS/cm, pH, shares from 0 to 1, L a week, money a year; undefined where it was not measured. */
  readonly value: (visit: PastVisit) => number | undefined;
  /** What was read tells of the filling before; what was done tells of its own day. */
  readonly tells: 'before' | 'itself';
  /** How the pots of a week are put together. */
  readonly of: 'median' | 'mean';
  readonly tainted?: true;
};

const yes = (is: boolean | undefined) => (is === undefined ? undefined : is ? 1 : 0);
/** For a week: what was given at a visit, over the days since the one before. */
const aWeek = ({ on, since }: PastVisit, amount: number | undefined) => {
  const days = since === undefined ? 0 : daysBetween(since, on);
  return amount === undefined || days === 0 ? undefined : (7 * amount) / days;
};

const aYear = (visit: PastVisit, amount: number | undefined) => {
  const week = aWeek(visit, amount);
  return week === undefined ? undefined : (week * DAYS_A_YEAR) / 7;
};
const DAYS_A_YEAR = 365;

/** What is told by the visits; growth is by what was measured between them. */
export const MEASURES: Readonly<Record<Exclude<TurnMeasure, 'growth'>, Of>> = {
  onTime: {
    value: ({ daysLate }) => (daysLate === undefined ? undefined : yes(daysLate <= 0)),
    tells: 'itself',
    of: 'mean',
  },
  gap: { value: ({ gapEcUsCm }) => gapEcUsCm, tells: 'before', of: 'median', tainted: true },
  ph: { value: ({ oldPh }) => oldPh, tells: 'before', of: 'median', tainted: true },
  inWindow: {
    value: ({ oldPh }) => yes(oldPh === undefined ? undefined : oldPh >= WINDOW.low && oldPh <= WINDOW.high),
    tells: 'before',
    of: 'mean',
    tainted: true,
  },
  dry: { value: ({ dry }) => yes(dry), tells: 'before', of: 'mean' },
  still: { value: (visit) => aWeek(visit, visit.stillL), tells: 'itself', of: 'mean' },
  cost: { value: (visit) => aYear(visit, visit.cost), tells: 'itself', of: 'mean' },
  troubles: {
    value: ({ troubles }) => yes(troubles === undefined ? undefined : troubles > 0),
    tells: 'itself',
    of: 'mean',
  },
};

/** A pot's figures of one measure, those since a day and of a time up to another: of what came long after a turn nothing is gone through. */
export function figuresOf({ visits, grown }: PotPast, key: TurnMeasure, from = '', to = '9999'): PotFigure[] {
  if (key === 'growth') return grown.filter(({ on, since: began }) => on >= from && began <= to);
  const { value, tells } = MEASURES[key];
  const figures: PotFigure[] = [];
  for (const visit of since(visits, from)) {
    if ((visit.since ?? visit.on) > to) break;
    const figure = value(visit);
    if (figure === undefined) continue;
    figures.push({ on: visit.on, since: tells === 'before' ? (visit.since ?? visit.on) : visit.on, value: figure });
  }
  return figures;
}

/** Those from a day on, found by halving: of ten years only the last one is gone through. */
export function* since<T extends { readonly on: string }>(all: readonly T[], from: string): Generator<T> {
  let [low, high] = [0, all.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (all[middle]!.on < from) low = middle + 1;
    else high = middle;
  }
  for (let i = low; i < all.length; i++) yield all[i]!;
}
