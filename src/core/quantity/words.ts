import { fromMl } from './volume.ts';
import { LARGE_UNIT, SMALL_UNIT, type VolumeUnits } from './volume-units.ts';

/** Non-breaking space: the unit never wraps away from its number. */
const NBSP = '\u00a0';
/** From half a gallon on in gallons, from half an ounce on in ounces; below, as syringes are marked. */
const GALLONS_FROM = 0.5;
const OUNCES_FROM = 0.5;

/**
 * A volume in the unit a grower would pour it by: "250 mL" under a litre, "2.6 L" from there on, small doses to 0.01 mL; or in gallons and
 * fluid ounces.
 */
export function volumeWords(volumeMl: number, units: VolumeUnits = 'metric'): string {
  if (units !== 'metric') {
    const gallons = fromMl(volumeMl, LARGE_UNIT[units].unit);
    if (gallons >= GALLONS_FROM) return `${trim(gallons, 2)}${NBSP}${LARGE_UNIT[units].sign}`;
    const ounces = fromMl(volumeMl, SMALL_UNIT[units].unit);
    if (ounces >= OUNCES_FROM) return `${trim(ounces, ounces < 2 ? 2 : 1)}${NBSP}${SMALL_UNIT[units].sign}`;
  }
  return metricWords(volumeMl);
}

/** A dose, always in mL: "0.55 mL". */
export function doseWords(doseMl: number): string {
  return metricWords(doseMl);
}

function metricWords(volumeMl: number): string {
  if (volumeMl >= 1000) return `${trim(volumeMl / 1000, 1)}${NBSP}L`;
  if (volumeMl >= 20) return `${Math.round(volumeMl)}${NBSP}mL`;
  // What rounds to nothing is not nothing.
  if (volumeMl > 0 && volumeMl < 0.005) return `under 0.01${NBSP}mL`;
  return `${trim(volumeMl, 2)}${NBSP}mL`;
}

/** A count with its noun: "1 drop", "4 drops". */
export function countWords(count: number, one: string, many = `${one}s`): string {
  return `${count}${NBSP}${count === 1 ? one : many}`;
}

function trim(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)));
}

/** First letter large, for the beginning of a sentence. */
export function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/**
 * A list in words, cut short where it is long.
 * @param most named at the most
 * @example someOf(['R-01', 'R-02', 'R-03', 'R-04'], 2) // 'R-01, R-02 and 2 more'
 */
export function someOf(words: readonly string[], most: number): string {
  return words.length <= most + 1
    ? words.join(', ')
    : `${words.slice(0, most).join(', ')} and ${words.length - most} more`;
}

/** A name inside a sentence: "Kitchen tap" is a kitchen tap there, "RO water" stays what it is. */
export function inSentence(name: string): string {
  const [first = '', second = ''] = name;
  return second === second.toUpperCase() && second !== second.toLowerCase()
    ? name
    : first.toLowerCase() + name.slice(1);
}
