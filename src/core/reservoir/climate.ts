import { requireInRange } from '../quantity/index.ts';

/*
 * How thirsty the months make a pot on a place: dry air draws water through clay and leaf, light drives the leaf. Formulas of the FAO
 * Irrigation and Drainage Paper 56 (1998) for the two; how much each counts indoors is a house rule, and each pot learns how closely it follows.
 */

/** Means of the twelve months, January first: °C, relative humidity in %, and light against the brightest month of any place (0 to 1 and over). */
export type PlaceYear = {
  readonly temperatureC: readonly number[];
  readonly humidityPct: readonly number[];
  readonly light: readonly number[];
};

/** Saturation vapour pressure, kPa (FAO 56 eq. 11). @param temperatureC −20 to 60 @example saturationKpa(24.5) // 3.075 */
export function saturationKpa(temperatureC: number): number {
  requireInRange(temperatureC, -20, 60, 'a temperature');
  return 0.6108 * Math.exp((17.27 * temperatureC) / (temperatureC + 237.3));
}

/** What the air could still take up, kPa: vapour pressure deficit (FAO 56 §3). */
export function deficitKpa(temperatureC: number, humidityPct: number): number {
  return saturationKpa(temperatureC) * (1 - requireInRange(humidityPct, 0, 100, 'a relative humidity') / 100);
}

/**
 * Sunlight above the clouds on a day, MJ/m² (FAO 56 eq. 21 to 25).
 * @param latitude degrees, south below zero, within the polar circles @param dayOfYear 1 to 366
 * @example sunMj(-20, 246) // 32.2
 */
export function sunMj(latitude: number, dayOfYear: number): number {
  const phi = (requireInRange(latitude, -66, 66, 'a latitude') * Math.PI) / 180;
  const turn = (2 * Math.PI * dayOfYear) / 365;
  const distance = 1 + 0.033 * Math.cos(turn);
  const declination = 0.409 * Math.sin(turn - 1.39);
  const sunset = Math.acos(-Math.tan(phi) * Math.tan(declination));
  return (
    ((24 * 60) / Math.PI) *
    0.082 *
    distance *
    (sunset * Math.sin(phi) * Math.sin(declination) + Math.cos(phi) * Math.cos(declination) * Math.sin(sunset))
  );
}

/** The fifteenth of each month. */
const MID_MONTH = [15, 46, 74, 105, 135, 166, 196, 227, 258, 288, 319, 349];
/** Most sun a day brings anywhere people garden, MJ/m². */
const BRIGHTEST_MJ = 42;
/** Mean of the year and swing to either side by what a place is, °C, and humidity in %. House rules: a room, a lamp shelf, open air. */
const USUAL = {
  room: { mean: 19.5, swing: 2.5, humidity: 50 },
  lamps: { mean: 22, swing: 1, humidity: 50 },
  outdoors: { mean: 12, swing: 8, humidity: 72 },
} as const;

/** What is usual through the year on a place nobody measured. @param light as the grower says it @param latitude degrees */
export function usualYear(
  light: 'bright' | 'medium' | 'low' | 'lamps' | 'outdoors' | null,
  latitude: number,
): PlaceYear {
  const kind = light === 'lamps' || light === 'outdoors' ? USUAL[light] : USUAL.room;
  const sun = MID_MONTH.map((day) => sunMj(latitude, day) / BRIGHTEST_MJ);
  // Warmest three to four weeks after the most sun.
  const warm = MID_MONTH.map((day) => Math.cos((2 * Math.PI * (day - (latitude < 0 ? 17 : 200))) / 365));
  return {
    temperatureC: warm.map((w) => kind.mean + kind.swing * w),
    humidityPct: MID_MONTH.map(() => kind.humidity),
    light: light === 'lamps' ? MID_MONTH.map(() => 0.5) : sun,
  };
}

/** What is counted evenly: dry air and light. House rule. */
const AIR_SHARE = 0.5;

/**
 * How much drinking each month invites, against the place's own year: twelve figures whose mean is 1.
 * @throws DomainError `out-of-range` on a temperature or humidity no plant lives in
 */
