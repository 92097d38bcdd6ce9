import { line } from 'd3-shape';
import type { PotVisit } from '../../contract/pots.ts';
import { CUE_NAMES, type Look } from '../../contract/seen.ts';
import { dayMonth, phText, ppmText, weekdayDayMonth } from '../shell/format.ts';
import { PhAhead, PpmAhead } from './visit-ahead.tsx';
import { noon, phOf, TOP, type VisitLayout } from './visit-layout.ts';
import { Dot, EndLabel, Eye, Lane, Reread } from './visit-marks.tsx';
import { SOAKS } from '../../core/regimen/index.ts';

/* The lanes of a pot's chart, from top to bottom. */

type Props = { at: VisitLayout };

const drawLine = ({ x }: VisitLayout, y: (v: number) => number, of: (v: PotVisit) => number | null) =>
  line<PotVisit>()
    .defined((v) => of(v) !== null)
    .x((v) => x(noon(v.on)))
    .y((v) => y(of(v)!));
const pouredPpm = (v: PotVisit) => v.pouredPpm;
const outPpm = (v: PotVisit) => v.cameOutPpmOnScale;
const pouredPh = (v: PotVisit) => v.pouredPh;
const lastWith = (fills: readonly PotVisit[], of: (v: PotVisit) => number | null) =>
  [...fills].reverse().find((v) => of(v) !== null);

/** Strength: the aim, poured against what came out, and what lies ahead. */
export function StrengthLane({ at }: Props) {
  const { view, ahead, narrow, left, width, x, y, fills } = at;
  return (
    <>
      <Lane title={narrow ? 'ppm' : 'Strength, ppm'} y0={TOP} left={left} narrow={narrow} />
      <rect
        x={left}
        y={y(view.aim.highPpm)}
        width={width - left - 8}
        height={y(view.aim.lowPpm) - y(view.aim.highPpm)}
        fill="#dcebdf"
      />
      {!narrow && (
        <text
          x={left - 34}
          y={(y(view.aim.highPpm) + y(view.aim.lowPpm)) / 2 + 4}
          textAnchor="end"
          fill="#2f6b45"
          fontWeight="650"
          fontSize="12"
        >
          {view.aim.netPpm < 2 ? 'plain water' : `aim ${ppmText(view.aim.lowPpm)}–${ppmText(view.aim.highPpm)}`}
        </text>
      )}
      {y.ticks(5).map((v) => (
        <g key={v}>
          <path d={`M${left} ${y(v)}H${width - 8}`} stroke="#e9e3d5" />
          <text x={left - 6} y={y(v) + 4} textAnchor="end" fill="#54615f" fontSize="12">
            {v}
          </text>
        </g>
      ))}
      <Gaps at={at} />
      {ahead && <PpmAhead ahead={ahead} scales={{ x, y }} />}
      <path d={drawLine(at, y, pouredPpm)(fills) ?? ''} stroke="#0e5a63" strokeWidth="2" fill="none" />
      <path d={drawLine(at, y, outPpm)(fills) ?? ''} stroke="#a24e2c" strokeWidth="2" fill="none" />
      <StrengthDots at={at} />
      <StrengthLabels at={at} />
    </>
  );
}

/** What came out is compared with what had been poured the visit before. */
function gapsOf(fills: readonly PotVisit[]) {
  return fills.flatMap((v, i) => {
    const before = fills[i - 1];
    return before?.pouredPpm != null && v.cameOutPpmOnScale !== null && v.cameOutPpmOnScale > before.pouredPpm * 1.35
      ? [{ v, poured: before.pouredPpm, gap: v.cameOutPpmOnScale - before.pouredPpm }]
      : [];
  });
}

function Gaps({ at: { x, y, fills, dense } }: Props) {
  const gaps = gapsOf(fills);
  const labelled = dense ? [] : gaps.slice(-4);
  return (
    <>
      {gaps.map(({ v, poured: p }) => (
        <path
          key={v.eventId}
          d={`M${x(noon(v.on))} ${y(p)}V${y(v.cameOutPpmOnScale!)}`}
          stroke="#8c2f39"
          strokeWidth="1.4"
          opacity="0.75"
        />
      ))}
      {labelled.map(({ v, poured: p, gap }) => (
        <text
          key={v.eventId}
          x={x(noon(v.on)) + 6}
          y={(y(p) + y(v.cameOutPpmOnScale!)) / 2 + 4}
          fill="#8c2f39"
          fontSize="12"
          fontWeight="650"
        >
          +{ppmText(gap)}
        </text>
      ))}
    </>
  );
}

