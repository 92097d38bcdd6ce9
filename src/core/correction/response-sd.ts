import { CARBONATE_WELL_KNOWN } from './response.ts';

/** Carbon lost in filling, and what the chemistry leaves out, as a share of a dose: 1 SD. House rule. */
const CHEMISTRY_SD = 0.08;
/** The same where nothing is known of the water's alkalinity. */
const UNKNOWN_WATER_SD = 0.3;

/** An acid mix whose alkali is spent is no more doubtful than this by its carbonate, log. */
const MOST_DOUBT = 0.6;

/**
 * 1 SD (log) of how a dose acts against its label. Doubt about the water's carbonate is part of it while it is small; where it is most of the
 * water, {@link hypothesesOf} goes through the waters it may be.
 * @param strengthSd of the acid's strength; see strengthSdOf
 * @param water its alkalinity (meq/L), carbonate (mmol/L) and 1 SD of them; undefined where nothing is known of it
 */
export function responseSdOf(
  strengthSd: number,
  water: { readonly alkalinityMeqL: number; readonly carbonate: number; readonly sd: number } | undefined,
): number {
  if (!water) return Math.hypot(UNKNOWN_WATER_SD, strengthSd);
  // Still water that reads 0 has neither carbonate nor doubt of it.
  const known = water.sd <= CARBONATE_WELL_KNOWN * water.carbonate;
  const doubt = known ? Math.min(MOST_DOUBT, water.sd / Math.max(1e-3, water.alkalinityMeqL)) : 0;
  return Math.hypot(CHEMISTRY_SD, strengthSd, doubt);
}
