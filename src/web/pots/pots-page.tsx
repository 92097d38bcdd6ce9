import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import Form from 'react-bootstrap/Form';
import Table from 'react-bootstrap/Table';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { PotListItem, PotsView } from '../../contract/pots.ts';
import { PotSection, ShelfPicture } from '../drawing/index.ts';
import { get } from '../shell/api.ts';
import { dayMonth, phText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';

/** Pots: the collection on its shelves, or as a table. */
export function PotsPage() {
  const pots = useQuery({ queryKey: ['pots'], queryFn: () => get<PotsView>('/api/pots') });
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const search = useRef<HTMLInputElement>(null);
  // What is typed stays in the field; the address follows it.
  const [query, setQuery] = useState(() => params.get('q') ?? '');
  useHotkeys('/', () => search.current?.focus(), { preventDefault: true, useKey: true });
  if (pots.isPending) return <Loading what="your pots" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  const asTable = params.get('view') === 'table';
  const set = (key: string, value: string) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        if (value) next.set(key, value);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  const find = (text: string) => {
    setQuery(text);
    set('q', text);
  };
  const all = pots.data.places.flatMap((p) => p.pots);
  const places = pots.data.places.map((p) => ({ ...p, pots: p.pots.filter((pot) => matches(pot, p.name, query)) })).filter((p) => p.pots.length > 0);
  const found = places.flatMap((p) => p.pots);
  const due = all.filter((p) => p.due.daysLate >= 0).length;
  return (
    <div className="page pots">
      <header>
        <div>
          <h1>Pots</h1>
          <div className="small">
            {all.length} in {pots.data.places.length} places · {due} due today
            {query && ` · ${found.length} found`}
          </div>
        </div>
        <Form.Control
          ref={search}
          type="search"
          className="push pot-search"
          aria-label="Find a pot by code, name or place"
          placeholder="code, name, place  ( / )"
          value={query}
          onChange={(e) => find(e.target.value)}
        />
        <div className="stepper" role="group" aria-label="Show as">
          <button type="button" className={asTable ? '' : 'on'} aria-pressed={!asTable} onClick={() => set('view', '')}>
            Shelves
          </button>
          <button type="button" className={asTable ? 'on' : ''} aria-pressed={asTable} onClick={() => set('view', 'table')}>
            Table
          </button>
        </div>
      </header>
      {all.length === 0 ? (
        <Empty title="No pots yet">
          <p className="mb-0">Your shelves are empty.</p>
        </Empty>
      ) : found.length === 0 ? (
        <Empty title="No pot answers to that">
          <button type="button" className="btn btn-outline-secondary" onClick={() => find('')}>
            Show all {all.length}
          </button>
        </Empty>
      ) : asTable ? (
        <PotTable places={places} />
      ) : (
        <section className="sheet shelves-sheet flex-fill">
          <ShelfPicture
            places={places.map((p) => ({
              ...p,
              pots: p.pots.map((pot) => ({
                id: pot.id,
                code: pot.code,
                name: pot.name,
                drawing: pot.drawing,
                tag: pot.name,
                tone: pot.due.daysLate > 0 ? ('plain-late' as const) : ('plain' as const),
                words: pot.due.words,
              })),
            }))}
            onSelect={(id) => void navigate(`/pots/${id}`)}
          />
        </section>
      )}
    </div>
  );
}

function matches(pot: PotListItem, place: string, query: string): boolean {
  const text = `${pot.code} ${pot.name} ${place} ${pot.regimen} ${pot.clay ?? ''} ${pot.drawing.stage}`.toLowerCase();
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

function PotTable({ places }: { places: PotsView['places'] }) {
  return (
    <section className="sheet pot-table">
      <Table hover responsive className="mb-0 align-middle">
        <caption className="visually-hidden">Pots</caption>
        <thead>
          <tr>
            <th scope="col">Pot</th>
            <th scope="col">Place</th>
            <th scope="col">Due</th>
            <th scope="col">Poured → came out</th>
            <th scope="col">pH came out</th>
            <th scope="col">Regimen</th>
            <th scope="col">Clay</th>
          </tr>
        </thead>
        <tbody>
          {places.flatMap((place) =>
            place.pots.map((pot) => (
              <tr key={pot.id}>
                <th scope="row">
                  <span className="d-flex align-items-center gap-2">
                    <PotSection drawing={pot.drawing} seed={pot.code} size={40} name={pot.code} />
                    <span>
                      <Link to={`/pots/${pot.id}`}>
                        {pot.code} {pot.name}
                      </Link>
                      <span className="small d-block fw-normal">{pot.drawing.stage}</span>
                    </span>
                  </span>
                </th>
                <td>{place.name}</td>
                <td className={pot.due.daysLate > 0 ? 'late' : ''}>{pot.due.words}</td>
                <td className="nowrap">
                  {pot.lastPouredPpm === null && !pot.lastCameOut ? (
                    'not yet'
                  ) : (
                    <b className="num">{`${pot.lastPouredPpm ?? '—'} → ${pot.lastCameOut?.ppm ?? '—'}`}</b>
                  )}
                  {pot.lastCameOut && <span className="small"> ppm, {dayMonth(pot.lastCameOut.on)}</span>}
                </td>
                <td className="num">{pot.lastCameOut?.ph == null ? '—' : phText(pot.lastCameOut.ph)}</td>
                <td>{pot.regimen}</td>
                <td>{pot.clay ?? 'none'}</td>
              </tr>
            )),
          )}
        </tbody>
      </Table>
    </section>
  );
}