export function thirstByMonth({ temperatureC, humidityPct, light }: PlaceYear): number[] {
  const air = temperatureC.map((t, i) => deficitKpa(t, humidityPct[i]!));
  const mean = (values: readonly number[]) => Math.max(1e-6, values.reduce((sum, v) => sum + v, 0) / values.length);
  const [meanAir, meanLight] = [mean(air), mean(light)];
  return air.map((a, i) => (AIR_SHARE * a) / meanAir + ((1 - AIR_SHARE) * light[i]!) / meanLight);
}

/**
 * How much drinking the days ahead invite: between the middles of the months it goes evenly, and days that are known to have been otherwise count as they were.
 * @param thirst as {@link thirstByMonth} gives it @param from `yyyy-mm-dd` @param days ≥ 1 to take the mean of @param told in any order
 */
export function thirstOver(
  thirst: readonly number[],
  from: string,
  days: number,
  told: readonly ToldDay[] = [],
): number {
  const start = Date.parse(`${from}T00:00:00Z`);
  const middle = new Date(start + (Math.max(1, days) / 2) * DAY_MS);
  const month = middle.getUTCMonth();
  const along = (middle.getUTCDate() - 15) / 30;
  const other = (month + (along < 0 ? 11 : 1)) % 12;
  const usual = Math.max(0.05, thirst[month]! + (thirst[other]! - thirst[month]!) * Math.abs(along));
  return usual * toldOver(told, start, Math.max(1, days));
}

/** A day that was thirstier, or less so, than its month: so many times. */
export type ToldDay = { readonly on: string; readonly times: number };
/** A day somebody calls hot: dry air pulls two and a half times as hard. From memory. */
export const HOT_DAY_TIMES = 2.5;

function toldOver(told: readonly ToldDay[], start: number, days: number): number {
  if (told.length === 0) return 1;
  const end = start + days * DAY_MS;
  const more = told.reduce((sum, { on, times }) => {
    const at = Date.parse(`${on}T00:00:00Z`);
    return at >= start && at < end ? sum + times - 1 : sum;
  }, 0);
  return Math.max(0.1, 1 + more / days);
}
const DAY_MS = 86_400_000;

/** One line of a temperature and humidity logger. */
export type LoggedAir = { readonly on: string; readonly temperatureC: number; readonly humidityPct: number };

/** Means of the months a logger covers; null where it has nothing. @param lines in any order */
export function monthsOf(lines: readonly LoggedAir[]): {
  temperatureC: (number | null)[];
  humidityPct: (number | null)[];
} {
  const byMonth = Array.from({ length: 12 }, (): LoggedAir[] => []);
  for (const line of lines) byMonth[Number(line.on.slice(5, 7)) - 1]?.push(line);
  const meanOf = (figure: (line: LoggedAir) => number) =>
    byMonth.map((month) =>
      month.length === 0 ? null : Math.round((10 * month.reduce((sum, l) => sum + figure(l), 0)) / month.length) / 10,
    );
  return { temperatureC: meanOf((l) => l.temperatureC), humidityPct: meanOf((l) => l.humidityPct) };
}

/** A day nearer to its month than this is its month. */
const LIKE_ITS_MONTH = 0.15;
/** In a damp month one dry day is many times its mean; no pot drinks so much more. */
const MOST_TIMES = 5;

/** Days of a logger that were thirstier or less so than their month: by what the air could take up, light counted as ever. @param lines in any order */
export function daysOf(lines: readonly LoggedAir[]): ToldDay[] {
  const deficits = new Map<string, number[]>();
  for (const { on, temperatureC, humidityPct } of lines) {
    const day = on.slice(0, 10);
    // A logger writes each minute: half a million lines a year.
    const those = deficits.get(day) ?? [];
    those.push(deficitKpa(temperatureC, humidityPct));
    deficits.set(day, those);
  }
  const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
  const days = [...deficits].map(([on, all]) => ({ on, deficit: mean(all) }));
  const months = new Map<string, number[]>();
  for (const { on, deficit } of days) months.set(on.slice(0, 7), [...(months.get(on.slice(0, 7)) ?? []), deficit]);
  return days.flatMap(({ on, deficit }) => {
    const usual = Math.max(0.01, mean(months.get(on.slice(0, 7))!));
    const times = Math.min(MOST_TIMES, Math.round(100 * ((AIR_SHARE * deficit) / usual + 1 - AIR_SHARE)) / 100);
    return Math.abs(times - 1) < LIKE_ITS_MONTH ? [] : [{ on, times }];
  });
}
