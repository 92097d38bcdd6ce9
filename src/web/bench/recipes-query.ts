import type { RecipeBook } from '../../contract/recipes.ts';
import { get } from '../shell/api.ts';

export const recipesQuery = { queryKey: ['recipes'], queryFn: () => get<RecipeBook>('/api/bench/recipes') };