function StrengthDots({ at: { x, y, r, fills, rereads } }: Props) {
  return (
    <>
      {fills.map((v) => (
        <g key={v.eventId}>
          {v.pouredPpm !== null && (
            <Dot cx={x(noon(v.on))} cy={y(v.pouredPpm)} r={r} of="poured" tainted={v.tainted.includes('pouredPpm')} />
          )}
          {v.cameOutPpmOnScale !== null && (
            <Dot
              cx={x(noon(v.on))}
              cy={y(v.cameOutPpmOnScale)}
              r={r}
              of="out"
              tainted={v.tainted.includes('cameOutPpm')}
            />
          )}
        </g>
      ))}
      {rereads.map(
        (v) =>
          v.cameOutPpmOnScale !== null && (
            <Reread
              key={v.eventId}
              cx={x(noon(v.on))}
              cy={y(v.cameOutPpmOnScale)}
              tainted={v.tainted.includes('cameOutPpm')}
            />
          ),
      )}
    </>
  );
}

function StrengthLabels({ at: { x, y, fills, width } }: Props) {
  const lastOut = lastWith(fills, outPpm);
  const lastPoured = lastWith(fills, pouredPpm);
  return (
    <>
      {lastOut && (
        <EndLabel
          x={x(noon(lastOut.on))}
          y={y(lastOut.cameOutPpmOnScale!) - 10}
          text={`read ${ppmText(lastOut.cameOutPpmOnScale!)}`}
          fill="#a24e2c"
          edge={width}
        />
      )}
      {lastPoured && (
        <EndLabel
          x={x(noon(lastPoured.on))}
          y={y(lastPoured.pouredPpm!) + 20}
          text={`poured ${ppmText(lastPoured.pouredPpm!)}`}
          fill="#0e5a63"
          edge={width}
        />
      )}
    </>
  );
}

/** pH: the comfortable stretch, poured against what came out, and what lies ahead. */
export function PhLane({ at }: Props) {
  const { view, ahead, narrow, left, width, phTop, x, yPh, r, fills, rereads } = at;
  const lastOutPh = lastWith(fills, phOf);
  return (
    <>
      <Lane title="pH" y0={phTop} left={left} narrow={narrow} />
      <rect
        x={left}
        y={yPh(view.phWindow.high)}
        width={width - left - 8}
        height={yPh(view.phWindow.low) - yPh(view.phWindow.high)}
        fill="#dcebdf"
      />
      {!narrow && (
        <text
          x={left - 34}
          y={(yPh(view.phWindow.high) + yPh(view.phWindow.low)) / 2 + 4}
          textAnchor="end"
          fill="#2f6b45"
          fontWeight="650"
          fontSize="12"
        >
          comfortable
        </text>
      )}
      {yPh.ticks(4).map((v) => (
        <text key={v} x={left - 6} y={yPh(v) + 4} textAnchor="end" fill="#54615f" fontSize="12">
          {v}
        </text>
      ))}
      {ahead && <PhAhead ahead={ahead} scales={{ x, y: yPh }} />}
      <path d={drawLine(at, yPh, pouredPh)(fills) ?? ''} stroke="#0e5a63" strokeWidth="2" fill="none" />
      <path d={drawLine(at, yPh, phOf)(fills) ?? ''} stroke="#a24e2c" strokeWidth="2" fill="none" />
      {fills.map((v) => (
        <g key={v.eventId}>
          {v.pouredPh !== null && (
            <Dot cx={x(noon(v.on))} cy={yPh(v.pouredPh)} r={r} of="poured" tainted={v.tainted.includes('pouredPh')} />
          )}
          {phOf(v) !== null && (
            <Dot cx={x(noon(v.on))} cy={yPh(phOf(v)!)} r={r} of="out" tainted={v.tainted.includes('cameOutPh')} />
          )}
        </g>
      ))}
      {rereads.map(
        (v) =>
          phOf(v) !== null && (
            <Reread key={v.eventId} cx={x(noon(v.on))} cy={yPh(phOf(v)!)} tainted={v.tainted.includes('cameOutPh')} />
          ),
      )}
      {lastOutPh && (
        <EndLabel
          x={x(noon(lastOutPh.on))}
          y={yPh(phOf(lastOutPh)!) - 9}
          text={phText(phOf(lastOutPh)!)}
          fill="#a24e2c"
          edge={width}
        />
      )}
    </>
  );
}

