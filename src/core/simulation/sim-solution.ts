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

export const PURE: SimSolution = Object.freeze({ idealEcUsCm: 0, alkalinityMeqL: 0, carbonMmolL: 0.014, phosphateMmolL: 0 });

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

/** True pH by bisection on the charge balance (pK 14.0; 6.35, 10.33; 7.20, 12.35; 9.8; 3.1, 4.7, 6.3); 60 halvings of 2 to 12. */
export function simPh(s: SimSolution): number {
  let low = 2;
  let high = 12;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (alkalinityAt(middle, s) < s.alkalinityMeqL) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

function alkalinityAt(ph: number, s: SimSolution): number {
  const h = 10 ** -ph;
  const k1 = 10 ** -6.35;
  const k2 = 10 ** -10.33;
  const p2 = 10 ** -7.2;
  const p3 = 10 ** -12.35;
  const carbon = h * h + k1 * h + k1 * k2;
  const phosphate = h * h + p2 * h + p2 * p3;
  const k = 10 ** -9.8;
  const [c1, c2, c3] = [10 ** -3.1, 10 ** -4.7, 10 ** -6.3];
  const citrate = h ** 3 + c1 * h * h + c1 * c2 * h + c1 * c2 * c3;
  const weak = ((s.silicaMmolL ?? 0) * k) / (h + k) + ((s.citrateMmolL ?? 0) * (c1 * h * h + 2 * c1 * c2 * h + 3 * c1 * c2 * c3)) / citrate;
  return weak + (s.carbonMmolL * (k1 * h + 2 * k1 * k2)) / carbon + (s.phosphateMmolL * (p2 * h + 2 * p2 * p3)) / phosphate + 1000 * (1e-14 / h - h);
}
