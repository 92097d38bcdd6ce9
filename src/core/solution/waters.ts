import { cutOffNormal } from '../statistics/index.ts';
import {
  addComposition,
  alkalinityMeqL,
  composition,
  hardnessMeqL,
  scaleComposition,
  type Component,
  type Composition,
} from './composition.ts';
import { findRoot } from './find-root.ts';
import { ATOM, CACO3_MG_PER_MEQ, DKH_PER_MEQ, MOLAR, toMeqL, type AlkalinityUnit } from './masses.ts';
import { CLOSED, OPEN, solve } from './solve.ts';

/** What a water analysis gives, and in which terms. */
export const ANALYSIS_ITEMS = [
  'Ca',
  'Mg',
  'hardness',
  'Na',
  'K',
  'NH4',
  'alkalinity',
  'SO4',
  'Cl',
  'NO3',
  'PO4',
  'SiO2',
] as const;
export type AnalysisItem = (typeof ANALYSIS_ITEMS)[number];
export const ANALYSIS_UNITS = ['mg/L', 'mg/L CaCO3', 'mg/L N', 'mg/L P', 'meq/L', 'mmol/L', '°d'] as const;
export type AnalysisUnit = (typeof ANALYSIS_UNITS)[number];
export type AnalysisLine = { readonly item: AnalysisItem; readonly value: number; readonly unit: AnalysisUnit };

/** mg of the ion as named, charge; alkalinity in mg/L is as HCO3, hardness in mg/L as CaCO3. */
const ITEM: Record<AnalysisItem, { molar: number; charge: number }> = {
  Ca: { molar: ATOM.Ca, charge: 2 },
  Mg: { molar: ATOM.Mg, charge: 2 },
  hardness: { molar: MOLAR.CaCO3, charge: 2 },
  Na: { molar: ATOM.Na, charge: 1 },
  K: { molar: ATOM.K, charge: 1 },
  NH4: { molar: MOLAR.NH4, charge: 1 },
  alkalinity: { molar: MOLAR.HCO3, charge: 1 },
  SO4: { molar: MOLAR.SO4, charge: 2 },
  Cl: { molar: ATOM.Cl, charge: 1 },
  NO3: { molar: MOLAR.NO3, charge: 1 },
  PO4: { molar: MOLAR.PO4, charge: 1 },
  SiO2: { molar: MOLAR.SiO2, charge: 0 },
};

/** Charges that differ by more than this share cannot be one water. */
export const MOST_IMBALANCE = 0.1;
/** Calcium's share of hardness where only their sum is known. */
const CALCIUM_SHARE = 0.8;

export type KnownWater = {
  readonly ok: true;
  readonly composition: Composition;
  /** 1 SD, meq/L: what is not known of the alkalinity. */
  readonly alkalinitySd: number;
  /** (cations − anions)/(cations + anions) before closing; 0 where it was closed by making. */
  readonly imbalance: number;
  readonly how: 'analysis' | 'kit' | 'reading';
  /** Nobody read its own pH: it was taken as taps usually have it, so wide. 1 SD of pH. */
  readonly phGuessSd?: number;
};
export type WaterIssue = {
  readonly ok: false;
  readonly at: AnalysisItem | 'ph' | 'ecUsCm' | 'alkalinityMeqL' | 'lines';
  readonly message: string;
};

/** mmol/L of an item (of charge for alkalinity and hardness) from a value in an analyst's unit. Undefined where the unit does not fit the item. */
export function analysisMmolL({ item, value, unit }: AnalysisLine): number | undefined {
  const { molar, charge } = ITEM[item];
  switch (unit) {
    case 'mg/L':
      return value / molar;
    case 'mmol/L':
      return value;
    case 'meq/L':
      return charge > 0 ? value / charge : undefined;
    case 'mg/L CaCO3':
      return charge > 0 ? value / CACO3_MG_PER_MEQ / charge : undefined;
    case '°d':
      return item === 'hardness' || item === 'alkalinity' ? value / DKH_PER_MEQ / charge : undefined;
    case 'mg/L N':
      return item === 'NO3' || item === 'NH4' ? value / ATOM.N : undefined;
    case 'mg/L P':
      return item === 'PO4' ? value / ATOM.P : undefined;
  }
}

