import { DomainError } from '../quantity/index.ts';
import { AIR_PCO2, constantsAt, davies, solve, type Composition } from '../solution/index.ts';

/**
 * Charges of a solution at any pH with activities and free metals held as the full chemistry finds them.
 * @param total mmol/L
 * @throws DomainError `out-of-range` where the full chemistry has no answer (a concentrate)
 */
export function chargesOf(total: Composition) {
  const solved = solve(total);
  if (!solved.ok)
    throw new DomainError(
      'out-of-range',
      solved.message,
      total,
      'Take the solution as it is poured, not the concentrate.',
    );
  const k = constantsAt(25);
  const { g0, g1, g2, g3 } = davies(solved.ionicStrength, k.daviesA);
  const [neutral, second, third] = [g0 / g1, g1 / g2, g2 / g3];
  const [pairs2, pairs3] = [(g2 * g2) / g0, (g2 * g3) / g1];
  const { Ca, Mg, Na, K } = solved.species;
  const [ca, mg, na, kk] = [Ca / 1000, Mg / 1000, Na / 1000, K / 1000];
  const share = (caPair: number, mgPair: number, gamma: number) => 1 + (ca * caPair + mg * mgPair) * gamma;
  const acids: readonly {
    readonly mmolL: number;
    readonly steps: readonly number[];
    readonly swell: readonly number[];
  }[] = [
    {
      mmolL: total.PO4,
      steps: [k.phosphoric1 * neutral, k.phosphoric2 * second, k.phosphoric3 * third],
      swell: [share(k.CaH2PO4, k.MgH2PO4, g2), share(k.CaHPO4, k.MgHPO4, pairs2), share(k.CaPO4, k.MgPO4, pairs3)],
    },
    {
      mmolL: total.citrate,
      steps: [k.citric1 * neutral, k.citric2 * second, k.citric3 * third],
      swell: [share(k.CaH2Cit, k.MgH2Cit, g2), share(k.CaHCit, k.MgHCit, pairs2), share(k.CaCit, k.MgCit, pairs3)],
    },
    { mmolL: total.SiO2, steps: [k.silicic1 * neutral, k.silicic2 * second], swell: [1, 1] },
    { mmolL: total.acetate, steps: [k.acetic * neutral], swell: [1] },
    { mmolL: total.borate, steps: [k.boric * neutral], swell: [1] },
  ];
  const carbonAcid = {
    mmolL: 1,
    steps: [k.carbonic1 * neutral, k.carbonic2 * second],
    swell: [share(k.CaHCO3, k.MgHCO3, g2), share(k.CaCO3, k.MgCO3, pairs2)],
  };
  const kAmmonium = (k.ammonium * g1) / g0;
  const kSulphate = k.bisulphate * second;
  const sulphateSwell = 1 + (ca * k.CaSO4 + mg * k.MgSO4) * pairs2 + (na * k.NaSO4 + kk * k.KSO4) * g2;
  const water = (ph: number) => {
    const a = 10 ** -ph;
    return 1000 * (k.water / g1 / a - a / g1);
  };
  /** Charge the weak acids carry, less what ammonium gives, meq/L. */
  const weak = (ph: number) => {
    const a = 10 ** -ph;
    const sulphate = (kSulphate / a) * sulphateSwell;
    return (
      acids.reduce((sum, acid) => sum + acid.mmolL * meanCharge(acid, a).charge, 0) +
      (total.SO4 * sulphate) / (1 + sulphate) -
      (total.NH4 * a) / (a + kAmmonium)
    );
  };
  const carbonCharge = (ph: number) => meanCharge(carbonAcid, 10 ** -ph).charge;
  const standing = weak(solved.ph) + water(solved.ph) + total.CO2 * carbonCharge(solved.ph);
  return {
    charge: weak,
    /** Pinned so that the reduced solution stands where the full one does. */
    pin: -standing,
    water,
    carbonCharge,
    carbonGas: (ph: number) => meanCharge(carbonAcid, 10 ** -ph).fullest,
    restCo2MmolL: (1000 * k.henry * AIR_PCO2) / g0,
    ecUsCm: solved.ecUsCm,
  };
}

/** Mean charge of a weak acid at a proton activity, and the share that is still whole. */
function meanCharge(
  { steps, swell }: { readonly steps: readonly number[]; readonly swell: readonly number[] },
  a: number,
) {
  let [whole, charge, form] = [1, 0, 1];
  steps.forEach((step, i) => {
    form *= step / a;
    const there = form * swell[i]!;
    whole += there;
    charge += (i + 1) * there;
  });
  return { charge: charge / whole, fullest: 1 / whole };
}
