import type { LocalDate } from './due.ts';

/** A calendar day as every page writes it. @example weekdayDayMonth('2026-11-25') // 'Wed 25 Nov' */
export const weekdayDayMonth = (date: LocalDate): string =>
  new Date(`${date}T12:00:00Z`)
    .toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' })
    .replace(',', '');
