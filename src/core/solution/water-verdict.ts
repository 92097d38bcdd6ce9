import { findRoot } from './find-root.ts';
import { blendCompositions, type Composition } from './composition.ts';
import { solve, type Solved } from './solve.ts';
import { alkalinityMeqL } from './composition.ts';

export type Verdict = { readonly tone: 'good' | 'note' | 'warn'; readonly words: string };

/** Bands of a reading on the ½ scale, ppm (common practice). */
export const WATER_BANDS = Object.freeze({ still: 20, soak: 100, shortSoak: 200, tooMuch: 250 });

/**
 * What a water is good for, by common practice, in words. Between the bands of 200 and 250 practice has no answer, and that is said.
 * @param ecUsCm the water's own reading, µS/cm
 */
export function waterVerdict(
  ecUsCm: number,
  kind: 'still' | 'tap' | 'rain' | 'other',
): { readonly feeding: Verdict; readonly soaks: Verdict } {
  const half = ecUsCm / 2;
  const bands = WATER_BANDS;
  if (half <= bands.still) {
    return {
      feeding: { tone: 'good', words: 'best for feeds: give it calcium and magnesium' },
      soaks: { tone: 'good', words: 'fine for soaks' },
    };
  }
  if (kind === 'still') {
    return {
      feeding: { tone: 'warn', words: 'over 20 from a still-water unit: look at the membrane' },
      soaks: {
        tone: half <= bands.soak ? 'good' : 'warn',
        words: half <= bands.soak ? 'fine for soaks' : 'hardly still water any more',
      },
    };
  }
  const soaks: Verdict =
    half <= bands.soak
      ? { tone: 'good', words: 'fine for soaks' }
      : half <= bands.shortSoak
        ? { tone: 'note', words: 'tolerable for a short soak' }
        : half < bands.tooMuch
          ? { tone: 'note', words: 'for soaks practice has no word between 200 and 250' }
          : { tone: 'warn', words: 'too much for soaks' };
  const feeding: Verdict =
    half <= bands.shortSoak
      ? { tone: 'good', words: 'fit to feed with: it takes its share of the strength' }
      : half < bands.tooMuch
        ? {
            tone: 'note',
            words: 'between 200 and 250 practice does not say: blend it, or feed weaker and watch the crust',
          }
        : { tone: 'warn', words: 'too much to feed with: blend it, or use it to flush' };
  return { feeding, soaks };
}

export type Blend = {
  readonly share: number;
  readonly composition: Composition;
  readonly solved: Solved;
  readonly alkalinityMeqL: number;
};

/**
 * How much of a stronger water, in one litre of a blend with a weaker, gives a reading: by the chemistry, not by the rule of three.
 * @param wantedEcUsCm of the blend, µS/cm
 * @returns the share of the stronger water with what the blend is, or undefined where the reading lies outside the two
 */
export function blendFor(strong: Composition, weak: Composition, wantedEcUsCm: number): Blend | undefined {
  const mix = (share: number) =>
    blendCompositions([
      { volumeL: share, of: strong },
      { volumeL: 1 - share, of: weak },
    ]);
  const off = (share: number) => {
    const solved = solve(mix(share));
    return solved.ok ? solved.ecUsCm - wantedEcUsCm : Number.NaN;
  };
  const root = findRoot(off, 0, 1, 1e-5);
  if (!root.converged) return undefined;
  const made = mix(root.x);
  const solved = solve(made);
  return solved.ok ? { share: root.x, composition: made, solved, alkalinityMeqL: alkalinityMeqL(made) } : undefined;
}
