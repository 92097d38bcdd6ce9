import { daysBetween, type LocalDate } from '../regimen/index.ts';

/* What a row of measures of one plant says. */

export type Measured = { readonly on: LocalDate; readonly value: number };
const DAYS_A_MONTH = 30;
/** Two measures closer than so many days tell more of the ruler than of the leaf. House rule. */
const LEAST_DAYS = 10;

/** From one measure to a later one, and the growth a month between them. */
export type Stretch = { readonly since: LocalDate; readonly on: LocalDate; readonly value: number };

/**
 * How fast something grew from each measure to the next, in its unit a month of 30 days. Measures too close to the one before are passed by; where less was measured than
 * before, a leaf was lost or another one measured, and nothing is said of that stretch.
 */
export const growthAMonth = (measures: readonly Measured[]): Stretch[] =>
  stretches(
    measures,
    (before, now) => now >= before,
    (before, now) => now - before,
  );

/** Held to a ruler twice, a leaf may come out shorter by this share of itself and be the same leaf. House rule. */
const RULER = 0.04;
/**
 * How fast something grew for its size, from each measure to the next: the relative growth rate, ln(later/earlier) a month of 30 days, by which a seedling and an old plant
 * can be set side by side (Blackman 1919, Annals of Botany 33:353; Hunt 1982, Plant Growth Curves). Where a little less was measured it stands as that: to drop it would make
 * what does not grow seem to.
 */
export const relativeGrowth = (measures: readonly Measured[]): Stretch[] =>
  stretches(
    measures.filter(({ value }) => value > 0),
    (before, now) => now >= before * (1 - RULER),
    (before, now) => Math.log(now / before),
  );

function stretches(
  measures: readonly Measured[],
  isSame: (before: number, now: number) => boolean,
  grown: (before: number, now: number) => number,
): Stretch[] {
  const found: Stretch[] = [];
  let before: Measured | undefined;
  for (const now of measures) {
    const days = before ? daysBetween(before.on, now.on) : 0;
    if (before && days < LEAST_DAYS) continue;
    if (before && isSame(before.value, now.value))
      found.push({ since: before.on, on: now.on, value: (grown(before.value, now.value) * DAYS_A_MONTH) / days });
    before = now;
  }
  return found;
}

/** A time in flower: from the first day open flowers were counted to the first on which there were none; `to` undefined while it lasts. */
export type Bloom = {
  readonly from: LocalDate;
  readonly to: LocalDate | undefined;
  readonly most: number;
  readonly days: number;
};

/** Times in flower by what was counted, oldest first. @param today to which one that lasts is reckoned */
export function blooms(counted: readonly Measured[], today: LocalDate): Bloom[] {
  const found: Bloom[] = [];
  let open: { from: LocalDate; most: number } | undefined;
  for (const { on, value } of counted) {
    if (value > 0) open = { from: open?.from ?? on, most: Math.max(open?.most ?? 0, value) };
    else if (open) {
      found.push({ ...open, to: on, days: daysBetween(open.from, on) });
      open = undefined;
    }
  }
  return open ? [...found, { ...open, to: undefined, days: daysBetween(open.from, today) }] : found;
}
