import { labelFigures, recipe } from '../../contract/shelf.ts';
import { readLabel, type ReadLabel } from '../../core/solution/index.ts';
import type { Product } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';

/** A product's label read by the chemistry; undefined where none was copied, or it does not add up. */
export function labelOf(product: Product): ReadLabel | undefined {
  const figures = readJson(labelFigures, product.analysis);
  const read = figures && readLabel(figures);
  return read?.ok ? read : undefined;
}

/** Whether a product is weighed rather than drawn up. */
export function isSolid(product: Product): boolean {
  const figures = readJson(labelFigures, product.analysis);
  return figures ? figures.form === 'powder' : readJson(recipe, product.recipe)?.unit === 'g';
}
