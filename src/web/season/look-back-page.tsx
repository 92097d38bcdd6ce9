import { useQuery } from '@tanstack/react-query';
import { scaleLinear } from 'd3-scale';
import Table from 'react-bootstrap/Table';
import { Link } from 'react-router';
import type { LookBack } from '../../contract/season-pages.ts';
import { someOf } from '../../core/quantity/index.ts';
import { get } from '../shell/api.ts';
import { litres, weekdayDayMonth } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
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
      <section className="sheet back-sum" aria-label="What it comes to">
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

type Told = { readonly label: string; readonly words: string };

/** "1 day later: L-04, L-09" */
function movedWords(pots: Day['later'], which: 'sooner' | 'later'): string[] {
  const byDays = new Map<number, string[]>();
  for (const { code, days } of pots) byDays.set(days, [...(byDays.get(days) ?? []), code]);
  return [...byDays]
    .sort(([a], [b]) => a - b)
    .map(([days, codes]) => `${days} day${days === 1 ? '' : 's'} ${which}: ${someOf(codes, MOST_CODES)}`);
}

const toldOf = (day: Day): Told[] => [
  { label: 'On the day', words: someOf(day.onDay, MOST_CODES) },
  {
    label: 'Sooner or later',
    words: [...movedWords(day.sooner, 'sooner'), ...movedWords(day.later, 'later')].join('; '),
  },
  { label: 'Not yet', words: someOf(day.notYet, MOST_CODES) },
];

const LABELS = ['On the day', 'Sooner or later', 'Not yet'];
const NOTHING_L = 0.05;
/** Something was planned, or drawn. */
const tells = (day: Day) =>
  day.onDay.length + day.sooner.length + day.later.length + day.notYet.length > 0 ||
  (day.foretoldL ?? 0) >= NOTHING_L ||
  day.drawnL >= NOTHING_L;

function Days({ days }: { days: readonly Day[] }) {
  const shown = days.filter(tells).reverse();
  const most = Math.max(...shown.flatMap((day) => [day.foretoldL ?? 0, day.drawnL]));
  if (useNarrow())
    return shown.map((day) => (
      <div key={day.on} className="back-day">
        <h2>{weekdayDayMonth(day.on)}</h2>
        {toldOf(day).map(({ label, words }) =>
          words === '' ? null : (
            <p key={label} className="mb-1">
              <span className="small">{label}</span> {words}
            </p>
          ),
        )}
        <p className="mb-1 num">
          {day.foretoldL === null ? 'Nothing' : litres(day.foretoldL)} foretold, {litres(day.drawnL)} drawn
        </p>
        <Litres day={day} most={most} />
      </div>
    ));
  return (
    <Table size="sm" className="mb-0">
      <thead>
        <tr>
          <th scope="col">Day</th>
          {LABELS.map((label) => (
            <th key={label} scope="col">
              {label}
            </th>
          ))}
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
        {shown.map((day) => (
          <tr key={day.on}>
            <th scope="row">{weekdayDayMonth(day.on)}</th>
            {toldOf(day).map(({ label, words }) => (
              <td key={label}>{words || '—'}</td>
            ))}
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
