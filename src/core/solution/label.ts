import { addComposition, alkalinityMeqL, composition, type Component, type Composition } from './composition.ts';
import { elementsOf, TRACES, type Elements, type Trace } from './elements.ts';
import { CLOSED, solve } from './solve.ts';
import { DECLARED_ACIDS, DECLARED_ALKALIS, PLAIN, type Label, type LabelIssue } from './label-items.ts';
import { doubled, issuesOf, round, sum } from './label-issues.ts';

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
