import { linearRegression } from 'simple-statistics';

export type Trend = {
  readonly slope: number;
  readonly slopeSd: number;
  /** The line at x, with 1 SD of the line itself there. */
  at(x: number): { readonly mean: number; readonly sd: number };
  /** The slope lies more than two standard errors above zero. */
  readonly rising: boolean;
};

/** Fewest points a line is drawn through. */
export const LEAST_POINTS = 4;

/**
 * Least-squares line through points, with the usual standard errors (any textbook of statistics).
 * @returns undefined with fewer than four points, or all at one x
 */
export function trendOf(points: readonly (readonly [number, number])[]): Trend | undefined {
  const n = points.length;
  if (n < LEAST_POINTS) return undefined;
  const meanX = points.reduce((sum, [x]) => sum + x, 0) / n;
  // Centred first: days since an epoch are large beside what they differ by.
  const spread = points.reduce((sum, [x]) => sum + (x - meanX) ** 2, 0);
  if (!(spread > 0)) return undefined;
  const { m, b } = linearRegression(points.map(([x, y]) => [x - meanX, y]));
  const residual = Math.sqrt(points.reduce((sum, [x, y]) => sum + (y - (b + m * (x - meanX))) ** 2, 0) / (n - 2));
  const slopeSd = residual / Math.sqrt(spread);
  return {
    slope: m,
    slopeSd,
    at: (x) => ({ mean: b + m * (x - meanX), sd: residual * Math.sqrt(1 / n + (x - meanX) ** 2 / spread) }),
    rising: m > 2 * slopeSd && m > 0,
  };
}
