import { useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { ArrangeShelves } from './arrange-shelves.tsx';
import { ChosenBar } from './chosen-bar.tsx';
import { Filters } from './filters.tsx';
import { HowTheyStand } from './map/how-they-stand.tsx';
import { WhenDry } from './map/when-dry.tsx';
import { PotForm } from './pot-form.tsx';
import { filterPots, placedPots, readFilter, type Sort } from './pot-filters.ts';
import { PotTable } from './pot-table.tsx';
import { Retired } from './retired.tsx';

export const potsQuery = { queryKey: ['pots'], queryFn: () => get<PotsView>('/api/pots') };

const SHOWN = [
  { view: 'map', words: 'Map', icon: 'graphUp' },
  { view: 'shelves', words: 'Shelves', icon: 'bookshelf' },
  { view: 'table', words: 'Table', icon: 'table' },
] as const;

/** Pots: the collection as it stands, on its shelves, or as a table; searched, arranged, and changed together. */
export function PotsPage() {
  const pots = useQuery(potsQuery);
  if (pots.isPending) return <Loading what="your pots" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  return <Pots view={pots.data} />;
}

function Pots({ view }: { view: PotsView }) {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const narrow = useNarrow();
  const { put, say } = useActs();
  const search = useRef<HTMLInputElement>(null);
  // What is typed stays in the field; the address follows it.
  const [query, setQuery] = useState(() => params.get('q') ?? '');
  const [chosenIds, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [choosing, setChoosing] = useState(false);
  const [adding, setAdding] = useState(false);
  const [filtering, setFiltering] = useState(false);
  useHotkeys('/', () => search.current?.focus(), { preventDefault: true, useKey: true });
  useHotkeys('n', () => setAdding(true), { preventDefault: true });

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
  const due = all.filter((p) => p.due.daysLate >= 0).length;
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
  const move = async (potIds: readonly string[], placeId: string, beforePotId: string | null) => {
    const id = newId();
    const place = view.places.find((p) => p.id === placeId)?.name ?? 'another place';
    const one = potIds.length === 1 ? all.find((p) => p.id === potIds[0])?.code : undefined;
    const words = `Moved ${one ?? `${potIds.length} pots`} to ${place}`;
    const focused = document.activeElement instanceof HTMLElement ? document.activeElement.dataset['id'] : undefined;
    try {
      await put(
        { id, url: `/api/pots/acts/${id}`, body: { kind: 'move', potIds, placeId, beforePotId }, words },
        { toast: words },
      );
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
    // A pot that changed its shelf was drawn anew: the focus goes along with it.
    if (focused) setTimeout(() => document.querySelector<HTMLElement>(`[data-id="${focused}"]`)?.focus());
  };
  const open = (id: string) => void navigate(`/pots/${id}`);
  const toggle = (id: string) => choose([id], !chosenIds.has(id));
  const picture = { pots: found, chosen: chosenIds, toggle, open };
  const filtered = found.length !== all.length;
  const foundIds = new Set(found.map((p) => p.id));
  const places = view.places
    .map((place) => ({
      ...place,
      pots: place.pots
        .filter((pot) => foundIds.has(pot.id))
        .map((pot) => ({
          id: pot.id,
          code: pot.code,
          name: pot.name,
          drawing: pot.drawing,
          tag: pot.name,
          tone: pot.due.daysLate > 0 ? ('plain-late' as const) : ('plain' as const),
          words: pot.due.words,
        })),
    }))
    .filter((place) => place.pots.length > 0 || !filtered);
  return (
    <div className="page pots">
      <header>
        <div>
          <h1>Pots</h1>
          <div className="small">
            {all.length} in {view.places.length} place{view.places.length === 1 ? '' : 's'} · {due} due today
            {filtered && ` · ${found.length} found`}
          </div>
        </div>
        <Form.Control
          ref={search}
          type="search"
          className="push pot-search"
          aria-label="Find a pot by code, name, place or regimen"
          placeholder="code, name, place  ( / )"
          value={query}
          onChange={(e) => find(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && found.length === 1 && void navigate(`/pots/${found[0]!.id}`)}
        />
        {narrow && (
          <Button variant="outline-secondary" aria-expanded={filtering} onClick={() => setFiltering(!filtering)}>
            Filters
          </Button>
        )}
        <div className="stepper" role="group" aria-label="Show as">
          {SHOWN.map(({ view: v, words, icon }) => (
            <button
              key={v}
              type="button"
              className={shown === v ? 'on' : ''}
              aria-pressed={shown === v}
              onClick={() => set('view', v === 'map' ? '' : v)}
            >
              <Icon name={icon} /> {words}
            </button>
          ))}
        </div>
        {shown === 'shelves' && (
          <Button
            variant="outline-secondary"
            aria-pressed={choosing}
            onClick={() => (choosing ? clear() : setChoosing(true))}
          >
            Choose
          </Button>
        )}
        <Link className="btn btn-outline-secondary" to="/pots/advice">
          What next
        </Link>
        <Link className="btn btn-outline-secondary" to="/pots/places">
          Places and regimens
        </Link>
        <Button onClick={() => setAdding(true)} disabled={view.places.length === 0 || view.regimens.length === 0}>
          <Icon name="plus" /> Add a pot
        </Button>
      </header>
      {all.length === 0 ? (
        <Empty title="No pots yet">
          <p className="mb-0">Add them one by one, or paste the list you keep them in.</p>
          <Link className="btn btn-primary" to="/pots/list">
            Paste a list
          </Link>
        </Empty>
      ) : (
        <div className="pots-cols">
          {(!narrow || filtering) && <Filters view={view} pots={all} filter={filter} change={change} />}
          <div className="pots-main">
            {found.length === 0 ? (
              <Empty title="No pot answers to that">
                <button
                  type="button"
                  className="btn btn-outline-secondary"
                  onClick={() => {
                    setQuery('');
                    setParams(shown === 'map' ? {} : { view: shown }, { replace: true });
                  }}
                >
                  Show all {all.length}
                </button>
              </Empty>
            ) : shown !== 'shelves' ? (
              <>
                {shown === 'map' && (
                  <section className="sheet map-sheet" aria-label="The map">
                    <HowTheyStand {...picture} chooseAll={(ids) => choose(ids, true)} narrow={narrow} />
                    <WhenDry {...picture} today={view.today} />
                  </section>
                )}
                <PotTable
                  pots={found}
                  filter={filter}
                  chosen={chosenIds}
                  choose={(id, on) => choose([id], on)}
                  chooseAll={(on) =>
                    choose(
                      found.map((p) => p.id),
                      on,
                    )
                  }
                  sortBy={sortBy}
                />
              </>
            ) : (
              <section className="sheet shelves-sheet flex-fill">
                <ArrangeShelves
                  places={places}
                  chosen={chosenIds}
                  choosing={choosing}
                  open={open}
                  toggle={toggle}
                  move={(...args) => void move(...args)}
                />
              </section>
            )}
            <Retired view={view} />
          </div>
        </div>
      )}
      <ChosenBar chosen={chosen} view={view} clear={clear} />
      {adding && <PotForm view={view} onClose={() => setAdding(false)} />}
    </div>
  );
}
