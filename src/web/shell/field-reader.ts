/** A number as typed, with comma or point; undefined when nothing stands there, NaN when it is none. */
export function readNumber(text: string): number | undefined {
  const plain = text.trim().replace(',', '.');
  return plain === '' ? undefined : Number(plain);
}

/**
 * What stands in a number field, for the act: null when it is empty, and the text itself when it is no number, so that the contract refuses
 * it with its message at the field. (NaN would travel as null and pass for "not known".)
 */
export function typedNumber(text: string): number | string | null {
  const value = readNumber(text);
  return value === undefined ? null : Number.isFinite(value) ? value : text;
}
