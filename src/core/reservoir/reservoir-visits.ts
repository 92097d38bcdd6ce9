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

/** Taken of a pot filled with a mix nobody knows: three quarters are gone by the due day. A guess, and marked as one. */
export const GUESSED_SHARE_USED = 0.75;
