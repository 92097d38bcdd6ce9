/** Non-breaking space: the unit never wraps away from its number. */
const NBSP = '\u00a0';

/** A volume in the unit a grower would pour it by: "250 mL" under a litre, "2.6 L" from there on, small doses to 0.01 mL. */
export function volumeWords(volumeMl: number): string {
  if (volumeMl >= 1000) return `${trim(volumeMl / 1000, 1)}${NBSP}L`;
  if (volumeMl >= 20) return `${Math.round(volumeMl)}${NBSP}mL`;
  return `${trim(volumeMl, 2)}${NBSP}mL`;
}

/** A count with its noun: "1 drop", "4 drops". */
export function countWords(count: number, one: string, many = `${one}s`): string {
  return `${count}${NBSP}${count === 1 ? one : many}`;
}

function trim(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)));
}
