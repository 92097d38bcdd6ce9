import { ATOM, composition, elementsOf, MOLAR, solve, type Composition, type Elements } from '../solution/index.ts';

/** What drops out of a solution that has grown too alkaline: limescale, and phosphate that takes its calcium along. */
export type LostFeed = {
  /** mg/L of each element that is gone, and of the crust it makes. */
  readonly elements: Elements;
  readonly calciteMgL: number;
  readonly brushiteMgL: number;
  readonly after: Composition;
};

const NOTHING = composition({});
/** CaHPO4·2H2O, g/mol. */
const BRUSHITE = ATOM.Ca + ATOM.P + 6 * ATOM.O + 5 * ATOM.H;
/** Rounds of taking out one solid after the other until neither is above its limit. */
const ROUNDS = 12;

/**
 * What a solution loses until nothing is above its limit of solubility: calcite and calcium phosphate (brushite), at rest. Slow in truth: it is
 * what may be lost, not what will be by tomorrow.
 * @returns undefined where the chemistry has no answer
 */
export function lostFeed(total: Composition): LostFeed | undefined {
  let now = total;
  let [calcite, brushite] = [0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    const lime = takenOut(now, 'calcite', { Ca: 1, CO2: 1 });
    if (lime === undefined) return undefined;
    now = less(now, { Ca: lime, CO2: lime });
    const phosphate = takenOut(now, 'brushite', { Ca: 1, PO4: 1 });
    if (phosphate === undefined) return undefined;
    now = less(now, { Ca: phosphate, PO4: phosphate });
    calcite += lime;
    brushite += phosphate;
    if (lime + phosphate < 1e-5) break;
  }
  const elements = elementsOf({ ...NOTHING, Ca: calcite + brushite, PO4: brushite });
  return { elements, calciteMgL: calcite * MOLAR.CaCO3, brushiteMgL: brushite * BRUSHITE, after: now };
}

/** mmol/L of a solid that bring its index to zero, by halving. */
function takenOut(
  total: Composition,
  solid: 'calcite' | 'brushite',
  parts: { Ca: number; CO2?: number; PO4?: number },
): number | undefined {
  const indexAt = (mmol: number): number | undefined => {
    const solved = solve(less(total, Object.fromEntries(Object.entries(parts).map(([c, n]) => [c, n * mmol]))));
    return solved.ok ? (solved.saturation[solid] ?? -9) : undefined;
  };
  const start = indexAt(0);
  if (start === undefined) return undefined;
  if (start <= 0) return 0;
  let [low, high] = [0, Math.min(total.Ca, parts.CO2 ? total.CO2 : total.PO4)];
  for (let i = 0; i < 30; i++) {
    const middle = (low + high) / 2;
    const index = indexAt(middle);
    if (index === undefined) return undefined;
    if (index > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

function less(total: Composition, out: Partial<Composition>): Composition {
  return composition(
    Object.fromEntries(Object.entries(total).map(([c, v]) => [c, Math.max(0, v - (out[c as keyof Composition] ?? 0))])),
  );
}
