import { median } from 'simple-statistics';

/** One interval of a pot: what was poured and what the old reservoir read at the next visit. EC in µS/cm; either may be missing. */
export type PouredAndCameOut = {
  readonly pouredEcUsCm?: number | undefined;
  readonly pouredPh?: number | undefined;
  readonly cameOutEcUsCm?: number | undefined;
  readonly cameOutPh?: number | undefined;
  readonly pouredMl?: number | undefined;
  readonly leftMl?: number | undefined;
  readonly days: number;
};

export type ExpectedOldReservoir = { readonly ecUsCm?: number; readonly ph?: number; readonly leftMl?: number };

/** Intervals looked back on. Few, because pots change with the season. */
export const INTERVALS_BACK = 3;

/**
 * What the old reservoir will probably read, from this pot's own last intervals: what was poured this time × the median of the last
 * three ratios (strength), plus the median of the last three rises (pH); what is left from the median daily use. Nothing is assumed for
 * a pot that was never read. A stand-in until the reservoir model; never stored as a reading.
 * @param intervals oldest first
 * @param poured this time's fill
 * @param days since that fill
 */
export function expectOldReservoir(
  intervals: readonly PouredAndCameOut[],
  poured: { ecUsCm?: number | undefined; ph?: number | undefined; volumeMl?: number | undefined },
  days: number,
): ExpectedOldReservoir {
  const ratios = last(intervals.map(({ pouredEcUsCm: p, cameOutEcUsCm: c }) => (p && c !== undefined ? c / p : undefined)));
  const rises = last(intervals.map(({ pouredPh: p, cameOutPh: c }) => (p !== undefined && c !== undefined ? c - p : undefined)));
  const uses = last(intervals.map(({ pouredMl: p, leftMl: l, days: d }) => (p !== undefined && l !== undefined && d > 0 ? (p - l) / d : undefined)));
  return {
    ...(ratios.length && poured.ecUsCm !== undefined ? { ecUsCm: poured.ecUsCm * median(ratios) } : {}),
    ...(rises.length && poured.ph !== undefined ? { ph: Math.min(14, Math.max(0, poured.ph + median(rises))) } : {}),
    ...(uses.length && poured.volumeMl !== undefined ? { leftMl: Math.max(0, poured.volumeMl - median(uses) * days) } : {}),
  };
}

function last(values: readonly (number | undefined)[]): number[] {
  return values.filter((value): value is number => value !== undefined && Number.isFinite(value)).slice(-INTERVALS_BACK);
}
