import { queryOptions } from '@tanstack/react-query';
import type { PotsView } from '../../contract/pots.ts';
import { get } from '../shell/api.ts';

/** The pots as they are, by place: the same answer that Pots has. */
export const potsNow = queryOptions({ queryKey: ['pots'], queryFn: () => get<PotsView>('/api/pots') });
