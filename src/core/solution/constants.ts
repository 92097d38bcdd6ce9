/** Zero of the Celsius scale, K, and the gas constant, J/(mol·K) (CODATA). */
const ZERO_C = 273.15;
const T0 = 298.15;
const R = 8.314462618;

/**
 * Thermodynamic constants (activity scale, mol/L) at one temperature. Acid constants are of the named acid losing a proton; pair constants
 * are of forming the pair from its free ions; solubility products are of dissolving.
 */
export type Constants = Readonly<Record<ConstantName, number>> & {
  readonly temperatureC: number;
  readonly daviesA: number;
};

/**
 * log K at 25 °C, enthalpy (kJ/mol) and heat capacity (J/(mol·K)) of the reaction.
 * Acids: Goldberg, Kishore & Lennen 2002 (values from memory). Pairs, solids, silicic acid: as widely tabulated (Ball & Nordstrom 1991; values
 * from memory). Citrates of calcium and magnesium: as in common speciation tables (values from memory), no temperature course.
 */
const REACTIONS = {
  phosphoric1: [-2.148, -8.0, -141],
  phosphoric2: [-7.198, 3.6, -230],
  phosphoric3: [-12.35, 16.0, -242],
  citric1: [-3.128, 4.07, -131],
  citric2: [-4.761, 2.23, -178],
  citric3: [-6.396, -3.38, -254],
  acetic: [-4.756, -0.41, -142],
  ammonium: [-9.244, 51.95, 8],
  boric: [-9.235, 13.8, -240],
  bisulphate: [-1.988, -22.4, -258],
  silicic1: [-9.82, 25.6, 0],
  silicic2: [-13.17, 48, 0],
  MgSO4: [2.25, 19.0, 0],
  CaSO4: [2.3, 6.9, 0],
  NaSO4: [0.7, 4.7, 0],
  KSO4: [0.85, 9.4, 0],
  CaHPO4: [2.74, 13.8, 0],
  MgHPO4: [2.87, 13.8, 0],
  CaH2PO4: [1.41, 14.2, 0],
  MgH2PO4: [1.51, 14.2, 0],
  CaPO4: [6.46, 13.0, 0],
  MgPO4: [6.59, 13.0, 0],
  MgHCO3: [1.068, 3.3, 0],
  MgCO3: [2.98, 11.4, 0],
  CaCit: [4.87, 0, 0],
  CaHCit: [2.86, 0, 0],
  CaH2Cit: [1.1, 0, 0],
  MgCit: [4.89, 0, 0],
  MgHCit: [2.51, 0, 0],
  MgH2Cit: [1.04, 0, 0],
  gypsum: [-4.58, -0.46, 0],
  brushite: [-6.59, -2.0, 0],
  silica: [-2.71, 14.0, 0],
} as const satisfies Record<string, readonly [number, number, number]>;

type ConstantName =
  keyof typeof REACTIONS | 'water' | 'henry' | 'carbonic1' | 'carbonic2' | 'CaHCO3' | 'CaCO3' | 'calcite';

/** ln K at T from its value, enthalpy and heat capacity at 25 °C, the last two taken as constant. */
function atTemperature([log25, enthalpyKj, heatCapacity]: readonly [number, number, number], t: number): number {
  const ln =
    log25 * Math.LN10 +
    ((enthalpyKj * 1000) / R) * (1 / T0 - 1 / t) +
    (heatCapacity / R) * (T0 / t - 1 + Math.log(t / T0));
  return Math.exp(ln);
}

/** Plummer & Busenberg 1982, log K of carbonate species and calcite, 0 to 90 °C (coefficients from memory, held by the checks at 25 °C). */
function carbonate(t: number): Record<'henry' | 'carbonic1' | 'carbonic2' | 'CaHCO3' | 'CaCO3' | 'calcite', number> {
  const log = Math.log10(t);
  return {
    henry: 10 ** (108.3865 + 0.01985076 * t - 6919.53 / t - 40.45154 * log + 669365 / t ** 2),
    carbonic1: 10 ** (-356.3094 - 0.06091964 * t + 21834.37 / t + 126.8339 * log - 1684915 / t ** 2),
    carbonic2: 10 ** (-107.8871 - 0.03252849 * t + 5151.79 / t + 38.92561 * log - 563713.9 / t ** 2),
    CaHCO3: 10 ** (1209.12 + 0.31294 * t - 34765.05 / t - 478.782 * log),
    CaCO3: 10 ** (-1228.732 - 0.299444 * t + 35512.75 / t + 485.818 * log),
    calcite: 10 ** (-171.9065 - 0.077993 * t + 2839.319 / t + 71.595 * log),
  };
}

/** Relative permittivity of water (Malmberg & Maryott 1956), and from it Debye and Hückel's A for log10 γ. */
function daviesA(temperatureC: number): number {
  const permittivity = 87.74 - 0.40008 * temperatureC + 9.398e-4 * temperatureC ** 2 - 1.41e-6 * temperatureC ** 3;
  return 1.8248e6 * (permittivity * (temperatureC + ZERO_C)) ** -1.5;
}

const known = new Map<number, Constants>();
/** A season of rooms holds a few hundred tenths of a degree; past that the table starts anew. */
const MOST_KEPT = 512;

/**
 * The constants at a temperature.
 * @param temperatureC within {@link TEMPERATURE_LIMITS}, checked by the caller
 */
export function constantsAt(temperatureC: number): Constants {
  const found = known.get(temperatureC);
  if (found) return found;
  const t = temperatureC + ZERO_C;
  const of = Object.fromEntries(
    Object.entries(REACTIONS).map(([name, reaction]) => [name, atTemperature(reaction, t)]),
  ) as Record<keyof typeof REACTIONS, number>;
  // Harned & Owen's form of pKw; 13.995 at 25 °C.
  const water = 10 ** -(4470.99 / t - 6.0875 + 0.01706 * t);
  const made: Constants = Object.freeze({
    ...of,
    ...carbonate(t),
    water,
    temperatureC,
    daviesA: daviesA(temperatureC),
  });
  if (known.size >= MOST_KEPT) known.clear();
  known.set(temperatureC, made);
  return made;
}

/** Temperatures the constants are good for, °C. */
export const TEMPERATURE_LIMITS = Object.freeze({ low: 5, high: 35 });
