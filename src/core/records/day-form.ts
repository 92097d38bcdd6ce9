import { isValid, parse, parseISO } from 'date-fns';
import type { LocalDate } from '../regimen/index.ts';

/* Days as people write them in old records: one form a file, so that 03/05 is not March in one line and May in the next. */

export const DAY_FORMS = ['iso', 'dayFirst', 'monthFirst', 'words', 'serial'] as const;
export type DayForm = (typeof DAY_FORMS)[number];

/** A moment as it was written: the day and, where it was given, the minute of it; or an instant, where the zone was given too. */
export type Moment = { readonly day: LocalDate; readonly minute: number | undefined } | { readonly instant: string };

const PATTERNS: Readonly<Record<Exclude<DayForm, 'serial'>, readonly string[]>> = {
  iso: ['yyyy-M-d', 'yyyy/M/d', 'yyyy.M.d'],
  dayFirst: ['d/M/yyyy', 'd.M.yyyy', 'd-M-yyyy', 'd M yyyy', 'd/M/yy', 'd.M.yy', 'd-M-yy'],
  monthFirst: ['M/d/yyyy', 'M-d-yyyy', 'M.d.yyyy', 'M/d/yy', 'M-d-yy'],
  words: [
    ...[
      'd MMM yyyy',
      'd MMMM yyyy',
      'd-MMM-yyyy',
      'd-MMMM-yyyy',
      'd MMM yy',
      'd-MMM-yy',
      'd MMMM, yyyy',
      'd. MMMM yyyy',
    ],
    ...['MMM d yyyy', 'MMMM d yyyy', 'MMM d, yyyy', 'MMMM d, yyyy', 'yyyy MMM d', 'yyyy-MMM-d'],
  ],
};
const [FIRST_YEAR, LAST_YEAR] = [1980, 2199];
/** Spreadsheets count days from here. */
const SERIAL_ZERO_MS = Date.UTC(1899, 11, 30);
const DAY_MS = 86_400_000;
const ZERO = new Date(2000, 0, 1);
const WEEKDAY = /^(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*[,.]?\s+/i;
const TIME = /(?:^|[\sT,]+)(\d{1,2})[:.h](\d{2})(?:[:.](\d{2})(?:[.,]\d+)?)?\s*([ap])?\.?m?\.?$/i;
const WITH_ZONE = /^\d{4}-\d\d-\d\dT\d\d:\d\d.*(?:Z|[+-]\d\d:?\d\d)$/;

const two = (n: number) => String(n).padStart(2, '0');

/**
 * A moment as written in one of the forms; undefined where it is none of it.
 * @example momentIn('dayFirst', '3/5/24 9:30') // { day: '2024-05-03', minute: 570 }
 */
export function momentIn(form: DayForm, text: string): Moment | undefined {
  const plain = text.trim().replace(WEEKDAY, '');
  if (form === 'serial') return serialMoment(plain);
  if (form === 'iso' && WITH_ZONE.test(plain)) {
    const at = parseISO(plain);
    return isValid(at) ? { instant: at.toISOString() } : undefined;
  }
  const whole = dayIn(PATTERNS[form], plain);
  if (whole) return { day: whole, minute: undefined };
  const time = TIME.exec(plain);
  const day = time && dayIn(PATTERNS[form], plain.slice(0, time.index).trim());
  const minute = time ? minuteOf(time) : undefined;
  return day && minute !== undefined ? { day, minute } : undefined;
}

/** Minutes since midnight of a time as written, "9:30", "21.05", "9:30 pm"; undefined where it is none. */
export function minuteIn(text: string): number | undefined {
  const time = TIME.exec(text.trim());
  return time?.index === 0 ? minuteOf(time) : undefined;
}

function minuteOf([, hour = '', minute = '', , half]: RegExpExecArray): number | undefined {
  const [h, m] = [Number(hour), Number(minute)];
  if (m > 59 || h > (half ? 12 : 23) || (half && h === 0)) return undefined;
  const past = half === undefined ? h : (h % 12) + (/p/i.test(half) ? 12 : 0);
  return 60 * past + m;
}

function dayIn(patterns: readonly string[], text: string): LocalDate | undefined {
  for (const pattern of patterns) {
    const day = parse(text, pattern, ZERO);
    if (!isValid(day) || day.getFullYear() < FIRST_YEAR || day.getFullYear() > LAST_YEAR) continue;
    return `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`;
  }
  return undefined;
}

function serialMoment(text: string): Moment | undefined {
  if (!/^\d{5,6}(?:[.,]\d+)?$/.test(text)) return undefined;
  const days = Number(text.replace(',', '.'));
  const whole = Math.floor(days);
  const day = new Date(SERIAL_ZERO_MS + whole * DAY_MS).toISOString().slice(0, 10);
  if (Number(day.slice(0, 4)) < FIRST_YEAR || Number(day.slice(0, 4)) > LAST_YEAR) return undefined;
  const minute = Math.round((days - whole) * 1440);
  return { day, minute: minute === 0 || minute >= 1440 ? undefined : minute };
}

/**
 * Which forms the days of a column could be in: those in which the most of them are days, the commonest writing first. Two stand where nothing tells them apart.
 * @example dayFormsOf(['3/5/2024', '17/5/2024']) // ['dayFirst']
 * @example dayFormsOf(['3/5/2024', '4/5/2024']) // ['dayFirst', 'monthFirst']
 */
export function dayFormsOf(texts: readonly string[]): DayForm[] {
  const written = texts.filter((text) => text.trim() !== '');
  const fits = DAY_FORMS.map((form) => ({ form, n: written.filter((text) => momentIn(form, text)).length }));
  const most = Math.max(0, ...fits.map(({ n }) => n));
  return most === 0 ? [] : fits.filter(({ n }) => n === most).map(({ form }) => form);
}
