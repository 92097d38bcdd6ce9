import { memo, useId } from 'react';
import type { PotDrawing } from '../../contract/common.ts';
import { pebblesFor } from './pebbles.ts';
import { PlantFigure } from './plant-figure.tsx';
import { potWords } from './pot-words.ts';
import { reservoirTint } from './tint.ts';

type Props = {
  drawing: PotDrawing;
  /** Width in px, 40 to 240; the height follows (13 : 9). */
  size?: number;
  /** Anything that names the pot, so that its pebbles stay its own. */
  seed: string;
  /** Spoken before the state, such as "R-07 Coelogyne". */
  name?: string;
  /** True where the words stand beside it already. */
  decorative?: boolean;
};

const POT = 'M9.5 39.5h45l-4 56.700q-.5 2.8-3.3 2.800H16.800q-2.8 0-3.3-2.800z';
const INSIDE = 'M11 40h42l-4 56q-.3 2-2.4 2H17.400q-2.1 0-2.4-2z';
const FLOOR = 98;
const HOLE = 72;
const CRUST: [number, number, number][] = [
  [15, 42, 1.2],
  [22, 41.2, 1],
  [30, 42.4, 1.3],
  [38, 41.4, 1.1],
  [45, 42.2, 1.2],
  [49.5, 43.6, 0.9],
  [18.5, 44.2, 0.9],
  [26, 43.8, 1.1],
  [34.5, 44.4, 0.9],
  [41.5, 44, 1.1],
  [13.5, 45, 0.9],
  [29, 46, 0.8],
  [46, 46, 0.9],
  [21, 46.6, 0.8],
  [37.5, 46.8, 0.9],
  [50, 68.5, 1],
  [49, 70.8, 0.8],
  [50.5, 75.2, 0.9],
];

/**
 * The pot section: a cut through a pot. Clay, the reservoir at its level and tinted by strength, the drain hole, crust, the plant in
 * its stage, and the pH gauge beside it. One drawing for every pot, everywhere, at every size.
 */
export const PotSection = memo(function PotSection({ drawing, size = 72, seed, name, decorative = false }: Props) {
  const clip = useId();
  const { level, ratio, ph, phLow, phHigh, salts, form } = drawing;
  const coarse = size < 58;
  const surface = FLOOR - (FLOOR - HOLE) * level;
  const label = `${name ? `${name}: ` : ''}${potWords(drawing)}`;
  return (
    <svg
      className="pot-section"
      width={size}
      height={(size * 104) / 72}
      viewBox="0 0 72 104"
      {...(decorative ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label })}
    >
      <defs>
        <clipPath id={clip}>
          <path d={INSIDE} />
        </clipPath>
      </defs>
      <PlantFigure stage={drawing.stage} bold={coarse} />
      <g clipPath={`url(#${clip})`}>
        <rect x="8" y="38" width="50" height="62" fill={form === 'water' ? '#f7f5ee' : '#f3e6db'} />
        {form === 'water' ? <WaterRoots /> : form === 'bark' ? <Bark /> : <Clay seed={seed} coarse={coarse} />}
        <Reservoir level={level} surface={surface} ratio={ratio} form={form} coarse={coarse} drawing={drawing} />
      </g>
      <Crust salts={salts} coarse={coarse} />
      <path d={POT} fill="none" stroke="#1e2b2c" strokeWidth={coarse ? 2.3 : 1.7} strokeLinejoin="round" />
      {form === 'basket' && (
        <path
          d="M10.5 52h43M11.5 64h41M12.5 86h39M22 40l1.5 58M42 40l-1.5 58"
          stroke="#1e2b2c"
          strokeWidth={coarse ? 1.5 : 1}
          opacity="0.65"
        />
      )}
      <circle cx="52.6" cy={HOLE} r={coarse ? 2.2 : 1.8} fill="#fffdf8" stroke="#1e2b2c" strokeWidth="1.1" />
      <SideGauge ph={ph} low={phLow} high={phHigh} bold={coarse} />
    </svg>
  );
});

