import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { SeasonView } from '../../contract/season.ts';
import type { PlanAct, Why } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { someOf } from '../../core/quantity/index.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { isPinned, pinnedAmong } from './edits.ts';
import { actOf, type LaneDay, type LaneRow } from './lanes.ts';
import type { PlanOf } from './make-plans.ts';
import { MadeThatDay } from './made-that-day.tsx';
import type { SeasonPlanState, Told } from './use-season-plan.ts';
import { breaksWords, isAway, whyAct } from './why-words.ts';

const MOST_CODES = 16;

type Props = {
  view: SeasonView;
  plan: PlanOf;
  rows: readonly LaneRow[];
  why: Why;
  state: SeasonPlanState;
  day: number;
  /** The lane whose act was pressed: it is told whole, the others by a press. */
  lane: string | undefined;
  onLane(lane: string): void;
};

/** A day of the plan: who is watered, why then, with which mixes, what it draws and what is left. */
export function ChosenDay({ view, plan, rows, why, state, day, lane, onLane }: Props) {
  const lived = plan.lived.days[day]!;
  const acts = rows.flatMap((row) => row.days.filter((at) => at.day === day).map((at) => ({ row, at })));
  return (
    <section className="sheet chosen-day" aria-label="The day chosen">
      <h2>{weekdayDayMonth(plusDays(view.on, day))}</h2>
      {acts.length === 0 && <p className="small mb-0">Nothing is planned.</p>}
      {acts.map(({ row, at }) => (
        <DayAct
          key={row.lane.id}
          {...{ view, row, at, why, state, onLane }}
          open={acts.length === 1 || row.lane.id === lane}
        />
      ))}
      <Mixes {...{ view, plan, day }} />
      {view.problem.tank && lived.usedL >= 0.05 && (
        <p className="small mb-0">
          Takes {litres(lived.usedL)} of {litres(lived.startL)}, leaves {litres(lived.afterL)}
          {lived.carriedL >= 0.05 && (
            <>
              ; <b>{litres(lived.carriedL)} are to be carried in</b>
            </>
          )}
          .
        </p>
      )}
      {view.problem.tank && day > 0 && <MadeThatDay key={day} {...{ view, day }} />}
      {day === 0 && acts.length > 0 && (
        <Link className="btn btn-primary btn-sm mt-2" to="/round">
          To the round
        </Link>
      )}
    </section>
  );
}

/** A mix keeps for so many days: one for a later day is not made yet. */
const KEEPS_DAYS = 7;

/** What is to be mixed, how much of it, and the bench for it. */
function Mixes({ view, plan, day }: Pick<Props, 'view' | 'plan' | 'day'>) {
  const { mixes } = plan.lived.days[day]!;
  if (mixes.length === 0) return null;
  const amounts = new Map<string, number>();
  for (const [l, lot] of view.problem.lots.entries()) {
    const i = plan.plan.visits[l]!.indexOf(day);
    if (i < 0) continue;
    const { mix, mixL } = lot.feeds[(lot.turn + i) % lot.feeds.length]!;
    amounts.set(mix, (amounts.get(mix) ?? 0) + mixL);
  }
  return (
    <ul className="small day-mixes">
      {mixes.map((mix) => {
        const amount = Math.ceil(10 * (amounts.get(mix) ?? 0) - 1e-6) / 10;
        const bench = view.benches[mix];
        const to =
          day === 0
            ? `/bench/new?mix=${encodeURIComponent(mix)}`
            : bench && day <= KEEPS_DAYS
              ? `/bench/new?litres=${amount}&${bench}`
              : undefined;
        return (
          <li key={mix}>
            To mix: {view.mixes[mix] ?? mix}
            {amount > 0 && `, ${litres(amount)}`} {to && <Link to={to}>at the bench</Link>}
          </li>
        );
      })}
    </ul>
  );
}

type DayActProps = Omit<Props, 'plan' | 'rows' | 'day' | 'lane'> & { row: LaneRow; at: LaneDay; open: boolean };

