import { CholeskyDecomposition, Matrix } from 'ml-matrix';
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

/** More bottles than this nobody mixes; every subset of them may have to be looked at. */
const MOST_PRODUCTS = 12;
/** A misfit this much larger makes no difference to a plant. House rule. */
const NO_DIFFERENCE = 0.03;
const TINY = 1e-9;

/**
 * Doses of the products owned that meet several element aims as well as can be: bounded least squares of the relative misses, no dose below zero
 * or above its top; the fewest bottles and the least money by trying all subsets, short of those whose every part misses already.
 * @param products at most twelve @param aims at least one, each above zero
 * @throws DomainError on no aim, an aim of nothing, too many products, or none that brings an aimed element
 */
export function solveForAims(products: readonly DosedProduct[], aims: readonly ElementAim[]): AimChoices {
  if (aims.length === 0)
    throw new DomainError('out-of-range', 'There is nothing to aim at', 0, 'Give at least one element its mg/L.');
  for (const aim of aims) requirePositive(aim.mgL, 'an aim');
  if (products.length > MOST_PRODUCTS)
    throw new DomainError(
      'out-of-range',
      `More than ${MOST_PRODUCTS} products`,
      products.length,
      'Choose the ones that may go in.',
    );
  const useful = products.filter((p) => aims.some(({ element }) => (p.mgPerUnit[element] ?? 0) > 0));
  if (useful.length === 0)
    throw new DomainError(
      'out-of-range',
      'None of the products brings what is aimed at',
      0,
      'Add a product with that element.',
    );
  const problem = asLeastSquares(useful, aims);
  const solve = (set: readonly number[]) => solutionOf(useful, aims, set, boundedLeastSquares(problem, set));
  const nearest = solve(useful.map((_, i) => i));
  const limit = nearest.misfit + NO_DIFFERENCE;
  let fewest = nearest;
  let cheapest = nearest.cost === null ? null : nearest;
  let priced = nearest.cost !== null;
  // What a set misses, each of its subsets misses at least: what is left out of a set is left out for good.
  const leaveOut = (set: readonly number[], from: number) => {
    for (let i = from; i < useful.length; i++) {
      const smaller = set.filter((k) => k !== i);
      if (smaller.length === 0) continue;
      const solution = solve(smaller);
      if (solution.misfit > limit) continue;
      if (better(solution, fewest)) fewest = solution;
      if (solution.cost === null) priced = false;
      else if (cheapest && solution.cost < cheapest.cost! - TINY) cheapest = solution;
      leaveOut(smaller, i + 1);
    }
  };
  leaveOut(
    useful.map((_, i) => i),
    0,
  );
  return { nearest, fewest, cheapest: priced ? cheapest : null };
}

function better(a: AimSolution, b: AimSolution): boolean {
  return a.doses.length < b.doses.length || (a.doses.length === b.doses.length && a.misfit < b.misfit - TINY);
}

/** Gram matrix and right side of the relative misses, with each product's top dose. */
type LeastSquares = {
  readonly gram: readonly (readonly number[])[];
  readonly right: readonly number[];
  readonly top: readonly number[];
};

function asLeastSquares(products: readonly DosedProduct[], aims: readonly ElementAim[]): LeastSquares {
  const column = products.map((p) => aims.map((aim) => (p.mgPerUnit[aim.element] ?? 0) / aim.mgL));
  return {
    gram: column.map((a) => column.map((b) => a.reduce((sum, v, k) => sum + v * b[k]!, 0))),
    right: column.map((a) => a.reduce((sum, v) => sum + v, 0)),
    top: products.map((p) => p.topDose ?? Infinity),
  };
}

/**
 * Least squares within bounds by active sets (Stark & Parker 1995): the product that would help most is let free, and one that hits a bound on
 * the way is held there.
 * @param set products that may go in @returns doses of all products, zero for those outside the set
 */
