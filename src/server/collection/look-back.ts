import { drawForecast, followedIntervals, type Band } from '../../core/drift/index.ts';
import { seededRandom, seedOf } from '../../core/statistics/index.ts';
import { potLog, type LogOfPot } from './learn-pot.ts';

const DRAWS = 100;

export type PotFollowed = { readonly id: string; readonly code: string; readonly log: LogOfPot };
/** A reading beside what had been forecast for it: mL, µS/cm, pH. */
export type LookedBack = {
  readonly what: 'left' | 'ppm' | 'ph';
  readonly code: string;
  readonly on: string;
  readonly read: number;
  readonly band: Band;
};

/** Each visit since a day, forecast from what was known before it and set beside what was read then. */
export function lookBack(pots: readonly PotFollowed[], from: string): LookedBack[] {
  const seen: LookedBack[] = [];
  for (const { id, code, log } of pots)
    for (const { endedOn: on, water, before, season, days, ...read } of followedIntervals(potLog(log, []))) {
      if (on < from || !(days > 0)) continue;
      const random = seededRandom(seedOf(`${id}:${on}`));
      const last = drawForecast(water, before, season, days, DRAWS, random).at(-1)!;
      const add = (what: LookedBack['what'], figure: number | undefined, band: Band) => {
        if (figure !== undefined) seen.push({ what, code, on, read: figure, band });
      };
      add('left', read.leftMl, last.freeMl);
      add('ppm', read.cameOutEcUsCm, last.ecUsCm);
      add('ph', read.cameOutPh, last.ph);
    }
  return seen;
}
