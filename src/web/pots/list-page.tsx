import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import { smallSign } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { COLUMNS, type Column, type ListLine } from './pasted-list.ts';
import { potsQuery } from './pots-page.tsx';
import { type ListInHand, usePastedList } from './use-pasted-list.ts';

const EXAMPLE = 'Code\tPlant\tPlace\tReservoir\nA-01\tHoya\tKitchen sill\t250 mL\nA-02\tBegonia\tKitchen sill\t200 mL';

/** Adds many pots at once from a list pasted from a spreadsheet or typed: columns matched, every line looked at before anything is kept. */
export function ListPage() {
  const pots = useQuery(potsQuery);
  if (pots.isPending) return <Loading what="your places" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  return (
    <div className="page list-page">
      <header>
        <div>
          <h1>Paste a list of pots</h1>
          <div className="small">
            One line a pot, from a spreadsheet or typed. Nothing is added before you have seen every line.
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/pots">
          Back to the pots
        </Link>
      </header>
      <PastedList view={pots.data} />
    </div>
  );
}

/** The list itself; the guided first minute shows it too. */
export function PastedList({ view, ...hears }: { view: PotsView; onAdded?: () => void; onSomeLeft?: () => void }) {
  const at = usePastedList(view, hears);
  return (
    <div className="pasted">
      <ListIn view={view} at={at} />
      {at.pasted.rows.length > 0 && !at.many && <ListOut view={view} at={at} />}
    </div>
  );
}

type Props = { view: PotsView; at: ListInHand };

function ListIn({ view, at: { draft, change, edit, many, usual } }: Props) {
  return (
    <section className="sheet pasted-in">
      <LabelledField
        label="The list"
        error={many}
        hint="Tabs, commas or semicolons between the columns. A first line with their names helps."
      >
        {(a) => (
          <Form.Control
            {...a}
            as="textarea"
            rows={8}
            spellCheck={false}
            placeholder={EXAMPLE}
            value={draft.text}
            onChange={(e) => edit(e.target.value)}
          />
        )}
      </LabelledField>
      <h2>Where the list says nothing</h2>
      <div className="pair">
        <LabelledField label="Place" error={undefined}>
          {(a) => (
            <Form.Control
              {...a}
              list="places"
              autoComplete="off"
              placeholder="Kitchen sill"
              value={draft.place}
              onChange={(e) => change({ place: e.target.value })}
            />
          )}
        </LabelledField>
        <LabelledField label={`Reservoir, ${smallSign()}`} error={undefined}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              placeholder="250"
              value={draft.reservoir}
              onChange={(e) => change({ reservoir: e.target.value })}
            />
          )}
        </LabelledField>
        <LabelledField
          label="Regimen"
          error={view.regimens.length === 0 ? 'Add a regimen first (Pots, Places and regimens).' : undefined}
        >
          {(a) => (
            <Form.Select {...a} value={usual.regimenId} onChange={(e) => change({ regimenId: e.target.value })}>
              {view.regimens.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.values.name}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      </div>
      <datalist id="places">
        {view.places.map((p) => (
          <option key={p.id} value={p.name} />
        ))}
      </datalist>
    </section>
  );
}

function ListOut({ view, at }: Props) {
  const { good, bad, lines, newPlaces, busy, add, problem } = at;
  return (
    <section className="sheet pasted-out" aria-label="What the list says">
      <header>
        <h2>
          {good.length} of {lines.length} line{lines.length === 1 ? '' : 's'} ready
        </h2>
        <span className="small">
          {bad.length > 0 && `${bad.length} to mend in the list; `}
          {newPlaces.length > 0 && `new place${newPlaces.length === 1 ? '' : 's'}: ${newPlaces.join(', ')}`}
        </span>
        <Button
          className="push"
          disabled={busy || good.length === 0 || view.regimens.length === 0}
          onClick={() => void add()}
        >
          {busy ? 'Adding …' : `Add ${good.length} pot${good.length === 1 ? '' : 's'}`}
        </Button>
      </header>
      {problem && (
        <p className="field-error mb-0" role="alert">
          {problem}
        </p>
      )}
      <Columns {...at} />
      <Preview lines={[...bad, ...good]} />
    </section>
  );
}

function Columns({ used, pasted, setColumns }: ListInHand) {
  // What one column is, no other is any more.
  const take = (i: number, column: Column) =>
    setColumns(used.map((c, j) => (j === i ? column : c === column && c !== 'skip' ? 'skip' : c)));
  return (
    <div className="columns" role="group" aria-label="What each column is">
      {used.map((column, i) => (
        <label key={i}>
          <span className="small">{pasted.head?.[i] || `column ${i + 1}`}</span>
          <Form.Select size="sm" value={column} onChange={(e) => take(i, e.target.value as Column)}>
            {Object.entries(COLUMNS).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </Form.Select>
        </label>
      ))}
    </div>
  );
}

/** Every line as it will be added; those with something wrong first. */
function Preview({ lines }: { lines: readonly ListLine[] }) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 34,
    overscan: 10,
  });
  return (
    <div className="preview" ref={scroller} role="table" aria-label="Lines" aria-rowcount={lines.length} tabIndex={0}>
      <div role="rowgroup" style={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map((item) => {
          const line = lines[item.index]!;
          return (
            <div
              key={line.line}
              role="row"
              aria-rowindex={item.index + 1}
              className={`preview-row ${line.pot ? '' : 'bad'}`}
              style={{ transform: `translateY(${item.start}px)`, height: item.size }}
            >
              <span role="cell" className="small">
                line {line.line}
              </span>
              <span role="cell">
                <b>{line.shown.code || '—'}</b>
              </span>
              <span role="cell">{line.shown.plant || '—'}</span>
              <span role="cell">{line.shown.place || '—'}</span>
              <span role="cell" className={line.pot ? '' : 'field-error'} title={line.problems.join('; ')}>
                {line.pot ? (
                  <>
                    {Math.round(line.pot.values.reservoirMl)}
                    {'\u00a0'}mL, {line.pot.values.medium}, {line.pot.values.stage}
                  </>
                ) : (
                  line.problems.join('; ')
                )}
              </span>
            </div>
          );
        })}
      </div>
    </div>
  );
}
