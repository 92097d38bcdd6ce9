import { useQuery } from '@tanstack/react-query';
import Table from 'react-bootstrap/Table';
import { Link } from 'react-router';
import type { YearView } from '../../contract/season-pages.ts';
import { get } from '../shell/api.ts';
import { dayMonthYear, litres, mL, money } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { WaterParts } from './water-parts.tsx';

/** The year round this month: what is due in which month and what was done, and what the months will ask. */
export function YearPage() {
  const year = useQuery({ queryKey: ['season', 'year'], queryFn: () => get<YearView>('/api/season/year') });
  if (year.isPending) return <Loading what="the year" />;
  if (!year.data) return <Failed error={year.error} retry={() => void year.refetch()} />;
  return <Year view={year.data} />;
}

const monthName = (month: string) =>
  new Date(`${month}-15T12:00:00Z`).toLocaleDateString('en-GB', { month: 'short', timeZone: 'UTC' });

function Year({ view }: { view: YearView }) {
  return (
    <div className="page season-year">
      <header>
        <div>
          <h1>The year</h1>
          <div className="small">What is due in which month, and what was done against it</div>
        </div>
        <Link className="btn btn-outline-secondary btn-sm push" to="/season">
          The next six weeks
        </Link>
      </header>
      <section className="sheet year-strip" aria-label="Month by month">
        <Months view={view} />
      </section>
      <div className="cols">
        {view.still && <Water view={view} still={view.still} />}
        <Bottles bottles={view.bottles} today={view.months[view.now]!} />
      </div>
      <div className="cols">
        <Strengths strengths={view.strengths} />
        <WaterParts parts={view.parts} today={view.on} />
      </div>
    </div>
  );
}

function Months({ view: { months, now, rows } }: { view: YearView }) {
  return (
    <Table size="sm" className="mb-0">
      <thead>
        <tr>
          <th scope="col">Where, what</th>
          {months.map((month, n) => (
            <th key={month} scope="col" className={n === now ? 'this-month' : ''}>
              {monthName(month)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ place, what, due, done }) => (
          <tr key={`${place}|${what}`}>
            <th scope="row">
              {place} <span className="small">{what}</span>
            </th>
            {months.map((month, n) => {
              const open = due?.[n] === true;
              const words = [open ? 'due' : '', done[n]! > 0 ? `${done[n]} done` : ''].filter(Boolean).join(', ');
              return (
                <td key={month} className={n === now ? 'this-month' : ''}>
                  <span className={open ? 'month open' : 'month'} title={words}>
                    {done[n]! > 0 ? done[n] : open ? <span className="visually-hidden">due</span> : ''}
                  </span>
                </td>
              );
            })}
          </tr>
        ))}
        {rows.length === 0 && (
          <tr>
            <td colSpan={months.length + 1}>No soaks, no pens: nothing has its months here.</td>
          </tr>
        )}
      </tbody>
    </Table>
  );
}

function Water({ view: { months, now }, still }: { view: YearView; still: NonNullable<YearView['still']> }) {
  const ahead = months.map((month, n) => ({ month, n })).filter(({ n }) => n >= now);
  return (
    <section className="sheet" aria-label="Still water, month by month">
      <h2>Still water</h2>
      <Table size="sm" className="mb-1">
        <thead>
          <tr>
            <th scope="col">Month</th>
            <th scope="col" className="text-end">
              Waterings
            </th>
            <th scope="col" className="text-end">
              Soaks
            </th>
            <th scope="col" className="text-end">
              Made
            </th>
            {still.costPerL !== null && (
              <th scope="col" className="text-end">
                Cost
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {ahead.map(({ month, n }) => {
            const used = still.waterings[n]! + still.soaks[n]!;
            return (
              <tr key={month}>
                <th scope="row">{monthName(month)}</th>
                <td className="text-end num">{litres(still.waterings[n]!)}</td>
                <td className="text-end num">{still.soaks[n]! > 0 ? litres(still.soaks[n]!) : '—'}</td>
                <td className={still.made && used > still.made[n]! ? 'text-end num short' : 'text-end num'}>
                  {still.made ? litres(still.made[n]!) : 'not known'}
                </td>
                {still.costPerL !== null && <td className="text-end num">{money(used * still.costPerL)}</td>}
              </tr>
            );
          })}
        </tbody>
      </Table>
      <p className="small mb-0">By the regimens as they are now, over whole months; new clay is not in it.</p>
    </section>
  );
}

const STAGE_NAMES: Readonly<Record<YearView['strengths'][number]['byStage'][number]['stage'], string>> = {
  growth: 'Growing',
  rooting: 'Rooting',
  rest: 'At rest',
  spike: 'In bud',
  bloom: 'In bloom',
};

/** How strong each regimen pours by the plant's stage. When which stage comes, only the plants say. */
function Strengths({ strengths }: Pick<YearView, 'strengths'>) {
  const stages = strengths[0]?.byStage.map(({ stage }) => stage) ?? [];
  if (stages.length === 0) return null;
  return (
    <section className="sheet year-strip" aria-label="Strength by stage">
      <h2>Strength by stage</h2>
      <Table size="sm" className="mb-1">
        <thead>
          <tr>
            <th scope="col">Where, what</th>
            {stages.map((stage) => (
              <th key={stage} scope="col">
                {STAGE_NAMES[stage]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {strengths.map(({ place, regimen, byStage }) => (
            <tr key={`${place}|${regimen}`}>
              <th scope="row">
                {place} <span className="small">{regimen}</span>
              </th>
              {byStage.map(({ stage, words, pots }) => (
                <td key={stage}>
                  {words}
                  {pots > 0 && <span className="small"> · {pots} now</span>}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="small mb-0">Figures are over base. The stage of a plant is set on its own page.</p>
    </section>
  );
}

/** Past this many years nobody plans what to buy. */
const YEARS = 2;

function untilWords(emptyOn: string | null, leftMl: number | null, today: string): string {
  if (emptyOn === null) return leftMl === null ? 'size not known' : 'not used lately';
  return Number(emptyOn.slice(0, 4)) - Number(today.slice(0, 4)) > YEARS ? 'lasts for years' : dayMonthYear(emptyOn);
}

function Bottles({ bottles, today }: { bottles: YearView['bottles']; today: string }) {
  return (
    <section className="sheet" aria-label="What runs out">
      <h2>What runs out</h2>
      {bottles.length === 0 ? (
        <p className="small mb-0">No bottle is in use.</p>
      ) : (
        <Table size="sm" className="mb-1">
          <thead>
            <tr>
              <th scope="col">Bottle</th>
              <th scope="col" className="text-end">
                Left
              </th>
              <th scope="col" className="text-end">
                A month
              </th>
              <th scope="col">Buy before</th>
            </tr>
          </thead>
          <tbody>
            {bottles.map(({ name, leftMl, perMonthMl, emptyOn, costPerMonth }) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td className="text-end num">{leftMl === null ? '—' : mL(leftMl)}</td>
                <td className="text-end num">
                  {perMonthMl > 0 ? mL(perMonthMl) : '—'}
                  {costPerMonth !== null && costPerMonth > 0 && `, ${money(costPerMonth)}`}
                </td>
                <td>{untilWords(emptyOn, leftMl, today)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <p className="small mb-0">At the rate of the last sixty days.</p>
    </section>
  );
}