/** What was done, a row each. */
export function DoneLanes({ at }: Props) {
  const { narrow, width, lanesTop, rowH, rows, rowY, rowOf, x, fills, skips } = at;
  return (
    <>
      {rows.map((row, i) => (
        <g key={row}>
          <path d={`M0 ${lanesTop + i * rowH}H${width - 8}`} stroke="#e4dccb" />
          <text x="4" y={rowY(i) + 4} fill="#1e2b2c" fontSize="12.5">
            {narrow ? (row === 'Looked over' ? 'Look' : row) : row}
          </text>
        </g>
      ))}
      {fills.map((v) => (
        <FillMarks key={v.eventId} v={v} at={at} />
      ))}
      <Soaks at={at} />
      {skips.map((v) => (
        <path
          key={v.eventId}
          d={`M${x(noon(v.on)) - 4} ${rowOf('Skipped') - 4}l8 8m0 -8l-8 8`}
          stroke="#54615f"
          strokeWidth="2"
        />
      ))}
    </>
  );
}

function FillMarks({ v, at: { x, rowY, rowOf, dense, narrow } }: Props & { v: PotVisit }) {
  const cx = x(noon(v.on));
  return (
    <g fontSize="11.5" fill="#54615f">
      {(v.flushMl ?? 0) > 0 && <path d={`M${cx - 5.5} ${rowY(0) - 5}h11l-5.500 10z`} fill="#0e5a63" />}
      <circle
        cx={cx}
        cy={rowY(1)}
        r="5"
        fill={v.pouredPpm === null ? 'none' : '#3f8d93'}
        stroke="#3f8d93"
        strokeWidth="1.500"
      />
      {v.look && <Eye x={cx} y={rowOf('Looked over')} />}
      {!dense && !narrow && (
        <>
          <text x={cx + 9} y={rowY(0) + 4}>
            {v.flushMl ? (v.flushMl / 1000).toFixed(1) : ''}
          </text>
          <text x={cx + 9} y={rowY(1) + 4}>
            {v.pouredPpm === null ? '?' : ppmText(v.pouredPpm)}
          </text>
          {v.look && (
            <text x={cx + 11} y={rowOf('Looked over') + 4}>
              {shortLook(v.look)}
            </text>
          )}
        </>
      )}
    </g>
  );
}

function Soaks({ at: { x, rowOf, narrow, soaks } }: Props) {
  return (
    <>
      {soaks.map((v) => {
        const cx = x(noon(v.on));
        return (
          <g key={v.eventId} fontSize="11.5" fill="#54615f">
            {v.supplement && !SOAKS[v.supplement].byPen ? (
              <path
                d={`M${cx - 5} ${rowOf('Soak, spray')}l2.500-4.500h5l2.500 4.500l-2.500 4.500h-5z`}
                fill="#6b6b86"
              />
            ) : (
              <path d={`M${cx} ${rowOf('Soak, spray') - 6}l6 6l-6 6l-6-6z`} fill="#a24e2c" />
            )}
            {!narrow && (
              <text x={cx + 9} y={rowOf('Soak, spray') + 4}>
                {v.pouredPpm === null ? '?' : ppmText(v.pouredPpm)}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

/** Days below the lanes, and where today stands. */
export function DateAxis({ at: { view, x, ticks, nowX, width, bottom } }: Props) {
  return (
    <>
      <path d={`M0 ${bottom}H${width - 8}`} stroke="#b9b4a6" />
      {ticks.map((t) => (
        <text key={+t} x={x(t)} y={bottom + 17} textAnchor="middle" fill="#54615f" fontSize="12">
          {dayMonth(t.toISOString().slice(0, 10))}
        </text>
      ))}
      <path d={`M${nowX} ${TOP}V${bottom}`} stroke="#1e2b2c" strokeWidth="1.500" />
      <rect x={Math.min(nowX - 58, width - 124)} y="0" width="116" height="18" rx="9" fill="#1e2b2c" />
      <text x={Math.min(nowX, width - 66)} y="13" textAnchor="middle" fill="#fff" fontSize="12" fontWeight="650">
        today, {weekdayDayMonth(view.today)}
      </text>
    </>
  );
}

/** "fine", or the first thing that was not, in a word: there is room for no more between two rounds. */
function shortLook(look: Look): string {
  const cue = CUE_NAMES.find((name) => look.cues[name] !== undefined);
  return cue === undefined ? 'fine' : look.cues[cue]!.split(' ')[0]!;
}
