/*
 * Strength by height for fast vegetables and herbs, never houseplants or orchids (common practice; no source). Net ppm as such growers read it,
 * taken as a half-scale pen and kept as µS/cm. Between the bands practice says nothing, and neither do we.
 */

const EC_PER_PPM = 2;
export const HEIGHT_BANDS = [
  { fromCm: 0, toCm: 5, lowEcUsCm: 0, highEcUsCm: 0 }, // under 5 cm: none, or a trace
  { fromCm: 8, toCm: 15, lowEcUsCm: 300 * EC_PER_PPM, highEcUsCm: 500 * EC_PER_PPM },
  { fromCm: 18, toCm: 40, lowEcUsCm: 600 * EC_PER_PPM, highEcUsCm: 1000 * EC_PER_PPM },
  { fromCm: 43, toCm: Infinity, lowEcUsCm: 1200 * EC_PER_PPM, highEcUsCm: 1600 * EC_PER_PPM },
] as const;

export type ByHeight =
  | {
      readonly kind: 'band';
      readonly lowEcUsCm: number;
      readonly highEcUsCm: number;
      /** Where in the band to begin: its middle. */ readonly netEcUsCm: number;
    }
  | { readonly kind: 'gap'; readonly aboveCm: number; readonly belowCm: number };

/** What practice gives at a height, or that it says nothing there. @param heightCm above 0 */
export function strengthByHeight(heightCm: number): ByHeight {
  const band = HEIGHT_BANDS.find(
    (b) => heightCm >= b.fromCm && (heightCm < b.toCm || (heightCm === b.toCm && b.fromCm > 0)),
  );
  if (band)
    return {
      kind: 'band',
      lowEcUsCm: band.lowEcUsCm,
      highEcUsCm: band.highEcUsCm,
      netEcUsCm: (band.lowEcUsCm + band.highEcUsCm) / 2,
    };
  const above = HEIGHT_BANDS.filter((b) => b.toCm <= heightCm).at(-1)!;
  const below = HEIGHT_BANDS.find((b) => b.fromCm > heightCm)!;
  return { kind: 'gap', aboveCm: above.toCm, belowCm: below.fromCm };
}
