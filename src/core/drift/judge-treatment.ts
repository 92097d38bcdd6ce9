import { mean, standardDeviation } from 'simple-statistics';
import { Z90 } from '../statistics/index.ts';

/** A rise of pH from a pour to the next visit; tainted: by a pen off by nobody knows how much. */
export type Rise = { readonly rise: number; readonly tainted: boolean };
/** The same kind of soak test before and since, µeq in the first hour with 1 SD. */
export type TestPair = {
  readonly before: { readonly middle: number; readonly sd: number };
  readonly after: { readonly middle: number; readonly sd: number };
  readonly driedSince: boolean;
};
export type Verdict = { readonly verdict: 'helps' | 'nothing' | 'worse' | 'cannotTell'; readonly words: string };

/** Fewer visits than this on either side tell nothing. House rule. */
const FEWEST = 3;
/** Visit to visit a rise of pH strays by so much even where nothing changed, 1 SD. */
const STRAYS = 0.15;
/** Less of a change than this is none that matters. */
const MATTERS_PH = 0.1;

/**
 * What the readings say of something that was tried: the mean rise of pH before and since with its 90 % range, and the tests of one kind beside it.
 * None of these treatments is proven, so nothing is called a success that the range does not bear out.
 */
export function judgeTreatment(before: readonly Rise[], since: readonly Rise[], tests: TestPair | undefined): Verdict {
  const sound = (rises: readonly Rise[]) => rises.filter((r) => !r.tainted).map((r) => r.rise);
  const [old, now] = [sound(before), sound(since)];
  const test = tests ? testWords(tests) : undefined;
  if (old.length < FEWEST || now.length < FEWEST) {
    const count = `${now.length} sound visit${now.length === 1 ? '' : 's'} since, ${old.length} before: three of each are the least`;
    return { verdict: test?.verdict ?? 'cannotTell', words: test ? `${test.words}; ${count}` : count };
  }
  const change = mean(now) - mean(old);
  const half = Z90 * Math.hypot(errorOf(old), errorOf(now));
  const range = `rise ${signed(change)} ± ${half.toFixed(1)} over ${now.length} visits`;
  const byVisits: Verdict['verdict'] =
    change + half < 0
      ? 'helps'
      : change - half > 0
        ? 'worse'
        : Math.abs(change) + half < 2 * MATTERS_PH
          ? 'nothing'
          : 'cannotTell';
  const verdict = byVisits === 'cannotTell' ? (test?.verdict ?? byVisits) : byVisits;
  return { verdict, words: test ? `${range}; ${test.words}` : range };
}

function errorOf(values: readonly number[]): number {
  return Math.max(STRAYS, standardDeviation([...values])) / Math.sqrt(values.length);
}

function testWords({ before, after, driedSince }: TestPair): Verdict {
  const change = after.middle - before.middle;
  const half = Z90 * Math.hypot(before.sd, after.sd);
  const told = Math.abs(change) > half;
  const words = `test ${Math.round(before.middle)} → ${Math.round(after.middle)} µeq in the first hour${driedSince ? ', before it dried out again' : ''}`;
  return { verdict: driedSince || !told ? 'cannotTell' : change < 0 ? 'helps' : 'worse', words };
}

const signed = (value: number) => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(1)}`;
