import { normalCdf } from '../statistics/index.ts';

const density = (u: number) => Math.exp(-(u ** 2) / 2) / Math.sqrt(2 * Math.PI);

/**
 * What a reading is worth where one of two things is done, one beyond a limit and one short of it, and doing the wrong one costs so much a unit beyond:
 * expected gain of deciding after the reading instead of before it (value of sample information with linear loss; Raiffa and Schlaifer 1961, §5A).
 * @param forecast mean and 1 SD of what stands there
 * @param noise 1 SD of the reading; infinite where nothing is learned
 * @param costs a unit beyond the limit
 */
export function valueOfReading(
  forecast: { readonly mean: number; readonly sd: number },
  noise: number,
  limit: number,
  costs: number,
): number {
  const learns = forecast.sd ** 2 / Math.hypot(forecast.sd, noise);
  if (!(learns > 0)) return 0;
  const u = Math.abs(forecast.mean - limit) / learns;
  return costs * learns * Math.max(0, density(u) - u * normalCdf(-u));
}
