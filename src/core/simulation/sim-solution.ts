/**
 * A solution as the simulators keep it. Deliberately coarser than, and different from, what the estimators use: strength is a sum of
 * ideal conductivities that reads a little low when strong; pH comes from carbonate, phosphate and water at fixed constants.
 */
export type SimSolution = {
  /** Sum of ideal conductivities, µS/cm. */
  readonly idealEcUsCm: number;
  /** Strong-ion alkalinity counted against H2PO4− and CO2, meq/L; negative when acid. */
  readonly alkalinityMeqL: number;
  readonly carbonMmolL: number;
  readonly phosphateMmolL: number;
  /** Silicic and citric acid in all their forms, mmol/L; absent where there is none. */
  readonly silicaMmolL?: number;
  readonly citrateMmolL?: number;
};

export const PURE: SimSolution = Object.freeze({
  idealEcUsCm: 0,
  alkalinityMeqL: 0,
  carbonMmolL: 0.014,
  phosphateMmolL: 0,
});

/** Mixes two volumes (any one unit); every content is conserved. */
export function mixSim(a: SimSolution, volumeA: number, b: SimSolution, volumeB: number): SimSolution {
  const total = volumeA + volumeB;
  if (!(total > 0)) return a;
  const blend = (x: number, y: number) => (x * volumeA + y * volumeB) / total;
  return {
    idealEcUsCm: blend(a.idealEcUsCm, b.idealEcUsCm),
    alkalinityMeqL: blend(a.alkalinityMeqL, b.alkalinityMeqL),
    carbonMmolL: blend(a.carbonMmolL, b.carbonMmolL),
    phosphateMmolL: blend(a.phosphateMmolL, b.phosphateMmolL),
    silicaMmolL: blend(a.silicaMmolL ?? 0, b.silicaMmolL ?? 0),
    citrateMmolL: blend(a.citrateMmolL ?? 0, b.citrateMmolL ?? 0),
  };
}

/** The same solution with its water reduced: `factor` 2 is twice the strength. */
export function concentrateSim(s: SimSolution, factor: number): SimSolution {
  return {
    idealEcUsCm: s.idealEcUsCm * factor,
    alkalinityMeqL: s.alkalinityMeqL * factor,
    carbonMmolL: s.carbonMmolL * factor,
    phosphateMmolL: s.phosphateMmolL * factor,
    silicaMmolL: (s.silicaMmolL ?? 0) * factor,
    citrateMmolL: (s.citrateMmolL ?? 0) * factor,
  };
}

/** Adds amounts per litre (acid as negative alkalinity). */
export function doseSim(s: SimSolution, dose: Partial<SimSolution>): SimSolution {
  return {
    idealEcUsCm: Math.max(0, s.idealEcUsCm + (dose.idealEcUsCm ?? 0)),
    alkalinityMeqL: s.alkalinityMeqL + (dose.alkalinityMeqL ?? 0),
    carbonMmolL: Math.max(0, s.carbonMmolL + (dose.carbonMmolL ?? 0)),
    phosphateMmolL: Math.max(0, s.phosphateMmolL + (dose.phosphateMmolL ?? 0)),
    silicaMmolL: (s.silicaMmolL ?? 0) + (dose.silicaMmolL ?? 0),
    citrateMmolL: (s.citrateMmolL ?? 0) + (dose.citrateMmolL ?? 0),
  };
}

/** True conductivity, µS/cm: ideal sum less a square-root law (3 % low at 400 µS/cm). */
export function simEc(s: SimSolution): number {
  return s.idealEcUsCm * (1 - 0.03 * Math.sqrt(s.idealEcUsCm / 400));
}

/** Dissociation constants at 25 °C, mol/L: carbonate, phosphate, silicic, citric acid. */
const K1 = 10 ** -6.35;
const K2 = 10 ** -10.33;
const P2 = 10 ** -7.2;
const P3 = 10 ** -12.35;
const SI = 10 ** -9.8;
const C1 = 10 ** -3.1;
const C2 = 10 ** -4.7;
const C3 = 10 ** -6.3;

/** True pH by bisection on the charge balance (pK 14.0; 6.35, 10.33; 7.20, 12.35; 9.8; 3.1, 4.7, 6.3); 60 halvings of 2 to 12. */
export function simPh(s: SimSolution): number {
  let low = 2;
  let high = 12;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (isAbovePh(s, middle)) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Whether a solution's true pH is above this one: at this pH its weak acids would hold less than its alkalinity. */
export function isAbovePh(s: SimSolution, ph: number): boolean {
  return alkalinityAt(ph, s) < s.alkalinityMeqL;
}

function alkalinityAt(ph: number, s: SimSolution): number {
  const h = 10 ** -ph;
  const carbon = (s.carbonMmolL * (K1 * h + 2 * K1 * K2)) / (h * h + K1 * h + K1 * K2);
  const phosphate = (s.phosphateMmolL * (P2 * h + 2 * P2 * P3)) / (h * h + P2 * h + P2 * P3);
  const silica = s.silicaMmolL ? (s.silicaMmolL * SI) / (h + SI) : 0;
  const citrate = s.citrateMmolL
    ? (s.citrateMmolL * (C1 * h * h + 2 * C1 * C2 * h + 3 * C1 * C2 * C3)) /
      (h * h * h + C1 * h * h + C1 * C2 * h + C1 * C2 * C3)
    : 0;
  return silica + citrate + carbon + phosphate + 1000 * (1e-14 / h - h);
}
