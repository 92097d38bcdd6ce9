import { daysBetween, type LocalDate } from '../regimen/index.ts';

/* The weeks gone by, as they were planned and as they were done. */

/** What became of a watering that was planned for a day: done on it, so many days sooner or later, or not. */
export type Outcome =
  { readonly kind: 'onDay' | 'notYet' } | { readonly kind: 'sooner' | 'later'; readonly days: number };

/**
 * What became of a planned watering: the first filling since the plan was made, and after the one it planned before.
 * @param planned its day, the day it planned before that (null: none), and the instant the plan was made
 * @param fills in order, each with its instant and its day
 */
export function outcomeOf(
  planned: { readonly on: LocalDate; readonly previousOn: LocalDate | null; readonly madeAt: string },
  fills: readonly { readonly at: string; readonly on: LocalDate }[],
): Outcome {
  const { on, previousOn, madeAt } = planned;
  const found = fills.find((fill) => fill.at > madeAt && (previousOn === null || fill.on > previousOn));
  if (!found) return { kind: 'notYet' };
  const days = daysBetween(on, found.on);
  return days === 0 ? { kind: 'onDay' } : { kind: days < 0 ? 'sooner' : 'later', days: Math.abs(days) };
}

/** One day: what was foretold as it began, by the arithmetic alone, and what was drawn, L. */
export type DrawnDay = { readonly foretoldL: number; readonly drawnL: number };
/** What is drawn for every litre foretold, with its range (nine in ten), and of how many days with work it is known. */
export type LitresLearned = {
  readonly times: number;
  readonly low: number;
  readonly high: number;
  readonly days: number;
};

/** Fewer days with work say nothing. House rules, as all here. */
const FEWEST_DAYS = 5;
/** How far a collection's litres may lie off before anything is known, as a natural logarithm: spills, another hand's brim. */
const PRIOR_LN = 0.3;
const NINETY = 1.645;
/** Of few days the spread is only thought: Student's quantile from the normal one, Abramowitz and Stegun 26.7.5, to the second order. */
const student = (z: number, of: number) =>
  z + (z ** 3 + z) / (4 * of) + (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * of ** 2);
/** Further off than that something else is wrong than the arithmetic. */
const FARTHEST = 2;

/**
 * What is truly drawn for every litre foretold: the ratio of the sums, drawn towards one as far as it is not sure.
 * Days without work count too, for a mix may be made the evening before. Ratio estimator and its standard error: Cochran, Sampling Techniques, 3rd ed., section 6.4.
 * @returns null where too little is known
 */
export function litresLearned(days: readonly DrawnDay[]): LitresLearned | null {
  const n = days.filter(({ foretoldL }) => foretoldL > 0).length;
  const foretold = days.reduce((sum, day) => sum + day.foretoldL, 0);
  const drawn = days.reduce((sum, day) => sum + day.drawnL, 0);
  if (n < FEWEST_DAYS || drawn <= 0) return null;
  const ratio = drawn / foretold;
  const residual = days.reduce((sum, day) => sum + (day.drawnL - ratio * day.foretoldL) ** 2, 0);
  // As many days as there was work on tell how they scatter; few tell it badly.
  const sd = (Math.sqrt((residual * n) / (n - 1)) / drawn) * (student(NINETY, n - 1) / NINETY);
  const trust = PRIOR_LN ** 2 / (PRIOR_LN ** 2 + sd ** 2);
  const mean = trust * Math.log(ratio);
  const spread = NINETY * Math.sqrt(trust) * sd;
  const within = (ln: number) => Math.exp(Math.min(Math.log(FARTHEST), Math.max(-Math.log(FARTHEST), ln)));
  return { times: within(mean), low: within(mean - spread), high: within(mean + spread), days: n };
}
