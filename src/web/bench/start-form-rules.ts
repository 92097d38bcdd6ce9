import type { FieldPath } from 'react-hook-form';
import type { RecipeBook } from '../../contract/recipes.ts';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { joinKeys } from '../../core/regimen/round-mixes.ts';
import { inLargeUnit, largeSign } from '../shell/format.ts';
import { asLitres, firstValues, withRecipe, type Fields, type Wanted } from './start-values.ts';

/* What the form that starts a batch begins with, and which field a refusal belongs to. */

export function startingValues(
  shelf: ShelfView,
  mix: RoundView['mixes'][number] | undefined,
  recipes: RecipeBook['recipes'],
  recipeId: string | null,
  wanted: Wanted,
): Fields {
  const first = firstValues(shelf, mix, wanted);
  const recipe = recipes.find((r) => r.id === recipeId);
  return recipe ? withRecipe(first, recipe.id, recipe.values, shelf) : first;
}

/** Two mixes of the round made as one bucket. */
export function together(mix: RoundView['mixes'][number]): RoundView['mixes'][number] {
  const { oneWith } = mix;
  if (!oneWith) return mix;
  const letters = [mix.letter, oneWith.letter].sort().join(' and ');
  return {
    ...mix,
    key: joinKeys([mix.key, oneWith.key]),
    letter: letters,
    name: `Feed, ${Math.round(oneWith.netPpm)} over base`,
    netPpm: oneWith.netPpm,
    phLow: oneWith.phLow,
    phHigh: oneWith.phHigh,
    litresToMix: oneWith.litres,
  };
}

/** Back from plain water there is something to put in again. */
export function firstPartOf(fields: Fields, shelf: ShelfView, mix: RoundView['mixes'][number] | undefined): Fields {
  return fields.parts.length > 0 ? fields : { ...fields, parts: firstValues(shelf, mix).parts };
}

export function fillsOf(place: RoundView['places'][number]): number {
  return place.pots.reduce((sum, pot) => sum + pot.fillMl, 0) / 1000;
}

/** True, or what is wrong with the litres. */
export function litresProblem(text: string): true | string {
  const typed = asLitres(text);
  if (!(typed >= 0.05))
    return `An empty batch needs no mixing. Give the ${largeSign() === 'L' ? 'litres' : 'gallons'}, such as ${inLargeUnit(2600)}.`;
  return typed <= 1000 || 'More than 1,000 L? Check the figure.';
}

/** The field a refusal of the server belongs to. */
const PART_FIELDS = { bottleId: 'productId', aim: 'amount', solid: 'solid' } as const;
export function fieldOf(path: string): FieldPath<Fields> | 'root' {
  const part = /^parts\.(\d+)\.(bottleId|aim|solid)/.exec(path);
  if (part) return `parts.${Number(part[1])}.${PART_FIELDS[part[2] as keyof typeof PART_FIELDS]}`;
  const fields = {
    vesselId: 'vesselId',
    volumeL: 'litres',
    toolIds: 'toolIds',
    phLow: 'phLow',
    name: 'name',
    holdMinutes: 'hold',
    byRecipe: 'byRecipe',
    ownOrder: 'ownOrder',
  } as const;
  return fields[path as keyof typeof fields] ?? 'root';
}
