import { max, min } from 'd3-array';
import { scaleLinear, scaleUtc } from 'd3-scale';
import { dayMonth } from '../shell/format.ts';

export type Dot = { id: string; at: string; on: string; value: number; tainted: boolean };
const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [380, 110, 34, 10, 12, 20];

/** Readings by date as dots; hollow where their pen was later found off. A dashed line marks the day from which. */
export function ReadingsChart({
  readings,
  what,
  empty,
  since,
  band,
}: {
  readings: readonly Dot[];
  what: 'ppm' | 'pH' | 'mS/cm' | 'µS/cm';
  empty: string;
  /** ISO instant from which readings are tainted. */
  since?: string | null | undefined;
  /** Comfortable stretch, drawn behind. */
  band?: readonly [number, number] | undefined;
}) {
  if (readings.length === 0) return <p className="small mb-0">{empty}</p>;
  const inTime = [...readings].sort((a, b) => (a.at < b.at ? -1 : 1));
  const [from, to] = [new Date(inTime[0]!.at), new Date(inTime[inTime.length - 1]!.at)];
  const x = scaleUtc(
    [new Date(from.getTime() - 43_200_000), new Date(to.getTime() + 43_200_000)],
    [LEFT, WIDTH - RIGHT],
  );
  const values = inTime.map((r) => r.value);
  const least = min(values)!;
  const most = max(values)!;
  const pad = Math.max((most - least) * 0.2, what === 'pH' ? 0.2 : most * 0.06, 1e-3);
  const y = scaleLinear([Math.max(0, least - pad), most + pad], [HEIGHT - BOTTOM, TOP]).nice(3);
  const hollow = inTime.filter((r) => r.tainted).length;
  const digits = what === 'pH' ? 1 : what === 'mS/cm' ? 2 : 0;
  const last = inTime[inTime.length - 1]!;
  const summary = `${inTime.length} readings in ${what} from ${dayMonth(inTime[0]!.on)} to ${dayMonth(last.on)}, last ${last.value.toFixed(digits)}${hollow ? `; ${hollow} hollow, read with a pen found off` : ''}.`;
  const sinceAt = since ? new Date(since) : undefined;
  return (
    <figure className="mb-0">
      <svg className="readings-chart" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={summary}>
        {band && (
          <rect
            x={LEFT}
            width={WIDTH - LEFT - RIGHT}
            y={y(band[1])}
            height={Math.max(0, y(band[0]) - y(band[1]))}
            fill="#2f6b45"
            opacity={0.1}
          />
        )}
        {sinceAt && sinceAt > from && (
          <>
            <rect
              x={x(sinceAt)}
              width={Math.max(0, WIDTH - RIGHT - x(sinceAt))}
              y={TOP}
              height={HEIGHT - BOTTOM - TOP}
              fill="#8c2f39"
              opacity={0.08}
            />
            <path d={`M${x(sinceAt)} ${TOP - 4}V${HEIGHT - BOTTOM}`} stroke="#8c2f39" strokeWidth={1.4} />
          </>
        )}
        {y.ticks(3).map((t) => (
          <g key={t}>
            <path d={`M${LEFT} ${y(t)}H${WIDTH - RIGHT}`} stroke="#e4dfd2" />
            <text x={LEFT - 5} y={y(t) + 4} textAnchor="end">
              {t.toFixed(digits)}
            </text>
          </g>
        ))}
        {inTime.map((r) => (
          <circle
            key={r.id}
            cx={x(new Date(r.at))}
            cy={y(r.value)}
            r={inTime.length > 80 ? 2.2 : 3.2}
            fill={r.tainted ? '#fffdf8' : '#0e5a63'}
            stroke={r.tainted ? '#8c2f39' : '#0e5a63'}
            strokeWidth={inTime.length > 80 ? 1 : 1.4}
          >
            <title>{`${dayMonth(r.on)}: ${r.value.toFixed(digits)}${r.tainted ? ', with a pen found off' : ''}`}</title>
          </circle>
        ))}
        <text x={LEFT} y={HEIGHT - 5}>
          {dayMonth(inTime[0]!.on)}
        </text>
        <text x={WIDTH - RIGHT} y={HEIGHT - 5} textAnchor="end">
          {dayMonth(last.on)}
        </text>
      </svg>
      <details className="small">
        <summary>As a table</summary>
        <table className="facts">
          <thead>
            <tr>
              <th scope="col">Day</th>
              <th scope="col">{what}</th>
            </tr>
          </thead>
          <tbody>
            {[...inTime].reverse().map((r) => (
              <tr key={r.id}>
                <th scope="row">{dayMonth(r.on)}</th>
                <td className="num">
                  {r.value.toFixed(digits)}
                  {r.tainted && ' (hollow)'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
