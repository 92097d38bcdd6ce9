import type { Reading } from '../quantity/index.ts';

/* Figures as people write them in old records. */

export const DECIMAL_MARKS = ['point', 'comma'] as const;
export type DecimalMark = (typeof DECIMAL_MARKS)[number];

const NOTHING = /^(?:|[-–—?.]+|n\/?a|none|nil|not measured|x)$/i;
const GROUPED: Readonly<Record<DecimalMark, RegExp>> = {
  point: /^\d{1,3}(?:[, '’]\d{3})+(?:\.\d+)?$/,
  comma: /^\d{1,3}(?:[. '’]\d{3})+(?:,\d+)?$/,
};
const PLAIN: Readonly<Record<DecimalMark, RegExp>> = {
  point: /^\d+(?:\.\d+)?$|^\.\d+$/,
  comma: /^\d+(?:,\d+)?$|^,\d+$/,
};
/** Units behind a figure, as signs: the column’s own says nothing new, any other makes the figure none of the column’s. */
export const SIGNS = {
  ppm: /^ppm$/i,
  'µS/cm': /^[µu]s(?:\/cm)?$/i,
  'mS/cm': /^ms(?:\/cm)?$/i,
  pH: /^ph$/i,
  '°C': /^°?c$/i,
} as const;
export type Sign = keyof typeof SIGNS;

/** Whether a cell says that nothing was measured. */
export const isNothing = (text: string): boolean => NOTHING.test(text.trim());

/**
 * A figure as written with such a decimal mark; undefined where it is none: never a guess.
 * @example figureIn('comma', '5,8') // 5.8
 * @example figureIn('point', '1,250') // 1250
 * @example figureIn('point', '5,8') // undefined
 */
export function figureIn(mark: DecimalMark, text: string, sign?: Sign): number | undefined {
  const plain = withoutSign(text.trim(), sign);
  if (PLAIN[mark].test(plain)) return Number(plain.replace(',', '.'));
  if (!GROUPED[mark].test(plain)) return undefined;
  return Number(mark === 'point' ? plain.replace(/[, '’]/g, '') : plain.replace(/[. '’]/g, '').replace(',', '.'));
}

/**
 * A reading as written: a figure, or from and to as a kit of colours gives it, or nothing. @param times what one unit of the column is on the pen
 * @returns undefined where it is none of them
 */
export function readingIn(
  mark: DecimalMark,
  text: string,
  { times = 1, digits = 1, sign }: { times?: number; digits?: number; sign?: Sign } = {},
): Reading | undefined {
  if (isNothing(text)) return { kind: 'notMeasured' };
  const [from, to] = text.split(/\s*(?:[-–—]|\bto\b)\s*/).map((part) => figureIn(mark, part, sign));
  const own = (figure: number) => Number((figure * times).toFixed(digits));
  if (from === undefined) return undefined;
  if (!/[-–—]|\bto\b/.test(text)) return { kind: 'value', value: own(from) };
  return to === undefined || to <= from ? undefined : { kind: 'range', low: own(from), high: own(to) };
}

function withoutSign(text: string, sign: Sign | undefined): string {
  const [, figure = text, unit = ''] = /^(.*?)\s*([^\d\s.,]+)$/.exec(text) ?? [];
  const before = /^(ph)\s*(\d.*)$/i.exec(text);
  if (sign === 'pH' && before) return before[2]!;
  return sign !== undefined && SIGNS[sign].test(unit) ? figure : text;
}

/** The decimal mark that figures of a file are written with. Where nothing tells, it is the point. */
export function decimalMarkOf(texts: readonly string[]): DecimalMark {
  const comma = texts.filter((text) => /\d,\d{1,2}(?!\d)/.test(text)).length;
  const point = texts.filter((text) => /\d\.\d{1,2}(?!\d)/.test(text)).length;
  return comma > point ? 'comma' : 'point';
}
