/* The marks of a pot's chart. */

/** A reading; one of a pen later found off is drawn in a broken ring with nothing inside. */
export function Dot({
  cx,
  cy,
  r,
  of,
  tainted,
}: {
  cx: number;
  cy: number;
  r: number;
  of: 'poured' | 'out';
  tainted: boolean;
}) {
  const ink = of === 'poured' ? '#0e5a63' : '#a24e2c';
  if (tainted)
    return <circle cx={cx} cy={cy} r={r} fill="#fffdf8" stroke={ink} strokeWidth="1.500" strokeDasharray="2 2" />;
  return of === 'poured' ? (
    <circle cx={cx} cy={cy} r={r} fill={ink} />
  ) : (
    <circle cx={cx} cy={cy} r={r} fill="#fffdf8" stroke={ink} strokeWidth="2" />
  );
}

/** Read where it stands: beside the course of the old reservoirs, not of it. */
export function Reread({ cx, cy, tainted }: { cx: number; cy: number; tainted: boolean }) {
  return (
    <path
      d={`M${cx} ${cy - 6}l6 6l-6 6l-6-6z`}
      fill="#fffdf8"
      stroke="#a24e2c"
      strokeWidth="1.5"
      strokeDasharray={tainted ? '2 2' : undefined}
    />
  );
}

export function Lane({ title, y0, left, narrow }: { title: string; y0: number; left: number; narrow: boolean }) {
  return (
    <text x={narrow ? left : 4} y={narrow ? y0 - 4 : y0 + 10} fill="#1e2b2c" fontWeight="640" fontSize="13">
      {title}
    </text>
  );
}

export function EndLabel({
  x,
  y,
  text,
  fill,
  edge,
}: {
  x: number;
  y: number;
  text: string;
  fill: string;
  edge: number;
}) {
  const end = x > edge - 90;
  return (
    <text
      x={end ? x + 6 : x}
      y={y}
      textAnchor={end ? 'end' : 'middle'}
      fill={fill}
      fontWeight="650"
      fontSize="13"
      stroke="#fffdf8"
      strokeWidth="4"
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}

export function Eye({ x, y }: { x: number; y: number }) {
  return (
    <g>
      <path d={`M${x - 7} ${y}q7-8 14 0q-7 8-14 0z`} fill="#fffdf8" stroke="#1e2b2c" strokeWidth="1.300" />
      <circle cx={x} cy={y} r="2" fill="#1e2b2c" />
    </g>
  );
}
