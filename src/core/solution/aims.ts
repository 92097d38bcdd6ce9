import { Matrix, SVD } from 'ml-matrix';
import { DomainError, requirePositive } from '../quantity/index.ts';
import type { Element } from './elements.ts';

/** A product that could go in: what a unit of it (mL, or g) brings to a litre. */
export type DosedProduct = {
  readonly id: string;
  readonly mgPerUnit: Readonly<Partial<Record<Element, number>>>;
  /** The most of it a litre may hold, mL (g); null where its label sets no limit. */
  readonly topDose: number | null;
  /** Money a unit; null where its price is not known. */
  readonly costPerUnit: number | null;
};
/** Wanted of an element, mg/L over what the water brings. */
export type ElementAim = { readonly element: Element; readonly mgL: number };
export type AimSolution = {
  /** mL (g) a litre, of the products that go in. */
  readonly doses: readonly { readonly id: string; readonly dose: number }[];
  readonly gets: readonly { readonly element: Element; readonly mgL: number; readonly wanted: number }[];
  /** Root mean square of what each aim is missed by, as a share of it. */
  readonly misfit: number;
  /** Of a litre; null where a price is not known. */
  readonly cost: number | null;
};
export type AimChoices = {
  /** Nearest to every aim. */
  readonly nearest: AimSolution;
  /** As near as makes no difference, from the fewest bottles. */
  readonly fewest: AimSolution;
  /** As near as makes no difference, for the least money; null where a price is missing. */
  readonly cheapest: AimSolution | null;
};

/** Three states a product (out, free, at its top dose) make 3ⁿ patterns; more bottles than this nobody mixes. */
const MOST_PRODUCTS = 8;
/** A misfit this much larger makes no difference to a plant. House rule. */
const NO_DIFFERENCE = 0.03;
const TINY = 1e-9;

/**
 * Doses of the products owned that meet several element aims as well as can be: least squares of the relative misses, no dose below zero or
 * above its top. Exact: at the best point each product is out, at its top, or free with the unconstrained least-squares value, and every such
 * pattern is tried.
 * @param products at most eight @param aims at least one, each above zero
 * @throws DomainError on no aim, an aim of nothing, too many products, or none that brings an aimed element
 */
export function solveForAims(products: readonly DosedProduct[], aims: readonly ElementAim[]): AimChoices {
  if (aims.length === 0) throw new DomainError('out-of-range', 'There is nothing to aim at', 0, 'Give at least one element its mg/L.');
  for (const aim of aims) requirePositive(aim.mgL, 'an aim');
  if (products.length > MOST_PRODUCTS)
    throw new DomainError('out-of-range', `More than ${MOST_PRODUCTS} products`, products.length, 'Choose the ones that may go in.');
  const useful = products.filter((p) => aims.some(({ element }) => (p.mgPerUnit[element] ?? 0) > 0));
  if (useful.length === 0) throw new DomainError('out-of-range', 'None of the products brings what is aimed at', 0, 'Add a product with that element.');
  const found = new Map<string, AimSolution>();
  const patterns = 3 ** useful.length;
  for (let pattern = 1; pattern < patterns; pattern++) {
    const solution = tryPattern(useful, aims, pattern);
    if (!solution) continue;
    const key = solution.doses.map((d) => d.id).join(' ');
    const known = found.get(key);
    if (!known || solution.misfit < known.misfit) found.set(key, solution);
  }
  const all = [...found.values()];
  const nearest = all.reduce((best, s) => (s.misfit < best.misfit - TINY || (s.misfit < best.misfit + TINY && s.doses.length < best.doses.length) ? s : best));
  const near = all.filter((s) => s.misfit <= nearest.misfit + NO_DIFFERENCE);
  const fewest = near.reduce((best, s) => (s.doses.length < best.doses.length || (s.doses.length === best.doses.length && s.misfit < best.misfit) ? s : best));
  const priced = near.filter((s): s is AimSolution & { cost: number } => s.cost !== null);
  const cheapest = priced.length === near.length ? priced.reduce((best, s) => (s.cost < best.cost ? s : best)) : null;
  return { nearest, fewest, cheapest };
}

/** One pattern's least squares, or undefined where it breaks a bound. Digits in base three: 0 out, 1 free, 2 at the top dose. */
function tryPattern(products: readonly DosedProduct[], aims: readonly ElementAim[], pattern: number): AimSolution | undefined {
  const doses = new Array<number>(products.length).fill(0);
  const free: number[] = [];
  let rest = pattern;
  for (const [i, p] of products.entries()) {
    const state = rest % 3;
    rest = Math.floor(rest / 3);
    if (state === 1) free.push(i);
    if (state === 2) {
      if (p.topDose === null) return undefined;
      doses[i] = p.topDose;
    }
  }
  // Rows are the aims as shares of themselves, so that a milligram of iron weighs as much as its aim says.
  const share = (i: number, aim: ElementAim) => (products[i]!.mgPerUnit[aim.element] ?? 0) / aim.mgL;
  if (free.length > 0) {
    const left = aims.map((aim) => 1 - doses.reduce((sum, dose, i) => sum + dose * share(i, aim), 0));
    const matrix = new Matrix(aims.map((aim) => free.map((i) => share(i, aim))));
    const svd = new SVD(matrix, { autoTranspose: true });
    // Products that say the same of every aim have no one answer; a pattern without one of them is tried too.
    if (svd.rank < free.length) return undefined;
    const solved = svd.solve(Matrix.columnVector(left)).to1DArray();
    for (const [k, i] of free.entries()) {
      const dose = solved[k]!;
      const top = products[i]!.topDose;
      if (!(dose > TINY) || (top !== null && dose > top + TINY)) return undefined;
      doses[i] = dose;
    }
  }
  const gets = aims.map((aim) => ({ element: aim.element, mgL: doses.reduce((sum, dose, i) => sum + dose * share(i, aim), 0) * aim.mgL, wanted: aim.mgL }));
  const used = products.map((p, i) => ({ p, dose: doses[i]! })).filter(({ dose }) => dose > 0);
  const cost = used.every(({ p }) => p.costPerUnit !== null) ? used.reduce((sum, { p, dose }) => sum + p.costPerUnit! * dose, 0) : null;
  return {
    doses: used.map(({ p, dose }) => ({ id: p.id, dose })),
    gets,
    misfit: Math.sqrt(gets.reduce((sum, g) => sum + (g.mgL / g.wanted - 1) ** 2, 0) / gets.length),
    cost,
  };
}
