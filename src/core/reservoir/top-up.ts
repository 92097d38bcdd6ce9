import { requirePositive } from '../quantity/index.ts';

/** A reservoir that runs low before its day. mL, µS/cm. */
export type LowReservoir = {
  readonly freeMl: number;
  readonly poreMl: number;
  readonly ecUsCm: number;
  readonly fillMl: number;
};
export type TopUp = { readonly what: 'plain' | 'feed'; readonly ml: number; readonly afterEcUsCm: number };

/** Topped up to this share of the fill: enough to the next visit, and not so much that it takes the place of a change. House rule. */
const TO_SHARE = 0.6;
const STEP_ML = 10;

/**
 * A top-up in a hurry: plain water while the reservoir is stronger than its feed, feed while it is weaker (common practice); either beats a dry
 * pot. Not as a habit: plain water leaves every salt where it is, feed adds to it.
 * @param feedEcUsCm what its mix reads, water and all @param plainEcUsCm the plain water
 * @returns undefined where there is enough
 * @example topUp({ freeMl: 125, poreMl: 0, ecUsCm: 400, fillMl: 250 }, 200, 0) // plain; half the volume gone was twice the strength
 */
export function topUp(
  { freeMl, poreMl, ecUsCm, fillMl }: LowReservoir,
  feedEcUsCm: number,
  plainEcUsCm: number,
): TopUp | undefined {
  requirePositive(fillMl, 'the fill');
  const ml = Math.round((TO_SHARE * fillMl - freeMl) / STEP_ML) * STEP_ML;
  if (ml <= 0) return undefined;
  const what = ecUsCm >= feedEcUsCm ? 'plain' : 'feed';
  const added = what === 'plain' ? plainEcUsCm : feedEcUsCm;
  const body = freeMl + poreMl;
  return { what, ml, afterEcUsCm: (body * ecUsCm + ml * added) / (body + ml) };
}