function boundedLeastSquares({ gram, right, top }: LeastSquares, set: readonly number[]): number[] {
  const x = new Array<number>(gram.length).fill(0);
  const free = new Set<number>();
  const helps = (i: number) => right[i]! - gram[i]!.reduce((sum, g, k) => sum + g * x[k]!, 0);
  // Each round frees one; a product never cycles, so rounds are bounded by twice the number of states.
  for (let round = 0; round < 6 * set.length + 6; round++) {
    const next = mostHelpful(gram, helps, x, set, free);
    if (next === undefined) return x;
    free.add(next);
    while (free.size > 0) {
      const order = [...free];
      const aimed = solveFree(gram, right, x, order);
      const { step, stopped } = untilABound(x, aimed, top, order);
      for (const [k, i] of order.entries()) x[i] = x[i]! + step * (aimed[k]! - x[i]!);
      if (stopped === undefined) break;
      x[stopped] = x[stopped]! < (top[stopped]! < Infinity ? top[stopped]! / 2 : Infinity) ? 0 : top[stopped]!;
      free.delete(stopped);
    }
  }
  return x;
}

/** The product outside that would help most; undefined where none does. */
function mostHelpful(
  gram: LeastSquares['gram'],
  helps: (i: number) => number,
  x: readonly number[],
  set: readonly number[],
  free: ReadonlySet<number>,
): number | undefined {
  let next: number | undefined;
  let most = 1e-10;
  for (const i of set) {
    if (free.has(i)) continue;
    const push = x[i]! > 0 ? -helps(i) : helps(i);
    const scaled = push / Math.sqrt(gram[i]![i]!);
    if (scaled > most) [most, next] = [scaled, i];
  }
  return next;
}

/** How far towards the aimed doses before one hits a bound, as a share, and which. */
function untilABound(
  x: readonly number[],
  aimed: readonly number[],
  top: readonly number[],
  order: readonly number[],
): { readonly step: number; readonly stopped: number | undefined } {
  let step = 1;
  let stopped: number | undefined;
  for (const [k, i] of order.entries()) {
    const bound = aimed[k]! < 0 ? 0 : aimed[k]! > top[i]! ? top[i]! : undefined;
    if (bound === undefined) continue;
    const share = (bound - x[i]!) / (aimed[k]! - x[i]!);
    if (share < step) [step, stopped] = [Math.max(0, share), i];
  }
  return { step, stopped };
}

/** The free doses with the others held where they are; twins are told apart by a hair. */
function solveFree(
  gram: LeastSquares['gram'],
  right: LeastSquares['right'],
  x: readonly number[],
  order: readonly number[],
): number[] {
  const a = new Matrix(order.length, order.length);
  const b = new Matrix(order.length, 1);
  for (const [row, i] of order.entries()) {
    let held = right[i]!;
    for (const [k, dose] of x.entries()) if (dose !== 0 && !order.includes(k)) held -= gram[i]![k]! * dose;
    b.set(row, 0, held);
    for (const [column, k] of order.entries()) a.set(row, column, gram[i]![k]! * (row === column ? 1 + 1e-12 : 1));
  }
  return new CholeskyDecomposition(a).solve(b).to1DArray();
}

function solutionOf(
  products: readonly DosedProduct[],
  aims: readonly ElementAim[],
  set: readonly number[],
  doses: readonly number[],
): AimSolution {
  const used = set.filter((i) => doses[i]! > TINY).map((i) => ({ p: products[i]!, dose: doses[i]! }));
  const gets = aims.map((aim) => ({
    element: aim.element,
    mgL: used.reduce((sum, { p, dose }) => sum + dose * (p.mgPerUnit[aim.element] ?? 0), 0),
    wanted: aim.mgL,
  }));
  return {
    doses: used.map(({ p, dose }) => ({ id: p.id, dose })),
    gets,
    misfit: Math.sqrt(gets.reduce((sum, g) => sum + (g.mgL / g.wanted - 1) ** 2, 0) / gets.length),
    cost: used.every(({ p }) => p.costPerUnit !== null)
      ? used.reduce((sum, { p, dose }) => sum + p.costPerUnit! * dose, 0)
      : null,
  };
}
