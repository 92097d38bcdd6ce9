import { scaleLinear } from 'd3-scale';
import { area } from 'd3-shape';
import { REACHED, reachable, type ReachedElement } from '../../core/drift/index.ts';
import { ELEMENT_WORDS } from '../../core/solution/index.ts';
import { phText, upperFirst } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';

const TRACES = new Set<ReachedElement>(['Fe', 'Mn', 'B', 'Cu', 'Zn']);
const STEPS = 41;
const ROW = 14.2;
const TOP = 34;

/** What the roots can reach by pH, with the stretch this pot walks through laid over it: a teaching picture. */
export function ReachCard({ code, path, days }: { code: string; path: readonly number[] | undefined; days: number }) {
  const narrow = useNarrow();
  const [WIDTH, LEFT] = narrow ? [390, 92] : [790, 112];
  const x = scaleLinear([4, 9], [LEFT, WIDTH - 20]);
  const HEIGHT = TOP + REACHED.length * ROW + 20;
  const phs = Array.from({ length: STEPS }, (_, i) => 4 + (5 * i) / (STEPS - 1));
  const marks = path
    ? [0, Math.round(days / 2), days].map((day) => ({ day, ph: path[Math.min(day, path.length - 1)]! }))
    : [];
  const [from, to] = path ? [Math.min(...path.slice(0, days + 1)), Math.max(...path.slice(0, days + 1))] : [0, 0];
  const least = path
    ? REACHED.filter((e) => e !== 'P')
        .map((e) => ({ e, lost: reachable(e, from) - reachable(e, to) }))
        .sort((a, b) => b.lost - a.lost)[0]
    : undefined;
  // Beside the stretch, on the side that has more room.
  const right = WIDTH - 20 - x(to) > x(from) - LEFT;
  const beside = { x: right ? x(to) + 14 : x(from) - 14, anchor: right ? ('start' as const) : ('end' as const) };
  const ribbon = (element: ReachedElement) =>
    area<number>()
      .x((ph) => x(ph))
      .y0((ph) => -0.43 * ROW * reachable(element, ph))
      .y1((ph) => 0.43 * ROW * reachable(element, ph))(phs) ?? '';
  return (
    <section className="sheet rib" aria-label="What the roots can reach, by pH">
      <div className="d-flex align-items-baseline gap-2 flex-wrap">
        <h2>What the roots can reach, by pH</h2>
        <span className="small">
          a teaching picture, relative: after the USDA yearbook of 1943–47, for soils; chelates in a feed keep iron
          longer
        </span>
      </div>
      <figure className="reach-figure">
        <figcaption className="visually-hidden">
          {path
            ? `${code} goes from pH ${phText(from)} to ${phText(to)} in ${days} days.${least && least.lost > 0.05 ? ` ${upperFirst(ELEMENT_WORDS[least.e])} thins out first.` : ''}`
            : 'How much of each element roots can reach from pH 4 to 9.'}
        </figcaption>
        <svg className="chart" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="xMidYMin meet" aria-hidden>
          {path && <rect x={x(from)} y={12} width={Math.max(1, x(to) - x(from))} height={HEIGHT - 32} fill="#f0e8d2" />}
          {REACHED.map((element, i) => {
            const strong = TRACES.has(element) ? '#c98a68' : '#5a9ea0';
            return (
              <g key={element} transform={`translate(0 ${TOP + i * ROW + ROW / 2})`}>
                <text x={4} y={4} fontSize="12" fontWeight="700" fill="#1e2b2c">
                  {element}
                </text>
                {!narrow && (
                  <text x={30} y={4} fontSize="12" fill="#54615f">
                    {ELEMENT_WORDS[element]}
                  </text>
                )}
                <path d={ribbon(element)} fill={strong} opacity="0.3" />
                {path && (
                  <>
                    <clipPath id={`walk-${element}`}>
                      <rect x={x(from)} y={-ROW} width={Math.max(1, x(to) - x(from))} height={2 * ROW} />
                    </clipPath>
                    <path d={ribbon(element)} fill={strong} clipPath={`url(#walk-${element})`} />
                  </>
                )}
              </g>
            );
          })}
          {marks.map((m, i) => (
            <g key={m.day}>
              <path d={`M${x(m.ph)} 24V${HEIGHT - 20}`} stroke="#1e2b2c" strokeDasharray="2 3" />
              <circle
                cx={x(m.ph)}
                cy={22}
                r="4.500"
                fill={i === 2 ? '#a24e2c' : '#fffdf8'}
                stroke={i === 2 ? '#a24e2c' : '#1e2b2c'}
                strokeWidth="1.800"
              />
              {(i !== 1 || Math.abs(x(m.ph) - x(marks[0]!.ph)) > 34) &&
                (i !== 2 || marks.slice(0, 2).every((other) => Math.abs(x(m.ph) - x(other.ph)) > 20)) && (
                  <text
                    x={x(m.ph)}
                    y={11}
                    textAnchor="middle"
                    fontSize="12"
                    fontWeight="700"
                    fill={i === 2 ? '#a24e2c' : '#1e2b2c'}
                  >
                    {i === 0 ? 'day 0' : m.day}
                  </text>
                )}
            </g>
          ))}
          {path && !narrow && (
            <text x={beside.x} y={24} textAnchor={beside.anchor} fontSize="12" fill="#54615f">
              {code} over {days} days.
              {least && least.lost > 0.05 ? ` ${upperFirst(ELEMENT_WORDS[least.e])} thins out first as it climbs.` : ''}
            </text>
          )}
          {[4, 5, 6, 7, 8, 9].map((ph) => (
            <text key={ph} x={x(ph)} y={HEIGHT - 5} textAnchor="middle" fontSize="12" fill="#54615f">
              {ph === 4 ? 'pH 4' : ph}
            </text>
          ))}
        </svg>
      </figure>
    </section>
  );
}
