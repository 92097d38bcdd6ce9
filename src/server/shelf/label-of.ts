import type { LabelFigures } from '../../contract/shelf.ts';
import { readLabel, type ReadLabel } from '../../core/solution/index.ts';
import type { Product } from '../database/entities.ts';

/** A product's label read by the chemistry; undefined where none was copied, or it does not add up. */
export function labelOf(product: Product): ReadLabel | undefined {
  if (product.analysis === null) return undefined;
  const read = readLabel(JSON.parse(product.analysis) as LabelFigures);
  return read.ok ? read : undefined;
}

/** Whether a product is weighed rather than drawn up. */
export function isSolid(product: Product): boolean {
  if (product.analysis !== null) return (JSON.parse(product.analysis) as LabelFigures).form === 'powder';
  return product.recipe !== null && (JSON.parse(product.recipe) as { unit: string }).unit === 'g';
}
