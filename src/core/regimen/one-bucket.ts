import type { RoundMix } from './round-mixes.ts';

/** How far below and above its aim a feed may land, as shares: the band it is coached into. */
export type BandShares = { readonly below: number; readonly above: number };
/** The stretch of pH two mixes must have in common to be corrected into. */
const COMMON_PH = 0.3;

export type OneBucket = {
  readonly keys: readonly [string, string];
  /** Strength and pH that lie inside both. */
  readonly netEcUsCm: number;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
};

/**
 * Mixes of a round that could be made as one: the same kind from the same water, with a strength inside both bands and pH in common. Each mix is
 * offered in one pair at most, the largest first.
 * @param band of a feed round its aim
 */
export function couldBeOne(
  mixes: readonly Pick<RoundMix, 'key' | 'what' | 'fillWith' | 'netEcUsCm' | 'dose' | 'pourPhLow' | 'pourPhHigh'>[],
  band: BandShares,
): OneBucket[] {
  const pairs: OneBucket[] = [];
  const taken = new Set<string>();
  for (const [i, a] of mixes.entries()) {
    for (const b of mixes.slice(i + 1)) {
      if (taken.has(a.key) || taken.has(b.key) || !alike(a, b)) continue;
      const low = Math.max(a.netEcUsCm, b.netEcUsCm) * (1 - band.below);
      const high = Math.min(a.netEcUsCm, b.netEcUsCm) * (1 + band.above);
      const [phLow, phHigh] = [Math.max(a.pourPhLow, b.pourPhLow), Math.min(a.pourPhHigh, b.pourPhHigh)];
      if (low > high || phHigh - phLow < COMMON_PH) continue;
      taken.add(a.key).add(b.key);
      pairs.push({ keys: [a.key, b.key], netEcUsCm: (low + high) / 2, pourPhLow: phLow, pourPhHigh: phHigh });
    }
  }
  return pairs;
}

/** The same kind from the same water, each mixed to a strength: what goes in by measure has no band to meet in. */
function alike(a: Mixed, b: Mixed): boolean {
  return a.what === b.what && a.what !== 'plain' && a.fillWith === b.fillWith && !a.dose && !b.dose;
}
type Mixed = Pick<RoundMix, 'what' | 'fillWith' | 'dose'>;
