import { scaleLinear } from 'd3-scale';
import { area } from 'd3-shape';
import type { SeasonView } from '../../contract/season.ts';
import type { LivedDay, Why } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { dayMonth, litres, weekdayDayMonth } from '../shell/format.ts';
import { isPinned, pinnedAmong } from './edits.ts';
import { actOf, type LaneDay, type LaneRow } from './lanes.ts';
import { useLaneDrag } from './use-lane-drag.ts';
import type { PlanOf } from './make-plans.ts';

const WIDTH = 920;
const LEFT = 184;
const RIGHT = WIDTH - 8;
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
  why: Why;
  onChoose(day: number, lane?: string): void;
  onMove(row: LaneRow, at: LaneDay, to: number): void;
};

/** What is watered when, lane by lane, and under it what is left in the tank. */
export function SeasonPicture({ view, plan, rows, chosen, why, onChoose, onMove }: Props) {
  const { days } = view.problem;
  const x = scaleLinear([0, days], [LEFT, RIGHT]);
  const width = x(1) - x(0);
  const bottom = HEAD + rows.length * ROW;
  const height = bottom + (view.problem.tank ? LEDGER : 40);
  return (
    <svg
      className="chart season-picture"
      data-lanes={(RIGHT - LEFT) / WIDTH}
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="group"
      aria-label={wordsOf(view, plan)}
    >
      <desc id="how-to-move">
        Drag it to another day, or press M, the arrow keys, and Enter; Escape leaves it where it was.
      </desc>
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
        <Lane key={row.lane.id} {...{ row, view, why, x, width, onChoose, onMove }} y={HEAD + n * ROW} />
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
                {t === 0 ? 'today' : x(t) - x(0) < 40 || x(days) - x(t) < 40 ? '' : dayMonth(day)}
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

type LaneProps = {
  row: LaneRow;
  view: SeasonView;
  why: Why;
  y: number;
  x: X;
  width: number;
  onChoose(day: number, lane?: string): void;
  onMove(row: LaneRow, at: LaneDay, to: number): void;
};

function Lane({ row, view, why, y, x, width, onChoose, onMove }: LaneProps) {
  const { lane, days } = row;
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
          {opensWords(lane.months, view.on)}
        </text>
      )}
      {days.map((at, n) => (
        <Act
          key={at.day}
          {...{ row, at, view, why, y, x, width, onChoose, onMove }}
          gap={(days[n + 1]?.day ?? Infinity) - at.day}
        />
      ))}
    </g>
  );
}

/** When a closed season opens again. */
function opensWords(months: readonly number[], on: string): string {
  const now = Number(on.slice(5, 7));
  const ahead = Array.from({ length: 12 }, (_, i) => ((now + i) % 12) + 1).find((month) => months.includes(month));
  return ahead === undefined ? 'never open' : `closed until ${MONTHS[ahead - 1]}`;
}
const MONTHS = Array.from({ length: 12 }, (_, i) =>
  new Date(Date.UTC(2001, i, 15)).toLocaleDateString('en-GB', { month: 'long', timeZone: 'UTC' }),
);

/** One act of a lane. It is dragged along it, or taken with M, moved with the arrows and dropped with Enter. */
function Act({ row, at, view, why, y, x, width, gap, onChoose, onMove }: LaneProps & { at: LaneDay; gap: number }) {
  const { lane } = row;
  const act = actOf(row, at);
  const drag = useLaneDrag(
    at.day,
    view.problem.days,
    act !== undefined,
    (to) => onMove(row, at, to),
    () => onChoose(at.day, lane.id),
  );
  const own = act ? why.naturalDay(act) : at.day;
  const pinned = act !== undefined && isPinned(view.problem, act);
  const some = act ? pinnedAmong(view.problem, act).length : 0;
  const yours = yoursWords(pinned, some);
  const shown = drag.to ?? at.day;
  const label = `${lane.place}, ${lane.what}, ${weekdayDayMonth(plusDays(view.on, at.day))}: ${laneWords(at)}${yours}`;
  return (
    <g className={`act ${lane.kind}${drag.to === undefined ? '' : ' taken'}`}>
      {drag.to === undefined && !pinned && own !== at.day && Math.abs(own - at.day) <= MOST_SHOWN_MOVED && (
        <rect className="own-day" x={x(own) + 2} y={y + 6} width={width - 4} height={ROW - 12} rx="3" />
      )}
      <g
        role="button"
        tabIndex={0}
        aria-label={label}
        aria-describedby={act ? 'how-to-move' : undefined}
        data-act={`${lane.id}|${at.day}`}
        {...drag.handlers}
      >
        <title>{label}</title>
        <rect className="bar" x={x(shown) + 1} y={y + 4} width={width - 2} height={ROW - 8} rx="3" />
        {(pinned || some > 0) && (
          <circle className={pinned ? 'pin' : 'pin some'} cx={x(shown) + width / 2} cy={y + 5} r="3" />
        )}
        <ActWords {...{ at, gap, y, width }} left={x(shown)} />
      </g>
    </g>
  );
}
/** ", your day": of the whole act, or of some of its pots. */
const yoursWords = (pinned: boolean, some: number): string =>
  pinned ? ', your day' : some > 0 ? `, your day for ${some}` : '';

/** A watering further from its own day shows no mark there. */
const MOST_SHOWN_MOVED = 7;

function ActWords({ at, gap, y, width, left }: { at: LaneDay; gap: number; y: number; width: number; left: number }) {
  const { potIds, litres: l } = at;
  const pots = potIds.length > 0 ? `${potIds.length} pot${potIds.length === 1 ? '' : 's'}` : (at.words?.[0] ?? '');
  if (gap < ROOM_FOR_WORDS)
    return (
      <text className="count" x={left + width / 2} y={y + 21} textAnchor="middle">
        {potIds.length > 0 ? potIds.length : l >= LEAST_TOLD_L ? Math.round(l) : ''}
      </text>
    );
  return (
    <>
      <text className="pots" x={left + width + 3} y={y + 15}>
        {pots || litres(l)}
      </text>
      {pots !== '' && l >= LEAST_TOLD_L && (
        <text className="litres" x={left + width + 3} y={y + 28}>
          {litres(l)}
        </text>
      )}
    </>
  );
}

const laneWords = ({ potIds, litres: l, words }: LaneDay) =>
  [
    words?.join('; ') ?? (potIds.length > 0 ? `${potIds.length} pot${potIds.length === 1 ? '' : 's'}` : ''),
    l >= LEAST_TOLD_L ? `${litres(l)} of still water` : '',
  ]
    .filter(Boolean)
    .join(', ');
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
