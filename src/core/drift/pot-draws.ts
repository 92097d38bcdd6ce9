import { fillNormals, type Gaussian, type Random } from '../statistics/index.ts';
import { ALKALI_NOISE, DRINKS_NOISE, natureFrom, SALTS_NOISE, unsteadiness, type PotBelief } from './pot-belief.ts';
import { courseOf, playPot, type PotWater } from './pot-path.ts';

/** Five, fifty and ninety-five in a hundred of the draws. */
export type Band = { readonly low: number; readonly middle: number; readonly high: number };
export type ForecastDay = { readonly day: number; readonly freeMl: Band; readonly ecUsCm: Band; readonly ph: Band };

/** 1 SD of what a pen adds when the figure is read: strength as a share, pH with its tenth; and of an eye at the window, as a share of the fill. */
export const READING_SD = Object.freeze({ share: 0.03, ph: 0.05, left: 0.025 });
/** Independent deviates a draw takes: seven for its nature, the rest for what comes between and the pens. */
const DEVIATES = 14;
/** What no pen explains grows over so many days and then stays. */
const GROWS_DAYS = 7;

/**
 * A pot's days with their 90 % bands, by playing it many times: its nature as far as it is known, weather and roots between, the pens.
 * @param draws 200 are enough for a band drawn on a screen
 * @param read true for what will be read, false for how it stands
 */
export function drawForecast(
  water: PotWater,
  belief: PotBelief,
  season: number,
  days: number,
  draws: number,
  random: Random,
  read = true,
): ForecastDay[] {
  const { reservoirMl, poreMl } = water;
  const free = matrix(days + 1, draws);
  const ec = matrix(days + 1, draws);
  const ph = matrix(days + 1, draws);
  const [drinks, salts, alkali] = [sampler(belief.drinks), sampler(belief.salts), sampler(belief.alkali)];
  const drinksSd = DRINKS_NOISE * unsteadiness(belief.seen.drinks);
  const saltsSd = SALTS_NOISE * unsteadiness(belief.seen.salts);
  const alkaliTimes = unsteadiness(belief.seen.alkali);
  const alkaliSd = (ALKALI_NOISE.per100Ml * alkaliTimes * (reservoirMl + poreMl)) / 100;
  const course = courseOf(days);
  const z = new Float64Array(DEVIATES);
  for (let d = 0; d < draws; d++) {
    fillNormals(random, z);
    drinks.draw(z, 0);
    salts.draw(z, 2);
    alkali.draw(z, 4);
    const nature = natureFrom(drinks.x, salts.x, alkali.x, reservoirMl, poreMl, season);
    const useMlDay = nature.useMlDay * Math.exp(drinksSd * z[7]!);
    const times = 1 + ALKALI_NOISE.share * alkaliTimes * z[8]!;
    playPot(
      water,
      {
        ...nature,
        useMlDay,
        atOnceUeq: nature.atOnceUeq * times + alkaliSd * z[9]!,
        dailyUeq: nature.dailyUeq * times,
      },
      course,
    );
    const strays = saltsSd * z[10]!;
    const penEc = read ? 1 + READING_SD.share * z[11]! : 1;
    // The third quantity of the alkali is the pen's own offset: what it shows too much.
    const penPh = read ? READING_SD.ph * z[12]! + (alkali.x[2] ?? 0) : 0;
    const eye = read ? READING_SD.left * reservoirMl * z[13]! : 0;
    for (let day = 0; day <= days; day++) {
      const water = course.freeMl[day]! + (day > 0 ? eye : 0);
      free[day]![d] = water > 0 ? water : 0;
      ec[day]![d] = course.ecUsCm[day]! * (1 + (day < GROWS_DAYS ? (strays * day) / GROWS_DAYS : strays)) * penEc;
      ph[day]![d] = course.ph[day]! + penPh;
    }
  }
  return free.map((row, day) => ({ day, freeMl: bandOf(row), ecUsCm: bandOf(ec[day]!), ph: bandOf(ph[day]!) }));
}

const matrix = (rows: number, columns: number) => Array.from({ length: rows }, () => new Float64Array(columns));

function bandOf(values: Float64Array): Band {
  values.sort();
  const at = (share: number) => values[Math.min(values.length - 1, Math.round(share * (values.length - 1)))]!;
  return { low: at(0.05), middle: at(0.5), high: at(0.95) };
}

/** Draws from a joint normal of a few quantities (Cholesky) into `x`. */
function sampler({ mean, covariance }: Gaussian) {
  const n = mean.length;
  const root: number[][] = [];
  for (let i = 0; i < n; i++) {
    const row: number[] = [];
    root.push(row);
    for (let j = 0; j <= i; j++) {
      const other = root[j]!;
      const rest = covariance[i]![j]! - row.reduce((sum, value, k) => sum + value * (other[k] ?? 0), 0);
      row.push(i === j ? Math.sqrt(Math.max(0, rest)) : other[j]! > 0 ? rest / other[j]! : 0);
    }
  }
  const x = new Array<number>(n).fill(0);
  /** From the deviates at and after a place. */
  const draw = (z: Float64Array, from: number): void => {
    for (let i = 0; i < n; i++) {
      let sum = mean[i]!;
      for (let k = 0; k <= i; k++) sum += root[i]![k]! * z[from + k]!;
      x[i] = sum;
    }
  };
  return { x, draw };
}
