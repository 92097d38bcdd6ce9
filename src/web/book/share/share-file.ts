import type { ClayRoom } from '../../../contract/clay.ts';
import { CLAY_MODEL, SHARE_FORMAT, SHARE_VERSION, type ShareFile } from '../../../contract/share.ts';
import type { RecipeBook } from '../../../contract/recipes.ts';
import type { PotsView } from '../../../contract/pots.ts';
import type { ShelfRoom } from '../../../contract/shelf.ts';

export type Shareable = { readonly kind: ShareFile['kind']; readonly id: string; readonly name: string };
export type Has = {
  readonly pots: PotsView;
  readonly book: RecipeBook;
  readonly room: ShelfRoom;
  readonly clay: ClayRoom;
};

/** Everything that can be shared, kind by kind. */
export const shareables = ({ pots, book, room, clay }: Has): Shareable[] => [
  ...pots.regimens.map(({ id, values }): Shareable => ({ kind: 'regimen', id, name: values.name })),
  ...book.recipes
    .filter(({ retiredOn }) => retiredOn === null)
    .map(({ id, values }): Shareable => ({ kind: 'recipe', id, name: values.name })),
  ...room.products
    .filter(({ retiredOn }) => retiredOn === null)
    .map(({ id, values }): Shareable => ({ kind: 'product', id, name: values.name })),
  ...clay.batches
    .filter(({ card }) => card !== null)
    .map(({ id, values }): Shareable => ({ kind: 'clay', id, name: values.name })),
];

/** One of them as the file it is shared as; undefined where it is gone. */
export function shareOf({ kind, id }: Shareable, { pots, book, room, clay }: Has): ShareFile | undefined {
  const head = { format: SHARE_FORMAT, version: SHARE_VERSION, scale: room.scale } as const;
  if (kind === 'regimen') {
    const values = pots.regimens.find((regimen) => regimen.id === id)?.values;
    return values && { ...head, kind, values };
  }
  const productOf = (productId: string) => {
    const values = room.products.find((product) => product.id === productId)?.values;
    if (!values) return undefined;
    const { recipe: _own, ...shared } = values;
    return shared;
  };
  if (kind === 'product') {
    const values = productOf(id);
    return values && { ...head, kind, values };
  }
  if (kind === 'clay') {
    const batch = clay.batches.find((one) => one.id === id);
    if (!batch?.card) return undefined;
    const { name, grainLowMm, grainHighMm, volumeL } = batch.values;
    return { ...head, kind, model: CLAY_MODEL, values: { name, grainLowMm, grainHighMm, volumeL }, found: batch.card };
  }
  const values = book.recipes.find((recipe) => recipe.id === id)?.values;
  const products = values?.parts.map(({ productId }) => productOf(productId));
  if (!values || !products || products.some((product) => product === undefined)) return undefined;
  return {
    ...head,
    kind,
    values: { ...values, waterId: null },
    products: products.filter((product) => product !== undefined),
  };
}

/** A name that every system takes. @example fileNameOf({ kind: 'recipe', name: 'Feed 90/2' }) // 'recipe Feed 90-2.json' */
export const fileNameOf = ({ kind, name }: Pick<Shareable, 'kind' | 'name'>): string =>
  `${kind} ${name
    .replace(/[^\p{L}\p{N} _.-]+/gu, '-')
    .slice(0, 60)
    .trim()}.json`;
