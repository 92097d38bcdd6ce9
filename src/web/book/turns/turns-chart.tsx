import { leastIndex, max } from 'd3-array';
import { scaleUtc } from 'd3-scale';
import type { Turn, TurnCompared, TurnsView } from '../../../contract/turns.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { Icon } from '../../drawing/icon.tsx';
import { dayMonth } from '../../shell/format.ts';
import { intervalWords, MEASURE, TURN_ICON, verdictOf } from './turn-words.ts';
import { dateOf, Lane, LANE, NAME, type X } from './turns-lane.tsx';

/* What was changed, on one line of time, and under it week by week what followed. */

const [NAMES, RESULTS, TOP, FOOT] = [124, 150, 84, 22];
/** Narrower than this what came of it stands below and not beside it. */
export const BESIDE_FROM = 560;
const ICON_R = 13;
/** Letters of a title's line, and how wide each is taken to be, px. */
const [LINE_LETTERS, LETTER_PX] = [15, 6.6];
const ONE_WEEK = 7;

/** How high it is where what came of a turn stands beside it, px. */
export const chartHeight = (lanes: number) => TOP + lanes * LANE + FOOT;

type Props = {
  readonly view: TurnsView;
  readonly turns: readonly Turn[];
  readonly lanes: readonly TurnsView['measures'][number][];
  readonly width: number;
  readonly chosen: Turn | undefined;
  readonly compared: TurnCompared | undefined;
  readonly weeks: number;
  choose(id: string): void;
};

