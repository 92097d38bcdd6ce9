import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { ReactNode } from 'react';
import type { ClayBatchView, ClayLogLine } from '../../contract/clay.ts';
import type { ForecastBath, LeachForecast, PathPoint } from '../../core/clay/index.ts';
import { ppmText } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import { spanWords } from './clay-words.ts';
import { AIM_SHARE, shareLeft } from '../../core/clay/index.ts';

const [LEFT, RIGHT, TOP, BOTTOM] = [46, 16, 26, 62];
/** Drawn smaller on a phone, so that its words stay readable. */
const SIZES = { wide: { WIDTH: 742, HEIGHT: 424, days: 11 }, narrow: { WIDTH: 390, HEIGHT: 300, days: 6 } };
const CLAY = '#a24e2c';
const WATER = '#0e5a63';

type Props = {
  batch: ClayBatchView;
  forecast: LeachForecast;
  nowHours: number;
  /** What the pen shows of a strength at the half scale, over nothing: the base is added here. */
  onPen(halfPpm: number): number;
  basePpm: number;
  gatePpm: number;
  zone: string;
  startMs: number;
  summary: string;
  children?: ReactNode;
};

/** Where everything of the chart stands: its scales, what was read, and the model's lines. */
function leachLayout({ batch, forecast, nowHours, onPen, basePpm, gatePpm }: Props, narrow: boolean) {
  const { WIDTH, HEIGHT, days: mostDays } = SIZES[narrow ? 'narrow' : 'wide'];
  const { past, standing, coming } = forecast;
  const reads = batch.log.filter(
    (l): l is ClayLogLine & { ppm: number; atHours: number } =>
      l.kind === 'read' && l.ppm !== null && l.atHours !== null,
  );
  const shown = (half: number) => onPen(half) + basePpm;
  const endHours = Math.max(coming.at(-1)?.toHours ?? 0, standing.at(-1)?.atHours ?? 0, nowHours, 48);
  const days = Math.ceil(endHours / 24 + Math.max(0.9, endHours / 240));
  const x = scaleLinear([0, days * 24], [LEFT, WIDTH - RIGHT]);
  const top = Math.max(
    gatePpm + basePpm + 20,
    max(reads, (r) => r.ppm) ?? 0,
    ...[...past, ...coming].map((leach) => shown(leach.points.at(-1)!.mean) * 1.04),
    shown(standing.at(-1)?.mean ?? 0) * 1.25,
  );
  const y = scaleLinear([0, top * 1.08], [HEIGHT - BOTTOM, TOP]).clamp(true);
  const floor = HEIGHT - BOTTOM;
  const gateY = y(gatePpm + basePpm);
  const aimY = y(gatePpm * AIM_SHARE + basePpm);
  const path = line<PathPoint>()
    .x((p) => x(p.atHours))
    .y((p) => y(shown(p.mean)));
  const band = area<PathPoint>()
    .x((p) => x(p.atHours))
    .y0((p) => y(shown(p.low)))
    .y1((p) => y(shown(p.high)));
  const drawn = batch.leach === null ? [] : past;
  const pastLine = drawn
    .map((leach) => path(leach.points)!)
    .join('L')
    .replaceAll('LM', 'L');
  const ends = drawn.map((leach) => leach.points.at(-1)!);
  const tops = [
    ...(standing.length > 0 ? [...ends.slice(0, -1), standing.at(-1)!] : ends),
    ...coming.map((leach) => leach.points.at(-1)!),
  ];
  const share = shareLeft(forecast);
  const before = standing.at(-1) ?? drawn.at(-1)?.points.at(-1);
  const lastOf = (leach: ForecastBath) =>
    reads
      .filter((r) => r.atHours > leach.fromHours - 0.01 && r.atHours <= leach.toHours + 0.01)
      .sort((a, b) => a.atHours - b.atHours)
      .at(-1);
  return {
    ...{
      narrow,
      WIDTH,
      HEIGHT,
      mostDays,
      past,
      standing,
      coming,
      reads,
      shown,
      days,
      x,
      y,
      floor,
      gateY,
      aimY,
      path,
      band,
      drawn,
      pastLine,
      tops,
      share,
      before,
      lastOf,
    },
  };
}
type At = ReturnType<typeof leachLayout>;