/** The figures of an analysis in mmol/L, hardness shared out; or the first line that cannot be. */
function copyLines(
  lines: readonly AnalysisLine[],
): WaterIssue | { readonly parts: Partial<Record<Component, number>>; readonly alkalinity: number | undefined } {
  const parts: Partial<Record<Component, number>> = {};
  let alkalinity: number | undefined;
  let hardness: number | undefined;
  for (const line of lines) {
    if (!(line.value >= 0 && Number.isFinite(line.value))) {
      const what = line.item === 'alkalinity' ? 'Alkalinity' : line.item;
      return { ok: false, at: line.item, message: `${what} cannot be below zero in a drinking water. Check the sign.` };
    }
    const mmol = analysisMmolL(line);
    if (mmol === undefined)
      return {
        ok: false,
        at: line.item,
        message: `${line.item} is not given in ${line.unit}. Choose the unit the analysis has.`,
      };
    if (line.item === 'alkalinity') alkalinity = mmol;
    else if (line.item === 'hardness') hardness = mmol;
    else parts[line.item] = mmol;
  }
  if (hardness !== undefined) shareHardness(parts, hardness);
  return { parts, alkalinity };
}

/** Hardness tells calcium and magnesium together: what one of them leaves is the other. */
function shareHardness(parts: Partial<Record<Component, number>>, hardness: number): void {
  if (parts.Ca === undefined && parts.Mg === undefined) {
    parts.Ca = hardness * CALCIUM_SHARE;
    parts.Mg = hardness * (1 - CALCIUM_SHARE);
  } else if (parts.Ca === undefined) parts.Ca = Math.max(0, hardness - parts.Mg!);
  else parts.Mg ??= Math.max(0, hardness - parts.Ca);
}

/**
 * A water from its analysis. Charges that differ by up to 10 % are closed with sodium or chloride; more is refused.
 * @param ph as read, or null: then the water is taken to be at rest with air
 * @returns the water, or the first thing wrong with the analysis and what to do
 */
export function waterFromAnalysis(lines: readonly AnalysisLine[], ph: number | null): KnownWater | WaterIssue {
  if (lines.length === 0)
    return { ok: false, at: 'lines', message: 'Copy at least calcium, alkalinity and chloride from the analysis.' };
  const copied = copyLines(lines);
  if ('ok' in copied) return copied;
  const { parts, alkalinity } = copied;
  if (alkalinity === undefined)
    return {
      ok: false,
      at: 'alkalinity',
      message: 'The alkalinity (or bicarbonate) is needed: without it no pH can be told.',
    };
  const declared = composition(parts);
  const cations = 2 * (declared.Ca + declared.Mg) + declared.K + declared.Na + declared.NH4;
  const anions = 2 * declared.SO4 + declared.Cl + declared.NO3 + declared.PO4 + alkalinity;
  const imbalance = cations + anions > 0 ? (cations - anions) / (cations + anions) : 0;
  if (Math.abs(imbalance) > MOST_IMBALANCE) {
    const side = imbalance > 0 ? 'positive' : 'negative';
    const missing =
      imbalance > 0 ? 'chloride, sulphate, nitrate or alkalinity' : 'calcium, magnesium, sodium or potassium';
    return {
      ok: false,
      at: 'lines',
      message: `The ${side} charges are ${Math.round(Math.abs(imbalance) * 100)} % too many: look for ${missing} that is missing, or a wrong unit.`,
    };
  }
  const closed = addComposition(
    declared,
    composition(imbalance > 0 ? { Cl: cations - anions } : { Na: anions - cations }),
  );
  const whole = withPh(closed, ph);
  if (!whole) return { ok: false, at: 'ph', message: PH_IMPOSSIBLE };
  return { ok: true, composition: whole, alkalinitySd: 0.03 * alkalinity + 0.02, imbalance, how: 'analysis' };
}

export type WaterSigns = {
  /** µS/cm, the water's own reading. */
  readonly ecUsCm: number;
  readonly ph: number | null;
  /** By drop kit; null where nobody tested. */
  readonly alkalinityMeqL: number | null;
  readonly hardnessMeqL: number | null;
  /** Still and rain water hold little but what the air and the filter leave. */
  readonly kind: 'still' | 'tap' | 'rain' | 'other';
};

/**
 * A tap whose own pH nobody read: works keep it at 7.5, give or take 0.3, with carbon it would lose to the air; at rest with air a hard one would
 * stand 1.2 higher (value from memory).
 */
export const TAP_PH = Object.freeze({ ph: 7.5, sd: 0.3 });

/** The water's own pH as read, or as taps usually have it; other waters are taken at rest with air. */
const ownPh = ({ ph, kind }: Pick<WaterSigns, 'ph' | 'kind'>) =>
  ph === null && kind === 'tap' ? { ph: TAP_PH.ph, guess: { phGuessSd: TAP_PH.sd } } : { ph, guess: {} };

