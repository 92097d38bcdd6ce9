import { useMemo, useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { ecFromPpm, METER_SCALES, ppmFromEc } from '../../core/quantity/index.ts';
import {
  doseForNet,
  ELEMENT_WORDS,
  ELEMENTS,
  PURE_WATER,
  type Element,
  type ReadLabel,
} from '../../core/solution/index.ts';
import { readNumber } from '../shell/field-reader.ts';
import { labelOf, unitOf, type RoomMeter, type RoomProduct } from './chemistry.ts';
import { mgText } from './label-fields.tsx';

type Row = { key: string; words: string; ecUsCm: number; main: boolean };

/** What a figure on my pen means on the other scales, in conductivity, and in mg/L of what it comes from. */
export function ConversionCard({ room }: { room: ShelfRoom }) {
  const [text, setText] = useState('100');
  const products = room.products.filter(
    (p) =>
      p.retiredOn === null && p.values.kind !== 'acid' && p.values.kind !== 'base' && (labelOf(p)?.ecPerUnitL ?? 0) > 0,
  );
  const [productId, setProductId] = useState(
    () => (products.find((p) => p.values.kind === 'magnesium') ?? products[0])?.id ?? '',
  );
  const product = products.find((p) => p.id === productId);
  const label = product && labelOf(product);
  const value = readNumber(text);
  const pens = room.meters.filter(
    (m) => m.retiredOn === null && m.values.quantity === 'ppm' && m.values.scale !== null,
  );
  const main = pens.find((m) => m.id === room.mainPpmMeterId);
  const rows = value !== undefined && value > 0 && value <= 9990 ? rowsOf(pens, main, room.scale, value) : [];
  const otherScale = METER_SCALES.find((s) => s !== room.scale && s === 0.7) ?? 0.5;
  return (
    <section className="card-cell conversion" aria-label="What my pen's figure means">
      <header>
        <h2>
          What my pen’s{' '}
          <Form.Control
            size="sm"
            className="tiny"
            inputMode="decimal"
            aria-label="My pen says, ppm"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />{' '}
          means
        </h2>
        {product && (
          <Form.Select
            size="sm"
            aria-label="of"
            className="w-auto push"
            value={productId}
            onChange={(e) => setProductId(e.target.value)}
          >
            {products.map((p) => (
              <option key={p.id} value={p.id}>
                {p.values.name}
              </option>
            ))}
          </Form.Select>
        )}
      </header>
      {rows.length === 0 ? (
        <p className="small mb-0">Give a figure your pen can show, such as 100.</p>
      ) : (
        <ConversionTable rows={rows} scale={room.scale} otherScale={otherScale} product={product} label={label} />
      )}
      <p className="small mb-0">In pure water at 25 °C. A pen never reads mg/L of one thing.</p>
    </section>
  );
}

function ConversionTable({
  rows,
  scale,
  otherScale,
  product,
  label,
}: {
  rows: readonly Row[];
  scale: number;
  otherScale: number;
  product: RoomProduct | undefined;
  label: ReadLabel | undefined;
}) {
  const elements = label ? mainElements(label) : [];
  const doses = useMemo(
    () => rows.map((row) => (label ? doseForNet(PURE_WATER, label.perUnit, row.ecUsCm) : undefined)),
    [rows, label],
  );
  const scaleWords = (s: number) => (s === 0.5 ? '½' : String(s));
  return (
    <table className="conversion-table">
      <thead>
        <tr>
          <td />
          <th scope="col">
            {scaleWords(scale)} scale
            <br />
            ppm
          </th>
          <th scope="col">
            {scaleWords(otherScale)} scale
            <br />
            ppm
          </th>
          <th scope="col">
            conducts
            <br />
            mS/cm
          </th>
          {label && product && (
            <th scope="col">
              of it
              <br />
              {unitOf(product) === 'g' ? 'mg/L' : 'mL/L'}
            </th>
          )}
          {elements.map((e) => (
            <th scope="col" key={e}>
              {ELEMENT_WORDS[e]}
              <br />
              mg/L
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, i) => (
          <tr key={row.key} className={row.main ? 'main' : ''}>
            <th scope="row">{row.words}</th>
            <td>{Math.round(ppmFromEc(row.ecUsCm, scale))}</td>
            <td>{Math.round(ppmFromEc(row.ecUsCm, otherScale))}</td>
            <td>{(row.ecUsCm / 1000).toFixed(2)}</td>
            {label && product && (
              <td>
                {doses[i] === undefined
                  ? '—'
                  : unitOf(product) === 'g'
                    ? Math.round(1000 * doses[i])
                    : doses[i].toFixed(2)}
              </td>
            )}
            {elements.map((e) => (
              <td key={e}>{doses[i] === undefined ? '—' : mgText(label!.elements[e] * doses[i])}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The figure on my pen, the same figure on a pen of another scale, and a tenth of a millisiemens where there is a conductivity meter. */
function rowsOf(pens: readonly RoomMeter[], main: RoomMeter | undefined, scale: number, value: number): Row[] {
  const rows: Row[] = [
    {
      key: 'main',
      words: `${main?.values.name ?? 'My pen'} says ${value}`,
      ecUsCm: ecFromPpm(value, scale),
      main: true,
    },
  ];
  const others = pens.filter((m) => m.id !== main?.id);
  const otherPen = others.find((m) => m.values.unit === 'ppm' && m.values.scale !== scale);
  const other = otherPen?.values.scale ?? (scale === 0.7 ? 0.5 : 0.7);
  rows.push({
    key: 'other',
    words: `${otherPen?.values.name ?? `${other === 0.5 ? '½' : other} pen`} says ${value}`,
    ecUsCm: ecFromPpm(value, other),
    main: false,
  });
  const meter = others.find((m) => m.values.unit !== 'ppm');
  if (meter)
    rows.push({
      key: 'meter',
      words: `${meter.values.name}, ${meter.values.unit === 'mS/cm' ? '0.10' : '100'}`,
      ecUsCm: 100,
      main: false,
    });
  return rows;
}

/** The two elements a product is given for: magnesium for Epsom salt, calcium and magnesium for a cal-mag, nitrogen and potassium for a feed. */
function mainElements(label: ReadLabel): Element[] {
  const { elements } = label;
  if (elements.N === 0 && elements.Mg > 0 && elements.K === 0) return ['Mg'];
  if (elements.Si > 0) return ['Si', 'K'];
  if (elements.K === 0 && elements.Ca > 0) return ['Ca', 'Mg'];
  return ELEMENTS.filter((e) => elements[e] > 0)
    .sort((a, b) => elements[b] - elements[a])
    .slice(0, 2);
}
