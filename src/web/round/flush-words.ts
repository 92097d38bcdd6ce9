import type { RoundPot } from '../../contract/round.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { litres, mL } from '../shell/format.ts';

const amount = (ml: number) => (ml >= 1000 ? litres(ml / 1000) : mL(ml));
/** Less than so much either way is no difference to what is usual. */
const ABOUT_SAME = 0.2;

/** "0.3 L kitchen tap, then 100 mL still water"; of any water where nobody knows which. */
export function flushAmount({ flush, flushMl }: Pick<RoundPot, 'flush' | 'flushMl'>): string {
  if (flushMl === 0) return 'no flush';
  if (flush.stages.length === 0) return `${amount(flushMl)} of water`;
  return flush.stages.map(({ ml, water }) => `${amount(ml)} ${inSentence(water)}`).join(', then ');
}

/** Why so much, and what the rule of thumb would have been. */
export function flushWhy({ flush, flushMl }: Pick<RoundPot, 'flush' | 'flushMl'>): string {
  const other = flush.stages.length > 0 && flush.habitMl > 0 && Math.abs(flushMl / flush.habitMl - 1) > ABOUT_SAME;
  return other ? `${flush.why}; rule of thumb ${amount(flush.habitMl)}` : flush.why;
}

/** The flush as it is logged: other than planned, its stages keep their shares. */
export function flushLogged(
  { flush, flushMl }: Pick<RoundPot, 'flush' | 'flushMl'>,
  typedMl: number | null,
): { flushMl: number; flushWith: { waterId: string; ml: number }[] } {
  const ml = typedMl ?? flushMl;
  const times = flushMl > 0 ? ml / flushMl : 0;
  return {
    flushMl: ml,
    flushWith: times > 0 ? flush.stages.map((stage) => ({ waterId: stage.waterId, ml: stage.ml * times })) : [],
  };
}
