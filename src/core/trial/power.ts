import { studentQuantile } from './student.ts';

/*
 * How large a difference a trial can show, before it is begun. Two-sided at 5 %, found four times in five: the smallest difference is the sum of two quantiles of
 * Student's t times the standard error (Bloom 1995, Evaluation Review 19:547).
 */

/** A difference that is none is called real at most so often. */
export const FALSE_ALARM = 0.05;
/** A difference of the size stated is found so often. */
export const POWER = 0.8;

/** Arms compared pot with pot in pairs, or as two groups. */
export type Design = 'pairs' | 'groups';

/** Standard error of the difference of the means, in units of the spread (of a pair's difference; of a pot within its group). */
const errorOf = (design: Design, n: number) => Math.sqrt((design === 'pairs' ? 1 : 2) / n);
const freedom = (design: Design, n: number) => (design === 'pairs' ? n - 1 : 2 * (n - 1));

/**
 * The smallest difference that `n` pairs, or `n` pots a group, show four times in five.
 * @param sd of the outcome: of the differences within pairs, or between pots of one group; > 0
 * @returns Infinity where nothing can be shown at all: a single pair, one pot a side
 */
export function smallestShown(design: Design, n: number, sd: number): number {
  const of = freedom(design, n);
  if (of < 1) return Infinity;
  return (studentQuantile(1 - FALSE_ALARM / 2, of) + studentQuantile(POWER, of)) * sd * errorOf(design, n);
}

/** More pairs than this no collection has. */
const MOST = 2000;

/** How many pairs, or pots a group, it takes to show a difference four times in five; null past 2,000. @param difference > 0 */
export function neededFor(design: Design, difference: number, sd: number): number | null {
  if (smallestShown(design, MOST, sd) > difference) return null;
  let [low, high] = [1, MOST];
  while (low + 1 < high) {
    const n = (low + high) >> 1;
    if (smallestShown(design, n, sd) > difference) low = n;
    else high = n;
  }
  return high;
}
