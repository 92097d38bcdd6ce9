import {
  fromMl,
  LARGE_UNIT,
  parseVolume,
  SMALL_UNIT,
  volumeWords,
  type VolumeUnits,
} from '../../core/quantity/index.ts';

import { weekdayDayMonth } from '../../core/regimen/index.ts';
export { upperFirst } from '../../core/quantity/index.ts';
export { weekdayDayMonth };

/** Non-breaking space between a number and its unit. */
export const NBSP = '\u00a0';

export const ppmText = (ppm: number) => String(Math.round(ppm));
export const phText = (ph: number) => ph.toFixed(1);
let units: VolumeUnits = 'metric';
/** The units the grower owns; set once the collection is known, and whenever its settings change. */
export const setUnits = (owned: VolumeUnits) => {
  units = owned;
};
export const ownUnits = () => units;
let currency = '';
export const setCurrency = (sign: string) => {
  currency = sign;
};
/** A price with the sign of the settings: "£0.36", "0.36 EUR", "0.36" where none was set; what is under a tenth to three places. */
export function money(amount: number): string {
  const little = amount > 0 && amount < 0.0005;
  const figure = little ? '0.001' : amount.toFixed(amount > 0 && amount < 0.1 ? 3 : 2);
  const priced = /^[a-z]/i.test(currency) ? `${figure}${NBSP}${currency}` : `${currency}${figure}`;
  return little ? `under ${priced}` : priced;
}
const metricLitres = (l: number) => `${Number(l.toFixed(l < 1 ? 2 : 1))}${NBSP}L`;
/** Water by the bucket: "2.6 L", or in gallons. */
export const litres = (l: number) => (units === 'metric' ? metricLitres(l) : volumeWords(l * 1000, units));
/** Water by the pot: "250 mL", or in fluid ounces. */
export const mL = (ml: number) => (units === 'metric' ? doseMl(ml) : volumeWords(ml, units));
/** A dose, always in mL, as syringes are marked. */
export const doseMl = (ml: number) =>
  ml >= 1000 ? metricLitres(ml / 1000) : `${ml < 20 ? Number(ml.toFixed(2)) : Math.round(ml)}${NBSP}mL`;
/** A volume to stand in a field, without its unit. */
export const inSmallUnit = (ml: number) =>
  String(Number(fromMl(ml, SMALL_UNIT[units].unit).toFixed(units === 'metric' ? 0 : 1)));
export const inLargeUnit = (ml: number) => String(Number(fromMl(ml, LARGE_UNIT[units].unit).toFixed(2)));
export const smallSign = () => SMALL_UNIT[units].sign;
export const largeSign = () => LARGE_UNIT[units].sign;
/** What was typed as mL: a bare number is in the grower's small unit, any unit may be written after it. */
export const readSmall = (text: string) => parseVolume(text, SMALL_UNIT[units].unit, units);
export const readLarge = (text: string) => parseVolume(text, LARGE_UNIT[units].unit, units);

const at = (date: string) => new Date(`${date}T12:00:00Z`);
/** "25 Nov" */
export const dayMonth = (date: string) =>
  at(date).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
/** "25 Nov 2025" */
export const dayMonthYear = (date: string) =>
  at(date).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
/** "Wed 25" */
export const weekdayDay = (date: string) =>
  at(date).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', timeZone: 'UTC' });
/** "today 09:31", "yesterday 18:02", "Mon 23 Nov" */
export function whenText(date: string, time: string, today: string): string {
  const days = Math.round((at(today).getTime() - at(date).getTime()) / 86_400_000);
  if (days === 0) return `today ${time}`;
  if (days === 1) return `yesterday ${time}`;
  return weekdayDayMonth(date);
}

/** First letter small, for the middle of a sentence. */
export function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/** "45 min", "1 h 20 min" */
export function durationWords(minutes: number): string {
  if (minutes < 60) return `${minutes}${NBSP}min`;
  // Over an hour nobody reads half minutes.
  const whole = Math.round(minutes);
  return `${Math.floor(whole / 60)}${NBSP}h ${String(whole % 60).padStart(2, '0')}${NBSP}min`;
}
