import { scaleLinear } from 'd3-scale';

type Props = {
  low: number;
  high: number;
  ph?: number | undefined;
  expected?: number | undefined;
  label: string;
  width?: number;
};

/** The pH gauge lying down, 4 to 9: the comfortable stretch, and a pointer where something was read. */
export function PhGauge({ low, high, ph, expected, label, width = 300 }: Props) {
  const x = scaleLinear([4, 9], [14, width - 14]).clamp(true);
  const words =
    ph === undefined
      ? `${label}: not read yet, comfortable ${low} to ${high}`
      : `${label}: ${ph.toFixed(1)}, comfortable ${low} to ${high}`;
  return (
    <svg
      className="ph-gauge"
      viewBox={`0 0 ${width} 50`}
      width="100%"
      style={{ maxWidth: width }}
      role="img"
      aria-label={words}
    >
      <path d={`M${x(4)} 26H${x(9)}`} stroke="#d8cdb9" strokeWidth="7" strokeLinecap="round" />
      <path d={`M${x(low)} 26H${x(high)}`} stroke="#7fb08e" strokeWidth="13" strokeLinecap="round" />
      {[4, 5, 6, 7, 8, 9].map((v) => (
        <text key={v} x={x(v)} y="48" fontSize="12" textAnchor="middle" fill="#54615f">
          {v}
        </text>
      ))}
      {expected !== undefined && ph === undefined && (
        <path d={`M${x(expected)} 18l-6-11h12z`} fill="none" stroke="#a24e2c" strokeWidth="1.5" />
      )}
      {ph !== undefined && (
        <>
          <path d={`M${x(ph)} 19l-6.5-12h13z`} fill={ph >= low && ph <= high ? '#1e2b2c' : '#8c2f39'} />
          <text
            x={x(ph) + (x(ph) > width - 60 ? -11 : 11)}
            y="14"
            fontSize="13"
            fontWeight="650"
            textAnchor={x(ph) > width - 60 ? 'end' : 'start'}
            fill={ph >= low && ph <= high ? '#1e2b2c' : '#8c2f39'}
          >
            {ph.toFixed(1)}
          </text>
        </>
      )}
    </svg>
  );
}
