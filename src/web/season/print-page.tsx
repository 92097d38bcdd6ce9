import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { SeasonView } from '../../contract/season.ts';
import { Liver, fitPlan } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { someOf } from '../../core/quantity/index.ts';
import { get } from '../shell/api.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { laneRows } from './lanes.ts';
import { useLeaches } from './use-leaches.ts';
import { keptPlan } from './use-season-plan.ts';

/** So many weeks go on paper. */
const DAYS_ON_PAPER = 14;
const MOST_CODES = 40;

/** The next two weeks of the plan that stands, on paper. */
export function PrintWeeksPage() {
  const season = useQuery({ queryKey: ['season'], queryFn: () => get<SeasonView>('/api/season') });
  const leaches = useLeaches();
  if (season.isPending || leaches === undefined) return <Loading what="the weeks" />;
  if (!season.data) return <Failed error={season.error} retry={() => void season.refetch()} />;
  const { kept } = season.data;
  if (!kept)
    return (
      <Empty title="No plan is kept">
        <p className="mb-0">
          Keep one in the <Link to="/season">Season</Link>, and its weeks print here.
        </p>
      </Empty>
    );
  const problem = { ...season.data.problem, leaches: [...leaches] };
  return <Weeks view={{ ...season.data, problem }} kept={kept} />;
}

function Weeks({ view, kept }: { view: SeasonView; kept: NonNullable<SeasonView['kept']> }) {
  const plan = fitPlan(view.problem, keptPlan(view.problem, kept));
  const rows = laneRows(view, plan);
  const lived = new Liver(view.problem).live(plan).days;
  const days = Array.from({ length: DAYS_ON_PAPER }, (_, day) => ({
    day,
    acts: rows.flatMap(({ lane, days: at }) => at.filter((one) => one.day === day).map((at1) => ({ lane, at: at1 }))),
  })).filter(({ acts }) => acts.length > 0);
  return (
    <div className="page print-round print-weeks">
      <div className="no-print d-flex gap-2">
        <Button onClick={() => window.print()}>Print</Button>
        <Link className="btn btn-outline-secondary" to="/season">
          Back to the season
        </Link>
      </div>
      <header className="paper-head">
        <div>
          <h1>The next two weeks</h1>
          <div>
            {weekdayDayMonth(view.on)} to {weekdayDayMonth(plusDays(view.on, DAYS_ON_PAPER - 1))} · plan kept on{' '}
            {weekdayDayMonth(kept.madeOn)}
          </div>
        </div>
      </header>
      {days.map(({ day, acts }) => (
        <section key={day} className="paper-day">
          <h2>
            <span className="tick" /> {weekdayDayMonth(plusDays(view.on, day))}
            {view.problem.tank && (
              <small>
                {' '}
                takes {litres(lived[day]!.usedL)} of {litres(lived[day]!.startL)}
              </small>
            )}
          </h2>
          {acts.map(({ lane, at }) => (
            <p key={lane.id} className="mb-1">
              <b>
                {lane.place}, {lane.what}
              </b>{' '}
              {at.words?.join('; ') ??
                (at.potIds.length === 0
                  ? litres(at.litres)
                  : someOf(
                      at.potIds.map((id) => view.codes[id] ?? ''),
                      MOST_CODES,
                    ))}
            </p>
          ))}
          {lived[day]!.mixes.length > 0 && (
            <p className="mb-0 small">To mix: {lived[day]!.mixes.map((mix) => view.mixes[mix] ?? mix).join('; ')}</p>
          )}
        </section>
      ))}
    </div>
  );
}
