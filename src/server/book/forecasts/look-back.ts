import { FORETOLD_OF_POTS, LOOK_BACK_DAYS, type LookBack, type LookedMark } from '../../../contract/look-back.ts';
import { ppmFromEc } from '../../../core/quantity/index.ts';
import { plusDays } from '../../../core/regimen/index.ts';
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
  type Past,
} from '../../collection/index.ts';
import type { Turn } from '../../../contract/turns.ts';
import { pensOf, sideOf, whyOutside, type Known } from './why-outside.ts';

/** Pots at the most: they say enough. */
const MOST_POTS = 120;

type Seen = { readonly from: string; readonly seen: readonly LookedBack[] };

/**
 * How good the forecasts of the last month were, and what is known of why some were not: each visit forecast from what was known before it, and set beside what was read then. Forecasts
 * are not kept; they are made again from the log as it stands, which knows what was put right since. In a thread: they are drawn by the hundred.
 */
export async function lookBackOn(
  collection: Collection,
  past: Past,
  turns: readonly Turn[],
  today: string,
): Promise<LookBack> {
  const { from, seen } = await seenOn(collection, today);
  return {
    from,
    to: today,
    figures: FORETOLD_OF_POTS.map((what) => judged(what, seen, { past, turns, pens: pensOf(collection) })),
  };
}

function seenOn(collection: Collection, today: string): Promise<Seen> {
  const kept = answerOf(collection, today);
  return (kept.answer ??= drawn(collection, today).catch((error: unknown) => {
    // What failed is asked again.
    delete kept.answer;
    throw error;
  }));
}
const answerOf = memo((_collection: Collection, _today: string): { answer?: Promise<Seen> } => ({}));

async function drawn(collection: Collection, today: string): Promise<Seen> {
  const from = plusDays(today, -LOOK_BACK_DAYS);
  const pots = potStates(collection, today)
    .filter(isFollowed)
    .slice(0, MOST_POTS)
    .map(({ pot, entry }) => ({ id: pot.id, code: pot.code, log: logOf(entry) }));
  const onPen = ppmFromEc(1, growersScale(collection.meters));
  const seen = (await inPool('back', { pots, scores: latelyOf(collection.pots), from })).map((one): LookedBack =>
    one.what === 'ppm' ? times(one, onPen) : one,
  );
  return { from, seen };
}

const times = (one: LookedBack, by: number): LookedBack => ({
  ...one,
  read: one.read * by,
  band: { low: one.band.low * by, middle: one.band.middle * by, high: one.band.high * by },
});

function judged(what: LookedBack['what'], seen: readonly LookedBack[], known: Known): LookBack['figures'][number] {
  const mine = seen
    .filter((s) => s.what === what)
    .sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : a.code < b.code ? -1 : 1));
  const mean = (of: (s: LookedBack) => number) => mine.reduce((sum, s) => sum + of(s), 0) / mine.length;
  const why = whyOutside(mine, known);
  return {
    what,
    readings: mine.length,
    inside: mine.filter((s) => sideOf(s) === 0).length,
    width: mine.length === 0 ? 1 : mean(({ width }) => width),
    bias: mine.length === 0 ? 0 : mean(({ read, band }) => read - band.middle),
    marks: mine.map(({ potId, code, on, read, band }, i): LookedMark => ({
      id: potId,
      code,
      on,
      read,
      low: band.low,
      middle: band.middle,
      high: band.high,
      why: why[i]!,
    })),
  };
}
