import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link, useParams } from 'react-router';
import { MEDIUM_WORDS } from '../../contract/kinds.ts';
import type { PotView, PotVisit } from '../../contract/pots.ts';
import { CUE_NAMES, gradeIn, lookWords, toneOf } from '../../contract/seen.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { PotSection } from '../drawing/index.ts';
import { get } from '../shell/api.ts';
import { dayMonthYear, mL, phText, ppmText } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { GrowthLanes, GrowthTable } from './growth/growth-card.tsx';
import { RegimenHistory } from './regimen-history.tsx';
import { VisitChart } from './visit-chart.tsx';

const WEEKS = 53;
const PHOTOS = 8;
const LINES = 16;

/** Everything of one pot on paper, to give along with the plant. */
export function ReportPage() {
  const { potId = '' } = useParams();
  const pot = useQuery({ queryKey: ['pot', potId], queryFn: () => get<PotView>(`/api/pots/${potId}`) });
  if (pot.isPending) return <Loading what="the pot" />;
  if (!pot.data) return <Failed error={pot.error} retry={() => void pot.refetch()} />;
  return <Report view={pot.data} />;
}

function Report({ view }: { view: PotView }) {
  const { pot, values } = view;
  const called = pot.name && pot.name !== pot.plant ? `${pot.name}, ${pot.plant}` : pot.plant;
  const life = lifeOf(view);
  const troubles = troublesOf(view);
  const notes = view.visits.filter(({ kind }) => kind === 'changed').slice(-LINES);
  return (
    <div className="page pot-report">
      <div className="no-print d-flex gap-2">
        <Button onClick={() => window.print()}>Print</Button>
        <Link className="btn btn-outline-secondary" to={`/pots/${pot.id}`}>
          Back to the pot
        </Link>
      </div>
      <header>
        <PotSection drawing={pot.drawing} seed={pot.code} size={96} name={`${pot.code} ${pot.name}`} />
        <div>
          <h1>{called}</h1>
          <div>
            {pot.code}, {inSentence(pot.place)}. As of {dayMonthYear(view.today)}.
          </div>
        </div>
      </header>
      <section className="two">
        <div>
          <h2>What it is</h2>
          <dl>
            {life.map(([term, words]) => (
              <div key={term}>
                <dt>{term}</dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
          {values.note && <p>{values.note}</p>}
        </div>
        <div>
          <h2>What it is used to</h2>
          <dl>
            {usedTo(view).map(([term, words]) => (
              <div key={term}>
                <dt>{term}</dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
        </div>
      </section>
      {view.visits.length > 0 && (
        <section className="chart">
          <h2>Poured in, and read at the next visit, in a year</h2>
          <VisitChart view={view} weeks={WEEKS} ahead={undefined} />
        </section>
      )}
      {view.measures.length > 0 && (
        <section>
          <h2>Growth</h2>
          <GrowthLanes view={view} width={680} />
          <GrowthTable measures={view.measures} />
        </section>
      )}
      <RegimenHistory view={{ ...view, coming: [] }} />
      <section className="two">
        <div>
          <h2>Seen on it</h2>
          {troubles.length === 0 ? (
            <p>{view.looks.length === 0 ? 'Nobody noted a look.' : 'Nothing that was not as it should be.'}</p>
          ) : (
            <ul>
              {troubles.slice(-LINES).map(({ eventId, on, words }) => (
                <li key={eventId}>
                  {dayMonthYear(on)}: {words}
                </li>
              ))}
            </ul>
          )}
        </div>
        <div>
          <h2>Its life here</h2>
          {notes.length === 0 ? (
            <p>Nothing but its rounds.</p>
          ) : (
            <ul>
              {notes.map(({ eventId, on, words }) => (
                <li key={eventId}>
                  {dayMonthYear(on)}: {words}
                </li>
              ))}
            </ul>
          )}
        </div>
      </section>
      {view.photos.length > 0 && (
        <section>
          <h2>Photos</h2>
          <div className="report-photos">
            {view.photos
              .slice(0, PHOTOS)
              .toReversed()
              .map(({ id, on }) => (
                <figure key={id}>
                  <img src={`/api/pots/photos/${id}`} alt={`${pot.code}, ${dayMonthYear(on)}`} />
                  <figcaption>{dayMonthYear(on)}</figcaption>
                </figure>
              ))}
          </div>
        </section>
      )}
    </div>
  );
}

type Row = readonly [string, string];
const given = (rows: readonly (Row | null)[]): Row[] => rows.filter((row) => row !== null);

function lifeOf({ pot, values }: PotView): Row[] {
  const since = values.acquiredOn;
  return given([
    ['Plant', pot.plant],
    values.origin ? ['From', values.origin] : null,
    since ? ['Here since', dayMonthYear(since)] : null,
    [
      'Grows in',
      [MEDIUM_WORDS[values.medium], values.clay, values.repottedOn && `repotted ${dayMonthYear(values.repottedOn)}`]
        .filter(Boolean)
        .join(', '),
    ],
    ['Reservoir', `${mL(pot.reservoirMl)}, filled to ${mL(values.fillMl)}`],
    ['Stage', pot.drawing.stage],
    pot.retiredOn ? ['Retired', `${dayMonthYear(pot.retiredOn)}: ${pot.became}`] : null,
  ]);
}

const middle = (figures: readonly number[]): number | undefined =>
  figures.toSorted((a, b) => a - b)[figures.length >> 1];

/** What its visits were like: of what was read, the middle. */
function usedTo(view: PotView): Row[] {
  const fills = view.visits.filter(({ kind }) => kind === 'filled');
  const figures = (of: (visit: PotVisit) => number | null) => fills.flatMap((visit) => of(visit) ?? []);
  const [poured, ph, out, outPh] = [
    middle(figures((v) => v.pouredPpm)),
    middle(figures((v) => v.pouredPh)),
    middle(figures((v) => (v.tainted.includes('cameOutPpm') ? null : v.cameOutPpmOnScale))),
    middle(
      figures((v) => (v.tainted.includes('cameOutPh') || v.cameOutPh?.kind !== 'value' ? null : v.cameOutPh.value)),
    ),
  ];
  const days = middle(fills.slice(1).map((fill, i) => daysBetween(fills[i]!.on, fill.on)));
  return given([
    ['Regimen', view.regimen.name],
    days === undefined
      ? null
      : ['Watered', `every ${days} days, ${fills.length} times since ${dayMonthYear(fills[0]!.on)}`],
    poured === undefined ? null : ['Fed', `${ppmText(poured)} ppm${ph === undefined ? '' : `, pH ${phText(ph)}`}`],
    out === undefined && outPh === undefined
      ? null
      : [
          'Old reservoir',
          [out === undefined ? '' : `${ppmText(out)} ppm`, outPh === undefined ? '' : `pH ${phText(outPh)}`]
            .filter(Boolean)
            .join(', '),
        ],
  ]);
}

/** Looks that found something that was not as it should be. */
const troublesOf = ({ looks }: PotView) =>
  looks
    .filter(({ look }) => CUE_NAMES.some((cue) => toneOf(cue, gradeIn(look, cue)) !== 'good'))
    .map(({ eventId, on, look }) => ({
      eventId,
      on,
      words: lookWords({ ...look, growths: null, leafMm: null, measured: undefined }),
    }));
