import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { SoakView } from '../../contract/soak.ts';
import { phText } from '../shell/format.ts';

const [WIDTH, HEIGHT, LEFT] = [224, 112, 30];
type Point = { minutes: number; ph: number; low: number; high: number };

/** The readings of a soak test as dots, what the chemistry says of them as a line with its range. */
export function SoakChart({ soak }: { soak: SoakView }) {
  const reads = soak.reads.filter((r): r is typeof r & { ph: number } => r.ph !== null && !r.opened);
  const course: readonly Point[] = soak.result.ok ? soak.result.course : [];
  const end = Math.max(60, ...reads.map((r) => r.minutes));
  const all = [...reads.map((r) => r.ph), ...course.flatMap((p) => [p.low, p.high])];
  const x = scaleLinear([0, end], [LEFT, WIDTH - 8]);
  const y = scaleLinear([Math.min(...all) - 0.15, Math.max(...all) + 0.15], [HEIGHT - 20, 8]);
  const path = line<Point>()
    .x((p) => x(p.minutes))
    .y((p) => y(p.ph));
  const band = area<Point>()
    .x((p) => x(p.minutes))
    .y0((p) => y(p.low))
    .y1((p) => y(p.high));
  return (
    <figure className="soak-figure">
      <figcaption className="visually-hidden">
        pH {reads.map((r) => `${phText(r.ph)} at ${r.minutes} minutes`).join(', ')}.
      </figcaption>
      <svg className="chart" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
        {y.ticks(3).map((t) => (
          <g key={t}>
            <path d={`M${LEFT} ${y(t)}H${WIDTH - 8}`} stroke="#e9e3d5" />
            <text x={LEFT - 4} y={y(t) + 4} textAnchor="end" fontSize="11.500" fill="#54615f">
              {phText(t)}
            </text>
          </g>
        ))}
        <path d={`M${LEFT} 4V${HEIGHT - 20}H${WIDTH - 8}`} fill="none" stroke="#b9b4a6" />
        <path d={band([...course]) ?? ''} fill="#ecd9cb" opacity="0.8" />
        <path d={path([...course]) ?? ''} fill="none" stroke="#0e5a63" strokeWidth="1.800" />
        {reads.map((r) => (
          <circle
            key={r.eventId}
            cx={x(r.minutes)}
            cy={y(r.ph)}
            r="4"
            fill={r.tainted ? 'none' : '#fffdf8'}
            stroke="#0e5a63"
            strokeWidth="1.800"
            strokeDasharray={r.tainted ? '2 2' : undefined}
          />
        ))}
        {[0, Math.round(end / 4), Math.round(end / 2), end].map((t, i) => (
          <text key={i} x={x(t)} y={HEIGHT - 6} textAnchor="middle" fontSize="11.500" fill="#54615f">
            {i === 2 ? `${t} min` : t}
          </text>
        ))}
      </svg>
    </figure>
  );
}
