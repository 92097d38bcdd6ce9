import { memo } from 'react';
import type { Stage } from '../../contract/common.ts';

const GREEN = '#3d6b4a';
const DEEP = '#2f5a3f';
const BLOOM = '#b56a86';

/** The plant above the pot in one of five stages, in the pot section's box (0 to 72 by 0 to 40). */
export const PlantFigure = memo(function PlantFigure({ stage, bold = false }: { stage: Stage; bold?: boolean }) {
  const stem = { stroke: GREEN, strokeWidth: bold ? 2.7 : 2, fill: 'none', strokeLinecap: 'round' } as const;
  switch (stage) {
    case 'rooting':
      return (
        <g>
          <path d="M32 39V29" {...stem} />
          <path d="M32 33q1-6 8-8q-1 7-8 8z" fill={GREEN} />
          <path d="M32 35q-5-1-6-6q6 0 6 6z" fill={DEEP} />
        </g>
      );
    case 'growth':
      return (
        <g>
          <path d="M32 39V19" {...stem} />
          <path d="M32 33Q19 31 16 18Q30 18 32 33z" fill={GREEN} />
          <path d="M32 28Q45 25 46 11Q33 13 32 28z" fill={DEEP} />
          <path d="M32 20Q28 12 32 4Q37 12 32 20z" fill={GREEN} />
        </g>
      );
    case 'rest':
      return (
        <g>
          <path d="M28.500 30Q25 25 24 18M35.500 32Q39 27 41 22" {...stem} />
          <ellipse cx="28.500" cy="33.500" rx="4" ry="6.500" fill={DEEP} />
          <ellipse cx="36" cy="35" rx="3.500" ry="5.200" fill={GREEN} />
        </g>
      );
    case 'spike':
      return (
        <g>
          <path d="M30 34Q18 32 15 22Q28 22 30 34z" fill={GREEN} />
          <path d="M33 35Q42 33 44 26Q35 26 33 35z" fill={DEEP} />
          <path d="M31 39Q31 14 49 9" {...stem} />
          <g fill={BLOOM} stroke={GREEN} strokeWidth="0.8">
            <ellipse cx="43" cy="11.5" rx="2.1" ry="2.7" />
            <ellipse cx="47.5" cy="8" rx="1.9" ry="2.5" />
            <ellipse cx="51.5" cy="7" rx="1.5" ry="2" />
          </g>
        </g>
      );
    case 'bloom':
      return (
        <g>
          <path d="M30 34Q18 32 15 22Q28 22 30 34z" fill={GREEN} />
          <path d="M33 35Q42 33 44 26Q35 26 33 35z" fill={DEEP} />
          <path d="M31 39Q31 16 46 10" {...stem} />
          <Flower x={48} y={8.5} r={bold ? 4 : 3.6} />
          <Flower x={38.5} y={15} r={bold ? 3.2 : 2.8} />
        </g>
      );
  }
});

function Flower({ x, y, r }: { x: number; y: number; r: number }) {
  const petals = [0, 72, 144, 216, 288].map(
    (a) => [x + r * Math.sin((a * Math.PI) / 180), y - r * Math.cos((a * Math.PI) / 180)] as const,
  );
  return (
    <g>
      {petals.map(([px, py]) => (
        <circle key={`${px.toFixed(1)}`} cx={px} cy={py} r={r * 0.72} fill={BLOOM} />
      ))}
      <circle cx={x} cy={y} r={r * 0.55} fill="#f4dfa2" />
    </g>
  );
}
