import { drawForecast, learnInterval, POTS_AT_LARGE, type Band, type SeenInterval } from '../../core/drift/index.ts';
import { seededRandom, seedOf } from '../../core/statistics/index.ts';

const DRAWS = 100;

export type PotFollowed = { readonly id: string; readonly code: string; readonly intervals: readonly SeenInterval[] };
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
  for (const { id, code, intervals } of pots) {
    let belief = POTS_AT_LARGE;
    for (const interval of intervals) {
      const on = interval.endedOn;
      if (on >= from && interval.days > 0) {
        const random = seededRandom(seedOf(`${id}:${on}`));
        const last = drawForecast(interval.water, belief, interval.season, interval.days, DRAWS, random).at(-1)!;
        const add = (what: LookedBack['what'], read: number | undefined, band: Band) => {
          if (read !== undefined) seen.push({ what, code, on, read, band });
        };
        add('left', interval.leftMl, last.freeMl);
        add('ppm', interval.cameOutEcUsCm, last.ecUsCm);
        add('ph', interval.cameOutPh, last.ph);
      }
      belief = learnInterval(belief, interval);
    }
  }
  return seen;
}