function Crust({ salts, coarse }: { salts: number; coarse: boolean }) {
  if (salts <= 0) return null;
  return (
    <g fill="#fff" stroke="#a1957b" strokeWidth={coarse ? 0.8 : 0.5}>
      {CRUST.slice(0, salts * 6).map(([x, y, r]) => (
        <circle key={`${x}-${y}`} cx={x} cy={y} r={coarse ? r * 1.35 : r} />
      ))}
    </g>
  );
}

function Reservoir({
  level,
  surface,
  ratio,
  form,
  coarse,
  drawing,
}: {
  level: number;
  surface: number;
  ratio: number | undefined;
  form: 'water' | 'clay' | 'bark' | 'basket';
  coarse: boolean;
  drawing: Props['drawing'];
}) {
  if (level <= 0.01) return null;
  return (
    <>
      <rect
        x="8"
        y={surface}
        width="50"
        height={FLOOR + 2 - surface}
        fill={reservoirTint(ratio)}
        opacity={form === 'water' ? 0.6 : 0.76}
      />
      {ratio === undefined && (
        <path d="M8 76l18 24M20 72l22 30M34 72l20 27M46 72l10 13" stroke="#616c68" strokeWidth="0.9" opacity="0.6" />
      )}
      <path
        d={`M8 ${surface}h50`}
        stroke="#0e5a63"
        strokeWidth={coarse ? 1.7 : 1.2}
        strokeDasharray={drawing.levelIsGuess ? '3 2.4' : undefined}
      />
    </>
  );
}

function Clay({ seed, coarse }: { seed: string; coarse: boolean }) {
  const [light, middle, dark] = pebblesFor(seed, coarse);
  return (
    <g stroke="#f3e6db" strokeWidth={coarse ? 0.7 : 0.4}>
      <path d={light} fill="#dcb59c" />
      <path d={middle} fill="#cf9d80" />
      <path d={dark} fill="#c38c6d" />
    </g>
  );
}

/** Chips lying every way. */
function Bark() {
  return (
    <path
      d="M12 46l8 3M24 43l7-2M35 47l9 2M47 44l6 4M14 56l7-4M25 53l4 7M36 57l8-3M48 53l3 7M13 64l9 3M27 67l7-4M39 65l3 6M46 68l7-3M15 76l6-4M25 74l8 3M38 79l7-4M47 76l4 5M16 87l7 2M28 85l5 6M37 89l9-2M46 90l5-4"
      stroke="#8a5a3c"
      strokeWidth="4.6"
      strokeLinecap="square"
    />
  );
}

function WaterRoots() {
  return (
    <path
      d="M30 40q-2 14-6 24t2 26M33 40q1 20 3 28t-3 24M36 40q3 12 8 20t0 24"
      stroke="#9db089"
      strokeWidth="1.5"
      fill="none"
      strokeLinecap="round"
    />
  );
}

/** pH 4 to 9 beside the pot: the comfortable stretch and a pointer; no pointer where nothing was read. */
function SideGauge({ ph, low, high, bold }: { ph: number | undefined; low: number; high: number; bold: boolean }) {
  const y = (v: number) => 98 - ((Math.min(9, Math.max(4, v)) - 4) / 5) * 58;
  const inside = ph !== undefined && ph >= low && ph <= high;
  return (
    <g>
      <path
        d="M65 40V98"
        stroke="#c9c2b1"
        strokeWidth="1.6"
        strokeLinecap="round"
        strokeDasharray={ph === undefined ? '2 4' : undefined}
      />
      <path d={`M65 ${y(high)}V${y(low)}`} stroke="#6da080" strokeWidth={bold ? 5.4 : 4.5} strokeLinecap="round" />
      {ph !== undefined && (
        <path
          d={`M59.5 ${y(ph)}l8.5-${bold ? 4.8 : 3.8}v${bold ? 9.6 : 7.6}z`}
          fill={inside ? '#1e2b2c' : '#8c2f39'}
          stroke="#fffdf8"
          strokeWidth="0.7"
        />
      )}
    </g>
  );
}
