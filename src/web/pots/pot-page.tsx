import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Dropdown from 'react-bootstrap/Dropdown';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useParams } from 'react-router';
import { HABIT_WORDS, MEDIUM_WORDS } from '../../contract/kinds.ts';
import type { PotView } from '../../contract/pots.ts';
import { CorrectDialog } from '../book/index.ts';
import { PotSection } from '../drawing/index.ts';
import { useActs } from '../shell/acts.tsx';
import { Icon } from '../drawing/icon.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { dayMonth, dayMonthYear, mL, phText, weekdayDayMonth } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { PlanForm } from '../shell/plan-list.tsx';
import { MoveDialog, RegimenDialog, RetireDialog } from './chosen-bar.tsx';
import { PotLog } from './pot-log.tsx';
import { PotForm } from './pot-form.tsx';
import { potsQuery } from './pots-page.tsx';
import { AdviceCards, usePotAdvice } from './advice-cards.tsx';
import { GivenCard } from './given-card.tsx';
import { LooksGrid } from './looks-grid.tsx';
import { NextFlush } from './next-flush.tsx';
import { PotPhotos } from './pot-photos.tsx';
import { RegimenHistory } from './regimen-history.tsx';
import { useAhead } from './use-ahead.ts';
import { VisitChart } from './visit-chart.tsx';
import { VisitTable } from './visit-table.tsx';

const SPANS = [
  { weeks: 10, words: 'Ten weeks' },
  { weeks: 26, words: 'Half a year' },
  { weeks: 53, words: 'A year' },
] as const;

/** A pot's page: how it stands, what was poured and what came out, and its log. */
export function PotPage() {
  const { potId = '' } = useParams();
  const pot = useQuery({ queryKey: ['pot', potId], queryFn: () => get<PotView>(`/api/pots/${potId}`) });
  if (pot.isPending) return <Loading what="the pot" />;
  if (!pot.data) return <Failed error={pot.error} retry={() => void pot.refetch()} />;
  return <PotSheet view={pot.data} />;
}

