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
