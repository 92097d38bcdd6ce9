import type { ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import { PRODUCT_KIND } from '../../contract/kinds.ts';
import type { ShelfAct, ShelfKind, ShelfRoom } from '../../contract/shelf.ts';
import { dayMonth, dayMonthYear, litres, phText, ppmText } from '../shell/format.ts';
import { stateWords } from './meter-sheet.tsx';
import { ScaleWords, ToolWords, WaterWords } from './shelf-words.tsx';
import type { SmallKind } from './sheet.tsx';
import { TITLES } from './texts.ts';

type ListProps = {
  room: ShelfRoom;
  showRetired: boolean;
  act(body: ShelfAct, words: string): Promise<void>;
  edit(what: ShelfKind, id: string | undefined): void;
  small(kind: SmallKind, id: string): void;
  choose(what: ShelfKind, id: string): void;
};

/** The same things as lists, for who would rather read than look. */
export function ShelfList(props: ListProps) {
  const { room, edit } = props;
  const section = (what: ShelfKind, title: string, hint: string, none: string, rows: ReactNode[]) => (
    <Section {...{ what, title, hint, none, rows, edit }} />
  );
  return (
    <div className="shelf-lists">
      {section(
        'water',
        'Waters',
        'read the base at every mix',
        'No water yet. Add the one you mix with, then read it.',
        seen(props, room.waters).map((t) => waterRow(props, t)),
      )}
      {section(
        'product',
        'Bottles and jars',
        'so much gave so much; the bench learns the rest',
        'No feed yet. Add the one you use.',
        seen(props, room.products).map((t) => productRow(props, t)),
      )}
      {section(
        'meter',
        'Pens',
        'every reading is kept as the pen showed it',
        'No pen yet. Without one, strengths cannot be told.',
        seen(props, room.meters).map((t) => penRow(props, t)),
      )}
      {section(
        'tool',
        'Measures',
        'a drop has no size until its dropper is counted',
        'Nothing to measure with yet. Add a dropper or a syringe.',
        seen(props, room.tools).map((t) => toolRow(props, t)),
      )}
      {section(
        'vessel',
        'Vessels',
        'what a batch is mixed in',
        'No vessel yet. Add your bucket or jug.',
        seen(props, room.vessels).map((t) => vesselRow(props, t)),
      )}
    </div>
  );
}

const seen = <T extends { retiredOn: string | null }>({ showRetired }: ListProps, things: readonly T[]) =>
  things.filter((t) => showRetired || t.retiredOn === null);

type SectionProps = {
  what: ShelfKind;
  title: string;
  hint: string;
  none: string;
  rows: ReactNode[];
  edit: ListProps['edit'];
};

function Section({ what, title, hint, none, rows, edit }: SectionProps) {
  return (
    <section className={`sheet shelf-list shelf-${what}`} aria-label={title}>
      <header>
        <h2>{title}</h2> <span className="small">{hint}</span>
        <Button
          size="sm"
          className="push"
          onClick={() => edit(what, undefined)}
          aria-label={`Add a ${TITLES[what].toLowerCase()}`}
        >
          Add
        </Button>
      </header>
      {rows.length === 0 ? <p className="small mb-0 p-2">{none}</p> : <ul>{rows}</ul>}
    </section>
  );
}

type Thing = { id: string; retiredOn: string | null; uses: number; values: { name: string } };

function row(
  { act, edit, choose }: ListProps,
  what: ShelfKind,
  thing: Thing,
  figure: ReactNode,
  words: ReactNode,
  more?: ReactNode,
) {
  return (
    <li key={thing.id} className={thing.retiredOn ? 'retired' : ''}>
      <button type="button" className="link min-0 thing-name" onClick={() => choose(what, thing.id)}>
        {thing.values.name}
      </button>
      <div className="small about">{words}</div>
      <span className="figure nowrap">{figure}</span>
      <span className="row-acts">
        {thing.retiredOn ? (
          <>
            <span className="small nowrap">retired {dayMonth(thing.retiredOn)}</span>
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => void act({ kind: 'bringBack', what, id: thing.id }, `Brought back ${thing.values.name}`)}
            >
              Bring back
            </Button>
          </>
        ) : (
          <>
            {more}
            <Button
              size="sm"
              variant="outline-secondary"
              aria-label={`Change ${thing.values.name}`}
              onClick={() => edit(what, thing.id)}
            >
              Change
            </Button>
            <Button
              size="sm"
              variant="outline-secondary"
              aria-label={`Retire ${thing.values.name}`}
              onClick={() => void act({ kind: 'retire', what, id: thing.id }, `Retired ${thing.values.name}`)}
            >
              Retire
            </Button>
          </>
        )}
      </span>
    </li>
  );
}

