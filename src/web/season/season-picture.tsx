import { scaleLinear } from 'd3-scale';
import { area } from 'd3-shape';
import type { SeasonView } from '../../contract/season.ts';
import type { LivedDay } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { dayMonth, litres, weekdayDayMonth } from '../shell/format.ts';
import type { LaneDay, LaneRow } from './lanes.ts';
import type { PlanOf } from './make-plans.ts';

const WIDTH = 920;
const LEFT = 156;
const HEAD = 46;
const ROW = 35;
const LEDGER = 252;
const OVER = 44;
/** Lanes closer than this, in days, have no room for words beside their bars. */
const ROOM_FOR_WORDS = 5;

type Props = {
  view: SeasonView;
  plan: PlanOf;
  rows: readonly LaneRow[];
  chosen: number | undefined;
  onChoose(day: number): void;
};

/** What is watered when, lane by lane, and under it what is left in the tank. */
export function SeasonPicture({ view, plan, rows, chosen, onChoose }: Props) {
  const { days } = view.problem;
  const x = scaleLinear([0, days], [LEFT, WIDTH - 8]);
  const width = x(1) - x(0);
  const bottom = HEAD + rows.length * ROW;
  const height = bottom + (view.problem.tank ? LEDGER : 40);
  return (
    <svg
      className="chart season-picture"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="group"
      aria-label={wordsOf(view, plan)}
    >
      <defs>
        <clipPath id="names">
          <rect x="0" y="0" width={LEFT - 10} height={height} />
        </clipPath>
        <pattern id="closed" width="7" height="7" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
          <path d="M0 0V7" className="hatch" />
        </pattern>
      </defs>
      {view.problem.works.map((works, t) =>
        works ? null : (
          <rect key={t} className="off" x={x(t)} y={HEAD - 18} width={width} height={bottom - HEAD + 18} />
        ),
      )}
      {chosen !== undefined && (
        <rect className="chosen" x={x(chosen)} y={HEAD - 20} width={width} height={height - HEAD} />
      )}
      <DayNames on={view.on} days={days} x={x} width={width} bottom={bottom} />
      {rows.map((row, n) => (
        <Lane key={row.lane.id} row={row} on={view.on} y={HEAD + n * ROW} x={x} width={width} onChoose={onChoose} />
      ))}
      {view.problem.tank && <Ledger view={view} plan={plan} top={bottom} x={x} width={width} />}
    </svg>
  );
}

type X = (day: number) => number;

function DayNames({ on, days, x, width, bottom }: { on: string; days: number; x: X; width: number; bottom: number }) {
  return (
    <g className="day-names">
      {Array.from({ length: days }, (_, t) => {
        const day = plusDays(on, t);
        const name = weekdayDayMonth(day);
        const monday = name.startsWith('Mon');
        return (
          <g key={t}>
            {(monday || t === 0) && (
              <text x={x(t) + 2} y={HEAD - 28} className={t === 0 ? 'today' : ''}>
                {t === 0 ? 'today' : x(days) - x(t) < 40 ? '' : dayMonth(day)}
              </text>
            )}
            {monday && <path className="week" d={`M${x(t)} ${HEAD - 40}V${bottom}`} />}
            <text x={x(t) + width / 2} y={HEAD - 8} textAnchor="middle">
              {name[0]}
            </text>
          </g>
        );
      })}
    </g>
  );
}

