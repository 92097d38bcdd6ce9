import { GROWTH, type GrowthFigures, type GrowthKey } from '../../contract/growth.ts';

/** Measures as they were typed, or what is wrong with which. An empty one was not measured. */
export function readGrowth<K extends GrowthKey>(
  typed: Partial<Record<K, string>>,
): { readonly figures: GrowthFigures; readonly errors: Partial<Record<K, string>>; readonly any: boolean } {
  const figures: Partial<Record<GrowthKey, number>> = {};
  const errors: Partial<Record<K, string>> = {};
  for (const [key, text] of Object.entries(typed) as [K, string][]) {
    if (text.trim() === '') continue;
    const { most, whole, ask } = GROWTH[key];
    const figure = Number(text.trim().replace(',', '.'));
    if (!Number.isFinite(figure) || figure < 0 || (whole && !Number.isInteger(figure))) errors[key] = ask;
    else if (figure > most) errors[key] = `More than ${most.toLocaleString('en-GB')}? Check it.`;
    else figures[key] = figure;
  }
  return { figures, errors, any: Object.keys(figures).length > 0 };
}
