import { labelFigures, recipe } from '../../contract/shelf.ts';
import type { ReadLabel } from '../../core/solution/index.ts';
import type { Product } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { readLabelText } from './batches.ts';

/** A product's label read by the chemistry; undefined where none was copied, or it does not add up. */
export function labelOf({ analysis }: Pick<Product, 'analysis'>): ReadLabel | undefined {
  return analysis === null ? undefined : readLabelText(analysis);
}

/** Whether a product is weighed rather than drawn up. */
export function isSolid(product: Product): boolean {
  const figures = readJson(labelFigures, product.analysis);
  return figures ? figures.form === 'powder' : readJson(recipe, product.recipe)?.unit === 'g';
}
