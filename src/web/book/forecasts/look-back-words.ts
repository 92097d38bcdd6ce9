import type { Foretold, LookBack, LookedMark, MissReason } from '../../../contract/look-back.ts';
import { dayMonth, mL, NBSP, phText, ppmText } from '../../shell/format.ts';

export type Figure = LookBack['figures'][number];
export const FORETOLD_NAMES: Record<Foretold, string> = {
  left: 'What was left',
  ppm: 'Strength of the old reservoir',
  ph: 'pH of the old reservoir',
  clay: 'Clay soaks, over the water’s own',
};
/** A 90 % band that holds so much and so little is as it should be, for the readings of a month. */
export const HONEST = { low: 0.82, high: 0.97 };
/** A range that is within so much of the model's own is as wide as at first. */
const AS_AT_FIRST = 0.07;
/** Fewer readings than this say little. */
export const FEWEST = 20;
/** A lean smaller than this is none: pH, mL, ppm, ppm. */
const LEVEL: Record<Foretold, number> = { ph: 0.05, left: 3, ppm: 3, clay: 3 };

/** How wide the ranges have come to be. */
export function widthWords(width: number): string {
  if (Math.abs(width - 1) < AS_AT_FIRST) return 'as wide as at first';
  const percent = Math.round(100 * Math.abs(width - 1));
  return `${percent}${NBSP}% ${width < 1 ? 'narrower' : 'wider'} than at first`;
}

export function verdict({ readings, inside }: Figure): { words: string; chip: string } {
  if (readings < FEWEST) return { words: 'too few to tell', chip: '' };
  const share = inside / readings;
  if (share < HONEST.low) return { words: 'too sure', chip: 'late' };
  return share > HONEST.high ? { words: 'on the shy side', chip: 'soon' } : { words: 'as it should be', chip: 'good' };
}

export function biasWords({ what, bias }: Pick<Figure, 'what' | 'bias'>): string {
  if (Math.abs(bias) < LEVEL[what]) return 'level';
  const words =
    what === 'ph'
      ? Math.abs(bias).toFixed(2)
      : what === 'left'
        ? mL(Math.abs(Math.round(bias)))
        : `${ppmText(Math.abs(bias))} ppm`;
  return `${words} ${bias > 0 ? 'above' : 'below'}`;
}

export const figureText = (what: Foretold, value: number): string =>
  what === 'ph' ? phText(value) : what === 'left' ? mL(Math.round(value)) : `${ppmText(value)} ppm`;

const NAME_IN_SENTENCE: Record<Foretold, string> = {
  left: 'what was left',
  ppm: 'strength',
  ph: 'pH',
  clay: 'new clay',
};
/** What was learned of the forecasts themselves, in a sentence; empty where nothing was. */
export function learnedWords(figures: readonly Figure[]): string {
  const told = figures
    .filter(({ readings }) => readings >= FEWEST)
    .flatMap(({ what, bias, width }) => {
      const level = Math.abs(bias) < LEVEL[what];
      const wide = Math.abs(width - 1) >= AS_AT_FIRST;
      if (level && !wide) return [];
      const lean = level
        ? 'came out level'
        : `came out ${biasWords({ what, bias }).replace('above', 'higher').replace('below', 'lower')}`;
      return [`${NAME_IN_SENTENCE[what]} ${lean}${wide ? `, and its ranges are ${widthWords(width)}` : ''}`];
    });
  if (told.length === 0) return '';
  const all = told.join('; ');
  // pH keeps its small letter wherever it stands.
  return `${all.startsWith('pH') ? all : all.charAt(0).toUpperCase() + all.slice(1)}.`;
}

export const isOutside = ({ read, low, high }: Pick<LookedMark, 'read' | 'low' | 'high'>) => read < low || read > high;

/** What may be why, in words. */
export function reasonWords(why: MissReason, what: Foretold): string {
  switch (why.kind) {
    case 'turn':
      return why.isPen ? `${why.title}, since ${dayMonth(why.on)}` : `${why.title}, ${dayMonth(why.on)}`;
    case 'mix':
      return `${why.n} of the ${why.of} pots of its mix landed on that side: look at how that mix was measured`;
    case 'day':
      return `${why.n} of the ${why.of} pots read that day landed on that side: something of that day, such as the weather or a pen`;
    case 'dry':
      return 'found dry: what little was left had drawn together';
    case 'guessedOff':
      return 'what was poured off before was not measured';
    case 'unreadWater':
      return 'its water was not read before it went on';
    case 'few':
      if (why.n === 0) return 'it had never been read before';
      if (what === 'clay') return `only ${why.n === 1 ? 'one reading' : `${why.n} readings`} of it came before`;
      return `only ${why.n === 1 ? 'one visit' : `${why.n} visits`} of it had been read before`;
  }
}
