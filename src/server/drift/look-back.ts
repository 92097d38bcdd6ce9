import type { LookBack } from '../../contract/drift.ts';
import { drawForecast, learnInterval, POTS_AT_LARGE, type Band } from '../../core/drift/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { seededRandom, seedOf } from '../../core/statistics/index.ts';
import { growersScale, isFollowed, memo, potStates, type Collection } from '../collection/index.ts';

/** Days looked back on, and how many pots at the most: the newest visits say enough. */
const DAYS = 31;
const MOST_POTS = 120;
const DRAWS = 100;

type Kind = LookBack['figures'][number]['what'];
type Seen = { what: Kind; code: string; on: string; read: number; band: Band };

/**
 * How good the forecasts of the last month were: each visit foretold from what was known before it, and set beside what was read then. Forecasts
 * are not kept; they are made again from the log as it stands, which knows what was put right since.
 */
export const lookBackOn = memo((collection: Collection, today: string): LookBack => {
  const scale = growersScale(collection.meters);
  const from = plusDays(today, -DAYS);
  const states = potStates(collection, today).filter(isFollowed).slice(0, MOST_POTS);
  const seen: Seen[] = [];
  for (const { known, pot } of states) {
    let belief = POTS_AT_LARGE;
    for (const interval of known.intervals) {
      const on = interval.endedOn;
      if (on >= from && interval.days > 0) {
        const random = seededRandom(seedOf(`${pot.id}:${on}`));
        const last = drawForecast(interval.water, belief, interval.season, interval.days, DRAWS, random).at(-1)!;
        const add = (what: Kind, read: number | undefined, band: Band, times = 1) => {
          if (read === undefined) return;
          seen.push({ what, code: pot.code, on, read: read * times, band: { low: band.low * times, middle: band.middle * times, high: band.high * times } });
        };
        add('left', interval.leftMl, last.freeMl);
        add('ppm', interval.cameOutEcUsCm, last.ecUsCm, ppmFromEc(1, scale));
        add('ph', interval.cameOutPh, last.ph);
      }
      belief = learnInterval(belief, interval);
    }
  }
  return { from, to: today, figures: (['left', 'ppm', 'ph'] as const).map((what) => judged(what, seen)) };
});

function judged(what: Kind, seen: readonly Seen[]): LookBack['figures'][number] {
  const mine = seen.filter((s) => s.what === what);
  const outside = ({ read, band }: Seen) => Math.max(band.low - read, read - band.high, 0) / Math.max(1e-6, band.high - band.low);
  const worst = [...mine].sort((a, b) => outside(b) - outside(a))[0];
  return {
    what,
    readings: mine.length,
    inside: mine.filter((s) => outside(s) === 0).length,
    bias: mine.length === 0 ? 0 : mine.reduce((sum, s) => sum + s.read - s.band.middle, 0) / mine.length,
    worst: worst && outside(worst) > 0 ? { code: worst.code, on: worst.on, read: worst.read, low: worst.band.low, high: worst.band.high } : null,
  };
}
