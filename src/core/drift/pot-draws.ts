import { normal, type Random } from '../statistics/index.ts';
import type { Gaussian } from '../statistics/index.ts';
import { ALKALI_NOISE, DRINKS_NOISE, natureFrom, SALTS_NOISE, unsteadiness, type PotBelief } from './pot-belief.ts';
import { walk, type PotWater } from './pot-path.ts';

/** Five, fifty and ninety-five in a hundred of the draws. */
export type Band = { readonly low: number; readonly middle: number; readonly high: number };
export type ForecastDay = { readonly day: number; readonly freeMl: Band; readonly ecUsCm: Band; readonly ph: Band };

/** 1 SD of what a pen adds when the figure is read: strength as a share, pH with its tenth; and of an eye at the window, as a share of the fill. */
export const READING_SD = Object.freeze({ share: 0.03, ph: 0.05, left: 0.025 });

/**
 * A pot's days with their 90 % bands, by playing it many times: its nature as far as it is known, weather and roots between, the pens.
 * @param draws 200 are enough for a band drawn on a screen
 * @param read true for what will be read, false for how it stands
 */
export function drawForecast(water: PotWater, belief: PotBelief, season: number, days: number, draws: number, random: Random, read = true): ForecastDay[] {
  const free = matrix(days + 1, draws);
  const ec = matrix(days + 1, draws);
  const ph = matrix(days + 1, draws);
  const sample = { drinks: sampler(belief.drinks), salts: sampler(belief.salts), alkali: sampler(belief.alkali) };
  const unsteady = { drinks: unsteadiness(belief.seen.drinks), salts: unsteadiness(belief.seen.salts), alkali: unsteadiness(belief.seen.alkali) };
  const per100 = (water.reservoirMl + water.poreMl) / 100;
  for (let d = 0; d < draws; d++) {
    const nature = natureFrom(
      sample.drinks(random),
      sample.salts(random),
      sample.alkali(random),
      water.reservoirMl,
      water.poreMl,
      season * Math.exp(DRINKS_NOISE * unsteady.drinks * normal(random)),
    );
    const saltsNoise = SALTS_NOISE * unsteady.salts * normal(random);
    const alkaliTimes = 1 + ALKALI_NOISE.share * unsteady.alkali * normal(random);
    const played = {
      ...nature,
      atOnceUeq: nature.atOnceUeq * alkaliTimes + ALKALI_NOISE.per100Ml * unsteady.alkali * per100 * normal(random),
      dailyUeq: nature.dailyUeq * alkaliTimes,
    };
    const penEc = read ? 1 + READING_SD.share * normal(random) : 1;
    const penPh = read ? READING_SD.ph * normal(random) + (sample.alkali.offset ?? 0) : 0;
    const eye = read ? READING_SD.left * water.reservoirMl * normal(random) : 0;
    walk(water, played, days, (day) => {
      // What no pen explains grows over the first week and then stays.
      const along = Math.min(1, day.day / 7);
      free[day.day]![d] = Math.max(0, day.freeMl + (day.day > 0 ? eye : 0));
      ec[day.day]![d] = day.ecUsCm * Math.exp(saltsNoise * along) * penEc;
      ph[day.day]![d] = day.ph + penPh;
    });
  }
  return free.map((row, day) => ({ day, freeMl: bandOf(row), ecUsCm: bandOf(ec[day]!), ph: bandOf(ph[day]!) }));
}

const matrix = (rows: number, columns: number) => Array.from({ length: rows }, () => new Float64Array(columns));

function bandOf(values: Float64Array): Band {
  values.sort();
  const at = (share: number) => values[Math.min(values.length - 1, Math.round(share * (values.length - 1)))]!;
  return { low: at(0.05), middle: at(0.5), high: at(0.95) };
}

/** Draws from a joint normal of one, two or three quantities (Cholesky). */
function sampler({ mean, covariance }: Gaussian) {
  const n = mean.length;
  const root: number[][] = [];
  for (let i = 0; i < n; i++) {
    const row: number[] = [];
    root.push(row);
    for (let j = 0; j <= i; j++) {
      const other = root[j]!;
      const rest = covariance[i]![j]! - row.reduce((sum, x, k) => sum + x * (other[k] ?? 0), 0);
      row.push(i === j ? Math.sqrt(Math.max(0, rest)) : other[j]! > 0 ? rest / other[j]! : 0);
    }
  }
  const draw = (random: Random): number[] => {
    const z = Array.from({ length: n }, () => normal(random));
    const x = root.map((row, i) => mean[i]! + row.reduce((s, c, k) => s + c * z[k]!, 0));
    // The third quantity of the alkali is the pen's own offset: what it shows too much.
    draw.offset = x[2];
    return x;
  };
  draw.offset = undefined as number | undefined;
  return draw;
}
