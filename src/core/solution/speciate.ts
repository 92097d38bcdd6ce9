import type { Composition } from './composition.ts';
import type { Constants } from './constants.ts';
import type { SpeciesTable } from './species.ts';

/** Air over the water: none comes in or out, or it stands open to a partial pressure of CO2 (atm) long enough. */
export type Air = { readonly kind: 'closed' } | { readonly kind: 'open'; readonly pCo2: number };

/** pH looked for. Past these ends the solution is outside the model. */
export const PH_SEARCH: { readonly low: number; readonly high: number } = Object.freeze({ low: 2, high: 12 });
/** pH is found to 1e-6; the inner steps stop ten times closer so that the outer one can tell. */
export const PH_TOLERANCE = 1e-6;
/** Rounds of ionic strength and pairing. Twenty are usual; strong citrate takes some sixty. */
const MOST_ROUNDS = 300;
const MOST_PAIRINGS = 400;
const MOST_NEWTON = 80;
/** Ionic strength past which nothing here is computed any more even as a step on the way, mol/L. */
const TOO_STRONG = 0.5;

export type Speciation = {
  readonly ph: number;
  /** mol/L */
  readonly ionicStrength: number;
  readonly species: SpeciesTable;
  /** Charge left over, mmol/L: how well electroneutrality closes. */
  readonly residualMmolL: number;
  readonly rounds: number;
};
export type SpeciationFailure = 'tooStrong' | 'tooAcid' | 'tooAlkaline' | 'notConverged';

/** Activity coefficients by charge, Davies; a neutral molecule's log γ is 0.1 I (usual). */
export function davies(ionicStrength: number, a: number): { g0: number; g1: number; g2: number; g3: number } {
  const root = Math.sqrt(ionicStrength);
  const log = -a * (root / (1 + root) - 0.3 * ionicStrength);
  const g1 = 10 ** log;
  const g2 = g1 ** 4;
  return { g0: 10 ** (0.1 * ionicStrength), g1, g2, g3: g2 * g2 * g1 };
}

/**
 * Where the equilibria come to rest. Ionic strength and free metals are held while pH is found on the charge balance, which then falls
 * strictly with pH (a Newton step kept inside its bracket); then metals share themselves between their pairs, and strength is taken anew.
 * Every loop is bounded, so it always ends. Amounts in mol/L inside, as the constants are.
 */