function Lane({
  row: { lane, days },
  on,
  y,
  x,
  width,
  onChoose,
}: {
  row: LaneRow;
  on: string;
  y: number;
  x: X;
  width: number;
  onChoose(day: number): void;
}) {
  return (
    <g>
      <path className="rule" d={`M0 ${y + ROW}H${WIDTH}`} />
      <g clipPath="url(#names)">
        <title>{`${lane.place}, ${lane.what}`}</title>
        <text className="lane-place" x="0" y={y + 14}>
          {lane.place}
        </text>
        <text className="lane-what" x="0" y={y + 28}>
          {lane.what}
        </text>
      </g>
      {lane.closed.map(({ from, to }) => (
        <rect key={from} x={x(from)} y={y + 2} width={x(to + 1) - x(from)} height={ROW - 4} fill="url(#closed)" />
      ))}
      {days.length === 0 && lane.closed.length > 0 && (
        <text className="closed-words" x={x(0) + 90} y={y + 21}>
          closed now
        </text>
      )}
      {days.map((at, n) => {
        const gap = (days[n + 1]?.day ?? Infinity) - at.day;
        const label = `${lane.place}, ${lane.what}, ${weekdayDayMonth(plusDays(on, at.day))}: ${laneWords(at)}`;
        return (
          <g
            key={at.day}
            className={`act ${lane.kind}`}
            role="button"
            tabIndex={0}
            aria-label={label}
            onClick={() => onChoose(at.day)}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              onChoose(at.day);
            }}
          >
            <title>{label}</title>
            <rect x={x(at.day) + 1} y={y + 4} width={width - 2} height={ROW - 8} rx="3" />
            {gap >= ROOM_FOR_WORDS ? (
              <>
                <text className="pots" x={x(at.day + 1) + 3} y={y + 15}>
                  {at.potIds.length} pot{at.potIds.length === 1 ? '' : 's'}
                </text>
                {at.litres >= LEAST_TOLD_L && (
                  <text className="litres" x={x(at.day + 1) + 3} y={y + 28}>
                    {litres(at.litres)}
                  </text>
                )}
              </>
            ) : (
              <text className="count" x={x(at.day) + width / 2} y={y + 21} textAnchor="middle">
                {at.potIds.length}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

const laneWords = ({ potIds, litres: l }: LaneDay) =>
  `${potIds.length} pot${potIds.length === 1 ? '' : 's'}${l >= LEAST_TOLD_L ? `, ${litres(l)} of still water` : ''}`;
/** Less than so much still water is none. */
const LEAST_TOLD_L = 0.005;

function Ledger({
  view,
  plan: { lived },
  top,
  x,
  width,
}: {
  view: SeasonView;
  plan: PlanOf;
  top: number;
  x: X;
  width: number;
}) {
  const { capL } = view.problem.tank!;
  const most = capL ?? Math.max(1, ...lived.days.map((day) => Math.max(day.startL, day.endL)));
  const y = scaleLinear([0, most], [top + LEDGER - 44, top + OVER + 10]);
  const overMost = Math.max(1, ...lived.days.map((day) => day.overL));
  const over = scaleLinear([0, overMost], [0, OVER - 14]);
  // A day falls at once, as its round is done, and rises until the next.
  const points = lived.days.flatMap((day, t) => [
    { at: t, level: day.startL },
    { at: t, level: day.afterL },
    { at: t + 1, level: day.endL },
  ]);
  const shape = area<(typeof points)[number]>()
    .x((p) => x(p.at))
    .y0(y(0))
    .y1((p) => y(p.level));
  const lowest = lived.days.reduce((low, day, t) => (day.afterL < lived.days[low]!.afterL ? t : low), 0);
  return (
    <g className="ledger">
      <text className="lane-place" x="0" y={y(most / 2)}>
        In the tank, {litres(0).replace(/^[\d.]+\s*/, '') || 'L'}
      </text>
      <path className="level" d={shape(points) ?? ''} />
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <path className="rule" d={`M${LEFT - 4} ${y(tick)}h4`} />
          <text className="tick" x={LEFT - 8} y={y(tick) + 4} textAnchor="end">
            {tick}
          </text>
        </g>
      ))}
      {capL !== null && (
        <>
          <path className="cap" d={`M${LEFT} ${y(capL)}H${WIDTH - 8}`} />
          <text className="lane-place" x="0" y={y(capL) + 4}>
            Full at {litres(capL)}
          </text>
          {lived.days.some((day) => day.overL >= 0.05) && (
            <text className="over-words" x="0" y={top + 22}>
              Over the top
            </text>
          )}
        </>
      )}
      {lived.days.map((day, t) => (
        <g key={t}>
          {day.overL >= 0.05 && (
            <rect
              className="over"
              x={x(t) + 1}
              y={y(most) - over(day.overL) - 2}
              width={width - 2}
              height={over(day.overL)}
            />
          )}
          {day.overL >= 1 && (
            <text
              className="over-words small-figure"
              x={x(t) + width / 2}
              y={y(most) - over(day.overL) - 5}
              textAnchor="middle"
            >
              {Math.round(day.overL)}
            </text>
          )}
          {day.usedL >= 0.05 && (
            <text
              className="used small-figure"
              x={x(t) + width / 2}
              y={top + LEDGER - (t % 2 === 0 ? 24 : 11)}
              textAnchor="middle"
            >
              {day.usedL.toFixed(1)}
            </text>
          )}
        </g>
      ))}
      <text className="lane-place" x="0" y={top + LEDGER - 18}>
        Each day takes
      </text>
      <circle className="low" cx={x(lowest)} cy={y(lived.days[lowest]!.afterL)} r="3.5" />
      <text
        className="low-words"
        x={x(lowest) + (lowest > 30 ? -6 : 6)}
        y={y(lived.days[lowest]!.afterL) - 6}
        textAnchor={lowest > 30 ? 'end' : 'start'}
      >
        {litres(lived.days[lowest]!.afterL)} left
      </text>
    </g>
  );
}

const usedWords = (days: readonly LivedDay[]) => litres(days.reduce((sum, day) => sum + day.usedL, 0));

function wordsOf(view: SeasonView, { lived }: PlanOf): string {
  return `${view.problem.days} days from ${weekdayDayMonth(view.on)}: ${lived.totals.trips} days with work, ${lived.totals.mixes} mixes${view.problem.tank ? `, ${usedWords(lived.days)} of still water` : ''}. The table holds every day.`;
}
