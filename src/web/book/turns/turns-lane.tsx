import { max, median, min } from 'd3-array';
import { scaleLinear, type ScaleLinear, type ScaleTime } from 'd3-scale';
import type { Turn, TurnsView } from '../../../contract/turns.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { MEASURE } from './turn-words.ts';

/** As tall is a measure; on a phone its name stands over it. */
export const [LANE, NAME] = [58, 14];
const ONE_WEEK = 7;
export type X = ScaleTime<number, number>;
export const dateOf = (day: string) => new Date(`${day}T00:00:00Z`);

/** One measure: a dot a week, and between turns a line at their middle. */
export function Lane({
  lane,
  x,
  top,
  left,
  right,
  turns,
  beside,
}: {
  lane: TurnsView['measures'][number];
  x: X;
  top: number;
  left: number;
  right: number;
  turns: readonly Turn[];
  beside: boolean;
}) {
  const { name, of, text, span } = MEASURE[lane.key];
  const read = lane.weeks.flatMap((week) => (week.value === null ? [] : [{ ...week, value: week.value }]));
  const [low, high] = spanOf(
    read.map(({ value }) => value),
    span,
  );
  const head = beside ? 0 : NAME;
  const y = scaleLinear([low, high], [top + head + LANE - 10, top + head + 10]);
  const ends = [...new Set(turns.map(({ on }) => on))].sort();
  return (
    <g>
      <path className="rule" d={`M0 ${top}H${right}`} />
      <text className="lane-name" x={0} y={beside ? top + 20 : top + 14}>
        {name}
      </text>
      {beside && (
        <text className="lane-of" x={0} y={top + 35}>
          {of}
        </text>
      )}
      {read.length > 0 && <Ticks y={y} left={left} right={right} text={text} />}
      {read.length === 0 && (
        <text className="lane-of" x={left + 12} y={top + LANE / 2}>
          nothing read
        </text>
      )}
      {stretches(read, ends).map(({ from, to, middle }) => (
        <path
          key={from}
          className="middle"
          d={`M${x(dateOf(from))} ${y(middle)}H${x(dateOf(plusDays(to, ONE_WEEK)))}`}
        />
      ))}
      {read.map(({ on, value, tainted }) => (
        <circle
          key={on}
          className={tainted ? 'week tainted' : 'week'}
          cx={x(dateOf(plusDays(on, 3)))}
          cy={y(value)}
          r={2.6}
        />
      ))}
    </g>
  );
}

function Ticks({
  y,
  left,
  right,
  text,
}: {
  y: ScaleLinear<number, number>;
  left: number;
  right: number;
  text: (v: number) => string;
}) {
  const ticks = y.domain().map((value) => ({ value, at: y(value) }));
  return ticks.map(({ value, at }) => (
    <g key={value}>
      <path className="tick" d={`M${left + 8} ${at}H${right - 8}`} />
      <text className="tick-text" x={left + 4} y={at + 4} textAnchor="end">
        {text(value)}
      </text>
    </g>
  ));
}

/** A scale that is never so narrow that a flat line looks like mountains. */
function spanOf(values: readonly number[], least: number): [number, number] {
  const [low, high] = [min(values) ?? 0, max(values) ?? 1];
  const more = Math.max(0, least - (high - low)) / 2;
  const from = low >= 0 ? Math.max(0, low - more) : low - more;
  return [from, Math.max(high + more, from + least)];
}

/** The weeks between two turns, with their median. */
function stretches(read: readonly { on: string; value: number }[], ends: readonly string[]) {
  const bounds = ['', ...ends, '9999'];
  return bounds.slice(1).flatMap((end, i) => {
    const within = read.filter(({ on }) => plusDays(on, 3) >= bounds[i]! && plusDays(on, 3) < end);
    return within.length < 2
      ? []
      : [{ from: within[0]!.on, to: within.at(-1)!.on, middle: median(within, ({ value }) => value)! }];
  });
}
