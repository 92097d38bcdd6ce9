import type { ShelfRoom } from '../../contract/shelf.ts';
import { get } from '../shell/api.ts';

export const shelfQuery = { queryKey: ['shelf-room'], queryFn: () => get<ShelfRoom>('/api/shelf/room') };
