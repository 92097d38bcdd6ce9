import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { ForecastDay } from '../../core/drift/index.ts';
import { phText } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import type { PourAnswer } from './model.ts';

const WATER = '#0e5a63';
const INK = '#54615f';
const CLAY = '#a24e2c';

type Props = { answer: PourAnswer; days: number; window: { low: number; high: number }; code: string };

function pathLayout({ answer, window }: Props, narrow: boolean) {
  const [WIDTH, CHART, LEFT, RIGHT] = narrow ? ([390, 210, 34, 74] as const) : ([534, 292, 42, 92] as const);
  const rows = [
    ...answer.others.map((o) => ({ ...o, chosen: false })),
    { ph: answer.ph, path: answer.path, outcome: answer.outcome, chosen: true },
  ].sort((a, b) => a.ph - b.ph);
  const horizon = answer.path.length - 1;
  const everything = [
    ...rows.flatMap((r) => r.path),
    ...answer.bands.flatMap((b) => [b.ph.low, b.ph.high]),
    window.low,
    window.high,
  ];
  const x = scaleLinear([0, horizon], [LEFT, WIDTH - RIGHT]);
  const y = scaleLinear([Math.min(...everything) - 0.15, Math.max(...everything) + 0.15], [CHART - 22, 16]);
  const path = line<number>()
    .x((_, day) => x(day))
    .y((ph) => y(ph));
  const band = area<ForecastDay>()
    .x((d) => x(d.day))
    .y0((d) => y(d.ph.low))
    .y1((d) => y(d.ph.high));
  const barH = 21;
  const height = CHART + 8 + rows.length * barH + 4;
  const labels = spread(rows.map((r) => ({ ph: r.ph, chosen: r.chosen, y: y(r.path.at(-1)!) })));
  return { ...{ narrow, WIDTH, CHART, LEFT, RIGHT, rows, horizon, x, y, path, band, barH, height, labels } };
}
type Part = { at: ReturnType<typeof pathLayout>; of: Props };

/** The pH of the filling that comes, from the pour to past the round after: the chosen pour with its band, others as thin lines, and days inside as bars. */
export function PathChart(of: Props) {
  const { answer, days, window, code } = of;
  const at = pathLayout(of, useNarrow());
  const { WIDTH, height, horizon } = at;
  const end = answer.bands[Math.min(days, horizon)]!;
  const summary = `${code}, poured at pH ${phText(answer.ph)}: pH ${phText(end.ph.middle)} after ${days} days, nine times in ten ${phText(end.ph.low)} to ${phText(end.ph.high)}; inside ${phText(window.low)} to ${phText(window.high)} for ${answer.outcome.inside.toFixed(1)} of ${days} days.`;
  return (
    <figure className="path-figure">
      <figcaption className="visually-hidden">{summary} The same as a table: press Table.</figcaption>
      <svg className="chart" viewBox={`0 0 ${WIDTH} ${height}`} preserveAspectRatio="xMidYMin meet" aria-hidden>
        <Ground at={at} of={of} />
        <Lines at={at} of={of} />
        <Days at={at} of={of} />
        <Bars at={at} of={of} />
      </svg>
    </figure>
  );
}

/** The comfortable stretch and the scale. */
function Ground({ at, of }: Part) {
  const { WIDTH, CHART, LEFT, RIGHT, y } = at;
  const { window } = of;
  return (
    <>
      <rect
        x={LEFT}
        y={y(window.high)}
        width={WIDTH - LEFT - RIGHT}
        height={y(window.low) - y(window.high)}
        fill="#dcebdf"
      />
      {y.ticks(4).map((t) => (
        <g key={t}>
          <path d={`M${LEFT - 4} ${y(t)}H${LEFT}`} stroke="#b9b4a6" />
          <text x={LEFT - 8} y={y(t) + 4} textAnchor="end" fontSize="12" fill={INK}>
            {t}
          </text>
        </g>
      ))}
      <text x={LEFT - 8} y={11} textAnchor="end" fontSize="12" fill={INK}>
        pH
      </text>
      <path d={`M${LEFT} 12V${CHART - 22}H${WIDTH - RIGHT}`} stroke="#b9b4a6" fill="none" />
    </>
  );
}

/** The chosen pour with its band, the others as thin lines. */
function Lines({ at, of }: Part) {
  const { WIDTH, RIGHT, rows, horizon, x, y, path, band, labels } = at;
  const { answer, window } = of;
  return (
    <>
      <path d={band([...answer.bands]) ?? ''} fill={WATER} opacity="0.14" />
      {rows
        .filter((r) => !r.chosen)
        .map((r) => (
          <g key={r.ph}>
            <path
              d={path([...r.path]) ?? ''}
              fill="none"
              stroke="#6c7672"
              strokeWidth="1.3"
              strokeDasharray={r.ph === answer.advice.pourPh ? '2 3' : undefined}
            />
            <circle cx={x(0)} cy={y(r.path[0]!)} r="3.6" fill="#fffdf8" stroke="#6c7672" strokeWidth="1.3" />
          </g>
        ))}
      <path d={path([...answer.path]) ?? ''} fill="none" stroke={WATER} strokeWidth="2.8" />
      <circle cx={x(0)} cy={y(answer.path[0]!)} r="6" fill="#fffdf8" stroke={WATER} strokeWidth="3" />
      {labels.map((l) => (
        <text
          key={l.ph}
          x={WIDTH - RIGHT + 8}
          y={l.y + 4}
          fontSize="12.500"
          fill={l.chosen ? WATER : INK}
          fontWeight={l.chosen ? 700 : 400}
        >
          from {phText(l.ph)}
        </text>
      ))}
      <text
        x={x(horizon) - 6}
        y={y(window.low) - 8}
        textAnchor="end"
        fontSize="12.500"
        fill="#2f6b45"
        stroke="#dcebdf"
        strokeWidth="4"
        paintOrder="stroke"
      >
        comfortable, {phText(window.low)} to {phText(window.high)}
      </text>
    </>
  );
}

