import { TZDate } from '@date-fns/tz';
import { format } from 'date-fns';
import type { LocalDate } from './due.ts';

/**
 * The grower's calendar day at an instant.
 * @param instant UTC
 * @param zone IANA name, such as "Europe/London"
 * @example localDateOf(new Date('2026-11-25T23:30:00Z'), 'Asia/Tokyo') // '2026-11-26'
 */
export function localDateOf(instant: Date, zone: string): LocalDate {
  return format(new TZDate(instant.getTime(), zone), 'yyyy-MM-dd');
}

/** Wall-clock time at an instant, "09:31". */
export function localTimeOf(instant: Date, zone: string): string {
  return format(new TZDate(instant.getTime(), zone), 'HH:mm');
}

/** The instant at which the grower's calendar day begins. @example startOfLocalDay('2026-07-01', 'Europe/London') // 2026-06-30T23:00:00Z */
export function startOfLocalDay(day: LocalDate, zone: string): Date {
  const [year = 0, month = 1, date = 1] = day.split('-').map(Number);
  return new Date(new TZDate(year, month - 1, date, 0, 0, 0, zone).getTime());
}
