import type { ScaleLinear, ScaleTime } from 'd3-scale';
import { area, line } from 'd3-shape';
import { mL, phText, ppmText } from '../shell/format.ts';
import type { Ahead, AheadPoint } from './ahead.ts';

type Scales = { x: ScaleTime<number, number>; y: ScaleLinear<number, number> };
const noon = (on: string) => new Date(`${on}T12:00:00Z`);
const CLAY = '#a24e2c';
const LATE = '#8c2f39';

/** A cone: the middle in dashes, its 90 % range as a band. */
function Cone({ points, scales: { x, y }, ink }: { points: readonly AheadPoint[]; scales: Scales; ink: string }) {
  const at = (p: AheadPoint) => x(noon(p.on));
  const band = area<AheadPoint>()
    .x(at)
    .y0((p) => y(p.band.low))
    .y1((p) => y(p.band.high));
  const middle = line<AheadPoint>()
    .x(at)
    .y((p) => y(p.band.middle));
  return (
    <>
      <path d={band([...points]) ?? ''} fill={ink} opacity="0.16" />
      <path d={middle([...points]) ?? ''} fill="none" stroke={ink} strokeWidth="1.600" strokeDasharray="5 4" />
    </>
  );
}

/** Strength to come: until the next visit, and then as planned and as it was flushed lately. */
export function PpmAhead({ ahead, scales }: { ahead: Ahead; scales: Scales }) {
  const { x, y } = scales;
  const end = (points: readonly AheadPoint[]) => points.at(-1);
  const [planned, lately] = [end(ahead.plan.ppm), ahead.lately && end(ahead.lately.ppm)];
  const edge = x.range()[1]! - 2;
  const label = (p: AheadPoint, flush: string | undefined, ink: string, dy: number) => (
    <text
      textAnchor="end"
      fontSize="12"
      fontWeight="650"
      fill={ink}
      stroke="#fbf4ea"
      strokeWidth="4"
      paintOrder="stroke"
      y={y(p.band.middle) + dy}
    >
      {flush !== undefined && <tspan x={edge}>after {flush}</tspan>}
      <tspan x={edge} dy={flush === undefined ? 0 : 14}>
        about {ppmText(p.band.middle)}
      </tspan>
    </text>
  );
  return (
    <g>
      <Cone points={ahead.nowPpm} scales={scales} ink={CLAY} />
      {ahead.lately && <Cone points={ahead.lately.ppm} scales={scales} ink={LATE} />}
      <Cone points={ahead.plan.ppm} scales={scales} ink={CLAY} />
      {lately && label(lately, ahead.lately!.words, LATE, -24)}
      {planned && label(planned, ahead.lately ? mL(ahead.plan.ml) : undefined, CLAY, 18)}
    </g>
  );
}

/** pH to come. */
export function PhAhead({ ahead, scales }: { ahead: Ahead; scales: Scales }) {
  const last = ahead.plan.ph.at(-1);
  return (
    <g>
      <Cone points={ahead.nowPh} scales={scales} ink={CLAY} />
      <Cone points={ahead.plan.ph} scales={scales} ink={CLAY} />
      {last && (
        <text
          x={scales.x(noon(last.on)) - 2}
          y={scales.y(last.band.middle) - 8}
          textAnchor="end"
          fontSize="12"
          fontWeight="650"
          fill={CLAY}
          stroke="#fffdf8"
          strokeWidth="4"
          paintOrder="stroke"
        >
          {phText(last.band.middle)}
        </text>
      )}
    </g>
  );
}

/** The figures to come, in words. */
export function aheadWords(ahead: Ahead): string {
  const visit = ahead.nowPpm.at(-1);
  const last = ahead.plan.ppm.at(-1);
  const range = (p: AheadPoint) => `${ppmText(p.band.low)} to ${ppmText(p.band.high)}`;
  return [
    visit && ` By its next visit about ${ppmText(visit.band.middle)} ppm, nine times in ten ${range(visit)}.`,
    last && ` Flushed with ${ahead.plan.words}, about ${ppmText(last.band.middle)} at the visit after.`,
    ahead.lately?.ppm.at(-1) &&
      ` Flushed with ${ahead.lately.words} as lately, about ${ppmText(ahead.lately.ppm.at(-1)!.band.middle)}.`,
  ]
    .filter(Boolean)
    .join('');
}
