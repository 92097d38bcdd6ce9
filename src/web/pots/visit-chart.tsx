import { max } from 'd3-array';
import { scaleLinear, scaleUtc } from 'd3-scale';
import { line } from 'd3-shape';
import type { PotView, PotVisit } from '../../contract/pots.ts';
import { CUE_NAMES, type Look } from '../../contract/seen.ts';
import type { Ahead } from './ahead.ts';
import { Dot, EndLabel, Eye, Lane, Reread } from './visit-marks.tsx';
import { aheadWords, PhAhead, PpmAhead } from './visit-ahead.tsx';
import { phText, ppmText, weekdayDayMonth, dayMonth } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';

/** Days drawn past today where they can be foretold. */
export const AHEAD_DAYS = 14;
const TOP = 16;
const DAY = 86_400_000;
const noon = (date: string) => new Date(`${date}T12:00:00Z`);

/** Two lanes, strength and pH: poured against what the old reservoir read; below them what was done, visit by visit. */
export function VisitChart({ view, weeks, ahead }: { view: PotView; weeks: number; ahead: Ahead | undefined }) {
  const narrow = useNarrow();
  const WIDTH = narrow ? 420 : 756;
  const LEFT = narrow ? 40 : 126;
  const laneH = narrow ? 170 : 262;
  const phTop = TOP + laneH + 26;
  const phH = narrow ? 90 : 132;
  const lanesTop = phTop + phH + 20;
  const rowH = narrow ? 19 : 24;
  const today = noon(view.today);
  const from = new Date(today.getTime() - weeks * 7 * DAY);
  const visits = view.visits.filter((v) => noon(v.on) >= from);
  const fills = visits.filter((v) => v.kind === 'filled');
  const rereads = visits.filter((v) => v.kind === 'reread');
  const skips = visits.filter((v) => v.kind === 'skipped');
  const soaks = visits.filter((v) => v.kind === 'soaked' || v.kind === 'sprayed');
  const x = scaleUtc([from, new Date(today.getTime() + (ahead ? AHEAD_DAYS : 5) * DAY)], [LEFT, WIDTH - 8]);
  const most = Math.max(
    view.aim.highPpm * 1.25,
    (max([...fills, ...rereads], (v) => Math.max(v.pouredPpm ?? 0, v.cameOutPpmOnScale ?? 0)) ?? 0) * 1.08,
    ...[...(ahead?.nowPpm ?? []), ...(ahead?.plan.ppm ?? []), ...(ahead?.lately?.ppm ?? [])].map(
      (p) => p.band.high * 1.04,
    ),
  );
  const y = scaleLinear([0, most], [TOP + laneH, TOP]).nice(5);
  const phs = [
    ...[...fills, ...rereads].flatMap((v) => [v.pouredPh, phOf(v)]).filter((p): p is number => p !== null),
    ...[...(ahead?.nowPh ?? []), ...(ahead?.plan.ph ?? [])].flatMap((p) => [p.band.low, p.band.high]),
  ];
  const yPh = scaleLinear(
    [Math.min(view.phWindow.low - 0.4, ...phs), Math.max(view.phWindow.high + 0.4, ...phs)],
    [phTop + phH, phTop],
  ).nice(4);
  const dense = fills.length > 16;
  const r = dense ? 3 : 4.8;
  const poured = line<PotVisit>()
    .defined((v) => v.pouredPpm !== null)
    .x((v) => x(noon(v.on)))
    .y((v) => y(v.pouredPpm!));
  const out = line<PotVisit>()
    .defined((v) => v.cameOutPpmOnScale !== null)
    .x((v) => x(noon(v.on)))
    .y((v) => y(v.cameOutPpmOnScale!));
  const pouredPh = line<PotVisit>()
    .defined((v) => v.pouredPh !== null)
    .x((v) => x(noon(v.on)))
    .y((v) => yPh(v.pouredPh!));
  const outPh = line<PotVisit>()
    .defined((v) => phOf(v) !== null)
    .x((v) => x(noon(v.on)))
    .y((v) => yPh(phOf(v)!));
  // What came out is compared with what had been poured the visit before.
  const gaps = fills.flatMap((v, i) => {
    const before = fills[i - 1];
    return before?.pouredPpm != null && v.cameOutPpmOnScale !== null && v.cameOutPpmOnScale > before.pouredPpm * 1.35
      ? [{ v, poured: before.pouredPpm, gap: v.cameOutPpmOnScale - before.pouredPpm }]
      : [];
  });
  const labelled = dense ? [] : gaps.slice(-4);
  const lastOut = [...fills].reverse().find((v) => v.cameOutPpmOnScale !== null);
  const lastOutPh = [...fills].reverse().find((v) => phOf(v) !== null);
  const lastPoured = [...fills].reverse().find((v) => v.pouredPpm !== null);
  const rows = [
    'Flush',
    'Feed',
    ...(soaks.length ? ['Soak, spray'] : []),
    'Looked over',
    ...(skips.length ? ['Skipped'] : []),
  ];
  const height = lanesTop + rows.length * rowH + 28;
  const rowY = (i: number) => lanesTop + i * rowH + rowH / 2;
  const rowOf = (name: string) => rowY(rows.indexOf(name));
  const ticks = dense
    ? x.ticks(narrow ? 4 : 8)
    : fills
        .filter((_, i) => (fills.length - 1 - i) % (fills.length > (narrow ? 5 : 9) ? 2 : 1) === 0)
        .map((v) => noon(v.on));
  const nowX = x(today);
  const summary = summarise(view, fills) + (ahead ? aheadWords(ahead) : '');
  return (
    <figure className="visit-figure">
      <figcaption className="visually-hidden">{summary} The same as a table: press Table.</figcaption>
      <svg className="chart" viewBox={`0 0 ${WIDTH} ${height}`} preserveAspectRatio="xMidYMin meet" aria-hidden>
        {ticks.map((t) => (
          <path key={+t} d={`M${x(t)} ${TOP}V${lanesTop + rows.length * rowH}`} stroke="#ece6d8" />
        ))}
        <Lane title={narrow ? 'ppm' : 'Strength, ppm'} y0={TOP} left={LEFT} narrow={narrow} />
        <rect
          x={LEFT}
          y={y(view.aim.highPpm)}
          width={WIDTH - LEFT - 8}
          height={y(view.aim.lowPpm) - y(view.aim.highPpm)}
          fill="#dcebdf"
        />
        {!narrow && (
          <text
            x={LEFT - 34}
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
            <path d={`M${LEFT} ${y(v)}H${WIDTH - 8}`} stroke="#e9e3d5" />
            <text x={LEFT - 6} y={y(v) + 4} textAnchor="end" fill="#54615f" fontSize="12">
              {v}
            </text>
          </g>
        ))}
        {gaps.map(({ v, poured: p }) => (
          <path
            key={v.eventId}
            d={`M${x(noon(v.on))} ${y(p)}V${y(v.cameOutPpmOnScale!)}`}
            stroke="#8c2f39"
            strokeWidth="1.4"
            opacity="0.75"
          />
        ))}
        {ahead && (
          <rect
            x={nowX}
            y={TOP}
            width={Math.max(0, WIDTH - 8 - nowX)}
            height={lanesTop + rows.length * rowH - TOP}
            fill="#f3eadb"
            opacity="0.55"
          />
        )}
        {ahead && <PpmAhead ahead={ahead} scales={{ x, y }} />}
        <path d={poured(fills) ?? ''} stroke="#0e5a63" strokeWidth="2" fill="none" />
        <path d={out(fills) ?? ''} stroke="#a24e2c" strokeWidth="2" fill="none" />
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
        {lastOut && (
          <EndLabel
            x={x(noon(lastOut.on))}
            y={y(lastOut.cameOutPpmOnScale!) - 10}
            text={`came out ${ppmText(lastOut.cameOutPpmOnScale!)}`}
            fill="#a24e2c"
            edge={WIDTH}
          />
        )}
        {lastPoured && (
          <EndLabel
            x={x(noon(lastPoured.on))}
            y={y(lastPoured.pouredPpm!) + 20}
            text={`poured ${ppmText(lastPoured.pouredPpm!)}`}
            fill="#0e5a63"
            edge={WIDTH}
          />
        )}

        <Lane title="pH" y0={phTop} left={LEFT} narrow={narrow} />
        <rect
          x={LEFT}
          y={yPh(view.phWindow.high)}
          width={WIDTH - LEFT - 8}
          height={yPh(view.phWindow.low) - yPh(view.phWindow.high)}
          fill="#dcebdf"
        />
        {!narrow && (
          <text
            x={LEFT - 34}
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
          <text key={v} x={LEFT - 6} y={yPh(v) + 4} textAnchor="end" fill="#54615f" fontSize="12">
            {v}
          </text>
        ))}
        {ahead && <PhAhead ahead={ahead} scales={{ x, y: yPh }} />}
        <path d={pouredPh(fills) ?? ''} stroke="#0e5a63" strokeWidth="2" fill="none" />
        <path d={outPh(fills) ?? ''} stroke="#a24e2c" strokeWidth="2" fill="none" />
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
            edge={WIDTH}
          />
        )}

        {rows.map((row, i) => (
          <g key={row}>
            <path d={`M0 ${lanesTop + i * rowH}H${WIDTH - 8}`} stroke="#e4dccb" />
            <text x="4" y={rowY(i) + 4} fill="#1e2b2c" fontSize="12.5">
              {narrow ? (row === 'Looked over' ? 'Look' : row) : row}
            </text>
          </g>
        ))}
        {fills.map((v) => {
          const cx = x(noon(v.on));
          return (
            <g key={v.eventId} fontSize="11.5" fill="#54615f">
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
        })}
        {soaks.map((v) => {
          const cx = x(noon(v.on));
          return (
            <g key={v.eventId} fontSize="11.5" fill="#54615f">
              {v.supplement === 'silicate' ? (
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
        {skips.map((v) => (
          <path
            key={v.eventId}
            d={`M${x(noon(v.on)) - 4} ${rowOf('Skipped') - 4}l8 8m0 -8l-8 8`}
            stroke="#54615f"
            strokeWidth="2"
          />
        ))}
        <path d={`M0 ${lanesTop + rows.length * rowH}H${WIDTH - 8}`} stroke="#b9b4a6" />
        {ticks.map((t) => (
          <text
            key={+t}
            x={x(t)}
            y={lanesTop + rows.length * rowH + 17}
            textAnchor="middle"
            fill="#54615f"
            fontSize="12"
          >
            {dayMonth(t.toISOString().slice(0, 10))}
          </text>
        ))}
        <path d={`M${nowX} ${TOP}V${lanesTop + rows.length * rowH}`} stroke="#1e2b2c" strokeWidth="1.500" />
        <rect x={Math.min(nowX - 58, WIDTH - 124)} y="0" width="116" height="18" rx="9" fill="#1e2b2c" />
        <text x={Math.min(nowX, WIDTH - 66)} y="13" textAnchor="middle" fill="#fff" fontSize="12" fontWeight="650">
          today, {weekdayDayMonth(view.today)}
        </text>
      </svg>
    </figure>
  );
}

/** "fine", or the first thing that was not, in a word: there is room for no more between two rounds. */
function shortLook(look: Look): string {
  const cue = CUE_NAMES.find((name) => look.cues[name] !== undefined);
  return cue === undefined ? 'fine' : look.cues[cue]!.split(' ')[0]!;
}

function phOf(v: PotVisit): number | null {
  return v.cameOutPh.kind === 'value'
    ? v.cameOutPh.value
    : v.cameOutPh.kind === 'range'
      ? (v.cameOutPh.low + v.cameOutPh.high) / 2
      : null;
}

function summarise(view: PotView, fills: readonly PotVisit[]): string {
  const read = fills.filter((v) => v.cameOutPpmOnScale !== null);
  const last = read.at(-1);
  const hollow = fills.filter((v) => v.tainted.length > 0).length;
  return `${view.pot.code}: ${fills.length} fillings, the old reservoir read at ${read.length} of them.${last ? ` It last came out at ${ppmText(last.cameOutPpmOnScale!)} ppm on ${dayMonth(last.on)}; the aim is ${ppmText(view.aim.lowPpm)} to ${ppmText(view.aim.highPpm)}.` : ''}${hollow ? ` At ${hollow} visits a reading is hollow: its pen was later found off.` : ''}`;
}
