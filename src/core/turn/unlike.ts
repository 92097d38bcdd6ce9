import { mean, median, sampleVariance } from 'simple-statistics';

/* What else two groups of pots differ in: each of it may be what a difference comes from. */

/** A figure of the pots of both groups, such as the reservoir in mL. */
export type UnlikeNumber<Of extends string> = { readonly of: Of; readonly some: number; readonly others: number };
/** Something pots of one group have more often, such as a place. */
export type UnlikeShare<Of extends string> = {
  readonly of: Of;
  readonly what: string;
  readonly some: readonly [number, number];
  readonly others: readonly [number, number];
};

/** Groups whose means and medians lie further apart than this many of their spreads are unlike. House rule, twice the 0.25 of Rubin 2001 (Health Services 2:169) for so few pots. */
const APART = 0.5;
/** A share that much larger is more often. House rule. */
const MORE = 0.3;

/** The medians of both, where the groups lie apart; undefined where they are alike, or too little is known. */
export function unlikeNumber<Of extends string>(
  of: Of,
  some: readonly number[],
  others: readonly number[],
): UnlikeNumber<Of> | undefined {
  if (some.length < 2 || others.length < 2) return undefined;
  const [a, b] = [[...some], [...others]];
  const spread = Math.sqrt((sampleVariance(a) + sampleVariance(b)) / 2);
  const [first, second] = [median(a), median(b)];
  // One giant among small ones moves a mean, not the middle.
  const apart = Math.min(Math.abs(mean(a) - mean(b)), Math.abs(first - second));
  return apart === 0 || apart < APART * spread ? undefined : { of, some: first, others: second };
}

/** What is in one group clearly more often than in the other, the most unlike first. */
export function unlikeShares<Of extends string>(
  of: Of,
  some: readonly string[],
  others: readonly string[],
): UnlikeShare<Of>[] {
  if (some.length === 0 || others.length === 0) return [];
  const count = (all: readonly string[], what: string) => all.filter((one) => one === what).length;
  return [...new Set([...some, ...others])]
    .map((what) => ({
      of,
      what,
      some: [count(some, what), some.length] as const,
      others: [count(others, what), others.length] as const,
    }))
    .map((found) => ({ found, apart: found.some[0] / found.some[1] - found.others[0] / found.others[1] }))
    .filter(({ apart }) => Math.abs(apart) >= MORE)
    .sort((x, y) => Math.abs(y.apart) - Math.abs(x.apart) || (x.found.what < y.found.what ? -1 : 1))
    .map(({ found }) => found);
}
