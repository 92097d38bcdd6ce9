import { useQuery } from '@tanstack/react-query';
import type { RecipeBook } from '../../../contract/recipes.ts';
import type { ShelfRoom } from '../../../contract/shelf.ts';
import type { ClayRoom } from '../../../contract/clay.ts';
import { get } from '../../shell/api.ts';
import { potsNow } from '../pots-now.ts';
import type { Has } from './share-file.ts';

/** What can be shared, and what something shared is set against; undefined until it is here. */
export function useShareables(): Has | undefined {
  const pots = useQuery(potsNow).data;
  const book = useQuery({ queryKey: ['recipes'], queryFn: () => get<RecipeBook>('/api/bench/recipes') }).data;
  const room = useQuery({ queryKey: ['shelf-room'], queryFn: () => get<ShelfRoom>('/api/shelf/room') }).data;
  const clay = useQuery({ queryKey: ['clay'], queryFn: () => get<ClayRoom>('/api/clay') }).data;
  return pots && book && room && clay && { pots, book, room, clay };
}