function DayAct({ view, row, at, why, state, open, onLane }: DayActProps) {
  const { lane } = row;
  const act = actOf(row, at);
  const what = `${lane.place}, ${lane.what}`;
  return (
    <div className="day-act">
      <button type="button" className="day-act-name" aria-expanded={open} onClick={() => onLane(lane.id)}>
        {what}
      </button>
      <div className="small">
        {at.words?.join('; ')}
        {someOf(
          at.potIds.map((id) => view.codes[id] ?? ''),
          MOST_CODES,
        )}
        {lane.kind === 'clay' && (
          <>
            {litres(at.litres)} of still water; <Link to="/clay">to its batch</Link>
          </>
        )}
      </div>
      {open && act && (
        <WhyAndMoves key={`${act.day} ${at.potIds.join()}`} {...{ view, why, state, act, what }} potIds={at.potIds} />
      )}
    </div>
  );
}

/** A watering may be put so many days before and after. */
const BEFORE = 5;
const AFTER = 9;

function WhyAndMoves({
  view,
  why,
  state,
  act,
  what,
  potIds,
}: Pick<Props, 'view' | 'why' | 'state'> & { act: PlanAct; what: string; potIds: readonly string[] }) {
  const [some, setSome] = useState<readonly string[]>();
  const pots = potIds.length;
  const meant: Told = { what, potIds: some ?? potIds };
  const nobody = meant.potIds.length === 0;
  const told = whyAct(view, why, act, pots);
  const days = daysFor(view, act);
  const pinned = isPinned(view.problem, act, meant.potIds);
  const yours = pinnedAmong(view.problem, act).map((id) => view.codes[id] ?? '');
  return (
    <>
      <p className={`small mb-1 why-${told.what}`}>
        {told.why} {told.bound} {told.next}
        {yours.length > 0 && ` ${someOf(yours, MOST_CODES)}: you put them on this day.`}
      </p>
      {pots > 1 && <SomeOfThem {...{ view, potIds, some }} onSome={setSome} />}
      <div className="day-act-moves">
        <Form.Select
          size="sm"
          aria-label={`Move ${what} to`}
          value={act.day}
          disabled={state.busy || nobody}
          onChange={(e) => state.move(act, Number(e.target.value), meant)}
        >
          {days.map((day) => (
            <option key={day} value={day}>
              {weekdayDayMonth(plusDays(view.on, day))}
              {day === act.day ? '' : `: ${breaksWords(view, why.onDay(act, day), pots)}`}
            </option>
          ))}
        </Form.Select>
        <Button
          variant="outline-secondary"
          size="sm"
          aria-pressed={pinned}
          disabled={state.busy || nobody}
          onClick={() => (pinned ? state.free(act, meant) : state.move(act, act.day, meant))}
        >
          {pinned ? 'Set free' : 'Pin'}
        </Button>
        <Button
          variant="outline-secondary"
          size="sm"
          disabled={state.busy || nobody}
          onClick={() => state.forbid(act, meant)}
        >
          Not that day
        </Button>
      </div>
    </>
  );
}

/** Some of an act's pots can be given a day of their own; put back on one day they are one act again. */
function SomeOfThem({
  view,
  potIds,
  some,
  onSome,
}: {
  view: SeasonView;
  potIds: readonly string[];
  some: readonly string[] | undefined;
  onSome(some: readonly string[] | undefined): void;
}) {
  if (!some)
    return (
      <Button variant="link" size="sm" className="p-0" onClick={() => onSome([])}>
        Only some of them …
      </Button>
    );
  return (
    <fieldset className="some-of-them">
      <legend className="small">Which of them? What is chosen below is done with these alone.</legend>
      {potIds.map((id) => (
        <Form.Check
          key={id}
          inline
          type="checkbox"
          id={`some-${id}`}
          label={view.codes[id] ?? ''}
          checked={some.includes(id)}
          onChange={(e) => onSome(e.target.checked ? [...some, id] : some.filter((one) => one !== id))}
        />
      ))}
      <Button variant="link" size="sm" className="p-0" onClick={() => onSome(undefined)}>
        All of them
      </Button>
    </fieldset>
  );
}

/** Days an act may be put on: not while nobody is there, a soak only in its month. */
function daysFor(view: SeasonView, act: PlanAct): number[] {
  const days: number[] = [];
  for (let day = Math.max(0, act.day - BEFORE); day <= Math.min(view.problem.days - 1, act.day + AFTER); day++)
    if (day === act.day || !isAway(view, day)) days.push(day);
  return days;
}
