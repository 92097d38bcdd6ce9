import type { PotView } from '../../contract/pots.ts';
import { dayMonthYear, ppmText } from '../shell/format.ts';
import { ComingList } from './what-changes.tsx';

/** What it follows and followed, with what came of each, and the weeks ahead. */
export function RegimenHistory({ view }: { view: PotView }) {
  const { regimen, earlierRegimens } = view;
  const spells = [regimen, ...earlierRegimens];
  return (
    <section className="sheet regimen-history" aria-label="Regimens">
      <h2>What it follows</h2>
      <div className="spells">
        {spells.map((spell, i) => (
          <div key={spell.since + spell.name}>
            <b>{spell.name}</b>{' '}
            <span className="small">
              {i === 0 ? 'since' : 'from'} {dayMonthYear(spell.since)}
              {i > 0 && ` to ${dayMonthYear(spells[i - 1]!.since)}`}
            </span>
            <div className="small">{spell.reason}</div>
            <div className="small what-followed">
              {whatFollowed(view, spell.since, i === 0 ? undefined : spells[i - 1]!.since)}
            </div>
          </div>
        ))}
      </div>
      {view.coming.length > 0 && (
        <>
          <h2>The next six weeks</h2>
          <ComingList visits={view.coming} />
        </>
      )}
    </section>
  );
}

/** What was read while a regimen held, in one line: only the readings of pens that can be trusted. */
function whatFollowed(view: PotView, since: string, until: string | undefined): string {
  const visits = view.visits.filter(
    (v) => v.kind === 'filled' && v.on > since && (until === undefined || v.on <= until),
  );
  const ppm = visits.flatMap((v) =>
    v.cameOutPpmOnScale === null || v.tainted.includes('cameOutPpm') ? [] : [v.cameOutPpmOnScale],
  );
  const ph = visits.flatMap((v) =>
    v.cameOutPh.kind === 'value' && !v.tainted.includes('cameOutPh') ? [v.cameOutPh.value] : [],
  );
  const soaks = view.visits.filter(
    (v) => (v.kind === 'soaked' || v.kind === 'sprayed') && v.on >= since && (until === undefined || v.on <= until),
  ).length;
  const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
  const parts = [
    `${visits.length} filling${visits.length === 1 ? '' : 's'}`,
    soaks > 0 ? `${soaks} soak${soaks === 1 ? '' : 's'}` : '',
    ppm.length > 0 ? `old reservoir ${ppmText(mean(ppm))} ppm on average (${ppm.length} readings)` : '',
    ph.length > 0 ? `pH ${mean(ph).toFixed(1)}` : '',
  ];
  return parts.filter(Boolean).join(', ');
}
