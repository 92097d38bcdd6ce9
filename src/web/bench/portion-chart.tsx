import { scaleLinear, type ScaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { BatchView, BenchRow } from '../../contract/bench.ts';
import type { CoachAdvice } from '../../contract/coach.ts';
import { doseMl, ppmText } from '../shell/format.ts';
import { amountWords } from './bench-words.ts';
import { useNarrow } from '../shell/use-narrow.ts';

const WIDTH = 600;
type Scale = ScaleLinear<number, number>;
type Adding = Extract<CoachAdvice, { kind: 'add' }>;
/** A reading on the chart. */
type Point = Pick<BenchRow, 'eventId' | 'totalMl' | 'readsPpm' | 'tainted' | 'kind'>;

/** What stood there before a part, and what was read since. */
function pointsOf(view: BatchView, part: BatchView['parts'][number], index: number) {
  const own = view.rows.filter((r) => r.readsPpm !== null && r.part === index && r.kind !== 'base');
  const over = part.overPpm ?? lastOf(view) ?? view.basePpm ?? view.water.expectedPpm ?? 0;
  const start: Point = { eventId: 'over', kind: 'base', totalMl: 0, readsPpm: over, tainted: false };
  // A base nobody read is no reading.
  const read = part.overPpm !== null || (view.basePpm !== null && !view.baseIsThought);
  const rows: Point[] = read ? [start, ...own] : own;
  return { over, rows };
}

/** What is drawn of a part, and on which scales. */
function plotOf(view: BatchView, part: BatchView['parts'][number], index: number, height: number) {
  const { advice } = view;
  const base = view.basePpm;
  const adding = advice.kind === 'add' && advice.part === index ? advice : undefined;
  const { over, rows } = pointsOf(view, part, index);
  const cone = view.at === index ? view.cone : [];
  const hard = part.aim?.hardPpm ?? Math.max((adding?.expected.highPpm ?? over) - over, 20);
  const top = Math.max(over + hard * 1.18, ...rows.map((r) => (r.readsPpm ?? 0) * 1.06));
  const furthest = Math.max(
    ...[...cone, ...rows].map((at) => at.totalMl),
    adding ? adding.doseMl * 1.15 : 0,
    part.aim ? (hard * view.volumeL * part.mlPerUnit) / Math.max(1, part.strength.ppmPerMlL) : 0,
  );
  const x = scaleLinear([0, furthest || 1], [50, WIDTH - 12]).nice(6);
  const y = scaleLinear([0, top], [height - 38, 18]);
  const band = part.aim && {
    low: over + part.aim.lowPpm,
    high: over + part.aim.highPpm,
    hard: over + part.aim.hardPpm,
  };
  const next = adding && { totalMl: part.totalMl + adding.doseMl, ppm: adding.expected.ppm };
  return { base, adding, over, rows, cone, top, x, y, band, next };
}

/** The chart in words. */
function summaryOf(
  rows: readonly Point[],
  band: { low: number; high: number } | null,
  next: { ppm: number } | undefined,
  adding: Adding | undefined,
): string {
  const last = rows.at(-1);
  const comfortable = band ? `; comfortable ${ppmText(band.low)} to ${ppmText(band.high)}` : '';
  const more = next && adding ? `; ${doseMl(adding.doseMl)} more should bring it to about ${ppmText(next.ppm)}` : '';
  if (!last) return `Nothing read yet${more}.`;
  return `${rows.length} reading${rows.length === 1 ? '' : 's'}, last ${ppmText(last.readsPpm!)} ppm${comfortable}${more}.`;
}

/** Reading against what was stirred in of one part: readings as dots, the band, the limit, and the cone of what comes next. */
export function PortionChart({ view, part: index }: { view: BatchView; part: number }) {
  const narrow = useNarrow();
  const HEIGHT = narrow ? 320 : 430;
  const part = view.parts[index];
  if (!part) return <PlainWater view={view} />;
  const { base, adding, over, rows, cone, top, x, y, band, next } = plotOf(view, part, index, HEIGHT);
  const coneArea = area<BatchView['cone'][number]>()
    .x((c) => x(c.totalMl))
    .y0((c) => y(Math.min(top, c.lowPpm)))
    .y1((c) => y(Math.min(top, c.highPpm)));
  const middle = line<BatchView['cone'][number]>()
    .defined((c) => c.ppm <= top)
    .x((c) => x(c.totalMl))
    .y((c) => y(c.ppm));
  const path = line<(typeof rows)[number]>()
    .x((r) => x(r.totalMl))
    .y((r) => y(r.readsPpm ?? 0));
  const summary = summaryOf(rows, band, next, adding);
  return (
    <figure className="portion-figure">
      <figcaption>
        <h2>Reading against {part.short} added</h2>
        <span className="small">
          {view.ppmMeter
            ? 'the cone: what your own readings say comes next'
            : 'the cone: reckoned, for nobody reads it'}
        </span>
        <span className="visually-hidden">{summary} The table beside it holds the figures.</span>
      </figcaption>
      <svg className="chart" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="xMidYMid meet" aria-hidden>
        <Bands band={band} y={y} top={top} />
        <Before y={y} top={top} over={over} base={base} />
        <Axes x={x} y={y} top={top} height={HEIGHT} part={part} pen={view.ppmMeter?.name ?? 'Reckoned'} />
        {cone.length > 1 && <path d={coneArea(cone) ?? ''} fill="#a24e2c" opacity="0.2" />}
        {cone.length > 1 && <path d={middle(cone) ?? ''} stroke="#a24e2c" strokeDasharray="4 4" fill="none" />}
        <path d={path(rows) ?? ''} stroke="#0e5a63" strokeWidth="2.2" fill="none" />
        <Readings rows={rows} x={x} y={y} />
        <Next next={next} x={x} y={y} floor={over} adding={adding} />
      </svg>
    </figure>
  );
}

function Next({
  next,
  x,
  y,
  floor,
  adding,
}: {
  next: { totalMl: number; ppm: number } | undefined;
  x: Scale;
  y: Scale;
  floor: number;
  adding: Adding | undefined;
}) {
  if (!next || !adding) return null;
  return (
    <>
      <path d={`M${x(next.totalMl)} ${y(0)}V${y(next.ppm)}`} stroke="#a24e2c" strokeWidth="1.5" />
      <circle cx={x(next.totalMl)} cy={y(next.ppm)} r="6" fill="#a24e2c" />
      <text
        x={x(next.totalMl) + (x(next.totalMl) > WIDTH - 170 ? -10 : 12)}
        y={y((next.ppm + floor) / 2)}
        textAnchor={x(next.totalMl) > WIDTH - 170 ? 'end' : 'start'}
        fill="#a24e2c"
        fontWeight="650"
      >
        +{adding.toolKind === 'granules' ? amountWords(adding, 'granules') : doseMl(adding.doseMl)} → about{' '}
        {ppmText(next.ppm)}
      </text>
    </>
  );
}

function Readings({ rows, x, y }: { rows: readonly Point[]; x: Scale; y: Scale }) {
  return rows.map((r) => (
    <g key={r.eventId}>
      <circle
        cx={x(r.totalMl)}
        cy={y(r.readsPpm!)}
        r="5.5"
        fill="#fffdf8"
        stroke={r.tainted ? '#8c2f39' : '#0e5a63'}
        strokeWidth="2.2"
        strokeDasharray={r.tainted ? '3 2.500' : undefined}
      />
      <text x={x(r.totalMl) + 9} y={y(r.readsPpm!) + (r.kind === 'base' ? -8 : 17)} fontWeight="650" fill="#1e2b2c">
        {ppmText(r.readsPpm!)}
      </text>
    </g>
  ));
}

function Bands({ band, y, top }: { band: { low: number; high: number; hard: number } | null; y: Scale; top: number }) {
  if (!band) return null;
  return (
    <>
      <rect x="50" y={y(top)} width={WIDTH - 62} height={Math.max(0, y(band.hard) - y(top))} fill="#f3dcdc" />
      <text x="60" y={y(band.hard) - 8} fill="#8c2f39">
        past {ppmText(band.hard)}: thin it out
      </text>
      <rect x="50" y={y(band.high)} width={WIDTH - 62} height={y(band.low) - y(band.high)} fill="#dcebdf" />
      <text x="60" y={(y(band.high) + y(band.low)) / 2 + 4} fill="#2f6b45">
        comfortable, {ppmText(band.low)} to {ppmText(band.high)}
      </text>
    </>
  );
}

/** What stood in the water before this part. */
function Before({ y, top, over, base }: { y: Scale; top: number; over: number; base: number | null }) {
  return (
    <>
      {over > (base ?? 0) + 0.5 && (
        <>
          <rect x="50" y={y(over)} width={WIDTH - 62} height={y(base ?? 0) - y(over)} fill="#e6efe9" />
          <text x={WIDTH - 20} y={y(over) + 15} textAnchor="end" fill="#0e5a63">
            with what went in before, {ppmText(over)}
          </text>
        </>
      )}
      {base !== null && base > 0 && (
        <>
          <rect x="50" y={y(base)} width={WIDTH - 62} height={y(0) - y(base)} fill="#d3e6e4" />
          <text x={WIDTH - 20} y={base > top * 0.05 ? y(base) + 15 : y(base) - 6} textAnchor="end" fill="#0e5a63">
            the water’s own {ppmText(base)}
          </text>
        </>
      )}
    </>
  );
}

/** Ticks of both axes and what they say. */
function Axes({
  x,
  y,
  top,
  height,
  part,
  pen,
}: {
  x: Scale;
  y: Scale;
  top: number;
  height: number;
  part: BatchView['parts'][number];
  pen: string;
}) {
  return (
    <>
      {y.ticks(5).map((v) => (
        <g key={v}>
          <path d={`M46 ${y(v)}H50`} stroke="#6f7a76" />
          <text x="42" y={y(v) + 4} textAnchor="end" fill="#54615f">
            {v}
          </text>
        </g>
      ))}
      {x.ticks(6).map((v) => (
        <text key={v} x={x(v)} y={height - 20} textAnchor="middle" fill="#54615f">
          {v}
        </text>
      ))}
      <text x={WIDTH - 12} y={height - 5} textAnchor="end" fill="#54615f">
        {part.method === 'granules' ? 'g' : 'mL'} of {part.method === 'thinned' ? 'thinned ' : ''}
        {part.short}
        {part.method === 'stock' ? ' stock' : ''}
      </text>
      <text x="6" y="12" fill="#54615f">
        {pen}, ppm
      </text>
      <path d={`M50 ${y(0)}H${WIDTH - 12}M50 ${y(0)}V${y(top)}`} stroke="#b9b4a6" fill="none" />
    </>
  );
}

/** Nothing goes in: the water's own reading is all there is. */
function PlainWater({ view }: { view: BatchView }) {
  return (
    <figure className="portion-figure">
      <figcaption>
        <h2>Plain water</h2>
        <span className="small">
          {view.basePpm === null
            ? 'Read it, bring its pH into the window, and it is ready.'
            : `${view.water.name} reads ${ppmText(view.basePpm)}.`}
        </span>
      </figcaption>
    </figure>
  );
}

function lastOf(view: BatchView): number | undefined {
  return [...view.rows].reverse().find((r) => r.readsPpm !== null)?.readsPpm ?? undefined;
}