/** Days below, and the round after. */
function Days({ at, of }: Part) {
  const { narrow, CHART, horizon, x, height } = at;
  const { days } = of;
  return (
    <>
      {x
        .ticks(Math.min(horizon, narrow ? 5 : 8))
        .filter((t) => Number.isInteger(t) && t !== days)
        .map((t) => (
          <text key={t} x={x(t)} y={CHART - 6} textAnchor="middle" fontSize="12" fill={INK}>
            {t === 0 ? 'day 0' : t}
          </text>
        ))}
      <path d={`M${x(days)} 12V${height - 2}`} stroke={CLAY} strokeWidth="2" />
      <text
        x={x(days) + (days > horizon * 0.6 ? -6 : 6)}
        y={22}
        textAnchor={days > horizon * 0.6 ? 'end' : 'start'}
        fontSize="12.500"
        fontWeight="650"
        fill={CLAY}
      >
        round after
      </text>
      <text
        x={x(days)}
        y={CHART - 6}
        textAnchor="middle"
        fontSize="12"
        fontWeight="700"
        fill={CLAY}
        stroke="#fffdf8"
        strokeWidth="4"
        paintOrder="stroke"
      >
        {days}
      </text>
    </>
  );
}

/** Days under, inside and over, a bar for each pour. */
function Bars({ at, of }: Part) {
  const { WIDTH, CHART, LEFT, RIGHT, rows, x, barH } = at;
  const { days, window } = of;
  return (
    <>
      {rows.map((r, i) => (
        <g key={r.ph} transform={`translate(0 ${CHART + 6 + i * barH})`}>
          <text
            x={LEFT - 8}
            y={14}
            textAnchor="end"
            fontSize="12.500"
            fontWeight={r.chosen ? 700 : 400}
            fill={r.chosen ? WATER : INK}
          >
            {phText(r.ph)}
          </text>
          {stretches(r.path, window).map((s) => (
            <g key={s.from} opacity={s.from >= days ? 0.35 : 1}>
              <rect
                x={x(s.from)}
                y={2}
                width={Math.max(0, x(s.to) - x(s.from))}
                height={barH - 5}
                fill={FILL[s.kind]}
              />
              {x(Math.min(s.to, days)) - x(s.from) > 58 && s.from < days && (
                <text
                  x={(x(s.from) + x(Math.min(s.to, days))) / 2}
                  y={14}
                  textAnchor="middle"
                  fontSize="11.500"
                  fill={TEXT[s.kind]}
                >
                  {WORDS[s.kind]}
                </text>
              )}
            </g>
          ))}
          {r.chosen && (
            <rect
              x={x(0)}
              y={1.5}
              width={x(days) - x(0)}
              height={barH - 4}
              fill="none"
              stroke={WATER}
              strokeWidth="1.800"
            />
          )}
          <text
            x={WIDTH - RIGHT + 8}
            y={14}
            fontSize="12.500"
            fontWeight={r.chosen ? 700 : 400}
            fill={r.chosen ? WATER : INK}
          >
            {r.outcome.inside.toFixed(1)} of {days} d
          </text>
        </g>
      ))}
    </>
  );
}

const FILL = { low: '#bfdedb', inside: '#b5d6bd', high: '#ecd9cb' };
const TEXT = { low: '#0e5a63', inside: '#2f6b45', high: '#8c2f39' };
const WORDS = { low: 'too low', inside: 'inside', high: 'too high' };

/** Stretches of days under, inside and over a window, the edges where the line crosses it. */
function stretches(
  path: readonly number[],
  window: { low: number; high: number },
): { kind: keyof typeof FILL; from: number; to: number }[] {
  const kindOf = (ph: number) => (ph < window.low ? 'low' : ph > window.high ? 'high' : 'inside');
  const found: { kind: keyof typeof FILL; from: number; to: number }[] = [];
  const STEPS = 20;
  for (let i = 0; i < (path.length - 1) * STEPS; i++) {
    const [day, part] = [Math.floor(i / STEPS), (i % STEPS) / STEPS];
    const kind = kindOf(path[day]! + (path[day + 1]! - path[day]!) * part);
    const last = found.at(-1);
    if (last?.kind === kind) last.to = (i + 1) / STEPS;
    else found.push({ kind, from: i / STEPS, to: (i + 1) / STEPS });
  }
  return found;
}

/** Labels at the end of their lines, moved apart where lines end close together. */
function spread<T extends { y: number }>(labels: readonly T[]): T[] {
  const sorted = labels.map((l) => ({ ...l })).sort((a, b) => a.y - b.y);
  for (let i = 1; i < sorted.length; i++) sorted[i]!.y = Math.max(sorted[i]!.y, sorted[i - 1]!.y + 14);
  return sorted;
}
