import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { TurnCompared, TurnsView } from '../../../contract/turns.ts';
import { daysBetween } from '../../../core/regimen/index.ts';
import { get } from '../../shell/api.ts';
import { addressOf } from '../log/use-log.ts';

export type Which = {
  readonly pot?: string | undefined;
  readonly place?: string | undefined;
  readonly from?: string | undefined;
};

export const useTurns = (which: Which = {}) =>
  useQuery({
    queryKey: ['book', 'turns', which],
    queryFn: () => get<TurnsView>(addressOf('/api/book/turns', which)),
    placeholderData: keepPreviousData,
  });

/** What the weeks before and after a turn were like; nothing is asked while none is chosen. */
export const useCompared = (id: string | undefined, weeks: number, { pot, place }: Which = {}) =>
  useQuery({
    queryKey: ['book', 'turns', 'compared', id, weeks, pot, place],
    queryFn: () => get<TurnCompared>(addressOf('/api/book/turns/compared', { id, weeks, pot, place })),
    enabled: id !== undefined,
    placeholderData: keepPreviousData,
  });

const TOLD_AFTER_DAYS = 21;
/** The turn that is looked at where none was chosen: the newest of which something can be told. */
export function telling({ turns, today }: TurnsView): string | undefined {
  const shown = turns.filter(({ hidden, kind }) => !hidden && kind !== 'penOff');
  const told = shown.filter(
    ({ on, potIds }) => daysBetween(on, today) >= TOLD_AFTER_DAYS && (potIds === null || potIds.length > 1),
  );
  return (told.at(-1) ?? shown.at(-1))?.id;
}
