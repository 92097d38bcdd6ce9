import { mean } from 'simple-statistics';
import { FALSE_ALARM, studentQuantile } from '../trial/index.ts';

/*
 * Two groups of pots that nobody drew by lot. What a place and a kind of plant do to a pot is in both, so pots are set against those of the same place and the same
 * plant only: a linear model with a level of its own for each such set and one difference for all of them (a randomized block without the lot: Montgomery, Design and
 * Analysis of Experiments, ch. 4; exact matching: Iacus, King & Porro 2012, Political Analysis 20:1). It says what differs, not what it comes from.
 */

/** One measure of one pot over the weeks looked at: its own mean. */
export type MatchedPot = {
  readonly id: string;
  readonly place: string;
  readonly plant: string;
  readonly value: number;
};
export type MatchedBy = 'plantAndPlace' | 'place';
/** What the first group has more of, with its 95 % interval, in the measure's own unit. */
export type Matched = {
  readonly mean: number;
  readonly low: number;
  readonly high: number;
  readonly by: MatchedBy;
  /** Sets in which both groups have a pot. */
  readonly sets: number;
  /** Pots of the first and the second group in these sets. */
  readonly pots: readonly [number, number];
};

/** Fewer pots of a group, or fewer degrees of freedom, say nothing. House rule. */
const FEWEST = 3;

type Set = { readonly some: number[]; readonly others: number[] };

/**
 * The difference within sets of pots of the same plant and place; where too few of a plant stand in both groups, within places.
 * @returns 'nothing' where too few pots of both groups share a place; 'same' where no pot of a set differs from another of its group, so that nothing tells how pots differ
 */
export function matchedDifference(
  some: readonly MatchedPot[],
  others: readonly MatchedPot[],
): Matched | 'nothing' | 'same' {
  for (const by of ['plantAndPlace', 'place'] as const) {
    const key = ({ place, plant }: MatchedPot) => (by === 'place' ? place : JSON.stringify([place, plant]));
    const sets = setsOf(some, others, key);
    const pots = [sets.flatMap((s) => s.some).length, sets.flatMap((s) => s.others).length] as const;
    if (Math.min(...pots) < FEWEST || pots[0] + pots[1] - sets.length - 1 < FEWEST) continue;
    const found = withinSets(sets);
    return found === 'same' ? 'same' : { ...found, by, sets: sets.length, pots };
  }
  return 'nothing';
}

function setsOf(some: readonly MatchedPot[], others: readonly MatchedPot[], keyOf: (pot: MatchedPot) => string): Set[] {
  const sets = new Map<string, Set>();
  const put = (pot: MatchedPot, side: keyof Set) => {
    const set = sets.get(keyOf(pot)) ?? { some: [], others: [] };
    set[side].push(pot.value);
    sets.set(keyOf(pot), set);
  };
  for (const pot of some) put(pot, 'some');
  for (const pot of others) put(pot, 'others');
  return [...sets.values()].filter((set) => set.some.length > 0 && set.others.length > 0);
}

/** Least squares with a level for each set; the wider of the interval for one common spread and of that for any (HC2: MacKinnon & White 1985, J. Econometrics 29:305; it is Student’s of pairs, and Welch’s of two groups). */
function withinSets(sets: readonly Set[]): Pick<Matched, 'mean' | 'low' | 'high'> | 'same' {
  // Each pot as it lies from its set's middle: its value, and how much it is of the first group.
  const rows = sets.flatMap(({ some, others }) => {
    const n = some.length + others.length;
    const [share, middle] = [some.length / n, mean([...some, ...others])];
    return [
      ...some.map((value) => ({ x: 1 - share, y: value - middle, n })),
      ...others.map((value) => ({ x: -share, y: value - middle, n })),
    ];
  });
  const squares = rows.reduce((sum, { x }) => sum + x * x, 0);
  const difference = rows.reduce((sum, { x, y }) => sum + x * y, 0) / squares;
  const left = rows.map(({ x, y, n }) => ({ x, e: y - difference * x, h: 1 / n + (x * x) / squares }));
  const freedom = rows.length - sets.length - 1;
  const error = left.reduce((sum, { e }) => sum + e * e, 0);
  // What rounding leaves of values that are all alike is no spread of theirs.
  const largest = Math.max(...sets.flatMap(({ some, others }) => [...some, ...others]).map(Math.abs));
  if (Math.sqrt(error) <= largest * 1e-9) return 'same';
  const common = error / freedom / squares;
  const any = left.reduce((sum, { x, e, h }) => sum + (h < 1 - 1e-9 ? (x * e) ** 2 / (1 - h) : 0), 0) / squares ** 2;
  const half = studentQuantile(1 - FALSE_ALARM / 2, freedom) * Math.sqrt(Math.max(common, any));
  return { mean: difference, low: difference - half, high: difference + half };
}
