import { extent } from 'd3-array';
import { scaleLinear, scaleUtc } from 'd3-scale';
import { line } from 'd3-shape';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { GROWTH, GROWTH_KEYS, growthWords, type GrowthKey } from '../../../contract/growth.ts';
import type { PotView } from '../../../contract/pots.ts';
import { blooms, growthAMonth, type Measured } from '../../../core/growth/index.ts';
import { dayMonth, dayMonthYear } from '../../shell/format.ts';
import { useWidth } from '../../shell/use-width.ts';
import { MeasureForm } from './measure-form.tsx';

/** Figures of one kind, oldest first. */
export const seriesOf = (measures: PotView['measures'], key: GrowthKey): Measured[] =>
  measures.flatMap(({ on, figures }) => (figures[key] === undefined ? [] : [{ on, value: figures[key] }]));

/** How the plant grew, as it was measured: a line for each thing that was, and what that comes to. */
export function GrowthCard({ view }: { view: PotView }) {
  const [measuring, setMeasuring] = useState(false);
  const [ref, width] = useWidth(560);
  return (
    <section className="sheet growth" aria-label="Growth">
      <div className="d-flex align-items-baseline gap-2">
        <h2>Growth</h2>
        <span className="small">{view.measures.length === 0 ? 'nothing measured yet' : ''}</span>
        <span className="push d-flex gap-3 align-items-baseline">
          <Link className="small" to="/pots/measure">
            A day for measuring
          </Link>
          {!view.pot.retiredOn && (
            <Button size="sm" variant="outline-secondary" onClick={() => setMeasuring(true)}>
              Measure
            </Button>
          )}
        </span>
      </div>
      <div ref={ref}>
        <GrowthLanes view={view} width={width} />
      </div>
      {view.measures.length > 0 && (
        <details>
          <summary className="small">As a table</summary>
          <GrowthTable measures={view.measures} />
        </details>
      )}
      {measuring && <MeasureForm pot={view.pot} today={view.today} onClose={() => setMeasuring(false)} />}
    </section>
  );
}

/** A line for each thing that was measured. */
export function GrowthLanes({ view, width }: { view: Pick<PotView, 'measures' | 'today'>; width: number }) {
  return GROWTH_KEYS.map((key) => {
    const series = seriesOf(view.measures, key);
    return series.length === 0 ? null : (
      <GrowthLane key={key} what={key} series={series} width={width} first={view.measures[0]!.on} today={view.today} />
    );
  });
}

const LANE = 46;
const NAME = 132;
const SAID = 150;
type LaneProps = { what: GrowthKey; series: readonly Measured[]; width: number; first: string; today: string };

function GrowthLane({ what, series, width, first, today }: LaneProps) {
  const narrow = width < 420;
  const from = narrow ? 8 : NAME;
  const x = scaleUtc([new Date(first), new Date(today)], [from + 6, Math.max(from + 60, width - SAID)]);
  const [low = 0, high = 1] = extent(series, ({ value }) => value);
  const y = scaleLinear([low, high === low ? low + 1 : high], [LANE - 10, 12]);
  const at = ({ on }: Measured) => x(new Date(on));
  const path = line<Measured>(at, ({ value }) => y(value));
  const last = series.at(-1)!;
  return (
    <div className="growth-lane">
      {narrow && <div className="small">{GROWTH[what].label}</div>}
      <svg
        width={width}
        height={LANE}
        role="img"
        aria-label={`${GROWTH[what].label}: ${series.map(({ on, value }) => `${growthWords(what, value)} on ${dayMonthYear(on)}`).join(', ')}`}
      >
        {!narrow && (
          <text className="name" x={0} y={LANE / 2 + 4}>
            {GROWTH[what].label}
          </text>
        )}
        <path d={path(series) ?? ''} />
        {series.map((measured) => (
          <circle key={measured.on} cx={at(measured)} cy={y(measured.value)} r={3.5} />
        ))}
        <text className="figure" x={Math.max(from + 60, width - SAID) + 12} y={LANE / 2 - 3}>
          {what === 'roots'
            ? growthWords(what, last.value)
            : `${last.value}${GROWTH[what].unit ? ` ${GROWTH[what].unit}` : ''}`}
        </text>
        <text className="said" x={Math.max(from + 60, width - SAID) + 12} y={LANE / 2 + 13}>
          {saidOf(what, series, today)}
        </text>
      </svg>
    </div>
  );
}

const UP: readonly GrowthKey[] = ['leafCm', 'leaves', 'potG', 'plantG'];

/** What a row of figures comes to, in few words. */
export function saidOf(what: GrowthKey, series: readonly Measured[], today: string): string {
  const last = series.at(-1)!;
  if (what === 'flowers') {
    const bloom = blooms(series, today).at(-1);
    if (bloom) return bloom.to ? `in flower ${bloom.days} days` : `in flower since ${dayMonth(bloom.from)}`;
  }
  const month = UP.includes(what) ? growthAMonth(series).at(-1) : undefined;
  const more = month?.on === last.on ? month.value.toFixed(1) : '0.0';
  if (more !== '0.0') return `+${more} a month`;
  return `on ${dayMonth(last.on)}`;
}

export function GrowthTable({ measures }: { measures: PotView['measures'] }) {
  const kinds = GROWTH_KEYS.filter((key) => measures.some(({ figures }) => figures[key] !== undefined));
  return (
    <div className="table-scroll">
      <table className="growth-table">
        <thead>
          <tr>
            <th scope="col">Day</th>
            {kinds.map((key) => (
              <th key={key} scope="col">
                {GROWTH[key].label}
                {GROWTH[key].unit && `, ${GROWTH[key].unit}`}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {measures.toReversed().map(({ eventId, on, figures, photoId }) => (
            <tr key={eventId}>
              <th scope="row">
                {dayMonthYear(on)}
                {photoId && <span className="small"> in a photo</span>}
              </th>
              {kinds.map((key) => (
                <td key={key} className="num">
                  {figures[key] === undefined
                    ? ''
                    : key === 'roots'
                      ? growthWords(key, figures[key]).slice(6)
                      : figures[key]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
