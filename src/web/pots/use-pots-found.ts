import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import { type Sort, filterPots, placedPots, readFilter } from './pot-filters.ts';
export const SHOWN = [
  { view: 'map', words: 'Map', icon: 'graphUp' },
  { view: 'shelves', words: 'Shelves', icon: 'bookshelf' },
  { view: 'table', words: 'Table', icon: 'table' },
] as const;

/** What is looked for, how it is shown, and which pots are chosen; what is looked for stands in the address. */
export function usePotsFound(view: PotsView) {
  const [params, setParams] = useSearchParams();
  // What is typed stays in the field; the address follows it.
  const [query, setQuery] = useState(() => params.get('q') ?? '');
  const [chosenIds, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [choosing, setChoosing] = useState(false);

  const shown = SHOWN.find(({ view: v }) => v === params.get('view'))?.view ?? 'map';
  const change = (edit: (next: URLSearchParams) => void) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        edit(next);
        return next;
      },
      { replace: true },
    );
  const set = (key: string, value: string) => change((next) => (value ? next.set(key, value) : next.delete(key)));
  const find = (text: string) => {
    setQuery(text);
    set('q', text);
  };
  const filter = useMemo(() => readFilter(params), [params]);
  const all = useMemo(() => placedPots(view), [view]);
  const found = useMemo(() => filterPots(all, filter), [all, filter]);
  const chosen = useMemo(() => all.filter((p) => chosenIds.has(p.id)), [all, chosenIds]);
  const choose = (ids: readonly string[], on: boolean) =>
    setChosen((old) => {
      const next = new Set(old);
      for (const id of ids)
        if (on) next.add(id);
        else next.delete(id);
      return next;
    });
  const clear = () => {
    setChosen(new Set());
    setChoosing(false);
  };
  const sortBy = (sort: Sort) =>
    change((next) => {
      if (filter.sort === sort) next.set('down', filter.down ? '' : '1');
      else next.delete('down');
      next.set('sort', sort);
      if (!next.get('down')) next.delete('down');
    });
  const toggle = (id: string) => choose([id], !chosenIds.has(id));
  const filtered = found.length !== all.length;
  const show = (v: (typeof SHOWN)[number]['view']) => set('view', v === 'map' ? '' : v);
  const showAll = () => {
    setQuery('');
    setParams(shown === 'map' ? {} : { view: shown }, { replace: true });
  };
  return {
    ...{ view, query, find, shown, show, filter, change, sortBy, all, found, filtered, showAll },
    ...{ chosen, chosenIds, choose, toggle, choosing, setChoosing, clear },
  };
}
export type PotsFound = ReturnType<typeof usePotsFound>;