/** A drop of the usual kit is 1 °d. */
const KIT_SD_MEQ = 0.5 / DKH_PER_MEQ;
/** 1 SD of two counts of it, meq/L. */
const KIT_SD = KIT_SD_MEQ / Math.SQRT2;
/** Water that holds less is as good as pure, meq/L. */
const LEAST_CHARGE = 0.02;
/** Alkalinity's share of a water's charge where nobody tested it, with 1 SD: taps of chalk and of granite lie that far apart. */
const GUESSED_SHARE: Record<WaterSigns['kind'], readonly [number, number]> = {
  still: [0.4, 0.25],
  tap: [0.6, 0.25],
  rain: [0.2, 0.2],
  other: [0.5, 0.3],
};
/** The salts of the rest, by charge: a plain supposition, and the reading does not depend on it by more than a few percent. */
const REST = { Cl: 0.5, SO4: 0.35, NO3: 0.15 } as const;
const PH_IMPOSSIBLE = 'No amount of dissolved carbon gives this water that pH: check the pH pen, or the alkalinity.';

/**
 * Alkalinity by kit, else a share of the charge that the reading tells of; meq/L with 1 SD. Of very soft water a kit whose drop is a degree
 * knows less than that its alkalinity is not below nothing and not more than what conducts: a normal cut off at both.
 */
function alkalinityOf({ ecUsCm, alkalinityMeqL, kind }: WaterSigns): { alkalinity: number; alkalinitySd: number } {
  const [share, sd] = GUESSED_SHARE[kind];
  // About 0.0095 meq/L for each µS/cm in waters of this kind; the scaling to the reading makes it exact.
  const charge = 0.0095 * ecUsCm;
  if (alkalinityMeqL === null) return { alkalinity: share * charge, alkalinitySd: sd * charge };
  if (charge < LEAST_CHARGE) return { alkalinity: charge / 2, alkalinitySd: LEAST_CHARGE / 2 };
  const between = cutOffNormal(Math.min(alkalinityMeqL, charge + 2 * KIT_SD), KIT_SD, 0, charge);
  return { alkalinity: between.mean, alkalinitySd: between.sd };
}

/**
 * A plausible water from only what a grower can see: "reads 212, pH 7.6, 8 °dKH". Alkalinity by kit, else a share of the charge with its
 * uncertainty; hardness by kit, else calcium and magnesium as far as the charge goes; the rest as chloride, sulphate and nitrate, scaled until the reading is met.
 * @returns the water, or what contradicts itself and what to do
 */
export function waterFromSigns(signs: WaterSigns): KnownWater | WaterIssue {
  const { ecUsCm, kind } = signs;
  const { ph, guess } = ownPh(signs);
  if (!(ecUsCm >= 0 && Number.isFinite(ecUsCm)))
    return { ok: false, at: 'ecUsCm', message: 'Read the water first: without its reading nothing can be told.' };
  if (signs.alkalinityMeqL !== null && !(signs.alkalinityMeqL >= 0)) {
    return { ok: false, at: 'alkalinityMeqL', message: 'Alkalinity cannot be below zero: count the drops again.' };
  }
  const { alkalinity: known, alkalinitySd } = alkalinityOf(signs);
  const make = (restMeq: number, alkalinity = known): Composition => {
    const charge = alkalinity + restMeq;
    const hard = Math.min(charge, signs.hardnessMeqL ?? (kind === 'tap' || kind === 'other' ? 0.85 : 0.6) * charge);
    return composition({
      Ca: (hard * CALCIUM_SHARE) / 2,
      Mg: (hard * (1 - CALCIUM_SHARE)) / 2,
      Na: (charge - hard) * 0.9,
      K: (charge - hard) * 0.1,
      Cl: REST.Cl * restMeq,
      SO4: (REST.SO4 * restMeq) / 2,
      NO3: REST.NO3 * restMeq,
      CO2: alkalinity,
    });
  };
  const reads = (restMeq: number, alkalinity = known) => {
    const whole = withPh(make(restMeq, alkalinity), ph) ?? make(restMeq, alkalinity);
    const solved = solve(whole);
    return solved.ok ? solved.ecUsCm : Number.POSITIVE_INFINITY;
  };
  const counted = signs.alkalinityMeqL;
  const alone = counted === null ? 0 : reads(0, counted);
  if (counted !== null && contradicts(make(0, counted), counted, alone, ecUsCm))
    return {
      ok: false,
      at: 'alkalinityMeqL',
      message: `That alkalinity alone would conduct ${Math.round(alone)} µS/cm, more than the water reads (${Math.round(ecUsCm)}). Count the drops again, or check the pen.`,
    };
  const least = reads(0);
  let made = make(0);
  if (least < ecUsCm) made = make(findRoot((rest) => reads(rest) - ecUsCm, 0, 0.02 * ecUsCm + 0.5, 1e-6).x);
  else if (least > ecUsCm && least > 0) made = scaleComposition(made, ecUsCm / least);
  const whole = withPh(made, ph);
  if (!whole) return { ok: false, at: 'ph', message: PH_IMPOSSIBLE };
  return {
    ok: true,
    composition: whole,
    alkalinitySd,
    imbalance: 0,
    how: counted === null ? 'reading' : 'kit',
    ...guess,
  };
}

