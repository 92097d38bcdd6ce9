/** Clay does not take pH down: a fall by more than a pen's unrest is a slip, or another water. House rule. */
export const FELL_BY = 0.15;
