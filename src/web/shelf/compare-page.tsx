import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { Link, useSearchParams } from 'react-router';
import { PRODUCT_KIND } from '../../contract/kinds.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { ELEMENT_WORDS, ELEMENTS, essentialsOf, ratioOf, remarksOf } from '../../core/solution/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { readNumber } from '../shell/field-reader.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { costAt, costPerUnit, inBottle, labelOf, unitOf, type RoomProduct } from './chemistry.ts';
import { mgText } from './label-fields.tsx';
import { scaled } from './scaled.ts';
import { shelfQuery } from './shelf-query.ts';

/** Products side by side at one strength: compared by what they contain, never by the number on the bottle. */
export function ComparePage() {
  const shelf = useQuery(shelfQuery);
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data) return <Failed error={shelf.error} retry={() => void shelf.refetch()} />;
  return <Compare room={shelf.data} />;
}

function Compare({ room }: { room: ShelfRoom }) {
  const [params, setParams] = useSearchParams();
  const [text, setText] = useState('90');
  const all = room.products.filter(
    (p) => p.retiredOn === null && !['acid', 'base'].includes(p.values.kind) && labelOf(p),
  );
  const asked = (params.get('products') ?? '').split(',').filter(Boolean);
  const first = all.find((p) => p.id === asked[0]);
  const chosen =
    asked.length > 1 || !first
      ? all.filter((p) => asked.includes(p.id))
      : all.filter((p) => p.id === first.id || p.values.kind === first.values.kind || p.values.kind === 'calmag');
  const shown = chosen.length > 0 ? chosen : all.slice(0, 4);
  const net = readNumber(text);
  const toggle = (id: string) => {
    const ids = shown.some((p) => p.id === id)
      ? shown.filter((p) => p.id !== id).map((p) => p.id)
      : [...shown.map((p) => p.id), id];
    if (ids.length > 0) setParams({ products: ids.length === 1 ? `${ids[0]},` : ids.join(',') }, { replace: true });
  };
  return (
    <div className="page compare-page">
      <header>
        <div>
          <h1>Side by side</h1>
          <div className="small">
            Each at the same reading over the water; what a bottle is called says nothing of its strength
          </div>
        </div>
        <Link className="btn btn-sm btn-outline-secondary push" to="/shelf">
          Back to the Shelf
        </Link>
      </header>
      <section className="sheet" aria-label="Which products">
        <div className="d-flex gap-3 flex-wrap align-items-center">
          {all.map((p) => (
            <Form.Check
              key={p.id}
              type="checkbox"
              id={`cmp-${p.id}`}
              label={p.values.name}
              checked={shown.includes(p)}
              onChange={() => toggle(p.id)}
            />
          ))}
          <label className="small push">
            at{' '}
            <Form.Control
              size="sm"
              className="tiny"
              inputMode="decimal"
              aria-label="Net ppm"
              value={text}
              isInvalid={!(net !== undefined && net > 0)}
              onChange={(e) => setText(e.target.value)}
            />{' '}
            ppm net
          </label>
        </div>
      </section>
      {shown.length === 0 ? (
        <section className="sheet">
          <p className="mb-0">No label copied yet: copy two on the Shelf and they stand here beside each other.</p>
        </section>
      ) : (
        <section className="sheet compare-table" aria-label="The comparison" tabIndex={0}>
          {net !== undefined && net > 0 ? (
            <Table room={room} products={shown} net={net} />
          ) : (
            <p className="mb-0">Give the ppm over the water, such as 90.</p>
          )}
        </section>
      )}
    </div>
  );
}

function Table({ room, products, net }: { room: ShelfRoom; products: readonly RoomProduct[]; net: number }) {
  const columns = products.map((product) => {
    const label = labelOf(product)!;
    const bottle = inBottle(product, label, room.scale);
    const perMl = ppmFromEc(bottle.ecPerUnitL, room.scale);
    const dose = perMl > 0 ? net / perMl : undefined;
    return { product, label, dose, elements: dose === undefined ? bottle.elements : scaled(bottle.elements, dose) };
  });
  const there = ELEMENTS.filter((e) => columns.some((c) => c.elements[e] > 0.0005));
  return (
    <table className="facts wide-table">
      <caption className="visually-hidden">Products at {net} ppm net</caption>
      <thead>
        <tr>
          <td />
          {columns.map(({ product }) => (
            <th scope="col" key={product.id}>
              {product.values.name}
              <span className="d-block small">{PRODUCT_KIND[product.values.kind].words}</span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">in a litre</th>
          {columns.map(({ product, dose }) => (
            <td key={product.id} className="num">
              {dose === undefined ? 'no pen reads it' : `${Number(dose.toFixed(2))} ${unitOf(product)}`}
              {product.learned ? ' (learned)' : ' (label)'}
            </td>
          ))}
        </tr>
        {there.map((e) => (
          <tr key={e}>
            <th scope="row">{ELEMENT_WORDS[e]}, mg/L</th>
            {columns.map(({ product, elements }) => (
              <td key={product.id} className="num">
                {elements[e] > 0.0005 ? mgText(elements[e]) : '–'}
                {e === 'N' && elements.ureaN > 0 && ` (urea ${mgText(elements.ureaN)})`}
              </td>
            ))}
          </tr>
        ))}
        <tr>
          <th scope="row">N : P : K : Ca : Mg</th>
          {columns.map(({ product, elements }) => {
            const ratio = ratioOf(elements);
            return (
              <td key={product.id} className="num">
                {(['N', 'P', 'K', 'Ca', 'Mg'] as const).map((e) => Number(ratio[e].toFixed(1))).join(' : ')}
              </td>
            );
          })}
        </tr>
        <tr>
          <th scope="row">of the twelve</th>
          {columns.map(({ product, label }) => (
            <td key={product.id}>{essentialsOf(label).present.length} declared</td>
          ))}
        </tr>
        <tr>
          <th scope="row">ten litres cost</th>
          {columns.map(({ product, dose }) => (
            <td key={product.id} className="num">
              {costWords(room, product, dose)}
            </td>
          ))}
        </tr>
        <tr>
          <th scope="row">to know</th>
          {columns.map(({ product, label }) => (
            <td key={product.id}>
              <ul className="remarks">
                {remarksOf(label, product.values).map((r) => (
                  <li
                    key={r.words}
                    className={`chip wrap ${r.tone === 'good' ? 'good' : r.tone === 'warn' ? 'late' : 'soon'}`}
                    title={r.why}
                  >
                    {r.tone === 'good' ? '✓ ' : r.tone === 'warn' ? '! ' : ''}
                    {r.words}
                  </li>
                ))}
              </ul>
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

/** With the acid its mix needs to pH 6 in the water one feeds with. */
function costWords(room: ShelfRoom, product: RoomProduct, dose: number | undefined): string {
  if (costPerUnit(product) === undefined) return 'no price yet';
  const cost = costAt(room, product, inBottle(product, labelOf(product)!, room.scale).perUnit, dose);
  return cost
    ? `${cost.whole.toFixed(2)}${cost.acid > 0.005 ? `, ${cost.acid.toFixed(2)} of it acid` : ''}`
    : 'outside the model';
}
