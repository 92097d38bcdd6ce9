import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import { PRODUCT_KIND } from '../../contract/kinds.ts';
import type { LabelFigures, ShelfRoom } from '../../contract/shelf.ts';
import { LABEL_ITEMS, remarksOf, type Composition, type ReadLabel } from '../../core/solution/index.ts';
import { inSentence, ppmFromEc } from '../../core/quantity/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { dayMonth, dayMonthYear, money, ppmText } from '../shell/format.ts';
import { readNumber } from '../shell/field-reader.ts';
import { AcidCard } from './acid-card.tsx';
import { costAt, inBottle, labelOf, unitOf, type RoomProduct } from './chemistry.ts';
import { ElementBars, ElementWords } from './element-bars.tsx';
import { ITEM_WORDS } from './label-fields.tsx';
import type { SheetProps, SmallKind } from './sheet.tsx';
import { StrengthChart } from './strength-chart.tsx';
import { scaled } from './scaled.ts';
import { lastsFor } from './shelf-words.tsx';

/** A product: its label, what it brings, what the bench learned of it, how far it suits, what it costs. */
export function ProductSheet({ room, thing: product, edit, small }: SheetProps<RoomProduct>) {
  const { values, bottle } = product;
  const label = labelOf(product);
  const corrects = values.kind === 'acid' || values.kind === 'base';
  return (
    <>
      {values.analysis ? (
        <LabelPlate figures={values.analysis} onChange={() => edit()} />
      ) : (
        <p className="empty-plate mb-0">
          No label copied yet: elements, a first guess of its strength and the pH of a mix come from it.{' '}
          <Button size="sm" onClick={() => edit()}>
            Copy its label
          </Button>
        </p>
      )}
      {label && !corrects && <Brings room={room} product={product} label={label} />}
      {label && corrects && <AcidCard room={room} product={product} label={label} />}
      <ReadsPerMl corrects={corrects} values={values} product={product} label={label} room={room} />
      <Remarks label={label} values={values} />
      <Limits room={room} product={product} />
      <BottleFacts values={values} bottle={bottle} product={product} small={small} label={label} corrects={corrects} />
    </>
  );
}

function BottleFacts({
  values,
  bottle,
  product,
  small,
  label,
  corrects,
}: {
  values: RoomProduct['values'];
  bottle: RoomProduct['bottle'];
  product: SheetProps<RoomProduct>['thing'];
  small: (kind: SmallKind) => void;
  label: ReadLabel | undefined;
  corrects: boolean;
}) {
  return (
    <section className="bottle-facts" aria-label="The bottle in use">
      <h3>The {values.analysis?.form === 'powder' ? 'packet' : 'bottle'} in use</h3>
      <p className="small mb-0">
        {PRODUCT_KIND[values.kind].words}
        {bottle && ` · opened ${dayMonthYear(bottle.openedOn)}${bottle.note ? ` (${bottle.note})` : ''}`}
        {bottle?.leftMl != null && ` · about ${Math.round(bottle.leftMl)} of ${bottle.sizeMl} ${unitOf(product)} left`}
        {bottle?.daysLeft != null && `, ${lastsFor(bottle.daysLeft)} at this rate`}
      </p>
      <div className="d-flex gap-2 flex-wrap align-items-center">
        <Button size="sm" variant="outline-secondary" onClick={() => small('bottle')}>
          New bottle
        </Button>
        {label && !corrects && (
          <>
            <Link className="btn btn-sm btn-outline-secondary" to={`/shelf/mix?with=${product.id}`}>
              What is in a mix
            </Link>
            <Link className="btn btn-sm btn-outline-secondary" to={`/shelf/compare?products=${product.id}`}>
              Compare
            </Link>
          </>
        )}
      </div>
    </section>
  );
}

function Remarks({ label, values }: { label: ReadLabel | undefined; values: RoomProduct['values'] }) {
  if (!label) return null;
  return (
    <ul className="remarks" aria-label="For and against">
      {remarksOf(label, values).map((remark) => (
        <li
          key={remark.words}
          className={`chip ${remark.tone === 'good' ? 'good' : remark.tone === 'warn' ? 'late' : 'soon'}`}
          title={remark.why}
        >
          {remark.tone === 'good' ? '✓ ' : remark.tone === 'warn' ? '! ' : ''}
          {remark.words}
          <span className="visually-hidden">. {remark.why}</span>
        </li>
      ))}
    </ul>
  );
}

function ReadsPerMl({
  corrects,
  values,
  product,
  label,
  room,
}: {
  corrects: boolean;
  values: RoomProduct['values'];
  product: SheetProps<RoomProduct>['thing'];
  label: ReadLabel | undefined;
  room: SheetProps<RoomProduct>['room'];
}) {
  if (!(!corrects && values.kind !== 'living')) return null;
  return (
    <section aria-label="What a pen reads per mL/L">
      <h3>What your pen reads per {unitOf(product)}/L</h3>
      <StrengthChart
        productId={product.id}
        guess={
          label && label.ecPerUnitL > 0
            ? { ppm: ppmFromEc(label.ecPerUnitL, room.scale), sd: ppmFromEc(label.sd, room.scale) }
            : undefined
        }
      />
      {!product.strength.known && values.recipe && <p className="small mb-0">Not scaled: {product.strength.why}</p>}
    </section>
  );
}

