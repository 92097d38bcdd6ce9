import type { ExpectedOldReservoir } from './expected-old-reservoir.ts';

/** How a pot's reservoir probably stands now. `level` is a share of capacity; strength a ratio to what the pot should get. */
export type ReservoirNow = { readonly level: number; readonly levelIsGuess: boolean; readonly ratio?: number; readonly ph?: number };

/** Taken of a pot whose leftovers were never noted: three quarters are gone by the due day. A guess, and marked as one. */
export const GUESSED_SHARE_USED = 0.75;

/**
 * The state the pot section draws: level, strength and pH, between what was poured and what this pot's history says comes out.
 * Strength and pH are left out where nothing was ever read; they are never invented.
 * @param expected what the old reservoir will probably read, `days` after that fill
 * @param target gross µS/cm the pot should hold
 */
export function reservoirNow(
  expected: ExpectedOldReservoir,
  poured: { ecUsCm?: number | undefined; ph?: number | undefined; volumeMl?: number | undefined } | undefined,
  days: number,
  everyDays: number,
  capacityMl: number,
  targetEcUsCm: number,
): ReservoirNow {
  if (!poured) return { level: 0, levelIsGuess: true };
  const filledMl = poured.volumeMl ?? capacityMl;
  const leftMl = expected.leftMl ?? filledMl * Math.max(0, 1 - (GUESSED_SHARE_USED * days) / everyDays);
  const along = Math.min(1, Math.max(0, days / everyDays));
  const between = (from: number | undefined, to: number | undefined) => (from === undefined ? undefined : from + ((to ?? from) - from) * along);
  const ec = between(poured.ecUsCm, expected.ecUsCm);
  const ph = between(poured.ph, expected.ph);
  return {
    level: Math.min(1, Math.max(0, leftMl / capacityMl)),
    levelIsGuess: expected.leftMl === undefined,
    ...(ec !== undefined && targetEcUsCm > 0 ? { ratio: ec / targetEcUsCm } : {}),
    ...(ph !== undefined ? { ph } : {}),
  };
}
