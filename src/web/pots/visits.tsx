import { useState } from 'react';
import type { PotView } from '../../contract/pots.ts';
import type { Ahead } from './ahead.ts';
import { VisitChart } from './visit-chart.tsx';
import { VisitTable } from './visit-table.tsx';

const SPANS = [
  { weeks: 10, words: 'Ten weeks' },
  { weeks: 26, words: 'Half a year' },
  { weeks: 53, words: 'A year' },
] as const;

/** What was poured and what came out, as far back as one likes, drawn or as a table. */
export function Visits({ view, ahead }: { view: PotView; ahead: Ahead | undefined }) {
  const [weeks, setWeeks] = useState<number>(10);
  const [asTable, setAsTable] = useState(false);
  return (
    <div className="sheet visits">
      <div className="d-flex align-items-baseline gap-2 flex-wrap">
        <h2>{SPANS.find((s) => s.weeks === weeks)?.words}</h2>
        <span className="small">
          what was poured in, what the old reservoir read at the next visit{ahead && ', and two weeks to come'}
        </span>
        <div className="push d-flex gap-2">
          <select
            className="form-select form-select-sm w-auto"
            aria-label="How far back"
            value={weeks}
            onChange={(e) => setWeeks(Number(e.target.value))}
          >
            {SPANS.map((s) => (
              <option key={s.weeks} value={s.weeks}>
                {s.words}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="btn btn-sm btn-outline-secondary"
            aria-pressed={asTable}
            onClick={() => setAsTable(!asTable)}
          >
            {asTable ? 'Chart' : 'Table'}
          </button>
        </div>
      </div>
      {view.visits.length === 0 ? (
        <p className="small m-auto">Nothing was logged for this pot yet. Its first round starts the chart.</p>
      ) : asTable ? (
        <VisitTable view={view} weeks={weeks} />
      ) : (
        <VisitChart view={view} weeks={weeks} ahead={ahead} />
      )}
    </div>
  );
}
