import { keepPreviousData, useInfiniteQuery, useQueries, type UseInfiniteQueryResult } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { BookEntry, BookPage } from '../../../contract/book.ts';
import type { LogDays, LogEntry, LogFilter, LogSteps } from '../../../contract/log.ts';
import { get } from '../../shell/api.ts';

export type Filter = { [K in keyof LogFilter]?: string };
const FIELDS = [
  'words',
  'pot',
  'place',
  'batch',
  'kind',
  'only',
  'from',
  'to',
] as const satisfies readonly (keyof LogFilter)[];

/** What is looked for stands in the address: a way back leads there, and it can be kept. */
export function useLogFilter() {
  const [params, setParams] = useSearchParams();
  const filter: Filter = Object.fromEntries(
    FIELDS.flatMap((field) => (params.get(field) ? [[field, params.get(field)!]] : [])),
  );
  const change = useCallback(
    (some: Filter) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          for (const [field, value] of Object.entries(some)) {
            if (value) next.set(field, value);
            else next.delete(field);
          }
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  const clear = useCallback(() => setParams({}, { replace: true }), [setParams]);
  return { filter, change, clear, narrowed: FIELDS.some((field) => field !== 'to' && filter[field]) };
}

export const addressOf = (path: string, asked: Record<string, string | number | undefined>): string => {
  const query = new URLSearchParams(
    Object.entries(asked).flatMap(([key, value]) =>
      value === undefined || value === '' ? [] : [[key, String(value)]],
    ),
  ).toString();
  return query ? `${path}?${query}` : path;
};

/** A row of the log as it is shown. */
export type LogItem =
  | { readonly kind: 'day'; readonly key: string; readonly on: string }
  | {
      readonly kind: 'entry';
      readonly key: string;
      readonly on: string;
      readonly entry: LogEntry;
      readonly open: boolean;
    }
  | { readonly kind: 'line'; readonly key: string; readonly line: BookEntry; readonly step: boolean }
  | { readonly kind: 'wait'; readonly key: string };

type Read = {
  readonly items: readonly LogItem[];
  readonly total: number;
  readonly since: string | null;
  readonly today: string;
};

/** The log by day, its entries opened as wished. */
export function useLogDays(to: string | undefined, on: boolean) {
  const [opened, setOpened] = useState<readonly string[]>([]);
  const log = useInfiniteQuery({
    queryKey: ['book', 'days', to ?? ''],
    queryFn: ({ pageParam }) => get<LogDays>(addressOf('/api/book/days', { before: pageParam, to })),
    initialPageParam: '',
    getNextPageParam: (last) => last.next ?? undefined,
    enabled: on,
    placeholderData: keepPreviousData,
  });
  const steps = useQueries({
    queries: opened.map((key) => ({
      queryKey: ['book', 'steps', key],
      queryFn: () => get<LogSteps>(addressOf('/api/book/steps', { key })),
    })),
  });
  const stepsOf = new Map(opened.map((key, i) => [key, steps[i]!.data?.steps]));
  const items = (log.data?.pages ?? [])
    .flatMap(({ days }) => days)
    .flatMap(({ on: day, entries }): LogItem[] => [
      { kind: 'day', key: `day ${day}`, on: day },
      ...entries.flatMap((entry) => rowsOf(entry, day, stepsOf)),
    ]);
  const toggle = useCallback(
    (key: string) => setOpened((all) => (all.includes(key) ? all.filter((one) => one !== key) : [...all, key])),
    [],
  );
  return { log, read: readOf(items, log.data?.pages[0]), toggle, more: moreOf(log) };
}

/** What lies before the lines that are here. */
export type More = {
  readonly has: boolean;
  readonly busy: boolean;
  /** Why they could not be fetched the last time; they are asked for again only when the grower says so. */
  readonly error: Error | null;
  fetch(): void;
};

/**
 * Earlier lines are asked for only while nothing else of the log is on its way: asked for meanwhile, they would take the place of the lines
 * being fetched anew, and what has just been done or taken back would not show.
 */
const moreOf = (
  log: Pick<UseInfiniteQueryResult, 'hasNextPage' | 'isFetching' | 'isFetchNextPageError' | 'error' | 'fetchNextPage'>,
): More => ({
  has: log.hasNextPage,
  busy: log.isFetching,
  error: log.isFetchNextPageError ? log.error : null,
  fetch: () => void log.fetchNextPage({ cancelRefetch: false }),
});

function rowsOf(
  entry: LogEntry,
  on: string,
  stepsOf: ReadonlyMap<string, readonly BookEntry[] | undefined>,
): LogItem[] {
  if (entry.line) return [{ kind: 'line', key: entry.line.id, line: entry.line, step: false }];
  const open = stepsOf.has(entry.key);
  const head: LogItem = { kind: 'entry', key: entry.key, on, entry, open };
  if (!open) return [head];
  const steps = stepsOf.get(entry.key);
  return steps
    ? [head, ...steps.map((line): LogItem => ({ kind: 'line', key: line.id, line, step: true }))]
    : [head, { kind: 'wait', key: `${entry.key} steps` }];
}

/** Lines that answer to what is looked for, under their days. */
export function useLogFound(filter: Filter, on: boolean) {
  const log = useInfiniteQuery({
    queryKey: ['book', 'found', filter],
    queryFn: ({ pageParam }) => get<BookPage>(addressOf('/api/book/found', { ...filter, before: pageParam })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    enabled: on,
    placeholderData: keepPreviousData,
  });
  const items: LogItem[] = [];
  for (const line of (log.data?.pages ?? []).flatMap(({ entries }) => entries)) {
    const before = items.at(-1);
    if (before?.kind !== 'line' || before.line.on !== line.on)
      items.push({ kind: 'day', key: `day ${line.on}`, on: line.on });
    items.push({ kind: 'line', key: line.id, line, step: false });
  }
  return { log, read: readOf(items, log.data?.pages[0]), more: moreOf(log) };
}

const readOf = (items: readonly LogItem[], first: Omit<Read, 'items'> | undefined): Read | undefined =>
  first && { items, total: first.total, since: first.since, today: first.today };
