import type { Label, LabelIssue, LabelItem } from './label-items.ts';
import { ATOM, MOLAR } from './masses.ts';

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
export function doubled(percent: Label['percent'], item: LabelItem): boolean {
  return SAME.some(([oxide, element]) => item === oxide && (percent[element] ?? 0) > 0);
}

/** Every mistake on a label, each with its remedy. */
export function issuesOf(label: Label): LabelIssue[] {
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

export function sum(...values: (number | undefined)[]): number {
  return values.reduce<number>((all, value) => all + (value ?? 0), 0);
}

export const round = (value: number) => Number(value.toFixed(2));
