import { useQueries } from '@tanstack/react-query';
import type { LookBack } from '../../../contract/look-back.ts';
import { get } from '../../shell/api.ts';

type Forecasts = {
  readonly back: LookBack | undefined;
  readonly error: Error | null;
  readonly pending: boolean;
  retry(): void;
};

/** Last month's forecasts looked back on: of pots, and of clay that soaked. */
export function useForecasts(): Forecasts {
  return useQueries({
    queries: [
      { queryKey: ['book', 'forecasts'], queryFn: () => get<LookBack>('/api/book/forecasts') },
      { queryKey: ['clay', 'look-back'], queryFn: () => get<LookBack>('/api/clay/look-back') },
    ],
    combine: ([pots, clay]) => ({
      back: pots.data && clay.data && { ...pots.data, figures: [...pots.data.figures, ...clay.data.figures] },
      error: pots.error ?? clay.error,
      pending: pots.isPending || clay.isPending,
      retry: () => {
        for (const query of [pots, clay]) if (query.isError) void query.refetch();
      },
    }),
  });
}
