import { Link } from 'react-router';
import type { SeasonView } from '../../contract/season.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { someOf } from '../../core/quantity/index.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import type { LaneRow } from './lanes.ts';
import type { PlanOf } from './make-plans.ts';

const MOST_CODES = 16;

/** A day of the plan: who is watered, with which mixes, what it draws and what is left. */
export function ChosenDay({
  view,
  plan,
  rows,
  day,
}: {
  view: SeasonView;
  plan: PlanOf;
  rows: readonly LaneRow[];
  day: number;
}) {
  const lived = plan.lived.days[day]!;
  const acts = rows.flatMap(({ lane, days }) => days.filter((at) => at.day === day).map((at) => ({ lane, at })));
  return (
    <section className="sheet chosen-day" aria-label="The day chosen">
      <h2>{weekdayDayMonth(plusDays(view.on, day))}</h2>
      {acts.length === 0 && <p className="small mb-0">Nothing is planned.</p>}
      {acts.map(({ lane, at }) => (
        <p key={lane.id} className="mb-1">
          <b>
            {lane.place}, {lane.what}
          </b>
          <br />
          <span className="small">
            {someOf(
              at.potIds.map((id) => view.codes[id] ?? ''),
              MOST_CODES,
            )}
          </span>
        </p>
      ))}
      {lived.mixes.length > 0 && (
        <p className="small mb-1">To mix: {lived.mixes.map((mix) => view.mixes[mix] ?? mix).join('; ')}</p>
      )}
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
      {day === 0 && acts.length > 0 && (
        <Link className="btn btn-primary btn-sm mt-2" to="/round">
          To the round
        </Link>
      )}
    </section>
  );
}
