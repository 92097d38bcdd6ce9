import { normal, type Random } from '../statistics/index.ts';

/** The hidden make-up of a simulated pen. `offset` in the pen's own unit; `gain` 1 is true; `noise` 1 SD of a settled reading. */
export type SimPen = {
  readonly quantity: 'ppm' | 'pH';
  readonly resolution: number;
  readonly offset: number;
  readonly gain: number;
  readonly noise: number;
  readonly settleSeconds: number;
  readonly most: number;
};

/** What the display shows at a moment of a dip. */
export type PenDisplay = { readonly shown: number | 'over'; readonly settled: boolean };

/** After so many settling times the display stands still. */
const SETTLED_AFTER = 5;

/**
 * A dip: from the value the pen last stood in towards the truth, exponentially, then still. Noise is drawn once for the dip and a little
 * for every display, dying away as it settles.
 * @param truth what the sample truly is, in the pen's unit
 * @param from what the display stood at before
 * @returns display at `elapsedSeconds`
 */
export function dipPen(
  pen: SimPen,
  truth: number,
  from: number,
  random: Random,
): (elapsedSeconds: number) => PenDisplay {
  const final = truth * pen.gain + pen.offset + pen.noise * normal(random);
  const tau = pen.settleSeconds / SETTLED_AFTER;
  return (elapsedSeconds) => {
    const settled = elapsedSeconds >= pen.settleSeconds;
    const left = settled ? 0 : Math.exp(-elapsedSeconds / tau);
    const value = final + (from - final) * left + (settled ? 0 : pen.noise * normal(random) * left);
    if (value > pen.most) return { shown: 'over', settled };
    return { shown: Math.max(0, Number((Math.round(value / pen.resolution) * pen.resolution).toFixed(2))), settled };
  };
}
