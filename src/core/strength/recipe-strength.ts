import { dropsToMl, ecFromPpm } from '../quantity/index.ts';
import { strengthFromTrial } from './belief.ts';

/** "So much in so much water gave so much", with the sizes of its tool as far as anyone knows them. Null is not known. */
export type TrialRecipe = {
  readonly amount: number;
  readonly unit: 'mL' | 'drops' | 'spoons' | 'g' | 'other';
  readonly unitWords: string;
  /** Of the dropper it was counted with. */
  readonly dropsPerMl: number | null;
  /** Of the spoon it was measured with. */
  readonly spoonMl: number | null;
  readonly waterL: number | null;
  readonly readsPpm: number | null;
  readonly basePpm: number | null;
  /** Scale of the pen it was read with. */
  readonly scale: number | null;
};
export type RecipeStrength =
  { readonly known: true; readonly ecPerMlL: number } | { readonly known: false; readonly why: string };

/**
 * Net strength (µS/cm for 1 mL, or 1 g of a solid, in 1 L) from a recipe, or why nothing can be scaled from it: a volume, a tool's size or a reading nobody
 * knows is never guessed here.
 * @example recipeStrength({ amount: 30, unit: 'drops', unitWords: '', dropsPerMl: 24, spoonMl: null, waterL: 1.9, readsPpm: 184, basePpm: 0, scale: 0.5 })
 */
export function recipeStrength(recipe: TrialRecipe): RecipeStrength {
  const no = (why: string): RecipeStrength => ({ known: false, why });
  const doseMl = doseOf(recipe);
  if (typeof doseMl === 'string') return no(doseMl);
  if (recipe.waterL === null) return no('The litres of water are not known.');
  if (recipe.readsPpm === null) return no('What the pen read is not known.');
  if (recipe.basePpm === null) return no('What the water read alone is not known, so nothing is over base.');
  if (recipe.scale === null) return no("The pen's scale is not known.");
  const net = recipe.readsPpm - recipe.basePpm;
  if (!(net > 0)) return no('The mix read no more than its water, so it says nothing of the strength.');
  return { known: true, ecPerMlL: strengthFromTrial(doseMl, recipe.waterL, ecFromPpm(net, recipe.scale)) };
}

/**
 * What a label gives where nobody read a pen: mL (g) a litre; undefined where the tool's size or the water is not known.
 * @example doseALitre({ amount: 1, unit: 'spoons', unitWords: '', dropsPerMl: null, spoonMl: 5, waterL: 4 }) // 1.25
 */
export function doseALitre(label: DoseRecipe & Pick<TrialRecipe, 'waterL'>): number | undefined {
  const dose = doseOf(label);
  return typeof dose === 'string' || label.waterL === null ? undefined : dose / label.waterL;
}

type DoseRecipe = Pick<TrialRecipe, 'amount' | 'unit' | 'unitWords' | 'dropsPerMl' | 'spoonMl'>;
function doseOf(recipe: DoseRecipe): number | string {
  switch (recipe.unit) {
    case 'mL':
      return recipe.amount;
    case 'drops':
      return recipe.dropsPerMl === null
        ? 'The dropper it was counted with has not been counted to the mL.'
        : dropsToMl(recipe.amount, recipe.dropsPerMl);
    case 'spoons':
      return recipe.spoonMl === null ? 'The size of the spoon is not known.' : recipe.amount * recipe.spoonMl;
    case 'g':
      return recipe.amount;
    case 'other':
      return `Nobody knows how much a ${recipe.unitWords || 'measure like that'} holds.`;
  }
}
