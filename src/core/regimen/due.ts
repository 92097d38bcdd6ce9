import { getISODay, parseISO } from 'date-fns';
import type { Regimen } from './regimen.ts';

/** A calendar day of the grower, `yyyy-mm-dd`. */
export type LocalDate = string;

export type DueStatus = 'late' | 'due' | 'soon' | 'later';
export type Due = {
  readonly dueOn: LocalDate;
  readonly status: DueStatus;
  /** Today minus the due day: 2 is two days late, −4 is in four days. */ readonly daysLate: number;
  /** Days past the regimen's outer limit; 0 within it, and where it sets none. */ readonly pastLimit: number;
};

/** "Soon" is within so many days of the due day. */
export const SOON_DAYS = 2;

/** What counts towards the next due day: the last time the pot was filled, the turn of the rota that comes next, and any "look again on" since. */
export type DueHistory = {
  readonly lastFilledOn?: LocalDate | undefined;
  readonly turn?: number;
  readonly lookAgainOn?: LocalDate | undefined;
};

/**
 * When a pot is due and how that stands today. A pot never filled is due today. A due day on which the grower does not work moves to the
 * working day before it (never back to the day of the last filling), or else to the next one; a day the grower chose stays.
 * @param workingDays ISO weekdays, Monday 1 to Sunday 7; all when left out
 * @example dueState(weekly, { lastFilledOn: '2026-11-16' }, '2026-11-25') // due 2026-11-23, late by 2
 */
export function dueState(
  regimen: Regimen,
  history: DueHistory,
  today: LocalDate,
  workingDays?: readonly number[],
): Due {
  const dueOn = history.lookAgainOn ?? dueOnFor(regimen, history, today, workingDays);
  const daysLate = daysBetween(dueOn, today);
  const status: DueStatus = daysLate > 0 ? 'late' : daysLate === 0 ? 'due' : daysLate >= -SOON_DAYS ? 'soon' : 'later';
  const stood =
    history.lastFilledOn === undefined || regimen.latestDays === null
      ? 0
      : daysBetween(history.lastFilledOn, today) - regimen.latestDays;
  return { dueOn, status, daysLate, pastLimit: Math.max(0, stood) };
}

/** The due day by the rota alone: so many days after the last filling as the watering before this turn lasts. */
export function dueOnFor(
  regimen: Pick<Regimen, 'feeds'>,
  { lastFilledOn, turn = 0 }: DueHistory,
  today: LocalDate,
  workingDays?: readonly number[],
): LocalDate {
  if (!lastFilledOn) return today;
  const n = regimen.feeds.length;
  const before = regimen.feeds[(((turn - 1) % n) + n) % n]!;
  return onWorkingDay(plusDays(lastFilledOn, before.days), lastFilledOn, workingDays);
}

/** The working day nearest before `date` and after `after`, or else the first one from `date` on. */
function onWorkingDay(date: LocalDate, after: LocalDate, workingDays: readonly number[] | undefined): LocalDate {
  if (workingDays === undefined || workingDays.length === 7) return date;
  const works = (day: LocalDate) => workingDays.includes(getISODay(parseISO(day)));
  for (let back = 0; daysBetween(after, plusDays(date, -back)) > 0 && back < 7; back++)
    if (works(plusDays(date, -back))) return plusDays(date, -back);
  for (let on = 1; on <= 7; on++) if (works(plusDays(date, on))) return plusDays(date, on);
  return date;
}

/** Is it this round's work? */
export function isDue(due: Due): boolean {
  return due.daysLate >= 0;
}

/** `date` moved by whole days. */
export function plusDays(date: LocalDate, days: number): LocalDate {
  return new Date((dayNumber(date) + days) * MS_PER_DAY).toISOString().slice(0, 10);
}

/** Whole days from `from` to `to`. */
export function daysBetween(from: LocalDate, to: LocalDate): number {
  return dayNumber(to) - dayNumber(from);
}

const MS_PER_DAY = 86_400_000;
/** Days since 1970-01-01. A calendar day has no zone, so it is counted in UTC; a round of 500 pots counts some ten thousand of them. */
function dayNumber(date: LocalDate): number {
  const known = numbers.get(date);
  if (known !== undefined) return known;
  const day = Date.parse(`${date}T00:00:00Z`) / MS_PER_DAY;
  if (numbers.size > MOST_KEPT) numbers.clear();
  numbers.set(date, day);
  return day;
}
/** The same few days come again and again. */
const numbers = new Map<LocalDate, number>();
const MOST_KEPT = 4000;

/** How a due day reads on a shelf label. */
export function dueWords(due: Due): string {
  if (due.daysLate > 0) return `${due.daysLate} d late`;
  if (due.daysLate === 0) return 'due';
  if (due.daysLate === -1) return 'tomorrow';
  return `in ${-due.daysLate} d`;
}
