import { ML_PER_UNIT, type VolumeUnit } from './volume.ts';

/** Units a grower owns: litres and millilitres, or gallons and fluid ounces of either kind. Doses stay in mL and drops, as syringes are marked. */
export const VOLUME_UNITS = ['metric', 'us', 'imperial'] as const;
export type VolumeUnits = (typeof VOLUME_UNITS)[number];

/** The unit a bucket and a pot are measured in. */
export const LARGE_UNIT: Record<VolumeUnits, { unit: VolumeUnit; sign: string }> = {
  metric: { unit: 'L', sign: 'L' },
  us: { unit: 'usGallon', sign: 'gal' },
  imperial: { unit: 'imperialGallon', sign: 'gal' },
};
export const SMALL_UNIT: Record<VolumeUnits, { unit: VolumeUnit; sign: string }> = {
  metric: { unit: 'mL', sign: 'mL' },
  us: { unit: 'usFluidOunce', sign: 'fl oz' },
  imperial: { unit: 'imperialFluidOunce', sign: 'fl oz' },
};

const SIGNS: readonly [RegExp, Record<VolumeUnits, VolumeUnit>][] = [
  [/^(ml|millilit(re|er)s?|cc)$/, all('mL')],
  [/^(l|lt|lit(re|er)s?)$/, all('L')],
  [/^(cl)$/, all('cL')],
  [/^(gal|gallons?)$/, { metric: 'usGallon', us: 'usGallon', imperial: 'imperialGallon' }],
  [/^(qt|quarts?)$/, { metric: 'usQuart', us: 'usQuart', imperial: 'imperialQuart' }],
  [/^(pt|pints?)$/, { metric: 'usPint', us: 'usPint', imperial: 'imperialPint' }],
  [/^(cups?)$/, all('usCup')],
  [/^(fl\.? ?oz|oz|ounces?)$/, { metric: 'usFluidOunce', us: 'usFluidOunce', imperial: 'imperialFluidOunce' }],
  [/^(tsp|teaspoons?)$/, { metric: 'metricSpoon', us: 'usTeaspoon', imperial: 'metricSpoon' }],
  [/^(tbsp|tablespoons?)$/, all('usTablespoon')],
];

export type ParsedVolume =
  | { readonly kind: 'volume'; readonly ml: number }
  | { readonly kind: 'empty' }
  | { readonly kind: 'unclear'; readonly message: string };

/**
 * Reads a volume as a grower writes it: "250", "250 ml", "0,25 L", "½ gal", "8 oz". A bare number is in `bare`.
 * @param units which gallon, pint and ounce are meant
 * @returns mL; or that nothing was written; or what is unclear
 * @example parseVolume('8 oz', 'mL', 'us') // { kind: 'volume', ml: 236.588236… }
 */
export function parseVolume(text: string, bare: VolumeUnit, units: VolumeUnits): ParsedVolume {
  const plain = text.trim().toLowerCase().replace(/\s+/g, ' ');
  if (plain === '') return { kind: 'empty' };
  const match = /^(\d+(?:[.,]\d+)?)?\s?([½¼¾⅓⅔])?\s?([a-z. ]*)$/.exec(plain);
  const [, digits, fraction, sign = ''] = match ?? [];
  const amount =
    (digits === undefined ? 0 : Number(digits.replace(',', '.'))) + (fraction === undefined ? 0 : FRACTIONS[fraction]!);
  if (!match || (digits === undefined && fraction === undefined)) return unclear(text);
  const found = sign.trim() === '' ? bare : SIGNS.find(([pattern]) => pattern.test(sign.trim()))?.[1][units];
  return found === undefined ? unclear(text) : { kind: 'volume', ml: amount * ML_PER_UNIT[found] };
}

const FRACTIONS: Record<string, number> = { '½': 1 / 2, '¼': 1 / 4, '¾': 3 / 4, '⅓': 1 / 3, '⅔': 2 / 3 };

function unclear(text: string): ParsedVolume {
  return { kind: 'unclear', message: `"${text.trim()}" is not a volume. Write it as 250 mL, 0.25 L or 8 fl oz.` };
}

function all(unit: VolumeUnit): Record<VolumeUnits, VolumeUnit> {
  return { metric: unit, us: unit, imperial: unit };
}
