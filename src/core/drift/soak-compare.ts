import { FELL_BY } from './soak-rules.ts';
import type { SoakKind, SoakResult } from './soak-test.ts';

/* A soak test as it was read, and two of them beside each other. */

/** A last step up by more than a pen's unrest is a test that still rises. House rule. */
const STILL_UP = 0.1;

/** One reading of a test; `low` and `high` of a kit whose colour stands for a range. */
export type SoakRead = {
  readonly minutes: number;
  readonly ph: number;
  readonly low?: number | undefined;
  readonly high?: number | undefined;
};
/** `low`, `high`: what the rise may have been where either reading is a range; both `by` with a pen. `cannotBe`: even at its best the pair falls. */
export type SoakRise = {
  readonly by: number;
  readonly low: number;
  readonly high: number;
  readonly minutes: number;
  readonly stillRising: boolean;
  readonly cannotBe: boolean;
};

/**
 * The rise of a test as it was read, whatever can be reckoned from it: from its first reading to its last.
 * @param reads in the order of their minutes @returns undefined before there are two of them
 * @example riseOf([{ minutes: 0, ph: 6 }, { minutes: 62, ph: 6.8 }]) // by 0.8 in 62 minutes, still rising
 * @example riseOf([{ minutes: 0, ph: 6.25, low: 6, high: 6.5 }, { minutes: 60, ph: 7 }]) // by 0.75, from 0.5 to 1
 */
export function riseOf(reads: readonly SoakRead[]): SoakRise | undefined {
  const [first, last, before] = [reads[0], reads.at(-1), reads.at(-2)];
  if (!first || !last || !before || reads.length < 2) return undefined;
  // Figures are shown to the tenth; a difference of them is not less exact than they are.
  const apart = (to: number, from: number) => Math.round(100 * (to - from)) / 100;
  const high = apart(last.high ?? last.ph, first.low ?? first.ph);
  return {
    by: apart(last.ph, first.ph),
    low: apart(last.low ?? last.ph, first.high ?? first.ph),
    high,
    minutes: last.minutes - first.minutes,
    stillRising: (last.low ?? last.ph) - (before.high ?? before.ph) >= STILL_UP - 1e-9,
    cannotBe: high < -FELL_BY,
  };
}

/** Tests of so unlike a length are no like tests. House rule. */
const UNLIKE_TIMES = 1.5;

/** What two tests must share to be compared. `minutes`: until the last reading. */
export type SoakToCompare = {
  readonly kind: SoakKind;
  readonly covered: boolean;
  readonly minutes: number;
  readonly result: SoakResult;
};

/** Two tests of a pot, the earlier first: whether it gives more, which only tests of one kind can say. */
export function compareSoaks(
  a: SoakToCompare,
  b: SoakToCompare,
): { readonly words: string; readonly equal: boolean | undefined } {
  if (!a.result.ok || !b.result.ok) return { words: 'One of them says nothing.', equal: undefined };
  if (a.kind !== b.kind)
    return {
      words: 'Tests of different kinds are not compared as equals: repeat one with the same filling.',
      equal: undefined,
    };
  if (Math.max(a.minutes, b.minutes) > UNLIKE_TIMES * Math.min(a.minutes, b.minutes))
    return {
      words: `Not comparable as they are: one stood ${Math.round(a.minutes)} min, the other ${Math.round(b.minutes)}. Repeat one over the same time.`,
      equal: undefined,
    };
  if (a.covered !== b.covered)
    return { words: 'Not comparable as they are: one was covered and one stood open to the air.', equal: undefined };
  const [x, y] = [a.result.firstHourUeq, b.result.firstHourUeq];
  const apart = Math.abs(x.middle - y.middle) / Math.hypot(x.sd, y.sd);
  return apart < 1.64
    ? { words: 'Their ranges overlap: no difference can be told.', equal: true }
    : {
        words: x.middle > y.middle ? 'It gave more at the earlier test.' : 'It gives more than at the earlier test.',
        equal: false,
      };
}
