import type { LookBack } from '../../contract/drift.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import {
  growersScale,
  inPool,
  isFollowed,
  latelyOf,
  logOf,
  memo,
  potStates,
  type Collection,
  type LookedBack,
} from '../collection/index.ts';

/** Days looked back on, and how many pots at the most: the newest visits say enough. */
const DAYS = 31;
const MOST_POTS = 120;

/**
 * How good the forecasts of the last month were: each visit forecast from what was known before it, and set beside what was read then. Forecasts
 * are not kept; they are made again from the log as it stands, which knows what was put right since. In a thread: they are drawn by the hundred.
 */
export function lookBackOn(collection: Collection, today: string): Promise<LookBack> {
  const kept = answerOf(collection, today);
  return (kept.answer ??= drawn(collection, today).catch((error: unknown) => {
    // What failed is asked again.
    delete kept.answer;
    throw error;
  }));
}
const answerOf = memo((_collection: Collection, _today: string): { answer?: Promise<LookBack> } => ({}));

async function drawn(collection: Collection, today: string): Promise<LookBack> {
  const from = plusDays(today, -DAYS);
  const pots = potStates(collection, today)
    .filter(isFollowed)
    .slice(0, MOST_POTS)
    .map(({ pot, entry }) => ({ id: pot.id, code: pot.code, log: logOf(entry) }));
  const onPen = ppmFromEc(1, growersScale(collection.meters));
  const seen = (await inPool('back', { pots, scores: latelyOf(collection.pots), from })).map((one): LookedBack =>
    one.what === 'ppm' ? times(one, onPen) : one,
  );
  return { from, to: today, figures: (['left', 'ppm', 'ph'] as const).map((what) => judged(what, seen)) };
}

const times = (one: LookedBack, by: number): LookedBack => ({
  ...one,
  read: one.read * by,
  band: { low: one.band.low * by, middle: one.band.middle * by, high: one.band.high * by },
});

function judged(what: LookedBack['what'], seen: readonly LookedBack[]): LookBack['figures'][number] {
  const mine = seen.filter((s) => s.what === what);
  const outside = ({ read, band }: LookedBack) =>
    Math.max(band.low - read, read - band.high, 0) / Math.max(1e-6, band.high - band.low);
  const worst = [...mine].sort((a, b) => outside(b) - outside(a))[0];
  return {
    what,
    readings: mine.length,
    inside: mine.filter((s) => outside(s) === 0).length,
    width: mine.length === 0 ? 1 : mine.reduce((sum, s) => sum + s.width, 0) / mine.length,
    bias: mine.length === 0 ? 0 : mine.reduce((sum, s) => sum + s.read - s.band.middle, 0) / mine.length,
    worst:
      worst && outside(worst) > 0
        ? { code: worst.code, on: worst.on, read: worst.read, low: worst.band.low, high: worst.band.high }
        : null,
  };
}
