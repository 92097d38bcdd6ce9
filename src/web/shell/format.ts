/** Non-breaking space between a number and its unit. */
export const NBSP = '\u00a0';

export const ppmText = (ppm: number) => String(Math.round(ppm));
export const phText = (ph: number) => ph.toFixed(1);
export const litres = (l: number) => `${Number(l.toFixed(l < 1 ? 2 : 1))}${NBSP}L`;
export const mL = (ml: number) => (ml >= 1000 ? litres(ml / 1000) : `${ml < 20 ? Number(ml.toFixed(2)) : Math.round(ml)}${NBSP}mL`);

const at = (date: string) => new Date(`${date}T12:00:00Z`);
/** "25 Nov" */
export const dayMonth = (date: string) => at(date).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
/** "25 Nov 2025" */
export const dayMonthYear = (date: string) => at(date).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
/** "Wed 25 Nov" */
export const weekdayDayMonth = (date: string) =>
  at(date).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' }).replace(',', '');
/** "today 09:31", "yesterday 18:02", "Mon 23 Nov" */
export function whenText(date: string, time: string, today: string): string {
  const days = Math.round((at(today).getTime() - at(date).getTime()) / 86_400_000);
  if (days === 0) return `today ${time}`;
  if (days === 1) return `yesterday ${time}`;
  return weekdayDayMonth(date);
}
