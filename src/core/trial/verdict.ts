import type { Difference } from './difference.ts';
import { smallestShown, type Design } from './power.ts';

/**
 * What a trial says, never more than its numbers: `real` where the interval leaves nought out; `small` where it is real and yet less than such a trial finds four times in five;
 * `none` where the interval holds nought and everything in it is less than what would matter; `open` where it can say neither; `few` where it could say nothing.
 */
export type Verdict = 'real' | 'small' | 'none' | 'open' | 'few';

/**
 * @param matters the least difference that would matter to the grower, in the outcome's unit; > 0
 * @param found undefined where there are too few pots for any
 */
export function verdictOf(design: Design, found: Difference | undefined, matters: number): Verdict {
  if (!found) return 'few';
  const { mean, low, high, sd, n } = found;
  if (low > 0 || high < 0) return Math.abs(mean) < smallestShown(design, n, sd) ? 'small' : 'real';
  return Math.max(Math.abs(low), Math.abs(high)) < matters ? 'none' : 'open';
}
