import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { scaleLinear, scaleSqrt } from 'd3-scale';
import { useState, type KeyboardEvent } from 'react';
import type { LogStrip } from '../../../contract/log.ts';
import { daysBetween, plusDays } from '../../../core/regimen/index.ts';
import { get } from '../../shell/api.ts';
import { dayMonth, dayMonthYear, weekdayDay } from '../../shell/format.ts';
import { Icon } from '../../drawing/icon.tsx';
import { addressOf, type Filter } from './use-log.ts';

const DAYS = 91;
const [WIDTH, HEIGHT] = [910, 34];
/** A month that begins so late is named in the next stretch. */
const LAST_NAMED = DAYS - 5;
const A_WEEK = 7;

type Props = { filter: Filter; today: string; since: string | null; go(to: string): void };

/** A bar a day, as tall as there is written of it; a day is chosen by a press, or by the arrow keys, and the log begins there. */
export function DayStrip({ filter, today, since, go }: Props) {
  // An address follows a key a moment later: until it has, the next key goes on from what the last one chose.
  const [ahead, setAhead] = useState<{ day: string; while: string | undefined }>();
  const inAddress = filter.to && filter.to <= today ? filter.to : today;
  const chosen = ahead && ahead.while === filter.to ? ahead.day : inAddress;
  // The stretch moves only when the chosen day leaves it, or when it is turned.
  const [last, setLast] = useState(chosen);
  const end = chosen > last || chosen <= plusDays(last, -DAYS) ? chosen : last;
  const from = plusDays(end, 1 - DAYS);
  const { to: _to, from: _from, ...about } = filter;
  const strip = useQuery({
    queryKey: ['book', 'strip', about, from, end],
    queryFn: () => get<LogStrip>(addressOf('/api/book/strip', { ...about, from, to: end })),
    placeholderData: keepPreviousData,
  });
  const turn = (days: number) => {
    const next = plusDays(end, days) > today ? today : plusDays(end, days);
    setLast(next);
    go(next === today ? '' : next);
  };
  const choose = (day: string) => {
    const within = day > today ? today : since !== null && day < since ? since : day;
    setLast(within > end || within < from ? within : end);
    setAhead({ day: within, while: filter.to });
    go(within === today ? '' : within);
  };
  const lines = new Map((strip.data?.days ?? []).map(({ on, lines: n }) => [on, n]));
  const written = (day: string) => {
    const n = lines.get(day) ?? 0;
    return `${weekdayDay(day)}: ${n === 0 ? 'nothing' : `${n} line${n === 1 ? '' : 's'}`}`;
  };
  return (
    <div className="day-strip">
      <button
        type="button"
        className="btn btn-link"
        aria-label="Earlier days"
        disabled={since === null || from <= since}
        onClick={() => turn(-DAYS)}
      >
        ‹
      </button>
      <div
        className="days"
        role="slider"
        tabIndex={0}
        aria-label="The log from this day back"
        aria-valuemin={0}
        aria-valuemax={Math.max(1, daysBetween(since ?? today, today))}
        aria-valuenow={daysBetween(since ?? chosen, chosen)}
        aria-valuetext={`${dayMonthYear(chosen)}, ${written(chosen)}`}
        onKeyDown={(event) => step(event, chosen, since ?? today, today, choose)}
      >
        <Bars from={from} chosen={chosen} lines={lines} choose={choose} written={written} />
        <Months from={from} />
      </div>
      <button
        type="button"
        className="btn btn-link"
        aria-label="Later days"
        disabled={end >= today}
        onClick={() => turn(DAYS)}
      >
        ›
      </button>
      {filter.to && (
        <button type="button" className="btn btn-link small back" onClick={() => choose(today)}>
          <Icon name="arrowUp" /> to today
        </button>
      )}
    </div>
  );
}

function step(event: KeyboardEvent, chosen: string, since: string, today: string, choose: (day: string) => void): void {
  const to: Partial<Record<string, string>> = {
    ArrowLeft: plusDays(chosen, -1),
    ArrowDown: plusDays(chosen, -1),
    ArrowRight: plusDays(chosen, 1),
    ArrowUp: plusDays(chosen, 1),
    PageDown: plusDays(chosen, -A_WEEK),
    PageUp: plusDays(chosen, A_WEEK),
    Home: since,
    End: today,
  };
  const day = to[event.key];
  if (day === undefined) return;
  event.preventDefault();
  choose(day);
}

type BarsProps = {
  from: string;
  chosen: string;
  lines: ReadonlyMap<string, number>;
  choose(day: string): void;
  written(day: string): string;
};

function Bars({ from, chosen, lines, choose, written }: BarsProps) {
  const x = scaleLinear([0, DAYS], [0, WIDTH]);
  const most = Math.max(4, ...lines.values());
  const y = scaleSqrt([0, most], [0, HEIGHT - 2]);
  const days = Array.from({ length: DAYS }, (_, i) => plusDays(from, i));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
      {days.map((day, i) => {
        const tall = y(lines.get(day) ?? 0);
        return (
          <g key={day} className={day === chosen ? 'chosen' : ''} onClick={() => choose(day)}>
            <title>{written(day)}</title>
            <rect className="reach" x={x(i)} y={0} width={x(1)} height={HEIGHT} />
            <rect className="bar" x={x(i) + 1} y={HEIGHT - tall} width={x(1) - 2} height={tall} />
          </g>
        );
      })}
      <line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} />
    </svg>
  );
}

/** The months under the bars: text that is not stretched with them. */
function Months({ from }: { from: string }) {
  const firsts = Array.from({ length: LAST_NAMED }, (_, i) => ({ i, day: plusDays(from, i) })).filter(({ day }) =>
    day.endsWith('-01'),
  );
  return (
    <div className="months" aria-hidden>
      {firsts.map(({ i, day }) => (
        <span key={day} style={{ left: `${(100 * i) / DAYS}%` }}>
          {day.slice(5, 7) === '01' ? dayMonthYear(day).replace(/^1 /, '') : dayMonth(day).replace(/^1 /, '')}
        </span>
      ))}
    </div>
  );
}
