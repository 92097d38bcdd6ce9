import { PRODUCT_KIND, type ProductKind } from './product-kind.ts';
import { addComposition, alkalinityMeqL, composition, scaleComposition, type Composition } from './composition.ts';
import { SOLIDS, SOLID_WORDS, type Solid } from './saturation.ts';
import { solve, type Solved } from './solve.ts';

export type Risk = 'none' | 'possible' | 'sure';
export type Clouding = {
  readonly risk: Risk;
  readonly what: readonly { readonly solid: Solid; readonly index: number; readonly words: string }[];
};

/** Above its index a solid drops out in the bucket; between zero and it, it may stay dissolved for days. Calcite and phosphate are slow to start. */
const SURE_ABOVE: Record<Solid, number> = { calcite: 1.0, gypsum: 0.3, brushite: 0.5, silica: 0.2 };

/** Clouding of a mixed batch, by saturation indices. */
export function cloudingOf(solved: Solved): Clouding {
  const what = SOLIDS.flatMap((solid) => {
    const index = solved.saturation[solid];
    return index !== null && index > 0 ? [{ solid, index, words: SOLID_WORDS[solid] }] : [];
  });
  const risk = what.some(({ solid, index }) => index > SURE_ABOVE[solid])
    ? 'sure'
    : what.length > 0
      ? 'possible'
      : 'none';
  return { risk, what };
}

/** A product on its way into the bucket. */
export type Addition = {
  readonly id: string;
  readonly name: string;
  readonly kind: ProductKind;
  /** mmol per mL (or g) @param doseMlL of it in each litre */
  readonly perUnit: Composition;
  readonly doseMlL: number;
};
/** A rule of thumb outside the model: concentrates are far too strong for activities. */
export type PourRisk = {
  readonly risk: Risk;
  readonly score: number;
  readonly words: string | null;
  readonly basis: 'rule, outside the model';
};

/** Where a concentrate meets the batch: one part of it in twenty. */
const LOCAL_SHARE = 1 / 20;
/**
 * Stoichiometric products, (mol/L)² (with the alkali that silicates need: (mol/L)³), from which a pair may cloud where the two meet and, a
 * hundred times that, does. Ordinal: set so that silicate after a weak feed passes with a note and two concentrates poured together do not.
 */
const POSSIBLE = {
  gypsum: 2e-3,
  phosphate: 2e-5,
  calciumSilicate: 2e-7,
  magnesiumSilicate: 4e-7,
  carbonate: 2e-5,
  hydroxide: 1e-4,
} as const;
const SURE_FACTOR = 100;

/**
 * Risk of a cloud where one concentrate is poured into what is there already.
 * @param there in the bucket (or the other concentrate), mmol/L @param poured mmol per mL
 */
export function pourRisk(there: Composition, poured: Composition): PourRisk {
  const local = addComposition(scaleComposition(there, 1 - LOCAL_SHARE), scaleComposition(poured, 1000), LOCAL_SHARE);
  const mol = (mmol: number) => mmol / 1000;
  const alkaline = mol(Math.max(0, alkalinityMeqL(local)));
  const carbonate = Math.min(mol(local.CO2), alkaline);
  // Phosphate drops out only where it is not acid; without alkali a hundredth is in the form that does.
  const basic = Math.min(1, 0.01 + alkaline / (mol(local.PO4 + local.CO2) + 1e-6));
  const candidates: [number, string][] = [
    [(mol(local.Ca) * mol(local.SO4)) / POSSIBLE.gypsum, 'calcium meets sulphate: gypsum'],
    [(mol(local.Ca) * mol(local.PO4) * basic) / POSSIBLE.phosphate, 'calcium meets phosphate'],
    [(mol(local.Ca) * mol(local.SiO2) * alkaline) / POSSIBLE.calciumSilicate, 'calcium meets silicate'],
    [(mol(local.Mg) * mol(local.SiO2) * alkaline) / POSSIBLE.magnesiumSilicate, 'magnesium meets silicate'],
    [(mol(local.Ca) * carbonate) / POSSIBLE.carbonate, 'calcium meets carbonate'],
    [
      (mol(local.Mg) * Math.max(0, alkaline - carbonate - mol(local.SiO2))) / POSSIBLE.hydroxide,
      'magnesium meets strong alkali',
    ],
  ];
  // Silicate whose alkali is taken away by an acid sets to a gel.
  if (mol(local.SiO2) > 0.005 && alkalinityMeqL(local) < 0.2 * local.SiO2)
    candidates.push([mol(local.SiO2) * 2000, 'acid meets silicate: it sets to a gel']);
  const [times, words] = candidates.reduce((worst, next) => (next[0] > worst[0] ? next : worst));
  const score = times > 0 ? Math.log10(times) : -9;
  const risk = times >= SURE_FACTOR ? 'sure' : times >= 1 ? 'possible' : 'none';
  return { risk, score, words: risk === 'none' ? null : words, basis: 'rule, outside the model' };
}

