import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { SeasonView } from '../../contract/season.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { someOf } from '../../core/quantity/index.ts';
import { weekdayDayMonth } from '../shell/format.ts';
import { CalendarDialog } from './calendar-dialog.tsx';
import type { LaneRow } from './lanes.ts';
import type { SeasonPlanState } from './use-season-plan.ts';

const MOST_CODES = 8;

/** Whether the plan shown is the one the round goes by, what life has changed of it, and the ways to keep it, to let it go and to carry it off. */
export function KeptCard({
  view,
  state,
  rows,
}: {
  view: SeasonView;
  state: SeasonPlanState;
  rows: readonly LaneRow[];
}) {
  const { kept } = view;
  const [calendar, setCalendar] = useState(false);
  const isKept = kept !== null && kept.aim === state.aim;
  const ready = state.sought.includes(state.aim) || state.stopped;
  return (
    <section className="sheet kept-card" aria-label="Whether it is kept">
      {isKept ? (
        <Mended view={view} state={state} />
      ) : (
        <>
          <p className="small mb-2">
            {kept
              ? 'Another plan is kept; this one is only shown.'
              : 'Keep it, and the round goes by it: what it puts on a day is due that day. Until then pots are due by their own days.'}
          </p>
          <Button
            size="sm"
            disabled={state.busy || !ready || rows.length === 0}
            onClick={() => state.keep({ kind: 'kept' }, 'The plan is kept: the round goes by it')}
          >
            Keep this plan
          </Button>
        </>
      )}
      {state.wrong && (
        <p className="field-error mb-0" role="alert">
          {state.wrong}
        </p>
      )}
      {kept && (
        <div className="kept-acts">
          <Button variant="outline-secondary" size="sm" onClick={() => setCalendar(true)}>
            In my calendar …
          </Button>
          <Link className="btn btn-outline-secondary btn-sm" to="/season/print">
            Print the weeks
          </Link>
          <Button variant="link" size="sm" className="p-0" disabled={state.busy} onClick={state.letGo}>
            Let it go
          </Button>
        </div>
      )}
      {calendar && <CalendarDialog onClose={() => setCalendar(false)} />}
    </section>
  );
}

function Mended({ view, state }: { view: SeasonView; state: SeasonPlanState }) {
  const { kept, problem, on, codes } = view;
  const { moved } = state;
  const codesOf = (lots: readonly number[]) =>
    someOf(
      lots.flatMap((l) => problem.lots[l]!.potIds.map((id) => codes[id] ?? '')),
      MOST_CODES,
    );
  const together = movedTogether(moved);
  const fresh = problem.lots.flatMap((_, l) => (kept!.visits[l]!.length === 0 ? [l] : []));
  const said = `Kept on ${weekdayDayMonth(kept!.madeOn)}: the round goes by it.`;
  if (state.busy) return <p className="small mb-0">Mending the rest round it …</p>;
  if (moved.length === 0 && fresh.length === 0 && kept!.behind.length === 0)
    return <p className="small mb-2">{said}</p>;
  return (
    <>
      <p className="small mb-1">
        <b>Life went otherwise than the plan kept on {weekdayDayMonth(kept!.madeOn)}.</b>
      </p>
      <ul className="small mb-2">
        {kept!.behind.length > 0 && <li>Planned before today and not done: {someOf(kept!.behind, MOST_CODES)}.</li>}
        {fresh.length > 0 && <li>Not in it, or otherwise due now: {codesOf(fresh)}.</li>}
        {together.slice(0, MOST_MOVES).map(({ lots, from, to }) => (
          <li key={`${from}.${to}`}>
            {weekdayDayMonth(plusDays(on, from))}{' '}
            {to === null ? 'no more' : `would go to ${weekdayDayMonth(plusDays(on, to))}`}: {codesOf(lots)}.
          </li>
        ))}
        {together.length > MOST_MOVES && <li>and {together.length - MOST_MOVES} moves more after those.</li>}
      </ul>
      <Button
        size="sm"
        className="mb-2"
        disabled={!state.sought.includes(state.aim)}
        onClick={() => state.keep({ kind: 'mended', moved: moved.length }, 'The mended plan is kept')}
      >
        Keep it mended
      </Button>
    </>
  );
}
const MOST_MOVES = 4;

/** Moves from one day to another, each once with all that makes it; the first days first. */
function movedTogether(moved: SeasonPlanState['moved']) {
  const groups = new Map<string, { readonly from: number; readonly to: number | null; readonly lots: number[] }>();
  for (const { lot, from, to } of moved) {
    const group = groups.get(`${from}.${to}`) ?? { from, to, lots: [] };
    group.lots.push(lot);
    groups.set(`${from}.${to}`, group);
  }
  return [...groups.values()].sort((a, b) => a.from - b.from || (a.to ?? Infinity) - (b.to ?? Infinity));
}
