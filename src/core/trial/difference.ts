import { mean as meanOf, sampleStandardDeviation, sampleVariance } from 'simple-statistics';
import { normalCdf, seededRandom, type Random } from '../statistics/index.ts';
import { FALSE_ALARM } from './power.ts';
import { studentQuantile } from './student.ts';

/** A difference between two arms with its 95 % interval; `sd` of the differences within pairs, or within groups; `n` pairs, or pots of the smaller group. */
export type Difference = {
  readonly mean: number;
  readonly low: number;
  readonly high: number;
  readonly sd: number;
  readonly n: number;
};

/** `alpha`: how often an interval may leave out what is true, 0.05 unless said; `draws`: so often, that the ends of an interval move by less than a fiftieth of it from seed to seed. */
export type Asked = { readonly alpha?: number; readonly draws?: number };
const DRAWS = 4000;

/**
 * The mean of differences within pairs, first arm less second, with its bootstrap interval: residuals stretched by √(n/(n − 1)) and the percentiles taken where Student's
 * t would take them, since plain percentiles of few pairs are too narrow (Hesterberg 2015, The American Statistician 69:371); never narrower than Student's own.
 * @param differences one a pair @returns undefined for fewer than two pairs: nothing is known of their spread
 */
export function pairedDifference(
  differences: readonly number[],
  seed: number,
  asked: Asked = {},
): Difference | undefined {
  const n = differences.length;
  if (n < 2) return undefined;
  const stretched = stretch(differences);
  return interval(
    sampleStandardDeviation([...differences]),
    stretched.mean,
    n - 1,
    seed,
    (random) => drawnMean(stretched.values, random),
    n,
    asked,
  );
}

/** The same of two groups that are not paired, with Welch's degrees of freedom. @returns undefined where either has fewer than two pots */
export function groupDifference(
  first: readonly number[],
  second: readonly number[],
  seed: number,
  asked: Asked = {},
): Difference | undefined {
  if (first.length < 2 || second.length < 2) return undefined;
  const [a, b] = [stretch(first), stretch(second)];
  const draw = (random: Random) => drawnMean(a.values, random) - drawnMean(b.values, random);
  return interval(
    pooled(first, second),
    a.mean - b.mean,
    welch(first, second),
    seed,
    draw,
    Math.min(first.length, second.length),
    asked,
  );
}

function interval(
  sd: number,
  mean: number,
  freedom: number,
  seed: number,
  draw: (random: Random) => number,
  n: number,
  { alpha = FALSE_ALARM, draws = DRAWS }: Asked,
): Difference {
  const random = seededRandom(seed);
  const drawn = Float64Array.from({ length: draws }, () => draw(random)).sort();
  // Where the normal distribution has what Student's t has at the end of its interval.
  const quantile = studentQuantile(1 - alpha / 2, freedom);
  const tail = normalCdf(-quantile);
  const at = (share: number) => drawn[Math.min(draws - 1, Math.max(0, Math.round(share * (draws - 1))))]!;
  // A sample that happens to be lopsided draws lopsided: the wider of the two ends counts, or one trial in sixteen of nothing would be called real.
  const half = quantile * sampleStandardDeviation([...drawn]);
  return { mean, low: Math.min(at(tail), mean - half), high: Math.max(at(1 - tail), mean + half), sd, n };
}

function stretch(values: readonly number[]): { mean: number; values: number[] } {
  const mean = meanOf([...values]);
  const by = Math.sqrt(values.length / (values.length - 1));
  return { mean, values: values.map((value) => mean + by * (value - mean)) };
}

function drawnMean(values: readonly number[], random: Random): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[Math.floor(random() * values.length)]!;
  return sum / values.length;
}

/** Spread within two groups. */
function pooled(first: readonly number[], second: readonly number[]): number {
  const squares = (values: readonly number[]) => (values.length - 1) * sampleVariance([...values]);
  return Math.sqrt((squares(first) + squares(second)) / (first.length + second.length - 2));
}

/** Degrees of freedom of two groups of unlike spread (Welch 1947). */
function welch(first: readonly number[], second: readonly number[]): number {
  const share = (values: readonly number[]) => sampleVariance([...values]) / values.length;
  const [a, b] = [share(first), share(second)];
  if (a + b === 0) return first.length + second.length - 2;
  return (a + b) ** 2 / (a ** 2 / (first.length - 1) + b ** 2 / (second.length - 1));
}
