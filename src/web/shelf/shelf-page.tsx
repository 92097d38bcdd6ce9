import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import { useSearchParams } from 'react-router';
import { PRODUCT_KIND_WORDS } from '../../contract/kinds.ts';
import { SHELF_KINDS, type ShelfAct, type ShelfKind, type ShelfRoom, type ShelfValues } from '../../contract/shelf.ts';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { dayMonth, dayMonthYear, litres, phText, ppmText } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { ScaleWords, ToolWords, WaterWords } from './shelf-words.tsx';
import { CountWater, OpenBottle, ReadWater } from './small-forms.tsx';
import { ThingForm } from './thing-form.tsx';
import { TITLES } from './texts.ts';

export const shelfQuery = { queryKey: ['shelf-room'], queryFn: () => get<ShelfRoom>('/api/shelf/room') };
type Editing = { what: ShelfKind; id: string | undefined };
type Small = { kind: 'read' | 'count' | 'bottle'; id: string };

/** Shelf, first cut: what the grower waters, feeds and measures with, as lists. */
export function ShelfPage() {
  const shelf = useQuery(shelfQuery);
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data) return <Failed error={shelf.error} retry={() => void shelf.refetch()} />;
  return <Shelf room={shelf.data} />;
}

function Shelf({ room }: { room: ShelfRoom }) {
  const { put, say } = useActs();
  const [params, setParams] = useSearchParams();
  const [editing, setEditing] = useState<Editing>();
  const [small, setSmall] = useState<Small>();
  const showRetired = params.get('retired') === '1';
  const act = async (body: ShelfAct, words: string) => {
    const id = newId();
    try {
      await put({ id, url: `/api/shelf/acts/${id}`, body, words }, { toast: words });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
  };
  const retired = SHELF_KINDS.flatMap((what) => listOf(room, what).filter((thing) => thing.retiredOn !== null)).length;
  const seen = <T extends { retiredOn: string | null }>(things: readonly T[]) => things.filter((t) => showRetired || t.retiredOn === null);
  const row = (
    what: ShelfKind,
    thing: { id: string; retiredOn: string | null; uses: number; values: { name: string } },
    figure: ReactNode,
    words: ReactNode,
    more?: ReactNode,
  ) => (
    <li key={thing.id} className={thing.retiredOn ? 'retired' : ''}>
      <b className="min-0">{thing.values.name}</b>
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
            <Button size="sm" variant="outline-secondary" aria-label={`Change ${thing.values.name}`} onClick={() => setEditing({ what, id: thing.id })}>
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
  const section = (what: ShelfKind, title: string, hint: string, rows: ReactNode[], none: string) => (
    <section className={`sheet shelf-list shelf-${what}`} aria-label={title}>
      <header>
        <h2>{title}</h2> <span className="small">{hint}</span>
        <Button size="sm" className="push" onClick={() => setEditing({ what, id: undefined })} aria-label={`Add a ${TITLES[what].toLowerCase()}`}>
          Add
        </Button>
      </header>
      {rows.length === 0 ? <p className="small mb-0 p-2">{none}</p> : <ul>{rows}</ul>}
    </section>
  );
  return (
    <div className="page shelf-page">
      <header>
        <div>
          <h1>Shelf</h1>
          <div className="small">What you water, feed and measure with. Nothing is deleted: what you no longer use is retired, and history keeps it.</div>
        </div>
        {retired > 0 && (
          <Button
            size="sm"
            variant="outline-secondary"
            className="push"
            aria-pressed={showRetired}
            onClick={() => setParams(showRetired ? {} : { retired: '1' }, { replace: true })}
          >
            {showRetired ? 'Hide' : 'Show'} the {retired} retired
          </Button>
        )}
      </header>
      <div className="shelf-lists">
        {section(
          'water',
          'Waters',
          'read the base at every mix',
          seen(room.waters).map((w) => {
            const last = w.readings[0];
            return row(
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
                    onClick={() => setSmall({ kind: 'count', id: w.id })}
                  >
                    Tank
                  </Button>
                )}
                <Button size="sm" variant="outline-secondary" aria-label={`Read ${w.values.name}`} onClick={() => setSmall({ kind: 'read', id: w.id })}>
                  Read
                </Button>
              </>,
            );
          }),
          'No water yet. Add the one you mix with, then read it.',
        )}
        {section(
          'product',
          'Bottles and jars',
          'so much gave so much; the bench learns the rest',
          seen(room.products).map((p) =>
            row(
              'product',
              p,
              p.values.kind === 'acid' || p.values.kind === 'base' ? (
                <span className="chip soon">{p.values.kind === 'acid' ? 'acid' : 'alkali'}</span>
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
                {PRODUCT_KIND_WORDS[p.values.kind]}
                {p.values.label && ` · ${p.values.label}`}
                {p.bottle && ` · opened ${dayMonthYear(p.bottle.openedOn)}`}
                {!p.strength.known && p.values.recipe && <span className="d-block">Not scaled: {p.strength.why}</span>}
              </>,
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Open a new bottle of ${p.values.name}`}
                onClick={() => setSmall({ kind: 'bottle', id: p.id })}
              >
                New bottle
              </Button>,
            ),
          ),
          'No feed yet. Add the one you use.',
        )}
        {section(
          'meter',
          'Pens',
          'every reading is kept as the pen showed it',
          seen(room.meters).map((m) => {
            const main = m.id === room.mainPpmMeterId || m.id === room.mainPhMeterId;
            return row(
              'meter',
              m,
              m.values.quantity === 'pH' ? 'pH' : <ScaleWords values={m.values} />,
              <>
                {main && <span className="chip water">at hand</span>}{' '}
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
          }),
          'No pen yet. Without one, strengths cannot be told.',
        )}
        {section(
          'tool',
          'Measures',
          'a drop has no size until its dropper is counted',
          seen(room.tools).map((t) => row('tool', t, <ToolWords values={t.values} />, usesWords(t.uses, 'batch', 'batches'))),
          'Nothing to measure with yet. Add a dropper or a syringe.',
        )}
        {section(
          'vessel',
          'Vessels',
          'what a batch is mixed in',
          seen(room.vessels).map((v) =>
            row('vessel', v, <b className="num">{litres(v.values.capacityL)}</b>, `${v.values.material}${v.values.heatProof ? ', stands hot water' : ''}`),
          ),
          'No vessel yet. Add your bucket or jug.',
        )}
      </div>
      {editing && <Edit key={editing.id ?? editing.what} room={room} {...editing} onClose={() => setEditing(undefined)} />}
      {small?.kind === 'read' && <ReadWater room={room} waterId={small.id} onClose={() => setSmall(undefined)} />}
      {small?.kind === 'count' && <CountWater room={room} waterId={small.id} onClose={() => setSmall(undefined)} />}
      {small?.kind === 'bottle' && <OpenBottle room={room} productId={small.id} onClose={() => setSmall(undefined)} />}
    </div>
  );
}

function Edit({ what, id, room, onClose }: Editing & { room: ShelfRoom; onClose(): void }) {
  const existing = listOf(room, what).find((thing) => thing.id === id);
  return <ThingForm what={what} room={room} existing={existing ? { id: existing.id, values: existing.values } : undefined} onClose={onClose} />;
}

type Thing = { id: string; retiredOn: string | null; uses: number; values: ShelfValues };
function listOf(room: ShelfRoom, what: ShelfKind): readonly Thing[] {
  return { water: room.waters, meter: room.meters, tool: room.tools, vessel: room.vessels, product: room.products }[what];
}

const usesWords = (n: number, one: string, many: string) => (n === 0 ? '' : `used for ${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`);