function waterRow(props: ListProps, w: ShelfRoom['waters'][number]): ReactNode {
  const { small } = props;

  const last = w.readings[0];
  return row(
    props,
    'water',
    w,
    last?.ppm == null ? (
      <span className="small">never read</span>
    ) : (
      <>
        <b className="num">{ppmText(last.ppm)}</b> ppm
        {last.ph !== null && (
          <>
            , pH <b className="num">{phText(last.ph)}</b>
          </>
        )}
      </>
    ),
    <WaterWords water={w} />,
    <>
      {w.values.tankL !== null && (
        <Button
          size="sm"
          variant="outline-secondary"
          aria-label={`Look into the tank of ${w.values.name}`}
          onClick={() => small('count', w.id)}
        >
          Tank
        </Button>
      )}
      <Button
        size="sm"
        variant="outline-secondary"
        aria-label={`Read ${w.values.name}`}
        onClick={() => small('read', w.id)}
      >
        Read
      </Button>
    </>,
  );
}

function productRow(props: ListProps, p: ShelfRoom['products'][number]): ReactNode {
  const { small } = props;
  return row(
    props,
    'product',
    p,
    p.values.kind === 'acid' || p.values.kind === 'base' ? (
      <span className="chip soon">{p.values.kind === 'acid' ? 'acid' : 'alkali'}</span>
    ) : p.learned ? (
      <>
        <b className="num">{ppmText(p.learned.ppmPerMlL)}</b> ppm per mL/L, learned
      </>
    ) : p.strength.known ? (
      <>
        <b className="num">{ppmText(p.strength.ppmPerMlL)}</b> ppm per mL/L
      </>
    ) : (
      <span className="chip soon" title={p.strength.why}>
        not scaled
      </span>
    ),
    <>
      {PRODUCT_KIND[p.values.kind].words}
      {p.values.label && ` · ${p.values.label}`}
      {p.bottle && ` · opened ${dayMonthYear(p.bottle.openedOn)}`}
      {!p.strength.known && p.values.recipe && <span className="d-block">Not scaled: {p.strength.why}</span>}
    </>,
    <Button
      size="sm"
      variant="outline-secondary"
      aria-label={`Open a new bottle of ${p.values.name}`}
      onClick={() => small('bottle', p.id)}
    >
      New bottle
    </Button>,
  );
}

function penRow(props: ListProps, m: ShelfRoom['meters'][number]): ReactNode {
  const { act, room } = props;

  const main = m.id === room.mainPpmMeterId || m.id === room.mainPhMeterId;
  return row(
    props,
    'meter',
    m,
    m.values.quantity === 'pH' ? 'pH' : <ScaleWords values={m.values} />,
    <>
      {main && <span className="chip water">at hand</span>} {stateWords(m, room.today)}
      {' · '}
      {[m.simulated ? 'simulated' : '', usesWords(m.uses, 'batch', 'batches')].filter(Boolean).join(', ')}
    </>,
    !main && (
      <Button
        size="sm"
        variant="outline-secondary"
        aria-label={`Take ${m.values.name} as the pen at hand`}
        onClick={() => void act({ kind: 'main', meterId: m.id }, `${m.values.name} is the pen at hand`)}
      >
        At hand
      </Button>
    ),
  );
}

function toolRow(props: ListProps, t: ShelfRoom['tools'][number]): ReactNode {
  return row(props, 'tool', t, <ToolWords values={t.values} />, usesWords(t.uses, 'batch', 'batches'));
}

function vesselRow(props: ListProps, v: ShelfRoom['vessels'][number]): ReactNode {
  return row(
    props,
    'vessel',
    v,
    <b className="num">{litres(v.values.capacityL)}</b>,
    `${v.values.material}${v.values.heatProof ? ', stands hot water' : ''}`,
  );
}

const usesWords = (n: number, one: string, many: string) =>
  n === 0 ? '' : `used for ${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
