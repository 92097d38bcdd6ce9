import type { PotView, PotVisit } from '../../contract/pots.ts';
import { dayMonth, ppmText } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import type { Ahead } from './ahead.ts';
import { aheadWords } from './visit-ahead.tsx';
import { DateAxis, DoneLanes, PhLane, StrengthLane } from './visit-lanes.tsx';
import { TOP, visitLayout } from './visit-layout.ts';

/** Two lanes, strength and pH: poured against what the old reservoir read; below them what was done, visit by visit. */
export function VisitChart({ view, weeks, ahead }: { view: PotView; weeks: number; ahead: Ahead | undefined }) {
  const at = visitLayout(view, weeks, ahead, useNarrow());
  const { width, height, x, ticks, bottom, nowX } = at;
  const summary = summarise(view, at.fills) + (ahead ? aheadWords(ahead) : '');
  return (
    <figure className="visit-figure">
      <figcaption className="visually-hidden">{summary} The same as a table: press Table.</figcaption>
      <svg className="chart" viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="xMidYMin meet" aria-hidden>
        {ticks.map((t) => (
          <path key={+t} d={`M${x(t)} ${TOP}V${bottom}`} stroke="#ece6d8" />
        ))}
        {ahead && (
          <rect
            x={nowX}
            y={TOP}
            width={Math.max(0, width - 8 - nowX)}
            height={bottom - TOP}
            fill="#f3eadb"
            opacity="0.55"
          />
        )}
        <StrengthLane at={at} />
        <PhLane at={at} />
        <DoneLanes at={at} />
        <DateAxis at={at} />
      </svg>
    </figure>
  );
}

function summarise(view: PotView, fills: readonly PotVisit[]): string {
  const read = fills.filter((v) => v.cameOutPpmOnScale !== null);
  const last = read.at(-1);
  const hollow = fills.filter((v) => v.tainted.length > 0).length;
  return `${view.pot.code}: ${fills.length} fillings, the old reservoir read at ${read.length} of them.${last ? ` It last read ${ppmText(last.cameOutPpmOnScale!)} ppm on ${dayMonth(last.on)}; the aim is ${ppmText(view.aim.lowPpm)} to ${ppmText(view.aim.highPpm)}.` : ''}${hollow ? ` At ${hollow} visits a reading is hollow: its pen was later found off.` : ''}`;
}