export function TurnsChart({ view, turns, lanes, width, chosen, compared, weeks, choose }: Props) {
  const beside = width >= BESIDE_FROM;
  const [left, right] = beside ? [NAMES, width - RESULTS] : [36, width];
  const x = scaleUtc([dateOf(view.from), dateOf(plusDays(view.today, 1))], [left + 8, right - 8]);
  const lane = beside ? LANE : LANE + NAME;
  const bottom = TOP + lanes.length * lane;
  const height = bottom + FOOT;
  const marks = apart(turns, x);
  const labels = placed(turns, x, chosen?.id);
  return (
    <div className="turns-chart" style={{ height }}>
      <svg width={width} height={height} aria-hidden="true" focusable="false">
        {chosen && <Window x={x} on={chosen.on} weeks={weeks} bottom={bottom} today={view.today} />}
        <path className="axis" d={`M${left} ${TOP - 20}H${right}m-8 -6l8 6l-8 6`} />
        {turns.map((turn) => (
          <path
            key={turn.id}
            className={`at ${turn.kind === 'penOff' ? 'off' : ''} ${turn.id === chosen?.id ? 'chosen' : ''}`}
            d={`M${x(dateOf(turn.on))} ${TOP - 6}V${bottom}`}
          />
        ))}
        {lanes.map((measure, i) => (
          <Lane
            key={measure.key}
            lane={measure}
            x={x}
            top={TOP + i * lane}
            left={left}
            right={right}
            turns={turns}
            beside={beside}
          />
        ))}
        <Months x={x} y={bottom + 16} from={view.from} today={view.today} />
        {beside && (
          <text className="lane-name" x={0} y={TOP - 22}>
            Turns
          </text>
        )}
        {labels.map(({ turn, at, lines }) => (
          <text
            key={turn.id}
            className={`turn-name ${turn.kind === 'penOff' ? 'off' : ''} ${turn.id === chosen?.id ? 'chosen' : ''}`}
            textAnchor="middle"
          >
            {lines.map((line, i) => (
              <tspan
                key={i}
                x={at}
                y={TOP - 40 - 13 * (lines.length - 1 - i)}
                className={i === lines.length - 1 ? 'day' : ''}
              >
                {line}
              </tspan>
            ))}
          </text>
        ))}
      </svg>
      {turns.map((turn) => (
        <button
          key={turn.id}
          type="button"
          className={`turn-mark ${turn.kind === 'penOff' ? 'off' : ''}`}
          style={{ left: marks.get(turn.id)! - ICON_R, top: TOP - 20 - ICON_R }}
          aria-pressed={turn.id === chosen?.id}
          aria-label={`${turn.title}, ${dayMonth(turn.on)}`}
          title={`${turn.title}, ${dayMonth(turn.on)}`}
          onClick={() => choose(turn.id)}
        >
          <Icon name={TURN_ICON[turn.kind]} />
        </button>
      ))}
      {beside && chosen && compared && (
        <div className="turn-results" style={{ width: RESULTS - 12, top: 22 }}>
          <div className="turn-result head" style={{ height: TOP - 22 }}>
            <span>
              {compared.weeks} weeks <b className="was">before</b> and <b className="is">after</b> {dayMonth(chosen.on)}
            </span>
          </div>
          {lanes.map(({ key }) => (
            <div key={key} className="turn-result" style={{ height: LANE }}>
              <Found compared={compared} measure={key} />
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

/** Before and after, and what may be said of it. */
export function Found({ compared, measure }: { compared: TurnCompared; measure: keyof typeof MEASURE }) {
  const found = compared.found.find((f) => f.key === measure);
  if (!found) return <span className="small">not read on both sides</span>;
  const { text, unit } = MEASURE[measure];
  const verdict = verdictOf(found);
  return (
    <span title={intervalWords(found)}>
      <b className="num was">{text(found.before)}</b> → <b className="num is">{text(found.after)}</b>{' '}
      <span className="small">{unit()}</span>
      <span className={`said ${verdict.tone}`}>{verdict.words}</span>
    </span>
  );
}

function Window({ x, on, weeks, bottom, today }: { x: X; on: string; weeks: number; bottom: number; today: string }) {
  const [from, to] = x.domain() as [Date, Date];
  const within = (day: string) => x(new Date(Math.min(+to, Math.max(+from, +dateOf(day)))));
  const end = plusDays(on, ONE_WEEK * weeks);
  const [a, b, c] = [within(plusDays(on, -ONE_WEEK * weeks)), within(on), within(end > today ? today : end)];
  return (
    <>
      <rect className="was" x={a} width={Math.max(0, b - a)} y={TOP - 20} height={bottom - TOP + 20} />
      <rect className="is" x={b} width={Math.max(0, c - b)} y={TOP - 20} height={bottom - TOP + 20} />
    </>
  );
}

function Months({ x, y, from, today }: { x: X; y: number; from: string; today: string }) {
  const months = x.ticks((x.range()[1]! - x.range()[0]!) / 56);
  return (
    <g className="months">
      {months.map((month) => {
        const day = month.toISOString().slice(0, 10);
        return day < from || day > plusDays(today, -7) ? null : (
          <text key={day} x={x(month)} y={y} textAnchor="middle">
            {month.toLocaleDateString('en-GB', { month: 'short', timeZone: 'UTC' })}
            {month.getUTCMonth() === 0 ? ` ’${day.slice(2, 4)}` : ''}
          </text>
        );
      })}
    </g>
  );
}

/** Where the marks stand: on their day, or beside one that stands there already. */
function apart(turns: readonly Turn[], x: X): Map<string, number> {
  let last = -Infinity;
  return new Map(
    turns.map(({ id, on }) => {
      last = Math.max(x(dateOf(on)), last + 1.6 * ICON_R);
      return [id, last];
    }),
  );
}

type Label = { readonly turn: Turn; readonly at: number; readonly lines: readonly string[] };
/** Titles where there is room for them: the chosen one first, then the newest. */
function placed(turns: readonly Turn[], x: X, chosen: string | undefined): Label[] {
  const order = [...turns].sort((a, b) => Number(b.id === chosen) - Number(a.id === chosen) || (a.on < b.on ? 1 : -1));
  const taken: { from: number; to: number }[] = [];
  const [left, right] = x.range() as [number, number];
  return order.flatMap((turn): Label[] => {
    const lines = [...inLines(turn.title), dayMonth(turn.on)];
    const half = (LETTER_PX * (max(lines, (line) => line.length) ?? 0)) / 2;
    const at = Math.min(right - half, Math.max(left + half, x(dateOf(turn.on))));
    if (taken.some(({ from, to }) => at - half < to && at + half > from)) return [];
    taken.push({ from: at - half - 4, to: at + half + 4 });
    return [{ turn, at, lines }];
  });
}

/** A title in two lines at the most. */
function inLines(title: string): string[] {
  if (title.length <= LINE_LETTERS) return [title];
  const spaces = [...title.matchAll(/ /g)].map(({ index }) => index);
  const at = spaces[leastIndex(spaces, (a, b) => Math.abs(a - title.length / 2) - Math.abs(b - title.length / 2)) ?? 0];
  const halves = at === undefined ? [title] : [title.slice(0, at), title.slice(at + 1)];
  return halves.map((half) => (half.length > 2 * LINE_LETTERS ? `${half.slice(0, 2 * LINE_LETTERS - 1)}…` : half));
}
