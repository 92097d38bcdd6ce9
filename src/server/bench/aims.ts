import type { PartAimWire } from '../../contract/recipes.ts';
import { ecFromPpm, ppmFromEc } from '../../core/quantity/index.ts';
import { ELEMENT_WORDS } from '../../core/solution/index.ts';
import type { Product } from '../database/entities.ts';
import { isSolid, labelOf } from '../collection/index.ts';

/** An aim as it is kept: net in µS/cm, so that it outlives the pen it was typed by. */
export type KeptAim = { kind: 'ec'; ecUsCm: number } | Exclude<PartAimWire, { kind: 'net' }>;

export function keepAim(aim: PartAimWire, scale: number): KeptAim {
  return aim.kind === 'net' ? { kind: 'ec', ecUsCm: ecFromPpm(aim.ppm, scale) } : aim;
}

export function showAim(aim: KeptAim, scale: number): PartAimWire {
  return aim.kind === 'ec' ? { kind: 'net', ppm: Math.round(ppmFromEc(aim.ecUsCm, scale) * 10) / 10 } : aim;
}

/** "90 over base", "0.5 mL a litre", "22 mg/L magnesium". */
export function aimWords(aim: KeptAim, scale: number, product: Product): string {
  switch (aim.kind) {
    case 'ec':
      return `${Math.round(ppmFromEc(aim.ecUsCm, scale))} over base`;
    case 'perL':
      return `${aim.units}\u00a0${isSolid(product) ? 'g' : 'mL'} a litre`;
    case 'element':
      return `${aim.mgL} mg/L ${aim.element === 'SiO2' ? 'SiO₂' : ELEMENT_WORDS[aim.element]}`;
  }
}

/** mg of SiO2 in a mg of silicon. */
const SIO2_PER_SI = 1 / 0.4674;

/**
 * What an aim comes to: a net reading for the pen to coach by, or units (mL, g) in each litre to be measured. An element's mg/L become the net
 * reading that the label's proportions give it; of silicate, which no pen reads well, they become a dose by the label.
 * @returns a message where the label is wanted and not known, or has none of it
 */
export function resolveAim(
  aim: KeptAim,
  product: Product,
): { netEcUsCm: number } | { unitsPerL: number } | { message: string } {
  if (aim.kind === 'ec') return { netEcUsCm: aim.ecUsCm };
  if (aim.kind === 'perL') return { unitsPerL: aim.units };
  const label = labelOf(product);
  const words = aim.element === 'SiO2' ? 'silica' : ELEMENT_WORDS[aim.element];
  if (!label)
    return {
      message: `Copy the label of ${product.name} on the Shelf first: without it nobody knows how much ${words} is in it.`,
    };
  const silicon = aim.element === 'SiO2' || aim.element === 'Si';
  const perUnit = aim.element === 'SiO2' ? label.elements.Si * SIO2_PER_SI : label.elements[aim.element];
  if (!(perUnit > 0)) return { message: `By its label ${product.name} has no ${words} in it.` };
  const unitsPerL = aim.mgL / perUnit;
  return silicon || !(label.ecPerUnitL > 0) ? { unitsPerL } : { netEcUsCm: unitsPerL * label.ecPerUnitL };
}
