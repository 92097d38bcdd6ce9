import { FEED_BAND, type Band } from './aim.ts';

/** Kinds of use of a batch. */
export const USES = ['feed', 'soak', 'spray', 'water'] as const;
export type Use = (typeof USES)[number];

/** How strong a use is by default, how near it must land, and what pH it wants. Conductivity net over base, µS/cm at 25 °C. */
export type UseRule = {
  readonly netEcUsCm: number;
  readonly band: Band;
  readonly phLow: number;
  readonly phHigh: number;
  /** Minutes it is held; null where it is not held. */
  readonly holdMinutes: number | null;
  /** pH of the same where it stays in the pot, since the clay lifts it; null where that is no question. */
  readonly staying: { readonly phLow: number; readonly phHigh: number } | null;
};

/**
 * What each use starts from (common practice, ppm on a ½-scale pen doubled): a constant dilute feed of 90; a soak of +100 within −10 to +30 and
 * never past +80, half an hour at pH 6.5 to 7.0, or 6.0 where it stays; a leaf spray of 50; water as it is.
 */
export const USE_RULES: Readonly<Record<Use, UseRule>> = Object.freeze({
  feed: { netEcUsCm: 180, band: FEED_BAND, phLow: 5.5, phHigh: 6.5, holdMinutes: null, staying: null },
  soak: {
    netEcUsCm: 200,
    band: { in: 'ec', below: 20, above: 60, hard: 160 },
    phLow: 6.5,
    phHigh: 7,
    holdMinutes: 30,
    staying: { phLow: 5.8, phHigh: 6.2 },
  },
  spray: { netEcUsCm: 100, band: FEED_BAND, phLow: 5.5, phHigh: 7, holdMinutes: null, staying: null },
  water: { netEcUsCm: 0, band: FEED_BAND, phLow: 5.5, phHigh: 7.5, holdMinutes: null, staying: null },
});

/** Days a poured mix keeps: with something living in it not past the day, else a week (common practice). */
export function daysItKeeps(withLiving: boolean): number {
  return withLiving ? 0 : 7;
}

/** Times a recipe must have come out right, one after the other, before readings may be skipped; and how often it is read all the same. */
export const RIGHT_BEFORE_TRUST = 3;
export const READ_EVERY = 5;

export type Trust = { readonly trusted: boolean; readonly why: string };
/** How a recipe came out lately, newest first: read and in its bands, read and not, or given unread. */
export type RecipeRun = 'right' | 'wrong' | 'unread';

/**
 * Whether readings may be skipped: right three times running from the same water and products, not one of the uses that is always read, and read
 * at least every fifth time.
 * @param runs with the same water, bottles and droppers, newest first, since anything of it changed
 */
export function trustOf(
  runs: readonly RecipeRun[],
  always: { readonly solid: boolean; readonly freshStock: boolean },
): Trust {
  if (always.solid || always.freshStock)
    return { trusted: false, why: 'made from a solid or a fresh stock: always read' };
  let unread = 0;
  while (runs[unread] === 'unread') unread++;
  if (unread >= READ_EVERY - 1) return { trusted: false, why: `not read for ${unread} times: read it this once` };
  const read = runs.filter((run) => run !== 'unread');
  const right = read.findIndex((run) => run === 'wrong');
  const running = right === -1 ? read.length : right;
  if (running >= RIGHT_BEFORE_TRUST)
    return { trusted: true, why: `right ${running} times running from this water and these bottles` };
  return {
    trusted: false,
    why:
      running === 0
        ? 'not yet read right from this water and these bottles'
        : `right ${running} of the ${RIGHT_BEFORE_TRUST} times it takes`,
  };
}
