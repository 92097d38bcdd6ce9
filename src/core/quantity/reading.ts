/**
 * What an instrument said. A prediction is never one of these, and "not measured" is a value of its own, never a zero.
 * `range` is a drop kit's answer; `overRange` is a pen past its end.
 */
export type Reading =
  | { readonly kind: 'value'; readonly value: number }
  | { readonly kind: 'range'; readonly low: number; readonly high: number }
  | { readonly kind: 'overRange' }
  | { readonly kind: 'notMeasured' };

export const NOT_MEASURED: Reading = Object.freeze({ kind: 'notMeasured' });

/** The bounds a pen can show. Past them a typed figure is a slip of the finger, not a reading. */
export const PPM_LIMITS = Object.freeze({ low: 0, high: 9990 });
export const PH_LIMITS = Object.freeze({ low: 0, high: 14 });

export type ReadingQuantity = 'ppm' | 'pH';

export type ParsedReading =
  { readonly ok: true; readonly reading: Reading } | { readonly ok: false; readonly message: string };

const RANGE = /^(\d+(?:[.,]\d+)?)\s*(?:-|–|to)\s*(\d+(?:[.,]\d+)?)$/;
const NUMBER = /^-?\d+(?:[.,]\d+)?$/;
const toNumber = (text: string) => Number(text.replace(',', '.'));

/**
 * Reads what a grower typed into a reading field. Empty means not measured; "over" means past the pen's end; "6.0-6.5" is a drop kit's range;
 * a decimal comma is fine. Anything else is answered with a message that says what to do, and never with a number.
 * @param quantity which instrument: 'ppm' (0 to 9990 on the pen's scale) or 'pH' (0 to 14)
 * @example parseReading('5,6', 'pH') // { ok: true, reading: { kind: 'value', value: 5.6 } }
 */
export function parseReading(text: string, quantity: ReadingQuantity): ParsedReading {
  const typed = text.trim().toLowerCase();
  if (typed === '') return { ok: true, reading: NOT_MEASURED };
  if (quantity === 'ppm' && /^over( ?range)?$/.test(typed)) return { ok: true, reading: { kind: 'overRange' } };
  const grouped = quantity === 'ppm' && /^\d{1,3}(,\d{3})+$/.test(typed) ? typed.replaceAll(',', '') : typed;
  if (NUMBER.test(grouped)) {
    const value = toNumber(grouped);
    const message = outsideMessage(value, quantity);
    return message ? { ok: false, message } : { ok: true, reading: { kind: 'value', value } };
  }
  const range = RANGE.exec(typed);
  if (range?.[1] && range[2]) {
    const [low, high] = [toNumber(range[1]), toNumber(range[2])].sort((a, b) => a - b) as [number, number];
    const message = outsideMessage(low, quantity) ?? outsideMessage(high, quantity);
    return message ? { ok: false, message } : { ok: true, reading: { kind: 'range', low, high } };
  }
  return {
    ok: false,
    message:
      quantity === 'ppm'
        ? 'Type the figure on the pen, such as 104, or leave it empty for not measured.'
        : 'Type the figure on the pen, such as 5.8, or leave it empty for not measured.',
  };
}

/** A message when `value` cannot stand on the instrument, else undefined. */
export function outsideMessage(value: number, quantity: ReadingQuantity): string | undefined {
  const limits = quantity === 'ppm' ? PPM_LIMITS : PH_LIMITS;
  if (value >= limits.low && value <= limits.high) return undefined;
  if (quantity === 'pH') return `pH ${value} is not on the scale: pens read 0 to 14. Read it again.`;
  if (value < 0) return 'A pen never reads below 0 ppm. Leave it empty for not measured.';
  return `${value.toLocaleString('en-GB')} ppm is past what a pen can show (9,990). A digit too many? If the pen shows its over mark, type over.`;
}

/** The middle of a reading as a number, or undefined where there is none (over range, not measured). */
export function readingMiddle(reading: Reading): number | undefined {
  if (reading.kind === 'value') return reading.value;
  if (reading.kind === 'range') return (reading.low + reading.high) / 2;
  return undefined;
}
