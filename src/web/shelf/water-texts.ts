import type { WaterKnown } from '../../contract/shelf.ts';
import { ANALYSIS_ITEMS, type AnalysisItem, type AnalysisUnit } from '../../core/solution/index.ts';
import { typedNumber } from '../shell/field-reader.ts';
import type { Texts } from './as-typed.ts';

export const analysisField = (item: AnalysisItem) => `an.${item}`;
export const analysisUnitField = (item: AnalysisItem) => `an.${item}.unit`;
/** The unit an analysis usually gives each in. */
export const USUAL_UNIT: Record<AnalysisItem, AnalysisUnit> = {
  Ca: 'mg/L',
  Mg: 'mg/L',
  hardness: 'mg/L CaCO3',
  Na: 'mg/L',
  K: 'mg/L',
  NH4: 'mg/L',
  alkalinity: 'mg/L CaCO3',
  SO4: 'mg/L',
  Cl: 'mg/L',
  NO3: 'mg/L',
  PO4: 'mg/L',
  SiO2: 'mg/L',
};

export function knownToText(known: WaterKnown | null): Texts {
  if (known === null) return { knownBy: 'none' };
  if (known.method === 'kit') {
    const { alkalinity, hardness } = known;
    return {
      knownBy: 'kit',
      kh: String(alkalinity.value),
      khUnit: alkalinity.unit,
      gh: hardness ? String(hardness.value) : '',
      ghUnit: hardness?.unit ?? '°dKH',
    };
  }
  return {
    knownBy: 'analysis',
    analysisPh: known.ph === null ? '' : String(known.ph),
    ...Object.fromEntries(
      known.lines.flatMap((line) => [
        [analysisField(line.item), String(line.value)],
        [analysisUnitField(line.item), line.unit],
      ]),
    ),
  };
}

/** Lines of an analysis that have a figure, in the order of the form. */
export function analysisLines(t: Texts): { item: AnalysisItem; value: number; unit: AnalysisUnit }[] {
  return ANALYSIS_ITEMS.flatMap((item) => {
    const value = typedNumber(t[analysisField(item)] ?? '');
    return value === null
      ? []
      : [
          {
            item,
            value: value as number,
            unit: (t[analysisUnitField(item)] as AnalysisUnit | undefined) ?? USUAL_UNIT[item],
          },
        ];
  });
}

/** What is known of a water, as typed. */
export function knownFrom(t: Texts): object | null {
  if (t['knownBy'] === 'kit') {
    const hardness = typedNumber(t['gh'] ?? '');
    return {
      method: 'kit',
      alkalinity: { value: typedNumber(t['kh'] ?? ''), unit: t['khUnit'] },
      hardness: hardness === null ? null : { value: hardness, unit: t['ghUnit'] },
    };
  }
  if (t['knownBy'] === 'analysis')
    return { method: 'analysis', lines: analysisLines(t), ph: typedNumber(t['analysisPh'] ?? '') };
  return null;
}
