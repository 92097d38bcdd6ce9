import type { LabelFigures } from '../../contract/shelf.ts';
import { LABEL_ITEMS, type LabelItem } from '../../core/solution/index.ts';
import { typedNumber } from '../shell/field-reader.ts';
import type { Texts } from './as-typed.ts';

/** The field of a label's figure. */
export const itemField = (item: LabelItem) => `pct.${item}`;

/** A label nobody copied yet. `labelForm` of '' is no label. */
export const EMPTY_LABEL: Texts = {
  labelForm: 'liquid',
  labelBasis: 'w/w',
  densityGMl: '',
  thinned: '1',
  labelTerms: 'oxides',
  ...Object.fromEntries(LABEL_ITEMS.map((item) => [itemField(item), ''])),
};

/** A label as its form shows it. */
export function labelToText(label: LabelFigures | null): Texts {
  if (!label) return EMPTY_LABEL;
  const elements = (['P', 'K', 'Ca', 'Mg', 'S'] as const).some((e) => label.percent[e] !== undefined);
  return {
    ...EMPTY_LABEL,
    labelForm: label.form,
    labelBasis: label.basis,
    densityGMl: label.densityGMl === null ? '' : String(label.densityGMl),
    thinned: String(label.thinned),
    labelTerms: elements ? 'elements' : 'oxides',
    ...Object.fromEntries(
      Object.entries(label.percent).map(([item, value]) => [itemField(item as LabelItem), String(value)]),
    ),
  };
}

/** The label as typed, or null when not one figure was copied; what is no number goes as typed, for the contract to speak. */
export function labelFrom(t: Texts): LabelFigures | null {
  const percent: Partial<Record<LabelItem, number>> = {};
  for (const item of LABEL_ITEMS) {
    const typed = typedNumber(t[itemField(item)] ?? '');
    if (typed !== null) percent[item] = typed as number;
  }
  if (Object.keys(percent).length === 0) return null;
  return {
    form: t['labelForm'] === 'powder' ? 'powder' : 'liquid',
    basis: t['labelBasis'] === 'w/v' ? 'w/v' : 'w/w',
    densityGMl: t['labelForm'] === 'powder' ? null : (typedNumber(t['densityGMl'] ?? '') as number | null),
    percent,
    thinned: (typedNumber(t['thinned'] ?? '') as number | null) ?? 1,
  };
}
