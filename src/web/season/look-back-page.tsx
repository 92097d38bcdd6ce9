import { useQuery } from '@tanstack/react-query';
import { scaleLinear } from 'd3-scale';
import Table from 'react-bootstrap/Table';
import { Link } from 'react-router';
import type { LookBack } from '../../contract/season.ts';
import { someOf } from '../../core/quantity/index.ts';
import { get } from '../shell/api.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { workTimesWords } from './work-times.tsx';

type Day = LookBack['days'][number];
const MOST_CODES = 10;

/** The weeks gone by: what was planned for each day as it began, what became of it, and what the plan learned of that. */
export function LookBackPage() {
  const back = useQuery({ queryKey: ['season', 'look-back'], queryFn: () => get<LookBack>('/api/season/look-back') });
  if (back.isPending) return <Loading what="the last weeks" />;
  if (!back.data) return <Failed error={back.error} retry={() => void back.refetch()} />;
  return <Back view={back.data} />;
}

function Back({ view: { days, learned } }: { view: LookBack }) {
  if (days.length === 0)
    return (
      <Empty title="No plan stood in the last weeks">
        <p className="mb-0">
          Keep a plan in the <Link to="/season">next six weeks</Link>, and here stands how its days went: who was
          watered on the day, sooner or later, and what was drawn for every litre foretold.
        </p>
      </Empty>
    );
  const all = sumOf(days);
  return (
    <div className="page season-back">
      <header>
        <div>
          <h1>The last weeks</h1>
          <div className="small">Each day as it was planned when it began, and as it was done</div>
        </div>
        <Link className="btn btn-outline-secondary btn-sm push" to="/season">
          The next six weeks
        </Link>
      </header>
      <section className="sheet" aria-label="What it comes to">
        <p className="mb-1">{outcomeWords(all)}</p>
        <p className="mb-0">
          {litresWords(learned.litres)} Work: {workTimesWords(learned.minutes)}.
        </p>
      </section>
      <section className="sheet back-days" aria-label="Day by day">
        <Days days={days} />
      </section>
    </div>
  );
}

type Sum = {
  readonly planned: number;
  readonly onDay: number;
  readonly sooner: number;
  readonly later: number;
  readonly notYet: number;
};
const sumOf = (days: readonly Day[]): Sum => {
  const count = (of: (day: Day) => readonly unknown[]) => days.reduce((sum, day) => sum + of(day).length, 0);
  const [onDay, sooner, later, notYet] = [
    count((day) => day.onDay),
    count((day) => day.sooner),
    count((day) => day.later),
    count((day) => day.notYet),
  ];
  return { planned: onDay + sooner + later + notYet, onDay, sooner, later, notYet };
};

function outcomeWords({ planned, onDay, sooner, later, notYet }: Sum): string {
  if (planned === 0) return 'No watering was planned for these days.';
  const parts = [
    `${onDay} on the day`,
    sooner > 0 ? `${sooner} sooner` : '',
    later > 0 ? `${later} later` : '',
    notYet > 0 ? `${notYet} not yet` : '',
  ].filter(Boolean);
  return `${planned} watering${planned === 1 ? ' was' : 's were'} planned: ${parts.join(', ')}.`;
}

/** Closer to what was foretold nobody tells it from spills. House rule. */
const AS_FORETOLD = 0.03;
function litresWords(found: LookBack['learned']['litres']): string {
  if (!found) return 'Too few days with a plan yet to hold what was drawn against what was foretold.';
  const { times, low, high, days } = found;
  const percent = Math.round(100 * Math.abs(times - 1));
  const range = `${Math.round(100 * low)} to ${Math.round(100 * high)} of every 100 foretold, by ${days} days`;
  return Math.abs(times - 1) < AS_FORETOLD
    ? `Still water was drawn about as foretold (${range}).`
    : `Of still water ${percent} % ${times > 1 ? 'more' : 'less'} is drawn than the arithmetic says (${range}); the plan reckons with it.`;
}

const WIDTH = 120;
const BAR = 7;

/** Foretold above, drawn below, on one scale for all days. */
function Litres({ day, most }: { day: Day; most: number }) {
  const x = scaleLinear([0, Math.max(most, 1)], [0, WIDTH]);
  return (
    <svg className="back-litres" width={WIDTH} height={2 * BAR + 2} aria-hidden="true">
      <rect className="foretold" width={x(day.foretoldL ?? 0)} height={BAR} />
      <rect className="drawn" y={BAR + 2} width={x(day.drawnL)} height={BAR} />
    </svg>
  );
}

const moved = (pots: Day['later'], words: string) =>
  pots.map(({ code, days }) => `${code} (${days} day${days === 1 ? '' : 's'} ${words})`);

function Days({ days }: { days: readonly Day[] }) {
  const most = Math.max(...days.flatMap((day) => [day.foretoldL ?? 0, day.drawnL]));
  return (
    <Table size="sm" className="mb-0">
      <thead>
        <tr>
          <th scope="col">Day</th>
          <th scope="col">On the day</th>
          <th scope="col">Sooner or later</th>
          <th scope="col">Not yet</th>
          <th scope="col" className="text-end">
            Still water foretold
          </th>
          <th scope="col" className="text-end">
            Drawn
          </th>
          <th scope="col">
            <span className="visually-hidden">Both drawn</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {[...days].reverse().map((day) => (
          <tr key={day.on}>
            <th scope="row">{weekdayDayMonth(day.on)}</th>
            <td>{someOf(day.onDay, MOST_CODES) || '—'}</td>
            <td>{someOf([...moved(day.sooner, 'sooner'), ...moved(day.later, 'later')], MOST_CODES) || '—'}</td>
            <td>{someOf(day.notYet, MOST_CODES) || '—'}</td>
            <td className="text-end num">{day.foretoldL === null ? '—' : litres(day.foretoldL)}</td>
            <td className="text-end num">{litres(day.drawnL)}</td>
            <td>
              <Litres day={day} most={most} />
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