/** The label the way it stands on the bottle. */
function LabelPlate({ figures, onChange }: { figures: LabelFigures; onChange(): void }) {
  const said = LABEL_ITEMS.filter((item) => figures.percent[item] !== undefined);
  return (
    <div className="label-plate shown">
      <div className="plate-head">
        <b>As the label reads</b>
        <span>
          grams in 100 {figures.form === 'liquid' && figures.basis === 'w/v' ? 'mL' : 'g'}
          {figures.densityGMl !== null && `, density ${figures.densityGMl}`}
        </span>
      </div>
      <dl className="plate-row">
        {said.map((item) => (
          <div className="cell" key={item}>
            <dt>{ITEM_WORDS[item]}</dt>
            <dd>{figures.percent[item]}</dd>
          </div>
        ))}
      </dl>
      <div className="plate-foot">
        {figures.thinned > 1 ? (
          <span>
            In this bottle: <b>thinned 1 + {Number((figures.thinned - 1).toFixed(1))}</b>
          </span>
        ) : (
          'As bought'
        )}
        <button type="button" className="link" onClick={onChange}>
          Change
        </button>
      </div>
    </div>
  );
}

/** Elements at a net aim and per mL/L. */
function Brings({ room, product, label }: { room: ShelfRoom; product: RoomProduct; label: ReadLabel }) {
  const [text, setText] = useState('90');
  const net = readNumber(text);
  const bottle = inBottle(product, label, room.scale);
  const perMl = ppmFromEc(bottle.ecPerUnitL, room.scale);
  const unit = unitOf(product);
  const dose = net !== undefined && net > 0 && perMl > 0 ? net / perMl : undefined;
  const columns = [
    ...(dose === undefined ? [] : [{ head: `at ${text} net`, elements: scaled(bottle.elements, dose) }]),
    { head: `per ${unit}/L`, elements: bottle.elements },
  ];
  const cost = costWords(room, product, bottle.perUnit, dose);
  return (
    <section aria-label="What it brings">
      <header className="d-flex align-items-baseline gap-2 flex-wrap">
        <h3>What it brings</h3>
        {perMl > 0 && (
          <label className="small push">
            at net{' '}
            <Form.Control
              size="sm"
              className="tiny"
              inputMode="decimal"
              aria-label="Net ppm"
              value={text}
              isInvalid={dose === undefined}
              onChange={(e) => setText(e.target.value)}
            />{' '}
            ppm
          </label>
        )}
      </header>
      <ElementBars columns={columns} caption={`Elements of ${product.values.name}`} />
      <ElementWords elements={label.elements} />
      {dose !== undefined && (
        <p className="small mb-0">
          {ppmText(net!)} net is {Number(dose.toFixed(2))} {unit} in a litre
          {product.learned ? ', as the bench found this bottle' : ', by the label'}.{cost && ` ${cost}`}
        </p>
      )}
      {label.supposed.map((words) => (
        <p className="small mb-0" key={words}>
          {words}
        </p>
      ))}
    </section>
  );
}

/** "Ten litres cost 0.36: 0.24 of it, 0.10 of acid to pH 6, 0.02 of water." */
function costWords(
  room: ShelfRoom,
  product: RoomProduct,
  perUnit: Composition,
  dose: number | undefined,
): string | undefined {
  const cost = costAt(room, product, perUnit, dose);
  if (!cost) return undefined;
  return `Ten litres in ${inSentence(cost.waterName)} cost ${money(cost.whole)}: ${money(cost.product)} of it, ${money(cost.acid)} of acid to pH 6, ${money(cost.water)} of water.`;
}

/** Top dose, longest run and when it ends. */
function Limits({ room, product }: { room: ShelfRoom; product: RoomProduct }) {
  const { topDoseMlL, longestDays, slowsGrowth } = product.values;
  if (topDoseMlL === null && longestDays === null) return null;
  const since = product.bottle?.runSince ?? null;
  const ends = longestDays !== null && plusDays(since ?? room.today, Math.ceil(longestDays));
  return (
    <p className={ends && since && ends <= room.today ? 'chip late wrap mb-0' : 'chip soon wrap mb-0'}>
      {topDoseMlL !== null && `At most ${topDoseMlL} ${unitOf(product)} in a litre by its label. `}
      {ends &&
        (since === null
          ? `At most ${longestDays} days running: begun today it ends ${dayMonth(ends)}. `
          : ends <= room.today
            ? `Its run of ${longestDays} days was over on ${dayMonth(ends)}: stop for a fortnight. `
            : `Given since ${dayMonth(since)}: stop on ${dayMonth(ends)}. `)}
      {slowsGrowth && 'It slows growth: overdosing stunts.'}
    </p>
  );
}