function PotSheet({ view }: { view: PotView }) {
  const { pot, regimen } = view;
  const { put, say } = useActs();
  const navigate = useNavigate();
  const [dialog, setDialog] = useState<'change' | 'move' | 'regimen' | 'retire' | 'plan'>();
  const [correcting, setCorrecting] = useState<string>();
  const { drift, ahead } = useAhead(view);
  const { advice, settled } = usePotAdvice(pot.id);
  const pots = useQuery({ ...potsQuery, enabled: dialog !== undefined });
  const [weeks, setWeeks] = useState<number>(10);
  const [asTable, setAsTable] = useState(false);
  const { before, after } = view.neighbours;
  useHotkeys('left', () => before && void navigate(`/pots/${before.id}`), { preventDefault: true });
  useHotkeys('right', () => after && void navigate(`/pots/${after.id}`), { preventDefault: true });
  useHotkeys('e', () => setDialog('change'), { preventDefault: true });
  useHotkeys('m', () => setDialog('move'), { preventDefault: true, enabled: !pot.retiredOn });
  const out = pot.lastCameOut;
  const { values } = view;
  const placed = { ...pot, placeId: values.placeId, place: pot.place, order: 0, today: view.today };
  const close = () => setDialog(undefined);
  const noteDried = async () => {
    const id = newId();
    await put(
      {
        id,
        url: `/api/clay/acts/${id}`,
        body: { kind: 'dried', clayId: null, potId: pot.id },
        words: `${pot.code} dried out`,
      },
      { toast: `${pot.code}: dried out` },
    );
  };
  const bringBack = async () => {
    const id = newId();
    try {
      await put(
        {
          id,
          url: `/api/pots/acts/${id}`,
          body: { kind: 'bringBack', potIds: [pot.id] },
          words: `Brought ${pot.code} back`,
        },
        { toast: `Brought ${pot.code} back` },
      );
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
  };
  return (
    <div className="page pot-page">
      <header className="pot-head">
        <PotSection drawing={pot.drawing} seed={pot.code} size={76} name={`${pot.code} ${pot.name}`} />
        <div className="flex-fill min-0">
          <div className="pot-title">
            <div>
              <h1>
                {pot.name}, {pot.place.toLowerCase()}
              </h1>
              {pot.oddLines > 0 && (
                <div className="field-error">
                  {pot.oddLines === 1
                    ? 'A line of its log cannot be understood and is'
                    : `${pot.oddLines} lines of its log cannot be understood and are`}{' '}
                  left out of what is reckoned here. <Link to="/book">They are marked in the Book</Link>
                </div>
              )}
              <div className="small">
                {[
                  pot.code,
                  pot.name === pot.plant ? '' : pot.plant,
                  values.spot || pot.placeNote,
                  `reservoir ${mL(pot.reservoirMl)}`,
                  pot.drawing.stage,
                  values.habit ? HABIT_WORDS[values.habit] : '',
                  values.sensitivity === 'usual' ? '' : values.sensitivity,
                  values.acquiredOn ? `here since ${dayMonthYear(values.acquiredOn)}` : '',
                ]
                  .filter(Boolean)
                  .join(' · ')}
              </div>
            </div>
            <div className="pot-acts" role="group" aria-label="What to do with it">
              {pot.retiredOn ? (
                <button type="button" className="btn btn-sm btn-primary" onClick={() => void bringBack()}>
                  Bring it back
                </button>
              ) : (
                <>
                  <button
                    type="button"
                    className="btn btn-sm btn-outline-secondary"
                    aria-keyshortcuts="E"
                    onClick={() => setDialog('change')}
                  >
                    <Icon name="pencil" /> Change
                  </button>
                  <button
                    type="button"
                    className="btn btn-sm btn-outline-secondary"
                    aria-keyshortcuts="M"
                    onClick={() => setDialog('move')}
                  >
                    Move
                  </button>
                  <button
                    type="button"
                    className="btn btn-sm btn-outline-secondary"
                    onClick={() => setDialog('regimen')}
                  >
                    Regimen
                  </button>
                  <button
                    type="button"
                    className="btn btn-sm btn-outline-secondary"
                    aria-expanded={dialog === 'plan'}
                    onClick={() => setDialog(dialog === 'plan' ? undefined : 'plan')}
                  >
                    Plan
                  </button>
                  <Link className="btn btn-sm btn-outline-secondary" to={`/pots/labels?pot=${pot.id}`}>
                    Label
                  </Link>
                  <Dropdown>
                    <Dropdown.Toggle size="sm" variant="outline-secondary">
                      Clay
                    </Dropdown.Toggle>
                    <Dropdown.Menu>
                      <Dropdown.Item as={Link} to={`/clay/pot-up?pot=${pot.id}`}>
                        Repot it
                      </Dropdown.Item>
                      {(values.medium === 'clay' || values.medium === 'basket') && (
                        <>
                          <Dropdown.Item as={Link} to={`/clay?hold=${pot.id}`}>
                            Salt check, or a hold
                          </Dropdown.Item>
                          <Dropdown.Item as="button" onClick={() => void noteDried()}>
                            It dried out
                          </Dropdown.Item>
                        </>
                      )}
                    </Dropdown.Menu>
                  </Dropdown>
                  <button
                    type="button"
                    className="btn btn-sm btn-outline-secondary"
                    onClick={() => setDialog('retire')}
                  >
                    Retire
                  </button>
                </>
              )}
            </div>
            <nav className="d-flex gap-2" aria-label="Neighbours">
              {before && (
                <Link className="btn btn-outline-secondary btn-sm" to={`/pots/${before.id}`}>
                  ← {before.code}
                </Link>
              )}
              {after && (
                <Link className="btn btn-outline-secondary btn-sm" to={`/pots/${after.id}`}>
                  {after.code} →
                </Link>
              )}
            </nav>
          </div>
          {pot.retiredOn && (
            <p className="chip late mt-2 mb-0 wrap">
              Retired {dayMonthYear(pot.retiredOn)}: {pot.became}
            </p>
          )}
          {values.note && <p className="small mt-1 mb-0">{values.note}</p>}
          {dialog === 'plan' && (
            <div className="sheet p-2 mt-2">
              <PlanForm today={view.today} pot={pot} onDone={close} />
            </div>
          )}
          <section className="sheet recipe facts" aria-label="How it stands">
            <div>
              <span className="small">Next due</span>
              <b className="num">
                {weekdayDayMonth(pot.due.dueOn)}{' '}
                {pot.due.daysLate > 0 && <span className="chip late">{pot.due.words}</span>}
              </b>
            </div>
            <div>
              <span className="small">
                {regimen.name}
                {view.lastMix && (
                  <>
                    {' · '}
                    <Link
                      to={`/shelf/mix?with=${view.lastMix.productId}&dose=${view.lastMix.doseMlL.toFixed(3)}&water=${view.lastMix.waterId}`}
                    >
                      what is in its feed
                    </Link>
                  </>
                )}
              </span>
              <b
                className="num"
                title={[
                  `${regimen.reason} Since ${dayMonth(regimen.since)}.`,
                  ...view.earlierRegimens.map((r) => `Before: ${r.name}, since ${dayMonthYear(r.since)}. ${r.reason}`),
                ].join('\n')}
              >
                {regimen.words}
                {view.nextRegimens.map((next) => (
                  <small key={next.from}>
                    {' '}
                    then {next.words.split(',')[0]} from {dayMonth(next.from)}
                  </small>
                ))}
              </b>
            </div>
            <div>
              <span className="small">Clay</span>
              <b className="num">
                {pot.clay ?? (pot.drawing.form === 'clay' ? 'not said' : MEDIUM_WORDS[pot.drawing.form])}
              </b>
            </div>
            <div>
              <span className="small">{out ? `Last came out, ${dayMonth(out.on)}` : 'Last came out'}</span>
              <b className="num">
                {out
                  ? `${out.ppm === null ? '—' : `${out.ppm} ppm`}${out.ph === null ? '' : `, pH ${phText(out.ph)}`}`
                  : 'never read'}
              </b>
            </div>
          </section>
        </div>
      </header>
      <section className="cols">
        <div className="pot-main">
          <div className="sheet visits">
            <div className="d-flex align-items-baseline gap-2 flex-wrap">
              <h2>{SPANS.find((s) => s.weeks === weeks)?.words}</h2>
              <span className="small">
                what was poured in, what the old reservoir read at the next visit{ahead && ', and two weeks to come'}
              </span>
              <div className="push d-flex gap-2">
                <select
                  className="form-select form-select-sm w-auto"
                  aria-label="How far back"
                  value={weeks}
                  onChange={(e) => setWeeks(Number(e.target.value))}
                >
                  {SPANS.map((s) => (
                    <option key={s.weeks} value={s.weeks}>
                      {s.words}
                    </option>
                  ))}
                </select>
                <button
                  type="button"
                  className="btn btn-sm btn-outline-secondary"
                  aria-pressed={asTable}
                  onClick={() => setAsTable(!asTable)}
                >
                  {asTable ? 'Chart' : 'Table'}
                </button>
              </div>
            </div>
            {view.visits.length === 0 ? (
              <p className="small m-auto">Nothing was logged for this pot yet. Its first round starts the chart.</p>
            ) : asTable ? (
              <VisitTable view={view} weeks={weeks} />
            ) : (
              <VisitChart view={view} weeks={weeks} ahead={ahead} />
            )}
          </div>
          {advice && <GivenCard advice={advice} today={view.today} />}
          <RegimenHistory view={view} />
          <PotPhotos view={view} />
        </div>
        <div className="pot-side">
          <AdviceCards potId={pot.id} advice={advice} />
          <LooksGrid view={view} />
          {/* Below the advice, and not before it, so that nothing moves away under a finger. */}
          {drift && settled && !pot.retiredOn && <NextFlush drift={drift} today={view.today} />}
          <PotLog view={view} putRight={setCorrecting} />
        </div>
      </section>
      {correcting && <CorrectDialog eventId={correcting} onClose={() => setCorrecting(undefined)} />}
      {pots.data && (
        <>
          {dialog === 'change' && <PotForm view={pots.data} existing={{ id: pot.id, values }} onClose={close} />}
          {dialog === 'move' && <MoveDialog chosen={[placed]} view={pots.data} onClose={close} />}
          {dialog === 'regimen' && <RegimenDialog chosen={[placed]} view={pots.data} onClose={close} />}
          {dialog === 'retire' && <RetireDialog chosen={[placed]} onClose={close} />}
        </>
      )}
    </div>
  );
}
