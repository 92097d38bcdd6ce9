import { useQuery } from '@tanstack/react-query';
import { max, min } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { StrengthHistory } from '../../contract/shelf.ts';
import { get } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';

const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [380, 150, 34, 8, 24, 20];
type Point = StrengthHistory['points'][number];

/** What a pen read per mL/L batch by batch, and what was known after each: a new bottle starts wider. Readings of a pen found off are hollow. */
export function StrengthChart({
  productId,
  guess,
}: {
  productId: string;
  guess: { ppm: number; sd: number } | undefined;
}) {
  const history = useQuery({
    queryKey: ['strength', productId],
    queryFn: () => get<StrengthHistory>(`/api/shelf/products/${productId}/strength`),
  });
  if (history.isPending) return <p className="small mb-0">Reading its batches …</p>;
  if (!history.data) return <p className="small mb-0">Its batches could not be read just now.</p>;
  const { points } = history.data;
  if (points.length === 0)
    return <p className="small mb-0">No batch yet: the bench will learn it from the first one.</p>;
  const last = points[points.length - 1]!;
  const x = scaleLinear([0, Math.max(1, points.length - 1)], [LEFT, WIDTH - RIGHT]);
  const values = points.flatMap((p) => [
    p.mean - 1.645 * p.sd,
    p.mean + 1.645 * p.sd,
    ...(p.ppmPerMlL === null ? [] : [p.ppmPerMlL]),
  ]);
  if (guess) values.push(guess.ppm);
  const y = scaleLinear([Math.max(0, min(values)! * 0.95), max(values)! * 1.05], [HEIGHT - BOTTOM, TOP]).nice(4);
  const band = area<Point>()
    .x((_, i) => x(i))
    .y0((p) => y(p.mean - 1.645 * p.sd))
    .y1((p) => y(p.mean + 1.645 * p.sd));
  const middle = line<Point>()
    .x((_, i) => x(i))
    .y((p) => y(p.mean));
  const hollow = points.filter((p) => p.tainted && p.ppmPerMlL !== null).length;
  const summary = `Last ${points.length} batches: now ${Math.round(last.mean)} ± ${Math.max(1, Math.round(last.sd))} ppm for 1 mL in 1 L${hollow ? `; ${hollow} hollow, read with a pen found off` : ''}.`;
  return (
    <figure className="mb-0">
      <svg className="strength-chart" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={summary}>
        {y.ticks(4).map((t) => (
          <g key={t}>
            <path d={`M${LEFT} ${y(t)}H${WIDTH - RIGHT}`} stroke="#e4dfd2" />
            <text x={LEFT - 6} y={y(t) + 4} textAnchor="end">
              {t}
            </text>
          </g>
        ))}
        <path d={band(points) ?? ''} fill="#0e5a63" opacity={0.14} />
        <path d={middle(points) ?? ''} fill="none" stroke="#0e5a63" strokeWidth={1.6} />
        {guess && (
          <>
            <path d={`M${LEFT} ${y(guess.ppm)}h22`} stroke="#a24e2c" strokeWidth={2} />
            <text x={LEFT + 26} y={y(guess.ppm) + 4} fill="#a24e2c">
              label says {Math.round(guess.ppm)} ± {Math.round(guess.sd)}
            </text>
          </>
        )}
        {points.map((p, i) =>
          p.ppmPerMlL === null ? null : (
            <circle
              key={p.batchId}
              cx={x(i)}
              cy={y(p.ppmPerMlL)}
              r={2.8}
              fill={p.tainted ? '#fffdf8' : '#0e5a63'}
              stroke={p.tainted ? '#8c2f39' : '#0e5a63'}
              strokeWidth={1.3}
              strokeDasharray={p.tainted ? '2 1.4' : undefined}
            >
              <title>{`${dayMonth(p.on)}: ${p.ppmPerMlL.toFixed(0)}${p.tainted ? ', with a pen found off' : ''}`}</title>
            </circle>
          ),
        )}
        {points.map((p, i) =>
          p.newBottle ? (
            <g key={p.batchId}>
              <path d={`M${x(i)} ${TOP - 4}V${HEIGHT - BOTTOM}`} stroke="#1e2b2c" strokeDasharray="2 3" />
              <text x={x(i) + 4} y={TOP - 8}>
                new bottle
              </text>
            </g>
          ) : null,
        )}
        <text x={WIDTH - RIGHT} y={14} textAnchor="end" fontWeight={650} fill="#0e5a63">
          this bottle {Math.round(last.mean)} ± {Math.max(1, Math.round(last.sd))}
        </text>
        <text x={LEFT} y={HEIGHT - 5}>
          {dayMonth(points[0]!.on)}
        </text>
        <text x={WIDTH - RIGHT} y={HEIGHT - 5} textAnchor="end">
          {points.length} batches
        </text>
      </svg>
      <details className="small">
        <summary>As a table</summary>
        <table className="facts">
          <thead>
            <tr>
              <th scope="col">Batch</th>
              <th scope="col">gave</th>
              <th scope="col">known then</th>
            </tr>
          </thead>
          <tbody>
            {[...points].reverse().map((p) => (
              <tr key={p.batchId}>
                <th scope="row">
                  {dayMonth(p.on)}
                  {p.newBottle && ', new bottle'}
                </th>
                <td className="num">
                  {p.ppmPerMlL === null ? 'not read' : p.ppmPerMlL.toFixed(0)}
                  {p.tainted && ' (hollow)'}
                </td>
                <td className="num">
                  {p.mean.toFixed(0)} ± {p.sd.toFixed(0)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