export function speciate(total: Composition, air: Air, k: Constants): Speciation | SpeciationFailure {
  const ca = total.Ca / 1000;
  const mg = total.Mg / 1000;
  const na = total.Na / 1000;
  const kk = total.K / 1000;
  const nh = total.NH4 / 1000;
  const so = total.SO4 / 1000;
  const po = total.PO4 / 1000;
  const si = total.SiO2 / 1000;
  const co = total.CO2 / 1000;
  const ci = total.citrate / 1000;
  const ac = total.acetate / 1000;
  const bo = total.borate / 1000;
  const strong = 2 * (ca + mg) + kk + na - (total.Fe + total.NO3 + total.Cl) / 1000;
  const open = air.kind === 'open';
  const co2Activity = open ? k.henry * air.pCo2 : 0;

  let caFree = ca;
  let mgFree = mg;
  let naFree = na;
  let kFree = kk;
  let ph = 7;
  let strength = Math.min(
    0.1,
    0.5 * (4 * (ca + mg + so) + kk + na + nh + (total.NO3 + total.Cl) / 1000 + po + co + 4 * ci),
  );

  for (let round = 1; round <= MOST_ROUNDS; round++) {
    const { g0, g1, g2, g3 } = davies(strength, k.daviesA);
    const neutral = g0 / g1;
    const second = g1 / g2;
    const third = g2 / g3;
    const pairs2 = (g2 * g2) / g0;
    const pairs3 = (g2 * g3) / g1;
    const kw = k.water / g1;
    const kc1 = k.carbonic1 * neutral;
    const kc2 = k.carbonic2 * second;
    const kp1 = k.phosphoric1 * neutral;
    const kp2 = k.phosphoric2 * second;
    const kp3 = k.phosphoric3 * third;
    const kq1 = k.citric1 * neutral;
    const kq2 = k.citric2 * second;
    const kq3 = k.citric3 * third;
    const ks1 = k.silicic1 * neutral;
    const ks2 = k.silicic2 * second;
    const kSulphate = k.bisulphate * second;
    const kAmmonium = (k.ammonium * g1) / g0;
    const kAcetic = k.acetic * neutral;
    const kBoric = k.boric * neutral;
    const caHco3 = k.CaHCO3 * g2;
    const mgHco3 = k.MgHCO3 * g2;
    const caCo3 = k.CaCO3 * pairs2;
    const mgCo3 = k.MgCO3 * pairs2;
    const caH2po4 = k.CaH2PO4 * g2;
    const mgH2po4 = k.MgH2PO4 * g2;
    const caHpo4 = k.CaHPO4 * pairs2;
    const mgHpo4 = k.MgHPO4 * pairs2;
    const caPo4 = k.CaPO4 * pairs3;
    const mgPo4 = k.MgPO4 * pairs3;
    const caSo4 = k.CaSO4 * pairs2;
    const mgSo4 = k.MgSO4 * pairs2;
    const naSo4 = k.NaSO4 * g2;
    const kSo4 = k.KSO4 * g2;
    const caCit = k.CaCit * pairs3;
    const mgCit = k.MgCit * pairs3;
    const caHcit = k.CaHCit * pairs2;
    const mgHcit = k.MgHCit * pairs2;
    const caH2cit = k.CaH2Cit * g2;
    const mgH2cit = k.MgH2Cit * g2;
    const co2 = co2Activity / g0;

    // How much the free metals swell each form of a ligand: one for the form itself and one for each pair with it.
    const hco3Share = 1 + caFree * caHco3 + mgFree * mgHco3;
    const co3Share = 1 + caFree * caCo3 + mgFree * mgCo3;
    const h2po4Share = 1 + caFree * caH2po4 + mgFree * mgH2po4;
    const hpo4Share = 1 + caFree * caHpo4 + mgFree * mgHpo4;
    const po4Share = 1 + caFree * caPo4 + mgFree * mgPo4;
    const so4Share = 1 + caFree * caSo4 + mgFree * mgSo4 + naFree * naSo4 + kFree * kSo4;
    const h2citShare = 1 + caFree * caH2cit + mgFree * mgH2cit;
    const hcitShare = 1 + caFree * caHcit + mgFree * mgHcit;
    const citShare = 1 + caFree * caCit + mgFree * mgCit;

    let slope = 0;
    const charge = (at: number): number => {
      const a = 10 ** -at;
      const h = a / g1;
      const oh = kw / a;
      let sum = strong + h - oh;
      let steep = h + oh;
      if (open) {
        const f1 = ((kc1 * co2) / a) * hco3Share;
        const f2 = ((kc1 * kc2 * co2) / (a * a)) * co3Share;
        sum -= f1 + 2 * f2;
        steep += f1 + 4 * f2;
      } else if (co > 0) {
        const f1 = (kc1 / a) * hco3Share;
        const f2 = ((kc1 * kc2) / (a * a)) * co3Share;
        const d = 1 + f1 + f2;
        const n = (f1 + 2 * f2) / d;
        sum -= co * n;
        steep += co * ((f1 + 4 * f2) / d - n * n);
      }
      if (po > 0) {
        const f1 = (kp1 / a) * h2po4Share;
        const f2 = ((kp1 * kp2) / (a * a)) * hpo4Share;
        const f3 = ((kp1 * kp2 * kp3) / (a * a * a)) * po4Share;
        const d = 1 + f1 + f2 + f3;
        const n = (f1 + 2 * f2 + 3 * f3) / d;
        sum -= po * n;
        steep += po * ((f1 + 4 * f2 + 9 * f3) / d - n * n);
      }
      if (ci > 0) {
        const f1 = (kq1 / a) * h2citShare;
        const f2 = ((kq1 * kq2) / (a * a)) * hcitShare;
        const f3 = ((kq1 * kq2 * kq3) / (a * a * a)) * citShare;
        const d = 1 + f1 + f2 + f3;
        const n = (f1 + 2 * f2 + 3 * f3) / d;
        sum -= ci * n;
        steep += ci * ((f1 + 4 * f2 + 9 * f3) / d - n * n);
      }
      if (si > 0) {
        const f1 = ks1 / a;
        const f2 = (ks1 * ks2) / (a * a);
        const d = 1 + f1 + f2;
        const n = (f1 + 2 * f2) / d;
        sum -= si * n;
        steep += si * ((f1 + 4 * f2) / d - n * n);
      }
      if (so > 0) {
        const f2 = (kSulphate / a) * so4Share;
        const p = f2 / (1 + f2);
        sum -= so * (1 + p);
        steep += so * p * (1 - p);
      }
      if (nh > 0) {
        const p = a / (a + kAmmonium);
        sum += nh * p;
        steep += nh * p * (1 - p);
      }
      if (ac > 0) {
        const p = kAcetic / (a + kAcetic);
        sum -= ac * p;
        steep += ac * p * (1 - p);
      }
      if (bo > 0) {
        const p = kBoric / (a + kBoric);
        sum -= bo * p;
        steep += bo * p * (1 - p);
      }
      slope = -Math.LN10 * steep;
      return sum;
    };

    let low = PH_SEARCH.low;
    let high = PH_SEARCH.high;
    let at = ph;
    for (let step = 0; step < MOST_NEWTON; step++) {
      const left = charge(at);
      if (left > 0) low = at;
      else high = at;
      const newton = at - left / slope;
      const next = newton > low && newton < high ? newton : (low + high) / 2;
      const moved = Math.abs(next - at);
      at = next;
      if (moved < PH_TOLERANCE / 10) break;
    }
    const phMoved = Math.abs(at - ph);
    ph = at;

    const a = 10 ** -ph;
    const oh = kw / a;
    // Ligands at this pH relative to their fullest form, without pairs; then metals and ligands share until both stand still.
    const c1 = kc1 / a;
    const c2 = (kc1 * kc2) / (a * a);
    const p1 = kp1 / a;
    const p2 = (kp1 * kp2) / (a * a);
    const p3 = (kp1 * kp2 * kp3) / (a * a * a);
    const q1 = kq1 / a;
    const q2 = (kq1 * kq2) / (a * a);
    const q3 = (kq1 * kq2 * kq3) / (a * a * a);
    const s2 = kSulphate / a;
    const caBefore = caFree;
    const mgBefore = mgFree;
    let carbon = 0;
    let phosphate = 0;
    let citrate = 0;
    let sulphate = 0;
    for (let i = 0; i < MOST_PAIRINGS; i++) {
      carbon = open
        ? co2
        : co / (1 + c1 * (1 + caFree * caHco3 + mgFree * mgHco3) + c2 * (1 + caFree * caCo3 + mgFree * mgCo3));
      phosphate =
        po /
        (1 +
          p1 * (1 + caFree * caH2po4 + mgFree * mgH2po4) +
          p2 * (1 + caFree * caHpo4 + mgFree * mgHpo4) +
          p3 * (1 + caFree * caPo4 + mgFree * mgPo4));
      citrate =
        ci /
        (1 +
          q1 * (1 + caFree * caH2cit + mgFree * mgH2cit) +
          q2 * (1 + caFree * caHcit + mgFree * mgHcit) +
          q3 * (1 + caFree * caCit + mgFree * mgCit));
      sulphate = so / (1 + s2 * (1 + caFree * caSo4 + mgFree * mgSo4 + naFree * naSo4 + kFree * kSo4));
      const so4 = s2 * sulphate;
      const caNext =
        ca /
        (1 +
          carbon * (c1 * caHco3 + c2 * caCo3) +
          phosphate * (p1 * caH2po4 + p2 * caHpo4 + p3 * caPo4) +
          citrate * (q1 * caH2cit + q2 * caHcit + q3 * caCit) +
          so4 * caSo4);
      const mgNext =
        mg /
        (1 +
          carbon * (c1 * mgHco3 + c2 * mgCo3) +
          phosphate * (p1 * mgH2po4 + p2 * mgHpo4 + p3 * mgPo4) +
          citrate * (q1 * mgH2cit + q2 * mgHcit + q3 * mgCit) +
          so4 * mgSo4);
      naFree = na / (1 + so4 * naSo4);
      kFree = kk / (1 + so4 * kSo4);
      const still = Math.abs(caNext - caFree) <= 1e-9 * ca && Math.abs(mgNext - mgFree) <= 1e-9 * mg;
      caFree = caNext;
      mgFree = mgNext;
      if (still) break;
    }

    const hco3 = c1 * carbon;
    const co3 = c2 * carbon;
    const h2po4 = p1 * phosphate;
    const hpo4 = p2 * phosphate;
    const po4 = p3 * phosphate;
    const h2cit = q1 * citrate;
    const hcit = q2 * citrate;
    const cit = q3 * citrate;
    const so4 = s2 * sulphate;
    const siD = 1 + ks1 / a + (ks1 * ks2) / (a * a);
    const h4 = si / siD;
    const h3 = (ks1 / a) * h4;
    const h2 = (ks2 / a) * h3;
    const ammonium = (nh * a) / (a + kAmmonium);
    const acetateIon = (ac * kAcetic) / (a + kAcetic);
    const borateIon = (bo * kBoric) / (a + kBoric);
    const h = a / g1;
    const naSo = naFree * naSo4 * so4;
    const kSo = kFree * kSo4 * so4;
    const ones =
      h +
      oh +
      kFree +
      naFree +
      ammonium +
      (total.NO3 + total.Cl + total.Fe) / 1000 +
      sulphate +
      hco3 * (1 + caFree * caHco3 + mgFree * mgHco3) +
      h2po4 * (1 + caFree * caH2po4 + mgFree * mgH2po4) +
      po4 * (caFree * caPo4 + mgFree * mgPo4) +
      h2cit * (1 + caFree * caH2cit + mgFree * mgH2cit) +
      cit * (caFree * caCit + mgFree * mgCit) +
      h3 +
      acetateIon +
      borateIon +
      naSo +
      kSo;
    const twos = caFree + mgFree + so4 + co3 + hpo4 + hcit + h2;
    const strengthNext = 0.5 * (ones + 4 * twos + 9 * (po4 + cit));
    const strengthMoved = Math.abs(strengthNext - strength);
    strength = Math.min(TOO_STRONG, strengthNext);

    const still = Math.abs(caFree - caBefore) <= 1e-8 * ca && Math.abs(mgFree - mgBefore) <= 1e-8 * mg;
    if (phMoved < PH_TOLERANCE / 2 && strengthMoved < 1e-8 && still) {
      if (strengthNext >= TOO_STRONG) return 'tooStrong';
      if (ph <= PH_SEARCH.low + 1e-5) return 'tooAcid';
      if (ph >= PH_SEARCH.high - 1e-5) return 'tooAlkaline';
      const mM = 1000;
      const species: SpeciesTable = {
        H: h * mM,
        OH: oh * mM,
        Ca: caFree * mM,
        Mg: mgFree * mM,
        K: kFree * mM,
        Na: naFree * mM,
        NH4: ammonium * mM,
        NO3: total.NO3,
        Cl: total.Cl,
        SO4: so4 * mM,
        HSO4: sulphate * mM,
        HCO3: hco3 * mM,
        CO3: co3 * mM,
        H2PO4: h2po4 * mM,
        HPO4: hpo4 * mM,
        PO4: po4 * mM,
        H3SiO4: h3 * mM,
        H2SiO4: h2 * mM,
        H2Cit: h2cit * mM,
        HCit: hcit * mM,
        Cit: cit * mM,
        acetate: acetateIon * mM,
        borate: borateIon * mM,
        FeEDTA: total.Fe,
        CaHCO3: caFree * caHco3 * hco3 * mM,
        MgHCO3: mgFree * mgHco3 * hco3 * mM,
        CaH2PO4: caFree * caH2po4 * h2po4 * mM,
        MgH2PO4: mgFree * mgH2po4 * h2po4 * mM,
        CaPO4: caFree * caPo4 * po4 * mM,
        MgPO4: mgFree * mgPo4 * po4 * mM,
        NaSO4: naSo * mM,
        KSO4: kSo * mM,
        CaH2Cit: caFree * caH2cit * h2cit * mM,
        MgH2Cit: mgFree * mgH2cit * h2cit * mM,
        CaCit: caFree * caCit * cit * mM,
        MgCit: mgFree * mgCit * cit * mM,
        CO2: carbon * mM,
        H3PO4: phosphate * mM,
        H4SiO4: h4 * mM,
        NH3: (nh - ammonium) * mM,
        H3Cit: citrate * mM,
        HAc: (ac - acetateIon) * mM,
        boric: (bo - borateIon) * mM,
        MgSO4: mgFree * mgSo4 * so4 * mM,
        CaSO4: caFree * caSo4 * so4 * mM,
        CaHPO4: caFree * caHpo4 * hpo4 * mM,
        MgHPO4: mgFree * mgHpo4 * hpo4 * mM,
        CaCO3: caFree * caCo3 * co3 * mM,
        MgCO3: mgFree * mgCo3 * co3 * mM,
        CaHCit: caFree * caHcit * hcit * mM,
        MgHCit: mgFree * mgHcit * hcit * mM,
        urea: total.urea,
      };
      return { ph, ionicStrength: strengthNext, species, residualMmolL: charge(ph) * mM, rounds: round };
    }
  }
  return strength >= TOO_STRONG ? 'tooStrong' : 'notConverged';
}
