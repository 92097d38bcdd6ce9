import { scaleLinear } from 'd3-scale';
import { reservoirTint } from './tint.ts';

/** The vessel with its marks, filled to where the batch stands. */
export function BucketPicture({
  volumeL,
  capacityL,
  strength,
}: {
  volumeL: number;
  capacityL: number;
  strength: number;
}) {
  const height = 400;
  const y = scaleLinear([0, capacityL], [height - 12, 44]);
  const inset = (v: number) => 8 * (1 - (y(v) - 44) / (height - 56));
  const level = Math.min(capacityL, volumeL);
  const marks = y.ticks(Math.min(6, Math.max(2, Math.floor(capacityL)))).filter((v) => v > 0 && v <= capacityL);
  return (
    <svg
      className="chart bucket"
      viewBox={`0 0 92 ${height}`}
      preserveAspectRatio="xMidYMid meet"
      role="img"
      aria-label={`${Number(volumeL.toFixed(2))} litres in a vessel of ${capacityL}`}
    >
      <path
        d={`M${18 - inset(level)} ${y(level)}H${74 + inset(level)}L74 ${height - 20}Q73 ${height - 12} 66 ${height - 12}H26Q19 ${height - 12} 18 ${height - 20}Z`}
        fill={reservoirTint(Math.max(0.35, strength))}
        opacity="0.8"
      />
      <path d={`M${18 - inset(level)} ${y(level)}H${74 + inset(level)}`} stroke="#0e5a63" strokeWidth="1.4" />
      <path
        d={`M8 34H84L76 ${height - 20}Q75 ${height - 9} 64 ${height - 9}H28Q17 ${height - 9} 16 ${height - 20}Z`}
        fill="none"
        stroke="#1e2b2c"
        strokeWidth="2.4"
        strokeLinejoin="round"
      />
      <path d="M8 34Q46 -16 84 34" fill="none" stroke="#6f7a76" strokeWidth="2" />
      {marks.map((v) => (
        <g key={v}>
          <path d={`M${73 + inset(v)} ${y(v)}h-11`} stroke="#1e2b2c" />
          <text x="44" y={y(v) + 4} fontSize="12" textAnchor="middle" fill="#1e2b2c">
            {v} L
          </text>
        </g>
      ))}
    </svg>
  );
}
