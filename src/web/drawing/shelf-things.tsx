import { useId, type ReactNode } from 'react';

/*
 * What stands on the Shelf, each drawn with its state: how full, what it shows, whether it can be trusted. Every figure is 96 high and stands
 * on its bottom edge. They are pictures beside their words, so assistive technology skips them.
 */

const INK = '#1e2b2c';
const SHEET = '#fffdf8';
const H = 96;
const pen = { fill: 'none', stroke: INK, strokeWidth: 1.7, strokeLinejoin: 'round', strokeLinecap: 'round' } as const;

function Figure({ width, children }: { width: number; children: ReactNode }) {
  return (
    <svg
      className="shelf-figure"
      width={width}
      height={H}
      viewBox={`0 0 ${width} ${H}`}
      aria-hidden="true"
      focusable="false"
    >
      {children}
    </svg>
  );
}

/** A shape filled to a share of its height. */
function Filled({
  d,
  level,
  top,
  tint,
  surface,
  width,
  children,
}: {
  d: string;
  level: number | null;
  top: number;
  tint: string;
  surface: string;
  width: number;
  children?: ReactNode;
}) {
  const id = useId();
  const y = H - (H - top) * Math.min(1, Math.max(0, level ?? 0));
  return (
    <>
      <clipPath id={id}>
        <path d={d} />
      </clipPath>
      <path d={d} fill={SHEET} />
      {level !== null && (
        <g clipPath={`url(#${id})`}>
          <rect x={0} y={y} width={width} height={H - y + 1} fill={tint} opacity={0.78} />
          <path d={`M0 ${y}H${width}`} stroke={surface} strokeWidth={1.3} />
          {children}
        </g>
      )}
      <path d={d} {...pen} />
    </>
  );
}

/** Still water in its tank, filled as far as was last known. */
export function TankFigure({ level }: { level: number | null }) {
  const d = `M8 ${H - 1}H88q7 0 7 -7V20q0 -9 -9 -9H10q-9 0 -9 9V${H - 8}q0 7 7 7z`;
  return (
    <Figure width={108}>
      <Filled d={d} level={level} top={14} tint="#3f8d93" surface="#0e5a63" width={96} />
      {[0.2, 0.4, 0.6, 0.8].map((f) => (
        <path key={f} d={`M2 ${H - (H - 14) * f}h8`} stroke={INK} strokeWidth={1.1} />
      ))}
      <path d={`M50 11v-6h18v6`} {...pen} />
      <path d={`M95 ${H - 14}h9v6M99 ${H - 18}v4`} {...pen} />
    </Figure>
  );
}

export function TapFigure() {
  return (
    <Figure width={70}>
      <path d={`M24 ${H}v-58q0 -22 21 -22t21 20v6`} fill="none" stroke={INK} strokeWidth={9} />
      <path d={`M24 ${H}v-58q0 -22 21 -22t21 20v6`} fill="none" stroke="#f3f0e8" strokeWidth={5.6} />
      <path d={`M14 ${H - 1}h20l-3 -9h-14z`} fill="#f3f0e8" stroke={INK} strokeWidth={1.7} strokeLinejoin="round" />
      <path d={`M19 ${H - 40}h-10`} stroke={INK} strokeWidth={3} strokeLinecap="round" />
      <circle cx={7} cy={H - 40} r={3.6} fill="#c98a68" stroke={INK} strokeWidth={1.4} />
      <path
        d={`M65 ${H - 46}q5 7 5 10.500a5 5 0 11-10 0q0 -3.500 5 -10.500z`}
        fill="#8fc1bf"
        stroke="#0e5a63"
        strokeWidth={1.3}
      />
    </Figure>
  );
}

