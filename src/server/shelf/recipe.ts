import type { EntityManager } from 'typeorm';
import type { Recipe } from '../../contract/shelf.ts';
import { recipeStrength, type RecipeStrength } from '../../core/strength/index.ts';
import type { Meter, ToolRow } from '../database/entities.ts';

/** What a recipe says of a product's strength, with the sizes of its tool and pen as they are known now. */
export async function recipeOf(manager: EntityManager, recipe: Recipe): Promise<RecipeStrength> {
  const tool = recipe.toolId ? await manager.getRepository<ToolRow>('tool').findOneBy({ id: recipe.toolId }) : null;
  const meter = recipe.meterId ? await manager.getRepository<Meter>('meter').findOneBy({ id: recipe.meterId }) : null;
  return recipeStrengthWith(recipe, tool, meter);
}

export function recipeStrengthWith(
  recipe: Recipe,
  tool: ToolRow | null | undefined,
  meter: Meter | null | undefined,
): RecipeStrength {
  return recipeStrength({
    amount: recipe.amount,
    unit: recipe.unit,
    unitWords: recipe.unitWords,
    dropsPerMl: tool?.kind === 'dropper' ? tool.dropsPerMl : null,
    spoonMl: tool?.kind === 'spoon' ? tool.capacityMl : null,
    waterL: recipe.waterL,
    readsPpm: recipe.readsPpm,
    basePpm: recipe.basePpm,
    scale: meter?.scale ?? null,
  });
}
