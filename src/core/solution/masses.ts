/** Standard atomic weights, g/mol (IUPAC 2021, abridged). */
export const ATOM = {
  H: 1.008,
  B: 10.81,
  C: 12.011,
  N: 14.007,
  O: 15.999,
  Na: 22.99,
  Mg: 24.305,
  Si: 28.085,
  P: 30.974,
  S: 32.06,
  Cl: 35.45,
  K: 39.098,
  Ca: 40.078,
  Mn: 54.938,
  Fe: 55.845,
  Cu: 63.546,
  Zn: 65.38,
  Mo: 95.95,
  Ni: 58.693,
  Co: 58.933,
} as const;

const { H, C, N, O, Na, Mg, Si, P, S, K, Ca } = ATOM;

/** Molar masses, g/mol, of what labels and analyses speak of. */
export const MOLAR = {
  P2O5: 2 * P + 5 * O,
  K2O: 2 * K + O,
  CaO: Ca + O,
  MgO: Mg + O,
  Na2O: 2 * Na + O,
  SO3: S + 3 * O,
  SO4: S + 4 * O,
  SiO2: Si + 2 * O,
  HCO3: H + C + 3 * O,
  CaCO3: Ca + C + 3 * O,
  CO2: C + 2 * O,
  NO3: N + 3 * O,
  NH4: N + 4 * H,
  PO4: P + 4 * O,
  nitric: H + N + 3 * O,
  phosphoric: 3 * H + P + 4 * O,
  citric: 6 * C + 8 * H + 7 * O,
  acetic: 2 * C + 4 * H + 2 * O,
  KOH: K + O + H,
  K2CO3: 2 * K + C + 3 * O,
  KHCO3: K + H + C + 3 * O,
  NaHCO3: Na + H + C + 3 * O,
  epsom: Mg + S + 4 * O + 7 * (2 * H + O),
} as const;

/** mg/L of CaCO3, °dKH (or °dGH) and mmol/L charge: 1 meq/L = 50.04 mg/L CaCO3 = 2.804 °dKH. */
export const CACO3_MG_PER_MEQ = MOLAR.CaCO3 / 2;
/** One German degree is 10 mg/L CaO. */
export const DKH_PER_MEQ = MOLAR.CaO / 2 / 10;

export type AlkalinityUnit = 'meq/L' | 'mg/L CaCO3' | '°dKH';
export const ALKALINITY_UNITS: readonly AlkalinityUnit[] = ['°dKH', 'mg/L CaCO3', 'meq/L'];
const PER_MEQ: Record<AlkalinityUnit, number> = { 'meq/L': 1, 'mg/L CaCO3': CACO3_MG_PER_MEQ, '°dKH': DKH_PER_MEQ };

/** Alkalinity or hardness in a grower's unit, to meq/L. @example toMeqL(8, '°dKH') // 2.853 */
export function toMeqL(value: number, unit: AlkalinityUnit): number {
  return value / PER_MEQ[unit];
}

/** The inverse of {@link toMeqL}. */
export function fromMeqL(meqL: number, unit: AlkalinityUnit): number {
  return meqL * PER_MEQ[unit];
}
