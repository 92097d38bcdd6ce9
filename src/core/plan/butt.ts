import type { SeasonPlan } from './problem.ts';

/** What a lot's waterings draw of the rain butt, L, by the turn of its rota. */
export type ButtLot = { readonly turn: number; readonly feeds: readonly { readonly buttL: number }[] };
/** What stands in it as the first day begins, its brim, and what comes in a day, L; rain nobody can count on is none. */
export type Butt = { readonly startL: number; readonly capL: number | null; readonly perDayL: number };
/** What all waterings draw in the plan, what is left at its end, and the first day it does not reach. */
export type ButtCourse = { readonly drawnL: number; readonly leftL: number; readonly shortOn: number | null };

/** The rain butt, lived along a plan: each day's waterings first, then what comes in. */
export function buttCourse(
  lots: readonly ButtLot[],
  { visits }: Pick<SeasonPlan, 'visits'>,
  butt: Butt,
  days: number,
): ButtCourse {
  const draws = Array.from({ length: days }, () => 0);
  for (const [l, { turn, feeds }] of lots.entries())
    for (const [i, day] of (visits[l] ?? []).entries()) draws[day]! += feeds[(turn + i) % feeds.length]!.buttL;
  let level = butt.startL;
  let shortOn: number | null = null;
  for (const [t, draw] of draws.entries()) {
    if (draw > level + 1e-9) shortOn ??= t;
    level = Math.min(butt.capL ?? Infinity, Math.max(0, level - draw) + butt.perDayL);
  }
  return { drawnL: draws.reduce((sum, draw) => sum + draw, 0), leftL: level, shortOn };
}
