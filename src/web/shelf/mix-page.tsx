import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import Form from 'react-bootstrap/Form';
import { Link, useSearchParams } from 'react-router';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { inSentence, ppmFromEc } from '../../core/quantity/index.ts';
import {
  cloudingOf,
  elementsOf,
  judgeOrder,
  mixOf,
  OPEN,
  recommendOrder,
  solve,
  type Addition,
  type Composition,
  pairRisk,
} from '../../core/solution/index.ts';
import { money, phText, ppmText } from '../shell/format.ts';
import { readNumber } from '../shell/field-reader.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { costPerUnit, firstWater, inBottle, labelOf, unitOf, waterOf, type RoomProduct } from './chemistry.ts';
import { ElementBars, ElementWords } from './element-bars.tsx';
import { scaled, sumOf } from './scaled.ts';
import { shelfQuery } from './shelf-query.ts';

/** What is in a mix: any of the products at any dose in any water, with its elements, its pH, whether it clouds, and in which order it goes in. */
export function MixPage() {
  const shelf = useQuery(shelfQuery);
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data) return <Failed error={shelf.error} retry={() => void shelf.refetch()} />;
  return <Mix room={shelf.data} />;
}

function Mix({ room }: { room: ShelfRoom }) {
  const [params] = useSearchParams();
  const products = room.products.filter((p) => p.retiredOn === null && labelOf(p));
  const waters = room.waters.filter((w) => w.retiredOn === null && waterOf(w, room.scale)?.ok);
  const [waterId, setWaterId] = useState(
    waters.find((w) => w.id === params.get('water'))?.id ?? firstWater(room)?.id ?? '',
  );
  const [doses, setDoses] = useState<Record<string, string>>(() => {
    const first = params.get('with') ?? products.find((p) => p.values.kind === 'feed')?.id;
    const product = products.find((p) => p.id === first);
    const asked = readNumber(params.get('dose') ?? '');
    return product
      ? {
          [product.id]:
            asked !== undefined && asked > 0 ? String(Number(asked.toFixed(3))) : startDose(product, room.scale),
        }
      : {};
  });
  const water = waters.find((w) => w.id === waterId);
  const known = useMemo(() => (water ? waterOf(water, room.scale) : undefined), [water, room.scale]);
  const additions = products.flatMap((p): Addition[] => {
    const dose = readNumber(doses[p.id] ?? '');
    return dose !== undefined && dose > 0
      ? [
          {
            id: p.id,
            name: p.values.name,
            kind: p.values.kind,
            perUnit: inBottle(p, labelOf(p)!, room.scale).perUnit,
            doseMlL: dose,
          },
        ]
      : [];
  });
  return (
    <div className="page mix-page">
      <header>
        <div>
          <h1>What is in a mix</h1>
          <div className="small">
            Elements, pH, clouding and the order of adding, worked out from the labels; the pen at the bench has the
            last word
          </div>
        </div>
        <Link className="btn btn-sm btn-outline-secondary push" to="/shelf">
          Back to the Shelf
        </Link>
      </header>
      <div className="mix-main">
        <section className="sheet mix-parts" aria-label="What goes in">
          <h2>One litre of</h2>
          <LabelledField label="Water" error={waters.length === 0 ? 'Read a water on the Shelf first.' : undefined}>
            {(a) => (
              <Form.Select {...a} value={waterId} onChange={(e) => setWaterId(e.target.value)}>
                {waters.map((w) => (
                  <option key={w.id} value={w.id}>
                    {w.values.name}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          {products.length === 0 && (
            <p className="small mb-0">No label copied yet: copy one on the Shelf and it stands here.</p>
          )}
          {products.map((p) => {
            const typed = readNumber(doses[p.id] ?? '');
            return (
              <LabelledField
                key={p.id}
                label={`${p.values.name}, ${unitOf(p)}`}
                hint={
                  typed !== undefined && p.values.topDoseMlL !== null && typed > p.values.topDoseMlL
                    ? `over the ${p.values.topDoseMlL} ${unitOf(p)} its label allows`
                    : undefined
                }
                error={
                  typed !== undefined && !(typed >= 0 && typed <= 1000)
                    ? `Give ${unitOf(p)} in a litre, such as 0.5.`
                    : undefined
                }
              >
                {(a) => (
                  <Form.Control
                    {...a}
                    inputMode="decimal"
                    autoComplete="off"
                    placeholder="none"
                    value={doses[p.id] ?? ''}
                    onChange={(e) => setDoses((old) => ({ ...old, [p.id]: e.target.value }))}
                  />
                )}
              </LabelledField>
            );
          })}
        </section>
        {known?.ok && water ? (
          <Outcome
            room={room}
            water={known.composition}
            waterName={water.values.name}
            guessed={known.how === 'reading'}
            additions={additions}
            products={products}
            costPerL={water.values.costPerL ?? 0}
          />
        ) : (
          <section className="sheet">
            <p className="mb-0">
              {known && !known.ok
                ? known.message
                : 'Read a water on the Shelf, and what is in a mix can be worked out.'}
            </p>
          </section>
        )}
      </div>
    </div>
  );
}

/** A dose near 90 net on the grower's pen. */
function startDose(product: RoomProduct, scale: number): string {
  const perMl = product.learned?.ppmPerMlL ?? ppmFromEc(labelOf(product)?.ecPerUnitL ?? 0, scale);
  return perMl > 0 ? String(Number((90 / perMl).toFixed(2))) : '1';
}

function Outcome({
  room,
  water,
  waterName,
  guessed,
  additions,
  products,
  costPerL,
}: {
  room: ShelfRoom;
  water: Composition;
  waterName: string;
  guessed: boolean;
  additions: readonly Addition[];
  products: readonly RoomProduct[];
  costPerL: number;
}) {
  const { total, solved } = mixOf(water, additions);
  const added = additions.map((a) => {
    const product = products.find((p) => p.id === a.id)!;
    return scaled(inBottle(product, labelOf(product)!, room.scale).elements, a.doseMlL);
  });
  const ofIt = sumOf(added);
  const inMix = sumOf([elementsOf(water), ofIt]);
  const best = recommendOrder(water, additions);
  const [own, setOwn] = useState<readonly string[]>();
  const order =
    own?.length === additions.length && own.every((id) => additions.some((a) => a.id === id))
      ? own.map((id) => additions.find((a) => a.id === id)!)
      : best.order;
  const steps = judgeOrder(water, order);
  const move = (i: number) => {
    const ids = order.map((a) => a.id);
    [ids[i - 1], ids[i]] = [ids[i]!, ids[i - 1]!];
    setOwn(ids);
  };
  const cost = costOf(additions, products, costPerL);
  const kind = (id: string) => additions.find((a) => a.id === id)?.kind;
  return (
    <>
      <section className="sheet" aria-label="What it brings">
        <h2>What it brings</h2>
        {additions.length === 0 ? (
          <p className="mb-0">Give a dose of something, and its elements stand here.</p>
        ) : (
          <>
            <ElementBars
              columns={[
                { head: 'in the mix', elements: inMix },
                { head: 'of it added', elements: ofIt },
              ]}
              caption="Elements in the mix"
            />
            <ElementWords elements={inMix} />
            {cost !== undefined && (
              <p className="small mb-0">
                Ten litres cost <b className="num">{money(10 * cost)}</b>.
              </p>
            )}
          </>
        )}
      </section>
      <section className="sheet" aria-label="How it reads">
        <HowItReads
          water={water}
          waterName={waterName}
          guessed={guessed}
          total={total}
          solved={solved}
          scale={room.scale}
        />
        <h2>In which order</h2>
        {steps.length === 0 ? (
          <p className="small mb-0">With several products the order stands here, with the reasons.</p>
        ) : (
          <ol className="order">
            {steps.map((step, i) => (
              <li key={step.id}>
                <b>{additions.find((a) => a.id === step.id)?.name}</b>
                {i > 0 && (
                  <button
                    type="button"
                    className="link"
                    aria-label={`${additions.find((a) => a.id === step.id)?.name} earlier`}
                    onClick={() => move(i)}
                  >
                    earlier
                  </button>
                )}
                <span className="d-block small">
                  {step.reason}
                  {step.risk.risk !== 'none' && (
                    <span className={`chip wrap ${step.risk.risk === 'sure' ? 'late' : 'soon'}`}>
                      {step.risk.risk === 'sure' ? 'clouds where they meet' : 'may cloud where they meet'}:{' '}
                      {step.risk.words} (a rule, outside the model)
                    </span>
                  )}
                </span>
                {(kind(step.id) === 'acid' || kind(step.id) === 'base') && (
                  <span className="d-block small">Then read the pH. Never beside another concentrate.</span>
                )}
              </li>
            ))}
          </ol>
        )}
        <NeverTogether additions={additions} />
        {own && (
          <button type="button" className="link" onClick={() => setOwn(undefined)}>
            Back to the order with the least risk
          </button>
        )}
      </section>
    </>
  );
}

/** What the pen reads of it, its pH, and whether it clouds. */
function HowItReads({
  water,
  waterName,
  guessed,
  total,
  solved,
  scale,
}: {
  water: Composition;
  waterName: string;
  guessed: boolean;
  total: Composition;
  solved: ReturnType<typeof solve>;
  scale: number;
}) {
  const base = solve(water);
  const open = solve(total, OPEN);
  const ppm = (ec: number) => ppmFromEc(ec, scale);
  const overSilica = total.SiO2 * 60.084;
  return (
    <>
      <h2>How it reads</h2>
      {!solved.ok ? (
        <p className="chip soon wrap mb-0" role="status">
          {solved.message}
        </p>
      ) : (
        <div role="status" className="d-grid gap-2">
          <table className="facts">
            <tbody>
              <tr>
                <th scope="row">Pen</th>
                <td className="num">
                  <b className="big">{ppmText(ppm(solved.ecUsCm))}</b> ppm
                </td>
                <td>{base.ok && `${ppmText(ppm(solved.ecUsCm - base.ecUsCm))} over ${inSentence(waterName)}`}</td>
              </tr>
              <tr>
                <th scope="row">pH</th>
                <td className="num">
                  <b className="big">{phText(solved.ph)}</b>
                </td>
                <td>
                  {open.ok && `${phText(open.ph)} when it stands open`}
                  {guessed && '; the water’s alkalinity is a guess'}
                </td>
              </tr>
              <tr>
                <th scope="row">Clouding</th>
                <td colSpan={2}>
                  <CloudWords clouding={cloudingOf(solved)} />
                </td>
              </tr>
            </tbody>
          </table>
          {solved.doubtful && <p className="chip soon wrap mb-0">So strong that the figures grow doubtful.</p>}
          {overSilica > 60 && (
            <p className="chip soon wrap mb-0">
              {Math.round(overSilica)} mg/L SiO₂: over 60 in a standing feed slowed growth (seen once)
              {overSilica > 117 ? '; over 117 it drops out' : ''}.
            </p>
          )}
        </div>
      )}
    </>
  );
}

/** Concentrates that must not meet undiluted, whichever is poured into the other. */
function NeverTogether({ additions }: { additions: readonly Addition[] }) {
  const pairs = additions
    .flatMap((a, i) => additions.slice(i + 1).map((b) => ({ a, b, risk: pairRisk(a.perUnit, b.perUnit) })))
    .filter(({ risk }) => risk.risk === 'sure');
  if (pairs.length === 0) return null;
  return (
    <p className="chip late wrap mb-0">
      <span>
        Never together undiluted: {pairs.map(({ a, b, risk }) => `${a.name} and ${b.name} (${risk.words})`).join('; ')}.
        A rule, outside the model.
      </span>
    </p>
  );
}

function CloudWords({ clouding }: { clouding: ReturnType<typeof cloudingOf> }) {
  if (clouding.risk === 'none') return <>stays clear</>;
  return (
    <>
      {clouding.risk === 'sure' ? 'clouds: ' : 'may cloud: '}
      {clouding.what.map((w) => w.words).join(', ')}
    </>
  );
}

/** Cost of a litre; undefined where something in it has no price. */
function costOf(
  additions: readonly Addition[],
  products: readonly RoomProduct[],
  costPerL: number,
): number | undefined {
  let sum = costPerL;
  for (const addition of additions) {
    const per = costPerUnit(products.find((p) => p.id === addition.id)!);
    if (per === undefined) return undefined;
    sum += per * addition.doseMlL;
  }
  return sum;
}