/** A can of water standing open. */
export function CanFigure() {
  return (
    <Figure width={68}>
      <path d={`M6 34Q34 -8 62 34`} fill="none" stroke="#6f7a76" strokeWidth={1.7} />
      <Filled
        d={`M8 ${H - 5}q.4 4 4.400 4h43.200q4 0 4.400 -4L64 34H4z`}
        level={0.8}
        top={34}
        tint="#8fb7b6"
        surface="#0e5a63"
        width={68}
      >
        {[
          [20, 66],
          [31, 76],
          [44, 62],
          [38, 84],
        ].map(([x, y]) => (
          <circle key={x} cx={x} cy={y} r={2.4} fill={SHEET} stroke="#0e5a63" />
        ))}
      </Filled>
      {[
        [24, 26],
        [36, 16],
        [46, 25],
      ].map(([x, y]) => (
        <circle
          key={x}
          cx={x}
          cy={y}
          r={2.2}
          fill="none"
          stroke="#6f7a76"
          strokeWidth={1.1}
          strokeDasharray="2 1.600"
        />
      ))}
    </Figure>
  );
}

export function ButtFigure({ level }: { level: number | null }) {
  const d = `M11 ${H - 1}H71q8 -45 0 -88H11q-8 45 0 88z`;
  return (
    <Figure width={92}>
      <Filled d={d} level={level ?? 0.55} top={8} tint="#a5c3b0" surface="#2f6b45" width={84} />
      {[0.2, 0.5, 0.8].map((f) => (
        <path key={f} d={`M7 ${H - 90 * f}H75`} stroke={INK} strokeWidth={2.4} />
      ))}
      <path d={`M2 7H80`} stroke={INK} strokeWidth={3} strokeLinecap="round" />
      <path d={`M75 ${H - 14}h11v6M81 ${H - 18}v4`} {...pen} />
    </Figure>
  );
}

/** A bottle with its label; `level` null where nobody knows what is left. */
export function BottleFigure({
  level,
  label,
  tint,
  cap,
}: {
  level: number | null;
  label: string;
  tint: string;
  cap: string;
}) {
  const d = `M8 ${H - 1}H50q6 0 6 -6V32q0 -15 -16 -15V15H18v2q-16 0 -16 15V${H - 7}q0 6 6 6z`;
  return (
    <Figure width={58}>
      <Filled d={d} level={level} top={24} tint={tint} surface={INK} width={58} />
      <rect x={15} y={2} width={28} height={13} rx={2.5} fill={cap} stroke={INK} strokeWidth={1.7} />
      <Sticker x={2.8} width={52.4} y={H - 42} words={label} />
    </Figure>
  );
}

export function JarFigure({ level, label, tint }: { level: number | null; label: string; tint: string }) {
  const d = `M8 ${H - 1}H50q6 0 6 -6V39q0 -7 -6 -7H8q-6 0 -6 7V${H - 7}q0 6 6 6z`;
  return (
    <Figure width={58}>
      <Filled d={d} level={level} top={34} tint={tint} surface="#b9ad94" width={58} />
      <rect x={5} y={20} width={48} height={12} rx={2.5} fill="#b9ad94" stroke={INK} strokeWidth={1.7} />
      <Sticker x={2.8} width={52.4} y={H - 42} words={label} />
    </Figure>
  );
}

function Sticker({ x, y, width, words }: { x: number; y: number; width: number; words: string }) {
  return (
    <>
      <rect x={x} y={y} width={width} height={21} fill={SHEET} stroke={INK} strokeWidth={1.1} />
      <text
        x={x + width / 2}
        y={y + 15}
        textAnchor="middle"
        fontSize={words.length > 6 ? 10.5 : 12.5}
        fontWeight={650}
        fill={INK}
      >
        {words}
      </text>
    </>
  );
}

