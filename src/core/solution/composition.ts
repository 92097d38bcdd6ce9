import { DomainError, requirePositive } from '../quantity/index.ts';

/**
 * What a solution is made of, as totals: CO2 is all inorganic carbon, PO4 all phosphate, SiO2 all dissolved silica, NH4 ammonium with
 * ammonia, Fe the chelated iron (held as FeEDTA−), borate with boric acid. Hydrogen is not kept: it follows from electroneutrality.
 */
export const COMPONENTS = [
  'Ca',
  'Mg',
  'K',
  'Na',
  'NH4',
  'Fe',
  'NO3',
  'Cl',
  'SO4',
  'PO4',
  'SiO2',
  'CO2',
  'citrate',
  'acetate',
  'borate',
  'urea',
] as const;
export type Component = (typeof COMPONENTS)[number];

/** Totals in mmol/L (or, for a product, mmol per mL or g of it). Every component is there and none is below zero. */
export type Composition = Readonly<Record<Component, number>>;

/** Water with nothing in it. */
export const PURE_WATER: Composition = Object.freeze(
  Object.fromEntries(COMPONENTS.map((c) => [c, 0])) as Record<Component, number>,
);

/**
 * A composition from the components that are there.
 * @param parts mmol/L, each finite and ≥ 0; what is not named is zero
 * @throws DomainError `negative` naming the component
 * @example composition({ K: 10, Cl: 10 }) // the 0.01 mol/L conductivity standard
 */
export function composition(parts: Partial<Record<Component, number>>): Composition {
  const made: Record<Component, number> = { ...PURE_WATER };
  for (const component of COMPONENTS) {
    const value = parts[component] ?? 0;
    if (!(value >= 0 && Number.isFinite(value))) {
      throw new DomainError(
        'negative',
        `${component} cannot be below zero`,
        value,
        `Give ${component} as zero or more.`,
      );
    }
    made[component] = value;
  }
  return made;
}

/** Each component times `factor` (≥ 0): thinning with pure water below 1, evaporation above. Closed: carbon stays in. */
export function scaleComposition(c: Composition, factor: number): Composition {
  return mapComponents((component) => c[component] * factor);
}

/** Sum of two compositions, with `times` of the second: a product stirred in, its own volume neglected (some mL in litres). */
export function addComposition(c: Composition, dose: Composition, times = 1): Composition {
  return mapComponents((component) => c[component] + dose[component] * times);
}

/**
 * Blend of solutions by volume; every component is conserved. What it reads and its pH follow by solving it: neither is linear.
 * @param parts volume in any one unit, > 0 in all
 * @throws DomainError `not-positive` when there is no volume
 */
export function blendCompositions(
  parts: readonly { readonly volumeL: number; readonly of: Composition }[],
): Composition {
  const total = parts.reduce((sum, part) => sum + part.volumeL, 0);
  requirePositive(total, 'the blend');
  return mapComponents((component) => parts.reduce((sum, part) => sum + part.volumeL * part.of[component], 0) / total);
}

/**
 * What evaporation leaves: all that is dissolved in less water, carbon kept (closed). Solve it open to let the gas go.
 * @param volumeL before, L, > 0 @param leftL after, L, > 0
 * @example evaporate(feed, 1, 0.5) // twice the strength
 */
export function evaporate(c: Composition, volumeL: number, leftL: number): Composition {
  requirePositive(volumeL, 'the volume');
  requirePositive(leftL, 'what is left');
  return scaleComposition(c, volumeL / leftL);
}

/**
 * Alkalinity from the totals: what acid it takes to the CO2 end point (about pH 4.5). Linear in the composition, so it blends and dilutes exactly.
 * Zero-level species by pK 4.5 (Dickson 1981): NH4+, H2PO4−, H4SiO4, CO2, H2Cit−, HAc, B(OH)3.
 * @returns meq/L; negative when the solution is more acid than that point
 */
export function alkalinityMeqL(c: Composition): number {
  return 2 * (c.Ca + c.Mg - c.SO4) + c.K + c.Na + c.NH4 - c.Fe - c.NO3 - c.Cl - c.PO4 - c.citrate;
}

/** Hardness, calcium and magnesium together, meq/L (1 meq/L = 2.804 °dGH). */
export function hardnessMeqL(c: Composition): number {
  return 2 * (c.Ca + c.Mg);
}

function mapComponents(of: (component: Component) => number): Composition {
  const made: Record<Component, number> = { ...PURE_WATER };
  for (const component of COMPONENTS) made[component] = of(component);
  return made;
}