/** Risk of two concentrates meeting undiluted, whichever is poured into the other: mmol per mL each. */
export function pairRisk(a: Composition, b: Composition): PourRisk {
  const [one, two] = [pourRisk(scaleComposition(a, 1000), b), pourRisk(scaleComposition(b, 1000), a)];
  return one.score > two.score ? one : two;
}

export type PourStep = { readonly id: string; readonly risk: PourRisk; readonly reason: string };

/** More parts than this are ordered by habit alone: seven have 5,040 orders. */
const MOST_TRIED = 6;

/** Every pour of an order with its risk and the reason it stands there. */
export function judgeOrder(water: Composition, order: readonly Addition[]): PourStep[] {
  let there = water;
  return order.map((addition) => {
    const risk = pourRisk(there, addition.perUnit);
    there = addComposition(there, addition.perUnit, addition.doseMlL);
    return { id: addition.id, risk, reason: PRODUCT_KIND[addition.kind].reason };
  });
}

/**
 * The order of adding with the least risk of a cloud where each meets the bucket; habit decides between equals, and pH goes last.
 * @returns the additions in that order with reasons
 */
export function recommendOrder(
  water: Composition,
  additions: readonly Addition[],
): { order: Addition[]; steps: PourStep[] } {
  const habit = [...additions].sort((a, b) => PRODUCT_KIND[a.kind].place - PRODUCT_KIND[b.kind].place);
  const first = habit.filter((a) => !PRODUCT_KIND[a.kind].afterAll);
  const last = habit.filter((a) => PRODUCT_KIND[a.kind].afterAll);
  let best = first;
  if (first.length > 1 && first.length <= MOST_TRIED) {
    let least = badness(water, first);
    for (const order of permutations(first)) {
      const bad = badness(water, order);
      // A tenth of a step better is no reason to leave the habit.
      if (bad < least - 0.1) {
        least = bad;
        best = order;
      }
    }
  }
  const order = [...best, ...last];
  return { order, steps: judgeOrder(water, order) };
}

/** Risks in tens of what may cloud, added over the pours; what is harmless does not count. */
function badness(water: Composition, order: readonly Addition[]): number {
  return judgeOrder(water, order).reduce((sum, step) => sum + Math.max(0, step.risk.score), 0);
}

function* permutations<T>(items: readonly T[]): Generator<T[]> {
  if (items.length <= 1) {
    yield [...items];
    return;
  }
  for (const [i, item] of items.entries()) {
    for (const rest of permutations([...items.slice(0, i), ...items.slice(i + 1)])) yield [item, ...rest];
  }
}

/** The whole batch when everything is in: solved, with its clouding. */
export function mixOf(
  water: Composition,
  additions: readonly Addition[],
  temperatureC = 25,
): { total: Composition; solved: ReturnType<typeof solve> } {
  const total = additions.reduce(
    (c, a) => addComposition(c, a.perUnit, a.doseMlL),
    addComposition(composition({}), water),
  );
  return { total, solved: solve(total, undefined, temperatureC) };
}
