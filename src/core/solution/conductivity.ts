import { SPECIES, SPECIES_NAMES, type SpeciesTable } from './species.ts';

/*
 * Onsager's limiting law with Robinson and Stokes's ion size, taken over to mixtures: an ion is slowed by the cloud of the ions of the other
 * sign, each by its share of their charge. Exact (as that law goes) for one salt; within 1 % to 0.01 eq/L, and some 3 % at 0.05.
 */

/** Relaxation and electrophoretic coefficients at 25 °C in water (Robinson & Stokes 1959): √(L/mol), and S·cm²/eq·√(L/mol). */
const RELAXATION = 0.7816;
const ELECTROPHORETIC = 30.09;
/** B·a of the Debye–Hückel cloud for an ion size of 4.3 Å: 0.3286 · 4.3. */
const ION_SIZE = 1.41;

const ions = SPECIES_NAMES.filter((name) => SPECIES[name][0] !== 0);
const charges = ions.map((name) => Math.abs(SPECIES[name][0]));
const mobilities = ions.map((name) => SPECIES[name][1]);
const cations = ions.map((name, i) => (SPECIES[name][0] > 0 ? i : -1)).filter((i) => i >= 0);
const anions = ions.map((name, i) => (SPECIES[name][0] < 0 ? i : -1)).filter((i) => i >= 0);

/** Slowing of ion i by a cloud of ion j alone: |zi zj| q/(1 + √q), Onsager's q from both mobilities. */
const drag: number[][] = ions.map((_, i) =>
  ions.map((__, j) => {
    const [zi, zj, li, lj] = [charges[i]!, charges[j]!, mobilities[i]!, mobilities[j]!];
    const q = (zi * zj * (li + lj)) / ((zi + zj) * (zj * li + zi * lj));
    return (RELAXATION * zi * zj * q) / (1 + Math.sqrt(q));
  }),
);

/**
 * Conductivity of a solution from what is in it.
 * @param species mmol/L
 * @param ionicStrength mol/L
 * @returns µS/cm at 25 °C
 */
export function conductivityUsCm(species: SpeciesTable, ionicStrength: number): number {
  const root = Math.sqrt(ionicStrength);
  const cloud = root / (1 + ION_SIZE * root);
  const meq = ions.map((name, i) => species[name] * charges[i]!);
  return sumOf(cations, anions, meq, cloud) + sumOf(anions, cations, meq, cloud);
}

/** The share of one sign: Σ c·λ, where each λ is slowed by the other sign. meq/L × S·cm²/eq = µS/cm. */
function sumOf(own: readonly number[], others: readonly number[], meq: readonly number[], cloud: number): number {
  let other = 0;
  for (const j of others) other += meq[j]!;
  if (!(other > 0)) return 0;
  let sum = 0;
  for (const i of own) {
    const c = meq[i]!;
    if (c <= 0) continue;
    let slowed = 0;
    const row = drag[i]!;
    for (const j of others) slowed += meq[j]! * row[j]!;
    const mobility = mobilities[i]!;
    // Far past the model an ion would be slowed below rest; it stands still instead, and the solver has refused such strengths before.
    sum += c * Math.max(0, mobility - ((slowed / other) * mobility + ELECTROPHORETIC * charges[i]!) * cloud);
  }
  return sum;
}
