import { useQuery } from '@tanstack/react-query';
import type { ShellView } from '../../contract/shell.ts';
import { get } from './api.ts';

export const shellQuery = { queryKey: ['shell'], queryFn: () => get<ShellView>('/api/shell'), staleTime: 60_000 };

/** The collection, its day and its pen scale. */
export function useShell() {
  return useQuery(shellQuery);
}