/** The saw-tooth: what the pen read as dots, what the model says of the baths so far as a line, what comes next in dashes with its band. */
export function LeachChart(of: Props) {
  const narrow = useNarrow();
  const at = leachLayout(of, narrow);
  const { WIDTH, HEIGHT, drawn, standing, coming, x, floor } = at;
  return (
    <figure className="leach-figure">
      <svg className="chart" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={of.summary}>
        <Ground at={at} />
        <Bands at={at} />
        <Gate at={at} of={of} />
        <Lines at={at} />
        <Reads at={at} />
        <Coming at={at} of={of} />
        <LeachBars past={drawn} standing={standing} coming={coming} x={x} floor={floor} />
        <Days at={at} of={of} />
      </svg>
      {of.children}
    </figure>
  );
}

/** The stretch that is good enough, and the scale. */
function Ground({ at }: { at: At }) {
  const { WIDTH, y, floor, gateY } = at;
  return (
    <>
      <defs>
        <linearGradient id="leach-wash" gradientUnits="userSpaceOnUse" x1="0" x2="0" y1={TOP} y2={floor}>
          <stop offset="0" stopColor="#c98a68" stopOpacity={0.5} />
          <stop offset="0.7" stopColor="#bfdedb" stopOpacity={0.75} />
          <stop offset="1" stopColor="#bfdedb" stopOpacity={0.55} />
        </linearGradient>
      </defs>
      <rect x={LEFT} y={gateY} width={WIDTH - LEFT - RIGHT} height={Math.max(0, floor - gateY)} fill="#dcebdf" />
      {y.ticks(4).map((t) => (
        <g key={t}>
          <path d={`M${LEFT} ${y(t)}H${WIDTH - RIGHT}`} stroke="#ddd6c6" strokeWidth={0.8} opacity={0.75} />
          <text x={LEFT - 8} y={y(t) + 4.5} textAnchor="end" fill="#54615f">
            {t}
          </text>
        </g>
      ))}
      <text x={8} y={11} fill="#54615f">
        pen, ppm
      </text>
    </>
  );
}

/** What each water drew so far as a wash, and the bands of the model. */
function Bands({ at }: { at: At }) {
  const { coming, standing, shown, x, y, floor, path, band, drawn, tops } = at;
  return (
    <>
      {drawn.map((leach) => (
        <path
          key={leach.fromHours}
          d={`${path(leach.points)!}L${x(leach.toHours)} ${floor}H${x(leach.fromHours)}Z`}
          fill="url(#leach-wash)"
        />
      ))}
      {[standing, ...coming.map((leach) => leach.points)]
        .filter((points) => points.length > 0)
        .map((points) => (
          <path key={points[0]!.atHours} d={band([...points])!} fill={CLAY} opacity={0.2} />
        ))}
      {tops.length > 1 && (
        <path
          d={line<PathPoint>()
            .x((p) => x(p.atHours))
            .y((p) => y(shown(p.mean)))(tops)!}
          fill="none"
          stroke="#6f7a76"
          strokeWidth={1.2}
          strokeDasharray="1.5 4"
          strokeLinecap="round"
        />
      )}
    </>
  );
}

/** Good enough, and the aim. */
function Gate({ at, of }: { at: At; of: Props }) {
  const { WIDTH, floor, gateY, aimY } = at;
  const { gatePpm } = of;
  return (
    <>
      <path d={`M${LEFT} ${gateY}H${WIDTH - RIGHT}`} stroke="#2f6b45" strokeWidth={1.6} />
      <path d={`M${LEFT} ${aimY}H${WIDTH - RIGHT}`} stroke="#2f6b45" strokeWidth={1.2} strokeDasharray="2 3" />
      <text x={LEFT + 8} y={gateY - 5} fill="#2f6b45" fontWeight={650}>
        good enough: {ppmText(gatePpm)} over base
      </text>
      <text x={WIDTH - RIGHT - 4} y={Math.min(floor - 4, aimY + 14)} textAnchor="end" fill="#2f6b45">
        aim, {ppmText(gatePpm * AIM_SHARE)}
      </text>
      <path d={`M${LEFT} ${floor}H${WIDTH - RIGHT}M${LEFT} ${floor}V${TOP}`} stroke="#b9b4a6" fill="none" />
    </>
  );
}

