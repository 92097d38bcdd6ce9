import { useMemo, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { SeasonView } from '../../contract/season.ts';
import { buttCourse, PLAN_AIMS, Why } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { get } from '../shell/api.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { AwayCard } from './away-card.tsx';
import { ChosenDay } from './chosen-day.tsx';
import { KeptCard } from './kept-card.tsx';
import { actOf, laneRows, type LaneDay, type LaneRow } from './lanes.ts';
import type { PlanOf } from './make-plans.ts';
import { SeasonPicture } from './season-picture.tsx';
import { SeasonTable } from './season-table.tsx';
import { ThisPlan } from './this-plan.tsx';
import { useProven } from './use-proven.ts';
import { useLeaches } from './use-leaches.ts';
import { useSeasonPlan } from './use-season-plan.ts';
import type { PlansState } from './use-plans.ts';
import { WouldHelp } from './would-help.tsx';

/** The coming weeks for everything at once: what is watered when, and what is left in the tank. */
export function SeasonPage() {
  const season = useQuery({ queryKey: ['season'], queryFn: () => get<SeasonView>('/api/season') });
  const leaches = useLeaches();
  if (season.isPending || leaches === undefined) return <Loading what="the coming weeks" />;
  if (!season.data) return <Failed error={season.error} retry={() => void season.refetch()} />;
  if (season.data.pots === 0)
    return (
      <Empty title="Nothing to plan for yet">
        <p className="mb-0">Add pots, and their coming weeks stand here.</p>
      </Empty>
    );
  const problem = { ...season.data.problem, leaches: [...leaches] };
  return <Season view={{ ...season.data, problem }} />;
}

function Season({ view: asked }: { view: SeasonView }) {
  const state = useSeasonPlan(asked);
  const { aim, view } = state;
  const { problem } = view;
  const proven = useProven(problem, aim);
  const plan = state.plans[aim];
  const why = useMemo(() => new Why(problem, plan.plan, PLAN_AIMS[aim]), [problem, plan, aim]);
  const [chosen, setChosen] = useState<number>();
  const [lane, setLane] = useState<string>();
  const choose = (day: number, of?: string) => {
    setChosen(day);
    setLane(of);
  };
  const [asTable, setAsTable] = useState(false);
  const narrow = useNarrow();
  const rows = useMemo(() => laneRows(view, plan.plan), [view, plan]);
  const last = plusDays(view.on, view.problem.days - 1);
  const move = (row: LaneRow, at: LaneDay, to: number) => {
    const act = actOf(row, at);
    if (!act) return;
    choose(to, row.lane.id);
    state.move(act, to, { what: `${row.lane.place}, ${row.lane.what}`, potIds: at.potIds });
  };
  const told =
    chosen === undefined ? undefined : (
      <ChosenDay {...{ view, plan, rows, why, state, lane }} day={chosen} onLane={setLane} />
    );
  return (
    <div className="page season">
      <header>
        <div className="flex-fill">
          <h1>The next six weeks</h1>
          <div className="small">
            {weekdayDayMonth(view.on)} to {weekdayDayMonth(last)} · {view.pots} pot{view.pots === 1 ? '' : 's'} ·{' '}
            <Link to="/season/back">The last weeks</Link> · <Link to="/season/year">The year</Link>
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
              {...{ view, plan, rows, chosen, onChoose: choose }}
              // On the phone the side stands far below: the day is told where it was pressed.
              told={narrow ? told : undefined}
            />
          ) : (
            <SeasonPicture {...{ view, plan, rows, why, chosen, onChoose: choose, onMove: move }} />
          )}
          {view.butt && <ButtLine view={view} butt={view.butt} plan={plan} />}
        </section>
        <div className="season-side">
          <ThisPlan
            plans={state.plans}
            aim={aim}
            tank={view.problem.tank !== null}
            problem={problem}
            proven={proven}
            onAim={state.setAim}
          />
          {goesWrong(plan) && <WouldHelp problem={problem} plan={plan.plan} aim={aim} />}
          {!narrow && (told ?? <p className="small mb-0">Press a watering: why it stands there is told here.</p>)}
          <KeptCard view={view} state={state} rows={rows} />
          <AwayCard view={view} minutes={problem.minutesADay} busy={state.busy} onMinutes={state.setMinutes} />
        </div>
      </div>
    </div>
  );
}

/** Something is late, dry, missed or has to be carried in. */
function goesWrong({ searched, lived: { totals } }: PlanOf): boolean {
  const { latePotDays, dryPotDays, carriedL, missedSoakPots } = totals;
  return searched && latePotDays + dryPotDays + carriedL + missedSoakPots > 0;
}

/** The rain butt beside the tank: what the waterings take of it, and when it does not reach. */
function ButtLine({
  view: { problem, on },
  butt,
  plan,
}: {
  view: SeasonView;
  butt: NonNullable<SeasonView['butt']>;
  plan: PlanOf;
}) {
  const { drawnL, leftL, shortOn } = buttCourse(problem.lots, plan.plan, butt, problem.days);
  return (
    <p className="small mb-0 butt-line">
      {butt.name}: {litres(butt.startL)} now, the waterings take {litres(drawnL)}.{' '}
      {shortOn === null
        ? `It reaches; ${litres(leftL)} are left at the end${butt.perDayL > 0 ? '' : ', were there no rain'}.`
        : `It does not reach on ${weekdayDayMonth(plusDays(on, shortOn))}${butt.perDayL > 0 ? '' : ' unless it rains'}: flush with another water then.`}
    </p>
  );
}

function Tank({ view: { problem, still } }: { view: SeasonView }) {
  if (!problem.tank) return null;
  const { startL, capL, madeL } = problem.tank;
  return (
    <div className="small">
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
