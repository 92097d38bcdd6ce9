import { useQuery } from '@tanstack/react-query';
import type { TrialsView } from '../../../contract/trials.ts';
import { get } from '../../shell/api.ts';

export const useTrials = () =>
  useQuery({ queryKey: ['book', 'trials'], queryFn: () => get<TrialsView>('/api/book/trials') });
