import type { LocalDate } from './due.ts';
import { daysBetween, plusDays } from './due.ts';
import type { Soak } from './regimen.ts';

/** What of a place decides on a soak's season. */
export type SeasonSite = {
  readonly southern: boolean;
  readonly lamps: boolean;
  /** Warm enough for growth all year. */ readonly warm: boolean;
};

/** A soak comes once in each open month, and no sooner than this after the one before it. House rule. */
export const SOAK_LEAST_DAYS = 21;
/** Months are twelve; a search for an open one ends after a year. */
const MONTHS = 12;

/** Which months a soak is given in on a place, January 1. Under lamps and warm it may be all of them. */
export function openMonths(soak: Pick<Soak, 'months' | 'allYearUnderLamps'>, site: SeasonSite): number[] {
  if (soak.allYearUnderLamps && site.lamps && site.warm) return Array.from({ length: MONTHS }, (_, i) => i + 1);
  return site.southern
    ? soak.months.map((m) => ((m + 5) % MONTHS) + 1).sort((a, b) => a - b)
    : [...soak.months].sort((a, b) => a - b);
}

/** Is the soak in season on a day? */
export function inSeason(soak: Pick<Soak, 'months' | 'allYearUnderLamps'>, site: SeasonSite, on: LocalDate): boolean {
  return openMonths(soak, site).includes(monthOf(on));
}

/**
 * From which day a soak is due: the first day of the next open month that has not had one, at least three weeks after the last; it is then done
 * at the first watering from that day on.
 * @param lastOn the day of the last one, if ever @param from not before this day: when the pot came to the regimen
 * @returns undefined where the season never opens
 * @example soakDueFrom(aprilToOctober, byDaylight, '2026-10-05', '2026-01-01') // '2027-04-01'
 */
export function soakDueFrom(
  soak: Pick<Soak, 'months' | 'allYearUnderLamps'>,
  site: SeasonSite,
  lastOn: LocalDate | undefined,
  from: LocalDate,
): LocalDate | undefined {
  const open = openMonths(soak, site);
  if (open.length === 0) return undefined;
  const earliest =
    lastOn === undefined ? from : max(from, max(firstOfNextMonth(lastOn), plusDays(lastOn, SOAK_LEAST_DAYS)));
  let day = earliest;
  for (let i = 0; i <= MONTHS; i++) {
    if (open.includes(monthOf(day))) return day;
    day = firstOfNextMonth(day);
  }
  return undefined;
}

/** Is it the first of its season: none since the season opened. A season that never closes has its first once. */
export function isFirstOfSeason(
  soak: Pick<Soak, 'months' | 'allYearUnderLamps'>,
  site: SeasonSite,
  lastOn: LocalDate | undefined,
  on: LocalDate,
): boolean {
  if (lastOn === undefined) return true;
  const open = openMonths(soak, site);
  if (open.length === MONTHS) return false;
  // Walk back from the day to where the season opened.
  let opened = firstOfMonth(on);
  while (open.includes(monthOf(plusDays(opened, -1)))) opened = firstOfMonth(plusDays(opened, -1));
  return daysBetween(lastOn, opened) > 0;
}

const monthOf = (day: LocalDate) => Number(day.slice(5, 7));
const firstOfMonth = (day: LocalDate) => `${day.slice(0, 7)}-01`;
const firstOfNextMonth = (day: LocalDate) => firstOfMonth(plusDays(firstOfMonth(day), 31));
const max = (a: LocalDate, b: LocalDate) => (a > b ? a : b);
