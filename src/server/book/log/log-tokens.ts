/*
 * What a line of the log is found by. Words are kept as they are written, without accents and capitals; "R-02" and "0.6" stay one word. What it is about is kept as
 * marks, which no word a grower types can be: they begin with an underscore.
 */

const WORD = /[\p{L}\p{N}]+(?:[-.'][\p{L}\p{N}]+)*/gu;
const ACCENTS = /\p{M}/gu;

/** The words of a text, each once. @example wordsIn('Flushed 0.6 L at R-02') // ['flushed', '0.6', 'l', 'at', 'r-02'] */
export function wordsIn(text: string): string[] {
  const plain = text.normalize('NFD').replace(ACCENTS, '').toLowerCase();
  return [...new Set(plain.match(WORD) ?? [])].map((word) => word.replaceAll("'", ''));
}

/** Things a line can be about, and how each is marked. */
const MARKS = { pot: 'p', place: 'l', batch: 'b', meter: 'm', subject: 's', group: 'g', kind: 'k' } as const;
/** @param of an id, or the name of a group or kind */
export const markOf = (what: keyof typeof MARKS, of: string): string => `_${MARKS[what]}${of.replaceAll('-', '')}`;
/** A line that puts another right. */
export const CORRECTS_MARK = '_corrects';
/** A line that is a picture, or holds one. */
export const PHOTO_MARK = '_photo';

/** One word of the search as the index asks for it: quoted, and begun with where `begins`. */
export const asked = (word: string, begins: boolean): string => `"${word}"${begins ? '*' : ''}`;

/*
 * Lines are numbered by their day first, so that the newest day is found first, whenever it was written down: day × 10⁹ + sequence number.
 */
const A_DAY = 1_000_000_000;
const DAY_MS = 86_400_000;
/** A day that is none (a hand in the file) counts as before all others. */
export const numberOf = (on: string, seq: number): number => {
  const day = Date.parse(on) / DAY_MS;
  return (Number.isInteger(day) && day > 0 ? day : 0) * A_DAY + seq;
};
export const seqOf = (number: number): number => number % A_DAY;
export const dayOf = (number: number): string =>
  new Date(Math.floor(number / A_DAY) * DAY_MS).toISOString().slice(0, 10);
/** Past every line of a day. */
export const pastDay = (on: string): number => numberOf(on, A_DAY - 1);