/** A pen with what it last showed; one that is off shows it on its side. */
export function PenFigure({ shows, tint, off }: { shows: string; tint: string; off: string | null }) {
  return (
    <Figure width={off ? 74 : 36}>
      <path
        d={`M8 4q0 -3 5 -3h10q5 0 5 3v58l-3 12h-14l-3 -12z`}
        fill={tint}
        stroke={INK}
        strokeWidth={1.7}
        strokeLinejoin="round"
      />
      <path
        d={`M12 74h12v14q0 4 -6 6q-6 -2 -6 -6z`}
        fill={SHEET}
        stroke={INK}
        strokeWidth={1.7}
        strokeLinejoin="round"
      />
      <path d="M16 79v9M20 79v9" stroke={INK} strokeWidth={1.2} />
      <rect x={3} y={12} width={30} height={19} rx={3} fill="#e3f0ee" stroke={INK} strokeWidth={1.4} />
      <text x={18} y={26} textAnchor="middle" fontSize={12} fontWeight={650} fill={off ? '#8c2f39' : INK}>
        {shows}
      </text>
      <circle cx={18} cy={41} r={2.6} fill={SHEET} stroke={INK} strokeWidth={1.2} />
      {off && (
        <>
          <path d="M40 34h30" stroke="#d8cdb9" strokeWidth={5} strokeLinecap="round" />
          <path d="M62 27v14" stroke="#2f6b45" strokeWidth={2.2} strokeLinecap="round" />
          <path d="M48 34m-5 0l5 -5.500 5 5.500 -5 5.500z" fill={SHEET} stroke="#8c2f39" strokeWidth={1.8} />
          <text x={53} y={20} textAnchor="middle" fontSize={12} fontWeight={650} fill="#8c2f39">
            {off}
          </text>
        </>
      )}
    </Figure>
  );
}

export function BenchMeterFigure({ shows }: { shows: string }) {
  return (
    <Figure width={76}>
      <rect x={4} y={H - 59} width={48} height={58} rx={5} fill="#d9dcd6" stroke={INK} strokeWidth={1.7} />
      <rect x={10} y={H - 52} width={36} height={21} rx={3} fill="#e3f0ee" stroke={INK} strokeWidth={1.3} />
      <text x={28} y={H - 37} textAnchor="middle" fontSize={12.5} fontWeight={650} fill={INK}>
        {shows}
      </text>
      {[17, 28, 39].map((x) => (
        <circle key={x} cx={x} cy={H - 18} r={3} fill={x === 39 ? '#c98a68' : SHEET} stroke={INK} strokeWidth={1.2} />
      ))}
      <path d={`M44 ${H - 59}q2 -28 13 -28t10 20v14`} {...pen} />
      <rect x={62.5} y={H - 53} width={9} height={52} rx={4.5} fill={SHEET} stroke={INK} strokeWidth={1.7} />
    </Figure>
  );
}

export function KitFigure() {
  return (
    <Figure width={54}>
      <path
        d={`M5 ${H - 1}h18v-30q0 -6 -6 -7v-3h-6v3q-6 1 -6 7z`}
        fill="#cfe1d4"
        stroke={INK}
        strokeWidth={1.6}
        strokeLinejoin="round"
      />
      <rect x={9} y={H - 52} width={10} height={11} rx={2} fill={SHEET} stroke={INK} strokeWidth={1.6} />
      {['#d9a441', '#c9b84a', '#8fae5a', '#4f9a72', '#3b7d8e'].map((c, i) => (
        <rect key={c} x={32} y={H - 60 + i * 11.8} width={17} height={11.8} fill={c} stroke={INK} strokeWidth={1.1} />
      ))}
    </Figure>
  );
}

export function DropperFigure({ known }: { known: boolean }) {
  return (
    <Figure width={known ? 30 : 60}>
      <path
        d={`M11.500 30h7v46l-2 14h-3l-2 -14z`}
        fill={known ? '#e3f0ee' : '#f3f0e8'}
        stroke={INK}
        strokeWidth={1.6}
        strokeLinejoin="round"
      />
      <path
        d="M8 30h14v-6q0 -3 -2 -4v-10q0 -9 -5 -9t-5 9v10q-2 1 -2 4z"
        fill={known ? '#a24e2c' : '#f3f0e8'}
        stroke={INK}
        strokeWidth={1.6}
        strokeLinejoin="round"
      />
      {!known && (
        <>
          <circle cx={44} cy={40} r={13} fill={SHEET} stroke="#7a590e" strokeWidth={1.8} strokeDasharray="4 3" />
          <text x={44} y={47} textAnchor="middle" fontSize={19} fontWeight={640} fill="#7a590e">
            ?
          </text>
        </>
      )}
    </Figure>
  );
}

