import { placeYear } from '../../contract/pots.ts';
import type { SeasonSite } from '../../core/regimen/index.ts';
import { usualYear } from '../../core/reservoir/index.ts';
import type { Place } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';

/** As warm in its coldest month, under lamps nothing rests, °C. House rule. */
const WARM_C = 18;

/** What of a place decides on seasons: its half of the earth, lamps, and whether it is warm all year (as measured, else as is usual there). */
export function siteOf(place: Pick<Place, 'light' | 'year'>, latitude: number): SeasonSite {
  const usual = usualYear(place.light, latitude).temperatureC;
  const own = readJson(placeYear, place.year)?.temperatureC;
  return {
    southern: latitude < 0,
    lamps: place.light === 'lamps',
    warm: Math.min(...usual.map((t, i) => own?.[i] ?? t)) >= WARM_C,
  };
}