/** The model’s line: so far, of the water that stands, and of those to come. */
function Lines({ at }: { at: At }) {
  const { narrow, standing, coming, shown, x, y, path, pastLine, tops, share, before } = at;
  return (
    <>
      {pastLine && <path d={pastLine} fill="none" stroke={WATER} strokeWidth={2.2} strokeLinejoin="round" />}
      {standing.length > 0 && (
        <path d={path([...standing])!} fill="none" stroke={CLAY} strokeWidth={1.8} strokeDasharray="5 4" />
      )}
      {coming.map((leach, i) => (
        <g key={leach.fromHours}>
          {(i > 0 || before) && (
            <path
              d={`M${x(leach.fromHours)} ${y(shown((i > 0 ? coming[i - 1]!.points.at(-1)! : before!).mean))}V${y(shown(leach.points[0]!.mean))}`}
              stroke={CLAY}
              strokeWidth={1.6}
              strokeDasharray="4 4"
            />
          )}
          <path d={path(leach.points)!} fill="none" stroke={CLAY} strokeWidth={1.8} strokeDasharray="5 4" />
        </g>
      ))}
      {share !== undefined && tops.length > 2 && !narrow && (
        <text x={x(tops[1]!.atHours) + 26} y={Math.max(y(shown(tops[1]!.mean)) + 4, 150)} fill="#54615f">
          each change leaves {share.toFixed(2)} of what was there
        </text>
      )}
    </>
  );
}

