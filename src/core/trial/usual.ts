/*
 * What is thought of a trial before these pots themselves say more. From our own simulations of collections with known truth (no published source): figures to
 * plan with, never shown as measured.
 */

/** `strength`: the logarithm of old over poured; pH; shares of a filling, of visits; growth of a leaf, ln a month. */
export type Outcome = 'strength' | 'ph' | 'left' | 'dry' | 'growth';

/**
 * How far two pots of a like pair come to lie apart by themselves, less their own past, 1 SD. Of growth nothing was simulated: a leaf of 20 cm held to a ruler twice a month
 * apart, ±2 mm, and months in which it grows by more or less. House rule.
 */
export const USUAL_SPREAD: Readonly<Record<Outcome, number>> = {
  strength: 0.23,
  ph: 0.26,
  left: 0.16,
  dry: 0.2,
  growth: 0.04,
};

export type UsualChange = 'strength' | 'days' | 'flush' | 'flushWith' | 'pourPh';

/**
 * About how large a difference such a change makes; undefined where nobody knows.
 * @param size of the change: the share of the strength, how many times the days, multiples of the reservoir, pH
 */
export function usualEffect(change: UsualChange, size: number, outcome: Outcome): number | undefined {
  const doublings = size > 0 ? Math.abs(Math.log2(size)) : 1;
  switch (change) {
    case 'strength':
      return outcome === 'strength' ? 0.25 * doublings : undefined;
    case 'days':
      return outcome === 'dry' ? 0.3 * doublings : outcome === 'left' ? 0.3 * doublings : undefined;
    case 'flushWith':
      return outcome === 'strength' ? 0.11 : undefined;
    case 'flush':
      return outcome === 'strength' ? 0.03 : undefined;
    case 'pourPh':
      return outcome === 'ph' ? 0.15 * Math.abs(size) : undefined;
  }
}
