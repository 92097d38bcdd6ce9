import type { Composition } from '../src/core/solution/index.ts';
import { constantsAt, type Constants } from '../src/core/solution/constants.ts';

/*
 * A second, general way to the same equilibria: a table of species from master species, free amounts by successive substitution at a fixed
 * pH with activities taken anew each time, and the charge balance bisected. Slow and plain: the oracle of the solver's tests, and what the
 * benchmark compares it with.
 */

type Master = 'Ca' | 'Mg' | 'K' | 'Na' | 'NH4' | 'SO4' | 'PO4' | 'CO3' | 'Cit' | 'H4SiO4' | 'Ac' | 'B';
type Row = {
  readonly charge: number;
  readonly h: number;
  readonly of: Partial<Record<Master, number>>;
  readonly k: number;
};
const MASTER_CHARGE: Record<Master, number> = {
  Ca: 2,
  Mg: 2,
  K: 1,
  Na: 1,
  NH4: 1,
  SO4: -2,
  PO4: -3,
  CO3: -2,
  Cit: -3,
  H4SiO4: 0,
  Ac: -1,
  B: 0,
};

function table(k: Constants): Row[] {
  const p = 1 / (k.phosphoric3 * k.phosphoric2);
  const c = 1 / (k.citric3 * k.citric2);
  const rows: Row[] = (Object.keys(MASTER_CHARGE) as Master[]).map((m) => ({
    charge: MASTER_CHARGE[m],
    h: 0,
    of: { [m]: 1 },
    k: 1,
  }));
  const add = (h: number, of: Row['of'], constant: number) =>
    rows.push({
      charge: h + Object.entries(of).reduce((sum, [m, n]) => sum + MASTER_CHARGE[m as Master] * n, 0),
      h,
      of,
      k: constant,
    });
  add(1, { SO4: 1 }, 1 / k.bisulphate);
  add(1, { PO4: 1 }, 1 / k.phosphoric3);
  add(2, { PO4: 1 }, p);
  add(3, { PO4: 1 }, p / k.phosphoric1);
  add(1, { CO3: 1 }, 1 / k.carbonic2);
  add(2, { CO3: 1 }, 1 / (k.carbonic2 * k.carbonic1));
  add(1, { Cit: 1 }, 1 / k.citric3);
  add(2, { Cit: 1 }, c);
  add(3, { Cit: 1 }, c / k.citric1);
  add(-1, { H4SiO4: 1 }, k.silicic1);
  add(-2, { H4SiO4: 1 }, k.silicic1 * k.silicic2);
  add(-1, { NH4: 1 }, k.ammonium);
  add(1, { Ac: 1 }, 1 / k.acetic);
  add(-1, { B: 1 }, k.boric);
  add(0, { Na: 1, SO4: 1 }, k.NaSO4);
  add(0, { K: 1, SO4: 1 }, k.KSO4);
  for (const [metal, so4, hco3, co3, h2po4, hpo4, po4, h2cit, hcit, cit] of [
    ['Ca', k.CaSO4, k.CaHCO3, k.CaCO3, k.CaH2PO4, k.CaHPO4, k.CaPO4, k.CaH2Cit, k.CaHCit, k.CaCit],
    ['Mg', k.MgSO4, k.MgHCO3, k.MgCO3, k.MgH2PO4, k.MgHPO4, k.MgPO4, k.MgH2Cit, k.MgHCit, k.MgCit],
  ] as const) {
    add(0, { [metal]: 1, SO4: 1 }, so4);
    add(1, { [metal]: 1, CO3: 1 }, hco3 / k.carbonic2);
    add(0, { [metal]: 1, CO3: 1 }, co3);
    add(2, { [metal]: 1, PO4: 1 }, h2po4 * p);
    add(1, { [metal]: 1, PO4: 1 }, hpo4 / k.phosphoric3);
    add(0, { [metal]: 1, PO4: 1 }, po4);
    add(2, { [metal]: 1, Cit: 1 }, h2cit * c);
    add(1, { [metal]: 1, Cit: 1 }, hcit / k.citric3);
    add(0, { [metal]: 1, Cit: 1 }, cit);
  }
  return rows;
}

/** Charge left over at a pH, mol/L, with everything else rebuilt from nothing. */
export function generalCharge(total: Composition, ph: number, temperatureC = 25): number {
  const k = constantsAt(temperatureC);
  const rows = table(k);
  const masters = Object.keys(MASTER_CHARGE) as Master[];
  const totals: Record<Master, number> = {
    Ca: total.Ca,
    Mg: total.Mg,
    K: total.K,
    Na: total.Na,
    NH4: total.NH4,
    SO4: total.SO4,
    PO4: total.PO4,
    CO3: total.CO2,
    Cit: total.citrate,
    H4SiO4: total.SiO2,
    Ac: total.acetate,
    B: total.borate,
  };
  const free = Object.fromEntries(masters.map((m) => [m, totals[m] / 1000])) as Record<Master, number>;
  const spectators = (total.NO3 + total.Cl + total.Fe) / 1000;
  const aH = 10 ** -ph;
  let strength = 0.005;
  let charge = 0;
  for (let round = 0; round < 2000; round++) {
    const root = Math.sqrt(strength);
    const log = -k.daviesA * (root / (1 + root) - 0.3 * strength);
    const gamma = (z: number) => (z === 0 ? 10 ** (0.1 * strength) : 10 ** (log * z * z));
    const used = Object.fromEntries(masters.map((m) => [m, 0])) as Record<Master, number>;
    const h = aH / gamma(1);
    const oh = k.water / aH / gamma(1);
    charge = h - oh - spectators;
    let next = 0.5 * (h + oh + spectators);
    for (const row of rows) {
      let activity = row.k * aH ** row.h;
      for (const [m, n] of Object.entries(row.of) as [Master, number][])
        activity *= (free[m] * gamma(MASTER_CHARGE[m])) ** n;
      const amount = activity / gamma(row.charge);
      for (const [m, n] of Object.entries(row.of) as [Master, number][]) used[m] += n * amount;
      charge += row.charge * amount;
      next += 0.5 * row.charge ** 2 * amount;
    }
    let moved = Math.abs(next - strength);
    strength = Math.min(0.5, next);
    for (const m of masters) {
      if (totals[m] === 0) continue;
      const times = totals[m] / 1000 / used[m];
      moved = Math.max(moved, Math.abs(times - 1) * 1e-3);
      free[m] *= Math.sqrt(times);
    }
    if (moved < 1e-10) break;
  }
  return charge;
}

/** pH by plain bisection of {@link generalCharge} over 2 to 12, to `tolerance`. */
export function generalPh(total: Composition, tolerance = 1e-6, temperatureC = 25): number {
  let [low, high] = [2, 12];
  while (high - low > tolerance) {
    const middle = (low + high) / 2;
    if (generalCharge(total, middle, temperatureC) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
