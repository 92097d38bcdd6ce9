import { weakMapMemoize } from 'reselect';

/**
 * The one way anything derived is kept: by the identity of its arguments, which are never changed once made. What is not an argument cannot be seen, so
 * no answer can be stale; what nobody holds any more is let go of. A call that throws is not kept.
 */
export function memo<A extends unknown[], R>(derive: (...args: A) => R): (...args: A) => R {
  return weakMapMemoize(derive);
}

/** The same for arguments that are plain figures and words: those cannot be let go of by themselves, so only the newest are kept. */
export function memoOfFigures<A extends (string | number | boolean | null | undefined)[], R>(
  derive: (...args: A) => R,
  most = MOST_KEPT,
): (...args: A) => R {
  return weakMapMemoize(derive, { maxSize: most });
}
const MOST_KEPT = 20_000;
