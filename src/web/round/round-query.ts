import type { RoundView } from '../../contract/round.ts';
import { get } from '../shell/api.ts';

/** Today's round, as every room asks for it. */
export const roundQuery = { queryKey: ['round'], queryFn: () => get<RoundView>('/api/round') };
