import { useQuery } from '@tanstack/react-query';
import type { ShellView } from '../../contract/shell.ts';
import { get } from './api.ts';

/** The collection, its day and its pen scale. */
export function useShell() {
  return useQuery({ queryKey: ['shell'], queryFn: () => get<ShellView>('/api/shell'), staleTime: 60_000 });
}