export function SyringeFigure({ capacityMl }: { capacityMl: number }) {
  const half = capacityMl <= 1 ? 4 : capacityMl <= 5 ? 6.5 : 10;
  const [x, y1, y2] = [16, 24, 78];
  const plunger = 48;
  return (
    <Figure width={32}>
      <path
        d={`M${x - half} ${y1}h${2 * half}V${y2}l${2 - half} 5v9h-4v-9l${2 - half} -5z`}
        fill={SHEET}
        stroke={INK}
        strokeWidth={1.5}
        strokeLinejoin="round"
      />
      <rect x={x - half + 1} y={plunger} width={2 * half - 2} height={y2 - plunger - 1} fill="#bfdedb" />
      <path d={`M${x - half} ${plunger}h${2 * half}`} stroke={INK} strokeWidth={2} />
      <path
        d={`M${x} ${plunger}V12M${x - half - 1} 11h${2 * half + 2}M${x - half - 3} ${y1}h${2 * half + 6}`}
        {...pen}
        strokeWidth={1.5}
      />
      {[0.62, 0.76, 0.9].map((f) => (
        <path
          key={f}
          d={`M${x + half} ${y1 + (y2 - y1) * f}h${-Math.max(3, half * 0.6)}`}
          stroke={INK}
          strokeWidth={0.9}
        />
      ))}
    </Figure>
  );
}

export function SpoonFigure() {
  return (
    <Figure width={26}>
      <path
        d={`M10.800 26v40h4.400V26q0 -6 -2.200 -6t-2.200 6z`}
        fill="#d9dcd6"
        stroke={INK}
        strokeWidth={1.3}
        strokeLinejoin="round"
      />
      <ellipse cx={13} cy={H - 13} rx={9} ry={12} fill="#d9dcd6" stroke={INK} strokeWidth={1.5} />
    </Figure>
  );
}

export function ScaleFigure({ shows }: { shows: string }) {
  return (
    <Figure width={66}>
      <path
        d={`M4 ${H - 1}h58q3 0 2.500 -3l-3 -20H4.500l-3 20q-.5 3 2.500 3z`}
        fill="#d9dcd6"
        stroke={INK}
        strokeWidth={1.7}
        strokeLinejoin="round"
      />
      <path d={`M28 ${H - 24}v-6h10v6`} {...pen} />
      <path d={`M6 ${H - 32}h54`} stroke={INK} strokeWidth={3.4} strokeLinecap="round" />
      <rect x={14} y={H - 20} width={38} height={15.5} rx={3} fill="#e3f0ee" stroke={INK} strokeWidth={1.2} />
      <text x={33} y={H - 8} textAnchor="middle" fontSize={12} fontWeight={650} fill={INK}>
        {shows}
      </text>
    </Figure>
  );
}

/** A bucket or a jug. */
export function VesselFigure({ material }: { material: string }) {
  const tint = material === 'glass' ? '#e3f0ee' : material === 'zinc' || material === 'steel' ? '#d9dcd6' : '#efe6d2';
  return (
    <Figure width={60}>
      <path d="M8 44Q30 6 52 44" fill="none" stroke="#6f7a76" strokeWidth={1.7} />
      <path
        d={`M10 ${H - 5}q.4 4 4 4h32q3.600 0 4 -4L56 44H4z`}
        fill={tint}
        stroke={INK}
        strokeWidth={1.7}
        strokeLinejoin="round"
      />
    </Figure>
  );
}

/** A drop in a triangle: the usual caution at acids and alkalis. */
export function CautionFigure() {
  return (
    <svg className="caution-figure" width={26} height={24} viewBox="0 0 26 24" aria-hidden="true" focusable="false">
      <path
        d="M3 21q-2.500 0 -1.300 -2.300l9.300 -16q1.300 -2.200 2.600 0l9.300 16q1.200 2.300 -1.300 2.300z"
        transform="translate(.6 .6)"
        fill="#f5e8c8"
        stroke="#7a590e"
        strokeWidth={1.7}
        strokeLinejoin="round"
      />
      <path d="M13 8q4 5.200 4 7.500a4 4 0 11-8 0q0 -2.300 4 -7.500z" fill="#7a590e" />
    </svg>
  );
}
