import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link, useParams } from 'react-router';
import type { SitterSheet } from '../../contract/season-pages.ts';
import { get } from '../shell/api.ts';
import { PotSection } from '../drawing/index.ts';
import { litres, mL, weekdayDayMonth } from '../shell/format.ts';
import { someOf } from '../../core/quantity/index.ts';
import { Failed, Loading } from '../shell/states.tsx';

/** The sheet for whoever looks after the pots: in plain words, with the shelves, what to pour and what never to do. */
export function SitterPage() {
  const { awayId = '' } = useParams();
  const sheet = useQuery({
    queryKey: ['season', 'sitter', awayId],
    queryFn: () => get<SitterSheet>(`/api/season/sitter/${awayId}`),
  });
  if (sheet.isPending) return <Loading what="the sheet" />;
  if (!sheet.data) return <Failed error={sheet.error} retry={() => void sheet.refetch()} />;
  return <Sheet sheet={sheet.data} />;
}

const MOST_CODES = 12;
const potsOf = (n: number) => `${n} pot${n === 1 ? '' : 's'}`;

/** A letter for each visit: its weekday's, or a number where that comes twice. */
function marksOf(visits: SitterSheet['visits']): string[] {
  const letters = visits.map(({ on }) => weekdayDayMonth(on)[0]!);
  return new Set(letters).size === letters.length ? letters : visits.map((_, n) => String(n + 1));
}

function Sheet({ sheet }: { sheet: SitterSheet }) {
  const marks = marksOf(sheet.visits);
  const marksOfPot = (potId: string) =>
    sheet.visits.flatMap(({ pots }, n) => (pots.some(({ id }) => id === potId) ? [marks[n]!] : []));
  const all = sheet.places.flatMap((place) => place.pots);
  const left = all.filter(({ id }) => marksOfPot(id).length === 0).length;
  return (
    <div className="page sitter">
      <div className="no-print">
        <div className="d-flex gap-2 mb-2">
          <Button onClick={() => window.print()}>Print</Button>
          <Link className="btn btn-outline-secondary" to="/season">
            Back to the season
          </Link>
        </div>
        <ForTheGrower sheet={sheet} />
      </div>
      <header className="paper-head">
        <div>
          <h1>While I am away</h1>
          <div>
            {weekdayDayMonth(sheet.fromDate)} to {weekdayDayMonth(sheet.untilDate)}
          </div>
        </div>
        <div className="text-end">
          {sheet.collection}
          <br />
          for <span className="write long" />
        </div>
      </header>
      <p className="sitter-thanks">
        Thank you.{' '}
        {sheet.visits.length === 0 ? (
          <b>Nothing needs water while I am away: please leave them be.</b>
        ) : (
          <>
            <b>{sheet.visits.length === 1 ? 'One visit' : `${sheet.visits.length} visits`}, plain water only.</b>{' '}
            {sheet.visits.map(({ on, pots, minutes }) => (
              <span key={on}>
                {weekdayDayMonth(on)}: {potsOf(pots.length)}, {minutes} minutes.{' '}
              </span>
            ))}
            {left > 0 && (
              <>
                The other {left} are filled and last until I am back: <b>please leave them be</b>.
              </>
            )}
          </>
        )}
      </p>
      {sheet.visits.length > 0 && <HowTo water={sheet.water} />}
      <section className="sitter-shelves" aria-label="Where they stand">
        <h2>Where they stand</h2>
        {sheet.places.map((place) => (
          <div key={place.name} className="sitter-shelf">
            <div className="sitter-place">
              <b>{place.name}</b>
              {place.note && <small>{place.note}</small>}
            </div>
            <div className="sitter-pots">
              {place.pots.map(({ id, code, drawing }) => {
                const on = marksOfPot(id);
                return (
                  <div key={id} className={on.length > 0 ? 'sitter-pot watered' : 'sitter-pot'}>
                    <div className="marks">
                      {on.map((mark) => (
                        <b key={mark}>{mark}</b>
                      ))}
                    </div>
                    <PotSection drawing={drawing} size={40} seed={id} name={code} />
                    <span className="num">{code}</span>
                  </div>
                );
              })}
            </div>
          </div>
        ))}
      </section>
      <div className="sitter-visits">
        {sheet.visits.map((visit, n) => (
          <section key={visit.on} aria-label={weekdayDayMonth(visit.on)}>
            <h2>
              <b className="mark">{marks[n]}</b> {weekdayDayMonth(visit.on)}{' '}
              <small>{litres(visit.litres)} in all</small>
            </h2>
            <ul>
              {visit.pots.map(({ id, code, name, ml }) => (
                <li key={id}>
                  <span className="tick" /> <b className="num">{code}</b> {name} <b className="ml">{mL(ml)}</b>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
      <div className="sitter-foot">
        <section aria-label="Please never">
          <h2>Please never</h2>
          <ul>
            <li>tap water, or anything from a bottle</li>
            <li>a drop to a pot that is not on the list, or more than it says</li>
            <li>tip out, move or turn a pot</li>
            {sheet.lamps && <li>switch off lamps or plugs</li>}
            <li>let children or pets at the shelves</li>
          </ul>
        </section>
        <section aria-label="Worried? Please ring">
          <h2>Worried? Please ring</h2>
          <p>
            name <span className="write long" />
          </p>
          <p>
            number <span className="write long" />
          </p>
          <p className="mb-0">In doubt, do nothing: a missed drink does less harm than a wrong one.</p>
        </section>
      </div>
    </div>
  );
}

function HowTo({ water }: { water: string }) {
  return (
    <ol className="sitter-how">
      <li>
        Fill the jug with <b>{water}</b>. Add nothing.
      </li>
      <li>
        Pour slowly <b>on to the pebbles</b>, round the edge. Leaves, buds and the plant’s heart stay dry.
      </li>
      <li>
        <b>Water out of the little hole?</b> Stop: it is full, whatever the list says.
      </li>
      <li>Tick it off. Mornings are best, but any hour will do.</li>
    </ol>
  );
}

/** What the grower does before going and on coming back; not for the sitter's eyes. */
function ForTheGrower({ sheet }: { sheet: SitterSheet }) {
  const low = sheet.back.filter(({ share }) => share < LOW_ON_RETURN);
  return (
    <section className="sheet sitter-grower" aria-label="For you">
      <p className="mb-1">
        <b>Before you go:</b>{' '}
        {sheet.before.length === 0
          ? 'nothing to fill up besides the plan.'
          : `fill up with plain water ${sheet.before.map(({ code, ml }) => `${code} (${mL(ml)})`).join(', ')}.`}
      </p>
      <p className="mb-1">
        <b>On coming back, first:</b>{' '}
        {someOf(
          (low.length > 0 ? low : sheet.back.slice(0, 4)).map(
            ({ code, share }) => `${code}, ${Math.round(100 * share)} % left`,
          ),
          MOST_CODES,
        )}
        .
      </p>
      {sheet.guessed.length > 0 && (
        <p className="mb-0 small">
          What {someOf(sheet.guessed, MOST_CODES)} drink a day is only thought, from what pots at large drink: what is
          left in them, noted at one round before you go, would tell.
        </p>
      )}
    </section>
  );
}
const LOW_ON_RETURN = 0.25;
