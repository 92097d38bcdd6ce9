import { fillNormals, type Random } from '../statistics/index.ts';
import { NOT_WIDENED, widened, type Width, type Widths } from './calibration.ts';
import { BETWEEN, DREGS_SD, dregsOf, READING_SD, selfOf, type PotBelief } from './pot-belief.ts';
import { courseOf, playPot, type PotWater } from './pot-path.ts';
import { habitShare } from './voices.ts';

/** Five, fifty and ninety-five in a hundred of the draws. */
export type Band = { readonly low: number; readonly middle: number; readonly high: number };
export type ForecastDay = { readonly day: number; readonly freeMl: Band; readonly ecUsCm: Band; readonly ph: Band };

/** Independent deviates a draw takes: weather, alkali and strength between, three readings, and two of the last of a reservoir. */
const DEVIATES = 8;
/** What no pen explains grows over so many days and then stays. */
const GROWS_DAYS = 7;

/** Hardly anyone reads a pot soon after it was flushed, so that the range of its strength then could not be learned: that much wider at first. House rule. */
const UNLEARNED = 0.3;
/** Times the range of strength that many days after a filling: as learned from the day on which pots are mostly read. */
export const earlyWider = (day: number): number => 1 + UNLEARNED * Math.max(0, 1 - day / GROWS_DAYS);

/** How a forecast is told beside what is believed of the pot. */
export type Telling = {
  /** True for what will be read, false for how it stands. */
  readonly read?: boolean;
  /** How wide ranges of this kind have to be to hold, by how earlier ones did. */
  readonly widths?: Widths;
  /** 1 SD of how its pH will be read; a pen's where left out. */
  readonly phSd?: number;
  /** The pour or the flush is not the pot's usual, so that its habit says little. */
  readonly changed?: boolean;
};

/**
 * A pot's days with their 90 % bands, by playing the pots that could be this one: weather and roots between, the pens.
 * @param draws 200 are enough for a band drawn on a screen
 */
export function drawForecast(
  water: PotWater,
  belief: PotBelief,
  season: number,
  days: number,
  draws: number,
  random: Random,
  { read = true, widths = NOT_WIDENED, phSd = READING_SD.ph, changed = false }: Telling = {},
): ForecastDay[] {
  const { members } = belief.crowd;
  const free = matrix(days + 1, draws);
  const ec = matrix(days + 1, draws);
  const ph = matrix(days + 1, draws);
  const course = courseOf(days);
  const z = new Float64Array(DEVIATES);
  const selves = Array.from({ length: Math.min(members, draws) }, (_, m) => selfOf(belief, water, season, m));
  for (let d = 0; d < draws; d++) {
    fillNormals(random, z);
    const self = selves[d % members]!;
    const uses = self.uses * Math.exp(BETWEEN.drinks * z[0]!);
    playPot(water, { ...self, uses, givesMore: (BETWEEN.alkaliMeq / Math.sqrt(Math.max(1, days))) * z[1]! }, course);
    const strays = BETWEEN.salts * z[2]!;
    const penEc = read ? READING_SD.share * z[3]! : 0;
    const penPh = read ? phSd * z[4]! : 0;
    const eye = read ? READING_SD.left * water.reservoirMl * z[5]! : 0;
    for (let day = 0; day <= days; day++) {
      const left = course.freeMl[day]! + (day > 0 ? eye : 0);
      free[day]![d] = left > 0 ? left : 0;
      const dregs = dregsOf(course.freeMl[day]! / water.reservoirMl);
      const stray = (day < GROWS_DAYS ? (strays * day) / GROWS_DAYS : strays) + DREGS_SD.ec * dregs * z[6]!;
      ec[day]![d] = course.ecUsCm[day]! * Math.exp(stray + penEc);
      ph[day]![d] = course.ph[day]! + penPh + DREGS_SD.ph * dregs * z[7]!;
    }
  }
  const habit = habitShare(belief.voices, changed);
  const last = bandOf(ph[days]!);
  // The habit is of the day it is tipped out; until then the model goes there by and by.
  const moved = habit * ((belief.voices.habit ?? 0) - last.middle);
  return free.map((row, day) => {
    const along = days === 0 ? 0 : day / days;
    return {
      day,
      freeMl: widened(bandOf(row), widths.left, 'plain', 0, water.reservoirMl),
      ecUsCm: widened(bandOf(ec[day]!), times(widths.ec, earlyWider(day)), 'ln'),
      ph: widened(shifted(day === days ? last : bandOf(ph[day]!), moved * along), widths.ph, 'plain'),
    };
  });
}

const times = ({ below, above }: Width, by: number): Width => ({ below: below * by, above: above * by });
const shifted = ({ low, middle, high }: Band, by: number): Band => ({
  low: low + by,
  middle: middle + by,
  high: high + by,
});
const matrix = (rows: number, columns: number) => Array.from({ length: rows }, () => new Float64Array(columns));

function bandOf(values: Float64Array): Band {
  values.sort();
  const at = (share: number) => values[Math.min(values.length - 1, Math.round(share * (values.length - 1)))]!;
  return { low: at(0.05), middle: at(0.5), high: at(0.95) };
}
