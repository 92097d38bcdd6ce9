import { isValid, parse as parseDate, parseISO } from 'date-fns';
import Papa from 'papaparse';
import type { LoggedAir } from '../../core/reservoir/index.ts';

/** What a logger's file says, or why it says nothing. Lines that cannot be read are counted, not guessed at. */
export type LoggerFile =
  | { readonly ok: true; readonly lines: readonly LoggedAir[]; readonly skipped: number }
  | { readonly ok: false; readonly message: string };

const HEADS = {
  on: /date|time|day|when/i,
  temperatureC: /temp|°c|°f|celsius|fahrenheit/i,
  humidityPct: /hum|\brh\b|r\.h/i,
};
/** How loggers write a day, most particular first. */
const DATES = ['yyyy-MM-dd', 'dd/MM/yyyy', 'd/M/yyyy', 'dd.MM.yyyy', 'yyyy/MM/dd', 'MM/dd/yyyy'];

/** Reads a logger's temperature and humidity: columns by their heads, comma or semicolon, °C or °F by the head. */
export function readLogger(text: string): LoggerFile {
  const { data } = Papa.parse<Record<string, string>>(text.trim(), { header: true, skipEmptyLines: true });
  const heads = Object.keys(data[0] ?? {});
  const columnOf = (pattern: RegExp) => heads.find((head) => pattern.test(head));
  const [on, warm, damp] = [columnOf(HEADS.on), columnOf(HEADS.temperatureC), columnOf(HEADS.humidityPct)];
  if (!on || !warm || !damp) {
    return { ok: false, message: noColumns({ 'a date': on, 'a temperature': warm, 'a humidity': damp }) };
  }
  const fahrenheit = /f\)?$|°f|fahrenheit/i.test(warm);
  const lines: LoggedAir[] = [];
  for (const row of data) {
    const day = dayOf(row[on] ?? '');
    const [typed, humidityPct] = [numberOf(row[warm]), numberOf(row[damp])];
    const temperatureC = fahrenheit ? ((typed - 32) * 5) / 9 : typed;
    if (day && isWithin(temperatureC, -20, 60) && isWithin(humidityPct, 0, 100))
      lines.push({ on: day, temperatureC, humidityPct });
  }
  if (lines.length === 0)
    return {
      ok: false,
      message:
        'Not one line could be read: dates such as 2026-11-25, °C between −20 and 60, humidity in % between 0 and 100.',
    };
  return { ok: true, lines, skipped: data.length - lines.length };
}

/** Which columns are missing, and how heads are written. */
function noColumns(found: Record<string, string | undefined>): string {
  const missing = Object.keys(found).filter((what) => !found[what]);
  return `No column is headed as ${missing.join(' and ')}. The first line names the columns, such as: date, temperature, humidity.`;
}

const isWithin = (value: number, low: number, high: number) => value >= low && value <= high;
const numberOf = (text: string | undefined) =>
  text === undefined || text.trim() === '' ? NaN : Number(text.trim().replace(',', '.'));

function dayOf(text: string): string | undefined {
  const trimmed = text.trim();
  if (/^\d{4}-\d{2}-\d{2}/.test(trimmed)) {
    const day = trimmed.slice(0, 10);
    return isValid(parseISO(day)) ? day : undefined;
  }
  const [day = ''] = trimmed.split(/[ T,]/);
  for (const format of DATES) {
    const parsed = parseDate(day, format, new Date(2000, 0, 1));
    if (isValid(parsed))
      return `${parsed.getFullYear()}-${String(parsed.getMonth() + 1).padStart(2, '0')}-${String(parsed.getDate()).padStart(2, '0')}`;
  }
  return undefined;
}