/** A kit's drop is a degree, so the alkalinity may be less by one before it and the reading contradict each other. @param least what it conducts alone, µS/cm */
function contradicts(alone: Composition, alkalinity: number, least: number, ecUsCm: number): boolean {
  const most = ecUsCm * 1.1 + 4;
  if (least <= most) return false;
  const easier = solve(scaleComposition(alone, Math.max(0, alkalinity - 2 * KIT_SD_MEQ) / Math.max(alkalinity, 1e-9)));
  return !easier.ok || easier.ecUsCm > most;
}

/**
 * The composition with so much carbon that, closed, it has this pH; at rest with air where the pH is not known. Very soft waters hardly
 * hold a pH, so a reading that carbon cannot explain there is let go by, and the water is taken at rest with air.
 */
export function withPh(c: Composition, ph: number | null): Composition | undefined {
  const standing = () => {
    const solved = solve(c, OPEN);
    return solved.ok ? { ...c, CO2: solved.carbonMmolL } : undefined;
  };
  if (ph === null) return standing();
  const at = (carbon: number) => {
    const solved = solve({ ...c, CO2: carbon }, CLOSED);
    return solved.ok ? solved.ph - ph : Number.NaN;
  };
  const alkalinity = Math.max(0, alkalinityMeqL(c));
  const most = alkalinity * 100 + 10;
  const [fewest, top] = [at(0), at(most)];
  if (fewest > 0 && top < 0) return { ...c, CO2: findRoot((carbon) => at(carbon), 0, most, 1e-9).x };
  if (Number.isNaN(fewest) && top < 0)
    return { ...c, CO2: findRoot((carbon) => at(carbon), alkalinity * 0.4, most, 1e-9).x };
  return hardnessMeqL(c) < 0.5 || alkalinity < 0.3 ? standing() : undefined;
}

/** A water as its analysis has it, thinned or strengthened to the reading it shows today, within a third to three times. */
export function waterAtReading(water: KnownWater, ecUsCm: number): KnownWater {
  const solved = solve(water.composition);
  if (!solved.ok || !(solved.ecUsCm > 0) || !(ecUsCm > 0)) return water;
  const factor = Math.min(3, Math.max(0.33, ecUsCm / solved.ecUsCm));
  return {
    ...water,
    composition: scaleComposition(water.composition, factor),
    alkalinitySd: Math.hypot(water.alkalinitySd, 0.1 * Math.abs(factor - 1)),
  };
}

/** What a grower knows of a water beyond its reading: a drop kit, or a whole analysis. */
export type WaterTest =
  | {
      readonly method: 'kit';
      readonly alkalinity: { readonly value: number; readonly unit: AlkalinityUnit };
      readonly hardness: { readonly value: number; readonly unit: AlkalinityUnit } | null;
    }
  | { readonly method: 'analysis'; readonly lines: readonly AnalysisLine[]; readonly ph: number | null };

/** A water by all that is known of it: its test, or none, with the reading and pH it shows now. */
export function waterFromTest(
  test: WaterTest | null,
  { ecUsCm, ph, kind }: Pick<WaterSigns, 'ecUsCm' | 'ph' | 'kind'>,
): KnownWater | WaterIssue {
  if (test?.method === 'analysis') {
    const own = ownPh({ ph: test.ph ?? ph, kind });
    const analysed = waterFromAnalysis(test.lines, own.ph);
    return analysed.ok ? { ...waterAtReading(analysed, ecUsCm), ...own.guess } : analysed;
  }
  return waterFromSigns({
    ecUsCm,
    ph,
    alkalinityMeqL: test && toMeqL(test.alkalinity.value, test.alkalinity.unit),
    hardnessMeqL: test?.hardness ? toMeqL(test.hardness.value, test.hardness.unit) : null,
    kind,
  });
}
