import { COMPONENTS, type Component, type Composition } from './composition.ts';
import { ATOM } from './masses.ts';

/** Elements of the table, in the order a label gives them. */
export const ELEMENTS = [
  'N',
  'P',
  'K',
  'Ca',
  'Mg',
  'S',
  'Fe',
  'Mn',
  'Zn',
  'Cu',
  'B',
  'Mo',
  'Cl',
  'Ni',
  'Si',
  'Na',
  'Co',
] as const;
export type Element = (typeof ELEMENTS)[number];
/** The twelve every label of a complete feed gives; chlorine and nickel, though essential, come with water and salts. */
export const ESSENTIAL: readonly Element[] = ['N', 'P', 'K', 'Ca', 'Mg', 'S', 'Fe', 'Mn', 'Zn', 'Cu', 'B', 'Mo'];
export const ELEMENT_WORDS: Record<Element, string> = {
  N: 'nitrogen',
  P: 'phosphorus',
  K: 'potassium',
  Ca: 'calcium',
  Mg: 'magnesium',
  S: 'sulphur',
  Fe: 'iron',
  Mn: 'manganese',
  Zn: 'zinc',
  Cu: 'copper',
  B: 'boron',
  Mo: 'molybdenum',
  Cl: 'chlorine',
  Ni: 'nickel',
  Si: 'silicon',
  Na: 'sodium',
  Co: 'cobalt',
};
/** Traces that carry no weight in the chemistry and are only counted. */
export const TRACES = ['Mn', 'Zn', 'Cu', 'Mo', 'Ni', 'Co'] as const;
export type Trace = (typeof TRACES)[number];

/** Amounts in mg per litre, or per mL of a product. */
export type Elements = Readonly<Record<Element, number>> & {
  readonly nitrateN: number;
  readonly ammoniumN: number;
  readonly ureaN: number;
};

const MASS: Partial<Record<Component, readonly [Element, number]>> = {
  Ca: ['Ca', ATOM.Ca],
  Mg: ['Mg', ATOM.Mg],
  K: ['K', ATOM.K],
  Na: ['Na', ATOM.Na],
  Fe: ['Fe', ATOM.Fe],
  Cl: ['Cl', ATOM.Cl],
  SO4: ['S', ATOM.S],
  PO4: ['P', ATOM.P],
  SiO2: ['Si', ATOM.Si],
  borate: ['B', ATOM.B],
};

/**
 * Elements in a composition.
 * @param c mmol/L (or per mL) @param traces mg in the same measure
 * @returns mg/L (or mg per mL)
 * @example elementsOf(composition({ Mg: 1, SO4: 1 })).Mg // 24.305
 */
export function elementsOf(c: Composition, traces: Partial<Record<Trace, number>> = {}): Elements {
  const made = Object.fromEntries(ELEMENTS.map((e) => [e, 0])) as Record<Element, number>;
  for (const component of COMPONENTS) {
    const mass = MASS[component];
    if (mass) made[mass[0]] += c[component] * mass[1];
  }
  for (const trace of TRACES) made[trace] += traces[trace] ?? 0;
  const nitrateN = c.NO3 * ATOM.N;
  const ammoniumN = c.NH4 * ATOM.N;
  const ureaN = c.urea * 2 * ATOM.N;
  return { ...made, N: nitrateN + ammoniumN + ureaN, nitrateN, ammoniumN, ureaN };
}

/**
 * N : P : K : Ca : Mg by weight with nitrogen (or, without it, the largest) as 10.
 * @returns the five shares; all zero where none is there
 */
export function ratioOf(e: Elements): Readonly<Record<'N' | 'P' | 'K' | 'Ca' | 'Mg', number>> {
  const { N, P, K, Ca, Mg } = e;
  const whole = N > 0 ? N : Math.max(P, K, Ca, Mg);
  const share = (mg: number) => (whole > 0 ? (10 * mg) / whole : 0);
  return { N: share(N), P: share(P), K: share(K), Ca: share(Ca), Mg: share(Mg) };
}
