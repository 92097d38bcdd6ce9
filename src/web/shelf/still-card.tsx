import { max } from 'd3-array';
import { scaleLinear, scaleUtc } from 'd3-scale';
import { line } from 'd3-shape';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { WATER_BANDS } from '../../core/solution/index.ts';
import { trendOf } from '../../core/statistics/index.ts';

const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [340, 120, 26, 8, 6, 18];
const DAY = 86_400_000;
const AHEAD_DAYS = 180;
const middle = (month: string) => new Date(`${month}-15T12:00:00Z`);
const monthName = (date: Date, long = false) =>
  date.toLocaleDateString('en-GB', { month: long ? 'long' : 'short', timeZone: 'UTC' });

function NotRead({ known }: { known: boolean }) {
  return (
    <section className="card-cell" aria-label="Still water, month by month">
      <header>
        <h2>Still water on its own</h2>
      </header>
      <p className="small mb-0">
        {known
          ? 'Read it by itself now and then: a base that creeps up shows here before it matters.'
          : 'No still water on the shelf.'}
      </p>
    </section>
  );
}

type Trend = NonNullable<ReturnType<typeof trendOf>>;

/** In how many days a rising base passes the limit. */
function crossingDays(
  trend: Trend | undefined,
  points: readonly (readonly [number, number])[],
  ppm: number,
  limit: number,
): number | undefined {
  const last = points.at(-1);
  if (!last || !trend?.rising || ppm >= limit) return undefined;
  return (limit - trend.at(last[0]).mean) / trend.slope;
}

function stillWords(
  ppm: number,
  limit: number,
  end: Date,
  ahead: { mean: number } | undefined,
  days: number | undefined,
): string {
  if (ppm > limit) return `Past ${Math.round(limit)}: look at the membrane.`;
  if (!ahead) return 'Steady.';
  const months = Math.max(1, Math.round((days ?? 0) / 30));
  const passes = days !== undefined && days < 730 ? `; past ${Math.round(limit)} in about ${months} months` : '';
  return `Rising: about ${Math.round(ahead.mean)} by ${monthName(end, true)}${passes}. That is the membrane ageing.`;
}

/** Still water on its own, month by month: a rising base is the membrane's age, and the line says when it will pass 20. */
export function StillCard({ room }: { room: ShelfRoom }) {
  const water = room.waters.find((w) => w.retiredOn === null && w.values.kind === 'still');
  const limit = ppmFromEc(WATER_BANDS.still * 2, room.scale);
  if (!water || water.months.length === 0) return <NotRead known={water !== undefined} />;
  const { months } = water;
  const points = months.map((m) => [middle(m.month).getTime() / DAY, m.ppm] as const);
  const trend = trendOf(points);
  const last = months[months.length - 1]!;
  const end = new Date(Math.max(middle(last.month).getTime() + AHEAD_DAYS * DAY));
  const x = scaleUtc([middle(months[0]!.month), end], [LEFT, WIDTH - RIGHT]);
  const ahead = trend?.rising ? trend.at(end.getTime() / DAY) : undefined;
  const y = scaleLinear(
    [0, Math.max(limit * 1.15, max(months, (m) => m.ppm)! * 1.1, (ahead?.mean ?? 0) + 1.645 * (ahead?.sd ?? 0))],
    [HEIGHT - BOTTOM, TOP],
  ).nice(3);
  const path = line<(typeof months)[number]>()
    .x((m) => x(middle(m.month)))
    .y((m) => y(m.ppm));
  const words = stillWords(last.ppm, limit, end, ahead, crossingDays(trend, points, last.ppm, limit));
  const lastX = x(middle(last.month));
  return (
    <section className="card-cell" aria-label="Still water, month by month">
      <header>
        <h2>{water.values.name} on its own</h2> <span className="small">pen, ppm, month by month</span>
      </header>
      <svg
        className="still-chart"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`${water.values.name} read ${months[0]!.ppm.toFixed(0)} at first and ${last.ppm.toFixed(0)} now. ${words}`}
      >
        <rect
          x={LEFT}
          width={WIDTH - LEFT - RIGHT}
          y={TOP}
          height={Math.max(0, y(limit) - TOP)}
          fill="#8c2f39"
          opacity={0.1}
        />
        <text x={LEFT + 6} y={TOP + 13} fill="#8c2f39">
          past {Math.round(limit)}: look at the membrane
        </text>
        {y.ticks(3).map((t) => (
          <text key={t} x={LEFT - 5} y={y(t) + 4} textAnchor="end">
            {t}
          </text>
        ))}
        <path d={`M${LEFT} ${y(0)}H${WIDTH - RIGHT}`} stroke="#b9b4a6" />
        <Ahead ahead={ahead} trend={trend} lastX={lastX} y={y} last={last} x={x} end={end} />
        <path d={path(months) ?? ''} fill="none" stroke="#0e5a63" strokeWidth={1.5} />
        {months.map((m) => (
          <circle
            key={m.month}
            cx={x(middle(m.month))}
            cy={y(m.ppm)}
            r={m === last ? 4.5 : 3.2}
            fill={m === last ? '#0e5a63' : '#fffdf8'}
            stroke="#0e5a63"
            strokeWidth={1.4}
          />
        ))}
        <text x={lastX} y={y(last.ppm) - 9} textAnchor="middle" fontWeight={650}>
          {last.ppm.toFixed(0)} now
        </text>
        {[...new Set([months[0]!, months[Math.floor(months.length / 2)]!, last])].map((m) => (
          <text key={m.month} x={x(middle(m.month))} y={HEIGHT - 3} textAnchor="middle">
            {monthName(middle(m.month))}
          </text>
        ))}
      </svg>
      <p className="small mb-0">{words}</p>
      <details className="small">
        <summary>As a table</summary>
        <table className="facts">
          <tbody>
            {[...months].reverse().map((m) => (
              <tr key={m.month}>
                <th scope="row">{m.month}</th>
                <td className="num">{m.ppm.toFixed(1)}</td>
                <td>{m.readings} readings</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}

function Ahead({
  ahead,
  trend,
  lastX,
  y,
  last,
  x,
  end,
}: {
  ahead: { readonly mean: number; readonly sd: number } | undefined;
  trend: ReturnType<typeof trendOf>;
  lastX: number;
  y(ppm: number): number;
  last: { month: string; ppm: number; readings: number };
  x(day: Date): number;
  end: Date;
}) {
  if (!(ahead && trend)) return null;
  return (
    <>
      <path
        d={`M${lastX} ${y(last.ppm)}L${x(end)} ${y(ahead.mean + 1.645 * ahead.sd)}V${y(Math.max(0, ahead.mean - 1.645 * ahead.sd))}Z`}
        fill="#a24e2c"
        opacity={0.2}
      />
      <path
        d={`M${lastX} ${y(last.ppm)}L${x(end)} ${y(ahead.mean)}`}
        stroke="#a24e2c"
        strokeWidth={1.6}
        strokeDasharray="4 3"
      />
      <text
        x={x(end)}
        y={Math.min(HEIGHT - BOTTOM - 6, y(Math.max(0, ahead.mean - 1.645 * ahead.sd)) + 16)}
        textAnchor="end"
        fill="#a24e2c"
        fontWeight={650}
      >
        about {Math.round(ahead.mean)} by {monthName(end)}
      </text>
    </>
  );
}
