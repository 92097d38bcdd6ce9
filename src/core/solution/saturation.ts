import type { Constants } from './constants.ts';
import { davies } from './speciate.ts';
import type { SpeciesTable } from './species.ts';

/** Saturation indices, log10(ion activity product ÷ solubility product): above zero more is dissolved than holds; null where a part is missing. */
export type Saturation = Readonly<Record<Solid, number | null>>;
export const SOLIDS = ['calcite', 'gypsum', 'brushite', 'silica'] as const;
export type Solid = (typeof SOLIDS)[number];
export const SOLID_WORDS: Record<Solid, string> = {
  calcite: 'calcium carbonate (scale)',
  gypsum: 'calcium sulphate (gypsum)',
  brushite: 'calcium phosphate',
  silica: 'silica',
};

/** Indices of calcite, gypsum, brushite (CaHPO4·2H2O) and amorphous silica from free ions, mmol/L. */
export function saturationOf(species: SpeciesTable, ionicStrength: number, k: Constants): Saturation {
  const { g0, g2 } = davies(ionicStrength, k.daviesA);
  const ca = (species.Ca / 1000) * g2;
  const index = (product: number, solubility: number) => (product > 0 ? Math.log10(product / solubility) : null);
  return {
    calcite: index(ca * (species.CO3 / 1000) * g2, k.calcite),
    gypsum: index(ca * (species.SO4 / 1000) * g2, k.gypsum),
    brushite: index(ca * (species.HPO4 / 1000) * g2, k.brushite),
    silica: index((species.H4SiO4 / 1000) * g0, k.silica),
  };
}
