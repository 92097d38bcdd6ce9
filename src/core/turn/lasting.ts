import { daysBetween, type LocalDate } from '../regimen/index.ts';

/** Used on a day: a feed, a water. */
export type Used = { readonly on: LocalDate; readonly what: string };
/** From a day on something else was used, and stayed. */
export type Lasting = { readonly on: LocalDate; readonly from: string; readonly to: string };

/** Shorter than this it was a try, or a bottle lent. House rule. */
const STAYS_DAYS = 21;
/** Of the uses since, so many at least. */
const MOSTLY = 0.7;

/**
 * Where what was used changed for good: from a day on mostly something else, for three weeks at least, after three weeks of mostly what was used before.
 * One bucket made otherwise is no turn.
 * @param used oldest first
 */
export function lastingChanges(used: readonly Used[]): Lasting[] {
  const found: Lasting[] = [];
  let start = 0;
  for (let i = 1; i < used.length; i++) {
    const { on, what } = used[i]!;
    if (what === used[i - 1]!.what) continue;
    const before = mostOf(used.slice(start, i).filter((u) => daysBetween(u.on, on) <= 2 * STAYS_DAYS));
    if (before === undefined || before === what || daysBetween(used[start]!.on, on) < STAYS_DAYS) continue;
    const since = used.slice(i).filter((u) => daysBetween(on, u.on) <= STAYS_DAYS);
    if (daysBetween(on, used.at(-1)!.on) < STAYS_DAYS || mostOf(since) !== what) continue;
    found.push({ on, from: before, to: what });
    start = i;
  }
  return found;
}

/** What was mostly used; undefined where nothing was. */
function mostOf(used: readonly Used[]): string | undefined {
  const counts = new Map<string, number>();
  for (const { what } of used) counts.set(what, (counts.get(what) ?? 0) + 1);
  return [...counts].find(([, n]) => n >= MOSTLY * used.length)?.[0];
}
