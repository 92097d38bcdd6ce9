import { addComposition, type Composition } from './composition.ts';
import { findRoot } from './find-root.ts';
import { CLOSED, solve } from './solve.ts';
import { doseToPh } from './titrate.ts';

/** A thing that is bought: what one mL (or g) of it costs, in any one money. */
export type Priced = { readonly perUnit: Composition; readonly costPerUnit: number };

/**
 * Dose that puts a net reading over a water, by the chemistry.
 * @param water mmol/L @param perUnit mmol per mL (g) @param netEcUsCm over the water's own, µS/cm, > 0
 * @returns mL (g) per litre, or undefined where the product conducts nothing or the solution is outside the model
 */
export function doseForNet(water: Composition, perUnit: Composition, netEcUsCm: number): number | undefined {
  const base = solve(water, CLOSED);
  if (!base.ok || !(netEcUsCm > 0)) return undefined;
  const off = (dose: number) => {
    const solved = solve(addComposition(water, perUnit, dose));
    return solved.ok ? solved.ecUsCm - base.ecUsCm - netEcUsCm : Number.POSITIVE_INFINITY;
  };
  let high = 0.01;
  while (off(high) < 0 && high < 1000) high *= 2;
  const root = findRoot(off, 0, high, 1e-6);
  return root.converged && Number.isFinite(root.residual) ? root.x : undefined;
}

export type CostOf10L = {
  readonly product: number;
  readonly acid: number;
  readonly water: number;
  readonly whole: number;
  /** mL (g) of the product and mL of the acid in a litre. */
  readonly doseMlL: number;
  readonly acidMlL: number;
};

/**
 * What ten litres truly cost: the product at its dose, the acid that the mix then needs, the water.
 * @param targetPh wanted at pouring @param acid the acid (or alkali) at hand, or null: then what it would take is not counted
 * @returns undefined where the mix is outside the model
 */
export function costOf10L(
  water: { readonly composition: Composition; readonly costPerL: number },
  product: Priced,
  doseMlL: number,
  acid: Priced | null,
  targetPh: number,
): CostOf10L | undefined {
  const total = addComposition(water.composition, product.perUnit, doseMlL);
  const before = solve(total);
  if (!before.ok) return undefined;
  let acidMlL = 0;
  if (acid && before.ph > targetPh) {
    const dose = doseToPh(total, acid.perUnit, targetPh, 'down');
    if (!dose.ok) return undefined;
    acidMlL = dose.mlPerL;
  }
  const parts = {
    product: 10 * doseMlL * product.costPerUnit,
    acid: 10 * acidMlL * (acid?.costPerUnit ?? 0),
    water: 10 * water.costPerL,
  };
  return { ...parts, whole: parts.product + parts.acid + parts.water, doseMlL, acidMlL };
}
