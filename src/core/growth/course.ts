import { daysBetween, type LocalDate } from '../regimen/index.ts';

/* What a row of measures of one plant says. */

export type Measured = { readonly on: LocalDate; readonly value: number };
const DAYS_A_MONTH = 30;
/** Two measures closer than so many days tell more of the ruler than of the leaf. House rule. */
const LEAST_DAYS = 10;

/**
 * How fast something grew from each measure to the next, in its unit a month of 30 days. Measures too close to the one before are passed by; where less was measured than
 * before, a leaf was lost or another one measured, and nothing is said of that stretch.
 */
export function growthAMonth(
  measures: readonly Measured[],
): { readonly since: LocalDate; readonly on: LocalDate; readonly value: number }[] {
  const found: { since: LocalDate; on: LocalDate; value: number }[] = [];
  let before: Measured | undefined;
  for (const now of measures) {
    const days = before ? daysBetween(before.on, now.on) : 0;
    if (before && days < LEAST_DAYS) continue;
    if (before && now.value >= before.value)
      found.push({ since: before.on, on: now.on, value: ((now.value - before.value) * DAYS_A_MONTH) / days });
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
