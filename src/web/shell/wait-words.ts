import { NBSP } from './format.ts';

/** How long still: "18:20" under an hour, "2 h 10 min" from there on, "3 d 4 h" past a day. Seconds are rounded up, so that 0:00 is over. */
export function waitWords(milliseconds: number): string {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000));
  if (seconds < 3600) return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
  const minutes = Math.ceil(seconds / 60);
  if (minutes < 24 * 60)
    return `${Math.floor(minutes / 60)}${NBSP}h${minutes % 60 ? ` ${minutes % 60}${NBSP}min` : ''}`;
  return `${Math.floor(minutes / 1440)}${NBSP}d ${Math.floor((minutes % 1440) / 60)}${NBSP}h`;
}