/** What the pen read; the last of each water larger, with its figure. */
function Reads({ at }: { at: At }) {
  const { reads, x, y, drawn, lastOf } = at;
  return (
    <>
      {reads.map((r) => {
        const last = drawn.some((leach) => lastOf(leach)?.eventId === r.eventId);
        return (
          <g key={r.eventId}>
            <circle
              cx={x(r.atHours)}
              cy={y(r.ppm)}
              r={last ? 5.5 : 4.2}
              fill="#fffdf8"
              stroke={r.tainted ? '#8c2f39' : WATER}
              strokeWidth={last ? 2.2 : 1.8}
              strokeDasharray={r.tainted ? '2 2' : undefined}
            >
              <title>{`${r.time}: ${ppmText(r.ppm)} ppm${r.tainted ? ', with a pen found off' : ''}`}</title>
            </circle>
            {last && (
              <text x={x(r.atHours) + 10} y={y(r.ppm) - 6} fill="#1e2b2c" fontWeight={650}>
                {ppmText(r.ppm)}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

/** Where the waters to come end, with how sure that is. */
function Coming({ at, of }: { at: At; of: Props }) {
  const { coming, shown, x, y, floor } = at;
  const { onPen } = of;
  return (
    <>
      {coming.slice(0, 5).map((leach, i) => {
        const end = leach.points.at(-1)!;
        const lastOne = i === coming.length - 1;
        const label = lastOne
          ? `${ppmText(shown(end.mean))} ± ${ppmText((onPen(end.high) - onPen(end.low)) / 2)}`
          : `about ${ppmText(shown(end.mean))}`;
        return (
          <g key={leach.toHours} fill={CLAY}>
            {lastOne && (
              <>
                <path
                  d={`M${x(end.atHours)} ${y(shown(end.high))}V${y(shown(end.low))}m-5 0h10M${x(end.atHours) - 5} ${y(shown(end.high))}h10`}
                  stroke={CLAY}
                  strokeWidth={1.5}
                />
                <circle
                  cx={x(end.atHours)}
                  cy={y(shown(end.mean))}
                  r={6}
                  fill="#fffdf8"
                  stroke={CLAY}
                  strokeWidth={2.2}
                />
              </>
            )}
            {(i < 2 || lastOne) && (
              <text
                x={x(end.atHours) + (lastOne ? 10 : 4)}
                y={lastOne ? Math.min(floor - 6, y(shown(end.mean)) + 19) : y(shown(end.mean)) - 10}
                fontWeight={650}
              >
                {label}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

/** Days below. */
function Days({ at, of }: { at: At; of: Props }) {
  const { HEIGHT, mostDays, days, x } = at;
  const { batch, nowHours, startMs, zone } = of;
  return (
    <>
      {Array.from({ length: days + 1 }, (_, d) => d)
        .filter((d) => days <= mostDays || d % Math.ceil(days / mostDays) === 0)
        .map((d) => {
          const isNow = batch.leach?.drainedAt === null && Math.floor(nowHours / 24 + 0.02) === d;
          return (
            <g key={d} textAnchor="middle">
              <text x={x(d * 24)} y={HEIGHT - 20} fill={isNow ? CLAY : '#1e2b2c'} fontWeight={isNow ? 650 : 400}>
                {new Date(startMs + d * 86_400_000).toLocaleDateString('en-GB', { weekday: 'short', timeZone: zone })}
              </text>
              <text x={x(d * 24)} y={HEIGHT - 4} fill="#54615f" fontSize={12.5}>
                {d === 0 ? 'day 0' : d}
              </text>
            </g>
          );
        })}
    </>
  );
}

/** The baths as bars under the days, the changes as numbered discs between them. */
function LeachBars({
  past,
  standing,
  coming,
  x,
  floor,
}: {
  past: readonly ForecastBath[];
  standing: readonly PathPoint[];
  coming: readonly ForecastBath[];
  x(hours: number): number;
  floor: number;
}) {
  const until = standing.at(-1)?.atHours;
  const started = past.map((leach, i) => ({
    fromHours: leach.fromHours,
    toHours: i === past.length - 1 && until !== undefined ? until : leach.toHours,
    past: true,
  }));
  const first = past.length === 0 && until !== undefined ? [{ fromHours: 0, toHours: until, past: false }] : [];
  const all = [...started, ...first, ...coming.map(({ fromHours, toHours }) => ({ fromHours, toHours, past: false }))];
  return (
    <g fontSize={12.5}>
      {all.map((leach, i) => {
        const left = x(leach.fromHours) + 1.5;
        const width = Math.max(0, x(leach.toHours) - x(leach.fromHours) - 3);
        const isPast = leach.past;
        const words = `${isPast ? '' : 'about '}${spanWords(leach.toHours - leach.fromHours)}`;
        return (
          <g key={leach.fromHours}>
            <rect
              x={left}
              y={floor + 8}
              width={width}
              height={18}
              rx={4}
              fill={isPast ? '#bfdedb' : '#fffdf8'}
              {...(isPast ? {} : { stroke: '#c98a68', strokeDasharray: '4 3' })}
            />
            {width > 62 && (
              <text x={left + width / 2} y={floor + 21.5} textAnchor="middle" fill={isPast ? WATER : CLAY}>
                {i === 0 && width > 92 ? `soak 1, ${words}` : width > 92 ? `${i + 1}, ${words}` : words}
              </text>
            )}
          </g>
        );
      })}
      {all.slice(1).map((leach, i) => {
        const done = i + 1 < past.length;
        const next = i + 1 === past.length;
        return (
          <g key={leach.fromHours}>
            <circle
              cx={x(leach.fromHours)}
              cy={floor}
              r={9}
              fill={done ? '#2f6b45' : next ? CLAY : '#fffdf8'}
              stroke={done ? '#2f6b45' : next ? CLAY : '#b9ad94'}
              strokeWidth={1.6}
            />
            <text
              x={x(leach.fromHours)}
              y={floor + 4.5}
              textAnchor="middle"
              fontWeight={700}
              fill={done || next ? '#fff' : '#54615f'}
            >
              {i + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}
