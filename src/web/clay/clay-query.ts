import type { ClayRoom } from '../../contract/clay.ts';
import { get } from '../shell/api.ts';

export const clayQuery = { queryKey: ['clay'], queryFn: () => get<ClayRoom>('/api/clay') };
