import { type Component } from './composition.ts';
import { TRACES } from './elements.ts';
import { ATOM, MOLAR } from './masses.ts';

/**
 * What a label may say, in its own words. Elements, oxides, nitrogen by form, and what acids, alkalis and plain salts are sold as;
 * each with the component it brings and how many mg of it are one mmol of that.
 */
export const PLAIN = {
  'NO3-N': { brings: { NO3: 1 }, molar: ATOM.N },
  'NH4-N': { brings: { NH4: 1 }, molar: ATOM.N },
  'urea-N': { brings: { urea: 1 }, molar: 2 * ATOM.N },
  'organic-N': { brings: {}, molar: ATOM.N },
  P2O5: { brings: { PO4: 2 }, molar: MOLAR.P2O5 },
  P: { brings: { PO4: 1 }, molar: ATOM.P },
  K2O: { brings: { K: 2 }, molar: MOLAR.K2O },
  K: { brings: { K: 1 }, molar: ATOM.K },
  CaO: { brings: { Ca: 1 }, molar: MOLAR.CaO },
  Ca: { brings: { Ca: 1 }, molar: ATOM.Ca },
  MgO: { brings: { Mg: 1 }, molar: MOLAR.MgO },
  Mg: { brings: { Mg: 1 }, molar: ATOM.Mg },
  SO3: { brings: { SO4: 1 }, molar: MOLAR.SO3 },
  S: { brings: { SO4: 1 }, molar: ATOM.S },
  SiO2: { brings: { SiO2: 1 }, molar: MOLAR.SiO2 },
  Si: { brings: { SiO2: 1 }, molar: ATOM.Si },
  Na2O: { brings: { Na: 2 }, molar: MOLAR.Na2O },
  Na: { brings: { Na: 1 }, molar: ATOM.Na },
  Cl: { brings: { Cl: 1 }, molar: ATOM.Cl },
  Fe: { brings: { Fe: 1 }, molar: ATOM.Fe },
  B: { brings: { borate: 1 }, molar: ATOM.B },
  nitric: { brings: { NO3: 1 }, molar: MOLAR.nitric },
  phosphoric: { brings: { PO4: 1 }, molar: MOLAR.phosphoric },
  citric: { brings: { citrate: 1 }, molar: MOLAR.citric },
  acetic: { brings: { acetate: 1 }, molar: MOLAR.acetic },
  KOH: { brings: { K: 1 }, molar: MOLAR.KOH },
  K2CO3: { brings: { K: 2, CO2: 1 }, molar: MOLAR.K2CO3 },
  KHCO3: { brings: { K: 1, CO2: 1 }, molar: MOLAR.KHCO3 },
  NaHCO3: { brings: { Na: 1, CO2: 1 }, molar: MOLAR.NaHCO3 },
  Epsom: { brings: { Mg: 1, SO4: 1 }, molar: MOLAR.epsom },
} as const satisfies Record<string, { brings: Partial<Record<Component, number>>; molar: number }>;

export const LABEL_ITEMS = ['N', ...(Object.keys(PLAIN) as (keyof typeof PLAIN)[]), ...TRACES] as const;
export type LabelItem = (typeof LABEL_ITEMS)[number];
/** What makes a product an acid or an alkali by declaration: its hydrogen, or its carbonate or hydroxide, is not a gap. */
export const DECLARED_ACIDS = ['nitric', 'phosphoric', 'citric', 'acetic'] as const satisfies readonly LabelItem[];
export const DECLARED_ALKALIS = ['KOH', 'K2CO3', 'KHCO3', 'NaHCO3'] as const satisfies readonly LabelItem[];

export type Label = {
  /** A powder's percentages are always by weight and its dose is in grams. */
  readonly form: 'liquid' | 'powder';
  readonly basis: 'w/w' | 'w/v';
  /** g/mL, needed for a liquid by weight. */
  readonly densityGMl: number | null;
  /** Percent of each thing the label declares. */
  readonly percent: Partial<Record<LabelItem, number>>;
  /** Parts altogether for one part of product in the bottle in use: 2 is thinned 1 + 1. */
  readonly thinned: number;
};

/** A mistake on the label, where it is and what to do. */
export type LabelIssue = { readonly at: LabelItem | 'densityGMl' | 'percent' | 'thinned'; readonly message: string };
