import { useMemo, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { SeasonView } from '../../contract/season.ts';
import type { PlanAim } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { get } from '../shell/api.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { ChosenDay } from './chosen-day.tsx';
import { laneRows } from './lanes.ts';
import { SeasonPicture } from './season-picture.tsx';
import { SeasonTable } from './season-table.tsx';
import { ThisPlan } from './this-plan.tsx';
import { usePlans, type PlansState } from './use-plans.ts';

/** The coming weeks for everything at once: what is watered when, and what is left in the tank. */
export function SeasonPage() {
  const season = useQuery({ queryKey: ['season'], queryFn: () => get<SeasonView>('/api/season') });
  if (season.isPending) return <Loading what="the coming weeks" />;
  if (!season.data) return <Failed error={season.error} retry={() => void season.refetch()} />;
  if (season.data.pots === 0)
    return (
      <Empty title="Nothing to plan for yet">
        <p className="mb-0">Add pots, and their coming weeks stand here.</p>
      </Empty>
    );
  return <Season view={season.data} />;
}

function Season({ view }: { view: SeasonView }) {
  // What comes again from the server is the same question while it says the same.
  const asked = JSON.stringify(view.problem);
  const problem = useMemo(() => JSON.parse(asked) as SeasonView['problem'], [asked]);
  const state = usePlans(problem);
  const { plans } = state;
  const [aim, setAim] = useState<PlanAim>('nobodyLate');
  const [chosen, setChosen] = useState<number>();
  const [asTable, setAsTable] = useState(false);
  const narrow = useNarrow();
  const plan = plans?.[aim];
  const rows = useMemo(() => (plan ? laneRows(view, plan.plan) : []), [view, plan]);
  if (!plans || !plan) return <Loading what="a plan" />;
  const last = plusDays(view.on, view.problem.days - 1);
  const told = chosen === undefined ? undefined : <ChosenDay view={view} plan={plan} rows={rows} day={chosen} />;
  return (
    <div className="page season">
      <header>
        <div>
          <h1>The next six weeks</h1>
          <div className="small">
            {weekdayDayMonth(view.on)} to {weekdayDayMonth(last)} · {view.pots} pot{view.pots === 1 ? '' : 's'}
          </div>
        </div>
        <Tank view={view} />
        <Seeking state={state} />
      </header>
      {view.unknown.map(({ words, to }) => (
        <p key={words} className="sheet season-unknown mb-0">
          {words} <Link to={to}>Say it there</Link>
        </p>
      ))}
      <div className="cols">
        <section className="sheet season-main" aria-label="The plan">
          <h2>
            What is watered when{view.problem.tank && ', and what is left in the tank'}
            {!narrow && (
              <Button variant="outline-secondary" size="sm" className="float-end" onClick={() => setAsTable(!asTable)}>
                {asTable ? 'Picture' : 'Table'}
              </Button>
            )}
          </h2>
          {narrow || asTable ? (
            <SeasonTable
              {...{ view, plan, rows, chosen, onChoose: setChosen }}
              // On the phone the side stands far below: the day is told where it was pressed.
              told={narrow ? told : undefined}
            />
          ) : (
            <SeasonPicture view={view} plan={plan} rows={rows} chosen={chosen} onChoose={setChosen} />
          )}
        </section>
        <div className="season-side">
          <ThisPlan plans={plans} aim={aim} tank={view.problem.tank !== null} onAim={setAim} />
          {!narrow && (told ?? <p className="small mb-0">Press a watering: the day it stands on is told here.</p>)}
          <p className="small mb-0">
            It is a plan, not yet the round: pots are due on the round by their own days. New clay, days away and holds
            are not in it yet.
          </p>
        </div>
      </div>
    </div>
  );
}

function Tank({ view: { problem, still } }: { view: SeasonView }) {
  if (!problem.tank) return null;
  const { startL, capL, madeL } = problem.tank;
  return (
    <div className="small push">
      {still} <b>{litres(startL)}</b>
      {capL !== null && ` of ${litres(capL)}`} · {litres(madeL[0] ?? 0)} made a day
    </div>
  );
}

/** How far the search is, with a way to stop it. */
function Seeking({ state }: { state: PlansState }) {
  if (state.stopped)
    return (
      <Button variant="outline-secondary" size="sm" onClick={state.again}>
        Seek a better plan
      </Button>
    );
  if (state.share >= 1) return null;
  return (
    <span className="small seeking" role="status">
      seeking a better plan, {Math.round(100 * state.share)} %{' '}
      <Button variant="link" size="sm" className="p-0" onClick={state.stop}>
        stop
      </Button>
    </span>
  );
}
