import { addComposition, alkalinityMeqL, composition, type Component, type Composition } from './composition.ts';
import { elementsOf, TRACES, type Elements, type Trace } from './elements.ts';
import { ATOM, MOLAR } from './masses.ts';
import { CLOSED, solve } from './solve.ts';

/**
 * What a label may say, in its own words. Elements, oxides, nitrogen by form, and what acids, alkalis and plain salts are sold as;
 * each with the component it brings and how many mg of it are one mmol of that.
 */
const PLAIN = {
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

export type ReadLabel = {
  readonly ok: true;
  /** mmol per mL (or per g) of what is in the bottle. Charge is closed. */
  readonly perUnit: Composition;
  /** What the label declares (with what had to be supposed), mg; what closes the charge is not counted. */
  readonly elements: Elements;
  readonly traces: Partial<Record<Trace, number>>;
  readonly organicN: number;
  /** Nitrogen whose form the label does not say, taken as nitrate, mg. */
  readonly unsaidN: number;
  /** What a pen reads for 1 mL (g) in 1 L of pure water, µS/cm, taken at a weak dose; and 1 SD of that estimate. */
  readonly ecPerUnitL: number;
  readonly sd: number;
  /** Declared charges that do not meet, as a share of the larger; what was added to close them. */
  readonly gap: number;
  readonly closedWith: 'nothing' | 'chloride' | 'sulphate' | 'potassium' | 'alkali';
  /** The gap is past 15 %: the estimate is weak and is said to be. */
  readonly wide: boolean;
  /** What had to be supposed, in words. */
  readonly supposed: readonly string[];
};

/** Gaps above this are flagged. */
export const WIDE_GAP = 0.15;
/** Guaranteed analyses are minima and rounded: no label is worth more than this as a guess of what a pen reads, 1 SD. */
export const LABEL_SD = 0.1;
/** Molar SiO2 : K2O of usual potassium silicates, taken where a label gives no potassium (3.3; sold from 2.6 to 3.9). */
const SILICATE_RATIO = 3.3;
/** Reading taken at about this conductivity: a weak feed. */
const TAKEN_AT_US_CM = 200;

/**
 * Reads a label: what one mL (or gram) brings, and what a pen should say of it. Oxide factors from atomic weights. Declared ions rarely
 * meet; the gap is closed with chloride (or sulphate where sulphur was declared) for missing anions and potassium for missing cations,
 * the spread between ways of closing it is part of the uncertainty, and a gap above 15 % is flagged.
 * @returns the reading, or every mistake on the label with its remedy
 * @example readLabel({ form: 'powder', basis: 'w/w', densityGMl: null, percent: { Epsom: 100 }, thinned: 1 }) // 98.6 mg Mg per g
 */
export function readLabel(label: Label): ReadLabel | { readonly ok: false; readonly issues: readonly LabelIssue[] } {
  const issues = issuesOf(label);
  if (issues.length > 0) return { ok: false, issues };
  const percent = { ...label.percent };
  const supposed: string[] = [];
  const forms = sum(percent['NO3-N'], percent['NH4-N'], percent['urea-N'], percent['organic-N']);
  const over = (percent.N ?? 0) - forms;
  // A rounding digit is no missing form.
  const unsaid = over > 0.05 + 0.02 * forms ? over : 0;
  if (unsaid > 0) {
    percent['NO3-N'] = (percent['NO3-N'] ?? 0) + unsaid;
    supposed.push(`The form of ${round(unsaid)} % nitrogen is not said; taken as nitrate.`);
  }
  const mgPerUnit = mgOf(label);
  const parts = partsOf(percent, mgPerUnit);
  const traces = tracesOf(percent, mgPerUnit);
  if ((parts.SiO2 ?? 0) > 0 && !parts.K && !parts.Na && !percent.citric) {
    parts.K = (2 * parts.SiO2!) / SILICATE_RATIO;
    supposed.push('Potassium is not declared; taken as a usual potassium silicate.');
  }
  const declared = composition(parts);
  const { closures, gap, closedWith } = closuresOf(declared, percent);
  const readings = closures.map((closed) => ecPerUnit(closed));
  const ecPerUnitL = readings[0] ?? 0;
  const closing = closedWith === 'nothing' || closedWith === 'alkali' ? 0 : (gap * ecPerUnitL) / 4;
  const perUnit = closures[0]!;
  return {
    ok: true,
    perUnit,
    elements: elementsOf(declared, traces),
    traces,
    unsaidN: (unsaid / 100) * mgPerUnit,
    organicN: ((percent['organic-N'] ?? 0) / 100) * mgPerUnit,
    ecPerUnitL,
    sd: Math.hypot(LABEL_SD * ecPerUnitL, Math.max(...readings) - Math.min(...readings), closing),
    gap,
    closedWith,
    wide: gap > WIDE_GAP,
    supposed,
  };
}

/** mg of product in one mL, or in one gram; a thinned bottle holds so much less. */
const mgOf = ({ form, basis, densityGMl, thinned }: Label): number =>
  (form === 'powder' || basis === 'w/v' ? 1000 : 1000 * (densityGMl ?? 1)) / thinned;

function tracesOf(percent: Label['percent'], mgPerUnit: number): Partial<Record<Trace, number>> {
  const traces: Partial<Record<Trace, number>> = {};
  for (const trace of TRACES) if (percent[trace]) traces[trace] = (percent[trace] / 100) * mgPerUnit;
  return traces;
}

/** mmol of each component in a unit. */
function partsOf(percent: Label['percent'], mgPerUnit: number): Partial<Record<Component, number>> {
  const parts: Partial<Record<Component, number>> = {};
  for (const [item, { brings, molar }] of Object.entries(PLAIN) as [
    keyof typeof PLAIN,
    (typeof PLAIN)[keyof typeof PLAIN],
  ][]) {
    const share = percent[item];
    if (!share || doubled(percent, item)) continue;
    const mmol = ((share / 100) * mgPerUnit) / molar;
    for (const [component, n] of Object.entries(brings) as [Component, number][])
      parts[component] = (parts[component] ?? 0) + n * mmol;
  }
  return parts;
}

/** Every way of closing the charge that is likely, the likeliest first. */
function closuresOf(
  declared: Composition,
  percent: Label['percent'],
): { closures: Composition[]; gap: number; closedWith: ReadLabel['closedWith'] } {
  const over = alkalinityMeqL(declared);
  const cations = 2 * (declared.Ca + declared.Mg) + declared.K + declared.Na + declared.NH4;
  const anions = cations - over;
  const gap = Math.abs(over) / Math.max(cations, anions, 1e-12);
  const hasAcid = DECLARED_ACIDS.some((acid) => percent[acid]);
  const hasAlkali = DECLARED_ALKALIS.some((alkali) => percent[alkali]) || declared.SiO2 > 0;
  if (over > 0 && hasAlkali) return { closures: [declared], gap: 0, closedWith: 'alkali' };
  if (over < 0 && hasAcid) return { closures: [declared], gap: 0, closedWith: 'nothing' };
  if (gap < 1e-9) return { closures: [declared], gap, closedWith: 'nothing' };
  const add = (parts: Partial<Record<Component, number>>) => addComposition(declared, composition(parts));
  if (over > 0) {
    const chloride = add({ Cl: over });
    const sulphate = add({ SO4: over / 2 });
    return declared.SO4 > 0
      ? { closures: [sulphate, chloride], gap, closedWith: 'sulphate' }
      : { closures: [chloride, sulphate], gap, closedWith: 'chloride' };
  }
  return { closures: [add({ K: -over }), add({ Na: -over })], gap, closedWith: 'potassium' };
}

/** µS/cm per mL/L (g/L) at a weak dose in pure water: where strong products are used, and where the law holds. */
function ecPerUnit(perUnit: Composition): number {
  const at = (dose: number) => {
    const solved = solve(addComposition(composition({}), perUnit, dose), CLOSED);
    return solved.ok ? solved.ecUsCm : undefined;
  };
  // A weak feed has some 3 meq of charge in a litre, both signs counted; acids and alkalis conduct more, so the dose is then corrected once.
  const charge =
    2 * (perUnit.Ca + perUnit.Mg + perUnit.SO4) +
    perUnit.K +
    perUnit.Na +
    perUnit.NH4 +
    perUnit.NO3 +
    perUnit.Cl +
    perUnit.PO4 +
    perUnit.citrate;
  if (!(charge > 1e-9)) return 0;
  let dose = 3 / charge;
  const first = at(dose);
  if (first !== undefined && first > 0) dose *= TAKEN_AT_US_CM / first;
  const ec = at(dose);
  return ec === undefined ? 0 : ec / dose;
}

const SAME: readonly (readonly [LabelItem, LabelItem, number])[] = [
  ['P2O5', 'P', (2 * ATOM.P) / MOLAR.P2O5],
  ['K2O', 'K', (2 * ATOM.K) / MOLAR.K2O],
  ['CaO', 'Ca', ATOM.Ca / MOLAR.CaO],
  ['MgO', 'Mg', ATOM.Mg / MOLAR.MgO],
  ['SO3', 'S', ATOM.S / MOLAR.SO3],
  ['SiO2', 'Si', ATOM.Si / MOLAR.SiO2],
  ['Na2O', 'Na', (2 * ATOM.Na) / MOLAR.Na2O],
];

/** An oxide stands beside its element: the element counts, the oxide says the same again. */
function doubled(percent: Label['percent'], item: LabelItem): boolean {
  return SAME.some(([oxide, element]) => item === oxide && (percent[element] ?? 0) > 0);
}

function issuesOf(label: Label): LabelIssue[] {
  const given = (Object.entries(label.percent) as [LabelItem, number | undefined][]).filter(
    (entry): entry is [LabelItem, number] => entry[1] !== undefined,
  );
  const figures = given.flatMap(([item, value]) => figureIssue(item, value) ?? []);
  if (figures.length > 0) return figures;
  const { percent, thinned } = label;
  const forms = sum(percent['NO3-N'], percent['NH4-N'], percent['urea-N'], percent['organic-N']);
  const issues: LabelIssue[] = [];
  if (given.every(([, value]) => value === 0))
    issues.push({ at: 'percent', message: 'Copy at least one figure from the label.' });
  if (!(thinned >= 1 && thinned <= 1000))
    issues.push({
      at: 'thinned',
      message: 'Thinned means parts altogether: 1 is as bought, 2 is one part and one of water.',
    });
  if (percent.N !== undefined && forms > percent.N + 0.06)
    issues.push({
      at: 'N',
      message: `The forms of nitrogen add up to ${round(forms)} %, more than the ${round(percent.N)} % altogether. Read the label again.`,
    });
  return [...issues, ...twiceSaid(percent), ...wholeIssue(label, given, forms), ...densityIssue(label)];
}

function figureIssue(at: LabelItem, value: number): LabelIssue | undefined {
  if (!(value >= 0 && Number.isFinite(value)))
    return { at, message: 'A label declares nothing below zero. Leave it empty if it is not there.' };
  return value > 100
    ? { at, message: `${round(value)} % is more than the whole. Is it in g per litre? Divide by ten.` }
    : undefined;
}

/** An oxide and its element that contradict each other. */
const twiceSaid = (percent: Label['percent']): LabelIssue[] =>
  SAME.flatMap(([oxide, element, factor]) => {
    const [a, b] = [percent[oxide] ?? 0, percent[element] ?? 0];
    // Labels round to a tenth; more apart than that, and a fifteenth, is a contradiction.
    if (a === 0 || b === 0 || !(Math.abs(a * factor - b) > 0.1 + b / 15)) return [];
    return {
      at: element,
      message: `${round(a)} % ${oxide} would be ${round(a * factor)} % ${element}, not ${round(b)}. Keep the one the label gives.`,
    };
  });

function wholeIssue(label: Label, given: readonly [LabelItem, number][], forms: number): LabelIssue[] {
  const whole = given.reduce(
    (all, [item, value]) => all + (item === 'N' && forms > 0 ? 0 : doubled(label.percent, item) ? 0 : value),
    0,
  );
  const most = label.form === 'liquid' && label.basis === 'w/v' ? 200 : 100;
  return whole > most
    ? [{ at: 'percent', message: `Altogether ${round(whole)} %, more than the whole. Check the figures.` }]
    : [];
}

function densityIssue({ form, basis, densityGMl }: Label): LabelIssue[] {
  if (form !== 'liquid' || basis !== 'w/w') return [];
  if (densityGMl === null)
    return [
      {
        at: 'densityGMl',
        message:
          'Percent by weight needs the density: weigh 10 mL and divide the grams by ten, or take it from the label (feeds are near 1.2).',
      },
    ];
  return densityGMl >= 0.7 && densityGMl <= 2.2
    ? []
    : [{ at: 'densityGMl', message: 'Liquids weigh 0.7 to 2.2 g per mL. Check the figure.' }];
}

function sum(...values: (number | undefined)[]): number {
  return values.reduce<number>((all, value) => all + (value ?? 0), 0);
}

const round = (value: number) => Number(value.toFixed(2));
