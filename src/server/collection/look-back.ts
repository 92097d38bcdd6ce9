import {
  calibrate,
  drawForecast,
  followedIntervals,
  scoresOf,
  type Band,
  type Score,
  type Width,
} from '../../core/drift/index.ts';
import { seededRandom, seedOf } from '../../core/statistics/index.ts';
import { potLog, type LogOfPot } from './learn-pot.ts';

const DRAWS = 128;
/** Of the others' forecasts the newest count. */
export const SCORES_OF_OTHERS = 400;

export type PotFollowed = { readonly id: string; readonly code: string; readonly log: LogOfPot };
/** A reading beside what had been forecast for it: mL, µS/cm, pH. */
export type LookedBack = {
  readonly what: 'left' | 'ppm' | 'ph';
  readonly potId: string;
  readonly code: string;
  readonly on: string;
  readonly read: number;
  readonly band: Band;
  /** How wide the band is against what the model says by itself. */
  readonly width: number;
};

/**
 * Each visit since a day, forecast from what was known before it and set beside what was read then.
 * @param scores how the forecasts of all pots came true, oldest first: each counts for what was read after it
 */
export function lookBack(pots: readonly PotFollowed[], scores: readonly Score[], from: string): LookedBack[] {
  const seen: LookedBack[] = [];
  for (const { id, code, log } of pots) {
    const intervals = followedIntervals(potLog(log, []));
    const own = scoresOf(id, intervals);
    const others = scores.filter(({ potId }) => potId !== id);
    for (const { endedOn: on, water, before, season, days, kinds, phSd, changed, ...read } of intervals) {
      if (on < from) continue;
      const was = (score: Score) => score.on < on;
      const earlier = { own: own.filter(was), others: others.filter(was).slice(-SCORES_OF_OTHERS) };
      const widths = calibrate(earlier, kinds);
      const telling = { widths, changed: changed ?? false, ...(phSd ? { phSd } : {}) };
      const random = seededRandom(seedOf(`${id}:${on}`));
      const last = drawForecast(water, before, season, days, DRAWS, random, telling).at(-1)!;
      const add = (what: LookedBack['what'], figure: number | undefined, band: Band, { below, above }: Width) => {
        if (figure !== undefined)
          seen.push({ what, potId: id, code, on, read: figure, band, width: (below + above) / 2 });
      };
      add('left', read.leftMl, last.freeMl, widths.left);
      add('ppm', read.cameOutEcUsCm, last.ecUsCm, widths.ec);
      add('ph', read.cameOutPh, last.ph, widths.ph);
    }
  }
  return seen;
}
