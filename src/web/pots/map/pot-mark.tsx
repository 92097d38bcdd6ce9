import { reservoirTint } from '../../drawing/tint.ts';
import type { PlacedPot } from '../pot-filters.ts';

/** Half a mark's width, px, at size 1. */
export const MARK = 8;

/** A pot seen small: its level and strength, a foot under it where it is due, a bloom, a ring where it is chosen. The picture around it says the words. */
export function PotMark({
  pot,
  x,
  y,
  chosen,
  scale = 1,
}: {
  pot: PlacedPot;
  x: number;
  y: number;
  chosen: boolean;
  scale?: number;
}) {
  const w = 7 * scale;
  const h = 15 * scale;
  const due = pot.due.daysLate >= 0;
  const level = Math.max(0.06, pot.drawing.level);
  const surface = y + h / 2 - h * 0.62 * level;
  const body = `M${x - w} ${y - h / 2}h${2 * w}l${-1.5 * scale} ${h}h${-2 * w + 3 * scale}z`;
  return (
    <>
      {chosen && <circle cx={x} cy={y} r={12 * scale} className="ring" />}
      <path d={body} fill="#f6e9df" />
      <path
        d={`M${x - w + 1.2 * scale} ${surface}h${2 * w - 2.4 * scale}l${-0.9 * scale} ${y + h / 2 - surface}h${-2 * w + 4.2 * scale}z`}
        fill={reservoirTint(pot.drawing.ratio)}
        opacity="0.9"
      />
      <path
        d={body}
        fill="none"
        stroke={due ? '#1e2b2c' : '#5f6b67'}
        strokeWidth={(due ? 1.9 : 1.2) * scale}
        strokeLinejoin="round"
      />
      {due && (
        <path d={`M${x - w - 1} ${y + h / 2 + 2.7 * scale}h${2 * w + 2}`} stroke="#1e2b2c" strokeWidth={2.6 * scale} />
      )}
      {pot.drawing.stage === 'bloom' && (
        <g fill="#b0527a">
          <circle cx={x - 2.6 * scale} cy={y - h / 2 - 2.4 * scale} r={2.5 * scale} />
          <circle cx={x + 2.6 * scale} cy={y - h / 2 - 2.4 * scale} r={2.5 * scale} />
          <circle cx={x} cy={y - h / 2 - 6 * scale} r={2.5 * scale} />
          <circle cx={x} cy={y - h / 2 - 3.4 * scale} r={1.4 * scale} fill="#f4dfa2" />
        </g>
      )}
    </>
  );
}
