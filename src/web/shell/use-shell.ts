import { useQuery, type Query } from '@tanstack/react-query';
import type { ShellView } from '../../contract/shell.ts';
import { get } from './api.ts';

export const shellQuery = { queryKey: ['shell'], queryFn: () => get<ShellView>('/api/shell'), staleTime: 60_000 };

/** While the server works something out that touches many pots, how far it has come is asked again and again. */
const RECKONING_MS = 400;
const whileReckoning = (query: Query<ShellView>) => (query.state.data?.reckoning ? RECKONING_MS : false);

/** The collection, its day and its pen scale. */
export function useShell() {
  return useQuery({ ...shellQuery, refetchInterval: whileReckoning });
}

/** How far the server's reckoning has come, as the frame last heard; null while nothing takes long. */
export const useReckoning = () => useQuery({ ...shellQuery, enabled: false }).data?.reckoning ?? null;
