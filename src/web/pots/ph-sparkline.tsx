import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';

const W = 82;
const H = 26;

/** The last pH readings of a pot, oldest first, over the stretch where it should be. Words stand beside it. */
export function PhSparkline({ phs, low, high }: { phs: readonly number[]; low: number; high: number }) {
  const x = scaleLinear([0, Math.max(1, phs.length - 1)], [3, W - 5]);
  const y = scaleLinear([Math.min(5, ...phs), Math.max(7.2, ...phs)], [H - 3, 3]);
  const path = line<number>()
    .x((_, i) => x(i))
    .y((ph) => y(ph));
  return (
    <svg className="ph-sparkline" viewBox={`0 0 ${W} ${H}`} width={W} height={H} aria-hidden>
      <rect x="0" y={y(high)} width={W} height={y(low) - y(high)} fill="#dcebdf" />
      <path d={path(phs) ?? ''} fill="none" stroke="#a24e2c" strokeWidth="1.4" />
      {phs.map((ph, i) => (
        <circle
          key={i}
          cx={x(i)}
          cy={y(ph)}
          r={i === phs.length - 1 ? 3.4 : 1.7}
          fill={i === phs.length - 1 ? '#a24e2c' : '#fffdf8'}
          stroke="#a24e2c"
          strokeWidth="1"
        />
      ))}
    </svg>
  );
}
