import { seededRandom } from '../statistics/index.ts';

/** What makes two pots alike: where they stand, what grows in them, how large they are, how they stood so far. */
export type TrialPot = {
  readonly id: string;
  readonly place: string;
  readonly plant: string;
  /** mL of a filling. */
  readonly fillMl: number;
  /** Mean of its outcome over the weeks before; null where it was never measured. */
  readonly before: number | null;
};
/** A pair, its first pot in the first arm. */
export type Pair = readonly [string, string];

/** How unlike two pots are: another place weighs most, since its light and warmth come with it. */
function unlike(a: TrialPot, b: TrialPot, spread: number): number {
  const size = Math.abs(Math.log(a.fillMl / b.fillMl));
  const stood = a.before === null || b.before === null || spread === 0 ? 1 : Math.abs(a.before - b.before) / spread;
  return (a.place === b.place ? 0 : 3) + (a.plant === b.plant ? 0 : 1) + size + stood;
}

/**
 * Pairs of pots as like as can be, the likest first, and which of each gets the first arm by lot. Of an odd number one is left out: the one that is like none.
 * @param seed the lot; the same seed gives the same pairs whatever the order of the pots
 */
export function matchedPairs(pots: readonly TrialPot[], seed: number): { pairs: Pair[]; left: string[] } {
  const sorted = [...pots].sort((a, b) => (a.id < b.id ? -1 : 1));
  const known = sorted.flatMap(({ before }) => before ?? []);
  const middle = known.reduce((sum, x) => sum + x, 0) / Math.max(1, known.length);
  const spread = Math.sqrt(known.reduce((sum, x) => sum + (x - middle) ** 2, 0) / Math.max(1, known.length - 1));
  const all = sorted
    .flatMap((a, i) => sorted.slice(i + 1).map((b) => ({ a, b, d: unlike(a, b, spread) })))
    .sort((x, y) => x.d - y.d || (x.a.id + x.b.id < y.a.id + y.b.id ? -1 : 1));
  const random = seededRandom(seed);
  const taken = new Set<string>();
  const pairs: Pair[] = [];
  for (const { a, b } of all) {
    if (taken.has(a.id) || taken.has(b.id)) continue;
    taken.add(a.id).add(b.id);
    pairs.push(random() < 0.5 ? [a.id, b.id] : [b.id, a.id]);
  }
  return { pairs, left: sorted.filter(({ id }) => !taken.has(id)).map(({ id }) => id) };
}
