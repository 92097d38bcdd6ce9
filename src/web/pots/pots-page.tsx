import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate } from 'react-router';
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
import { PotTable } from './pot-table.tsx';
import { Retired } from './retired.tsx';
import { type PotsFound, SHOWN, usePotsFound } from './use-pots-found.ts';

export const potsQuery = { queryKey: ['pots'], queryFn: () => get<PotsView>('/api/pots') };

/** Pots: the collection as it stands, on its shelves, or as a table; searched, arranged, and changed together. */
export function PotsPage() {
  const pots = useQuery(potsQuery);
  if (pots.isPending) return <Loading what="your pots" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  return <Pots view={pots.data} />;
}

function Pots({ view }: { view: PotsView }) {
  const narrow = useNarrow();
  const at = usePotsFound(view);
  const { all, found, filter, change, chosen, clear, showAll } = at;
  const [adding, setAdding] = useState(false);
  const [filtering, setFiltering] = useState(false);
  useHotkeys('n', () => setAdding(true), { preventDefault: true });
  return (
    <div className="page pots">
      <Head at={at} filtering={filtering} setFiltering={setFiltering} add={() => setAdding(true)} />
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
                <button type="button" className="btn btn-outline-secondary" onClick={showAll}>
                  Show all {all.length}
                </button>
              </Empty>
            ) : (
              <Found at={at} />
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

type HeadProps = { at: PotsFound; filtering: boolean; setFiltering(on: boolean): void; add(): void };

function Head({ at, filtering, setFiltering, add }: HeadProps) {
  const { view, all, found, filtered, query, find, shown, show, choosing, setChoosing, choose, clear } = at;
  const narrow = useNarrow();
  const navigate = useNavigate();
  const search = useRef<HTMLInputElement>(null);
  useHotkeys('/', () => search.current?.focus(), { preventDefault: true, useKey: true });
  const due = all.filter((p) => p.due.daysLate >= 0).length;
  return (
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
            onClick={() => show(v)}
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
      {shown === 'shelves' && choosing && (
        <Button
          variant="outline-secondary"
          onClick={() =>
            choose(
              found.map((p) => p.id),
              true,
            )
          }
        >
          All {found.length}
          {filtered ? ' found' : ''}
        </Button>
      )}
      <Link className="btn btn-outline-secondary" to="/pots/advice">
        What next
      </Link>
      <Link className="btn btn-outline-secondary" to="/pots/places">
        Places and regimens
      </Link>
      <Button onClick={add} disabled={view.places.length === 0 || view.regimens.length === 0}>
        <Icon name="plus" /> Add a pot
      </Button>
    </header>
  );
}

/** What was found: on the map and in the table, or on its shelves. */
function Found({ at }: { at: PotsFound }) {
  const { view, shown, found, filter, filtered, sortBy, choose, chosenIds, choosing, toggle } = at;
  const navigate = useNavigate();
  const narrow = useNarrow();
  const move = useMove(at);
  const open = (id: string) => void navigate(`/pots/${id}`);
  const picture = { pots: found, chosen: chosenIds, toggle, open };
  if (shown !== 'shelves')
    return (
      <>
        {shown === 'map' && (
          <section className="sheet map-sheet" aria-label="The map">
            <HowTheyStand {...picture} chooseAll={(ids) => choose(ids, true)} narrow={narrow} />
            <WhenDry {...picture} today={view.today} narrow={narrow} />
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
    );
  return (
    <section className="sheet shelves-sheet flex-fill">
      <ArrangeShelves
        places={shelvesOf(view, found, filtered)}
        chosen={chosenIds}
        choosing={choosing}
        open={open}
        toggle={toggle}
        move={(...args) => void move(...args)}
      />
    </section>
  );
}

function useMove({ view, all }: PotsFound) {
  const { put, say } = useActs();
  return async (potIds: readonly string[], placeId: string, beforePotId: string | null) => {
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
}

/** The shelves with what was found on them; all of them where nothing is looked for. */
function shelvesOf(view: PotsView, found: readonly { id: string }[], filtered: boolean) {
  const foundIds = new Set(found.map((p) => p.id));
  return view.places
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
}
