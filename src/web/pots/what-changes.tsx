import { useQuery } from '@tanstack/react-query';
import type { ComingView, WhatChanges as Changes } from '../../contract/regimens.ts';
import { Link } from 'react-router';
import { ask } from '../shell/api.ts';
import { dayMonth, litres, weekdayDayMonth } from '../shell/format.ts';

/** What would change for these pots: their weeks ahead on another regimen, before anything is kept. */
export function WhatChanges({ regimenId, potIds }: { regimenId: string; potIds: readonly string[] }) {
  const changes = useQuery({
    queryKey: ['what-changes', regimenId, ...potIds],
    queryFn: () => ask<Changes>(`/api/pots/regimens/${regimenId}/what-changes`, { potIds }),
    enabled: regimenId !== '',
  });
  if (!changes.data)
    return (
      <section className="what-changes" aria-label="What would change" tabIndex={0}>
        <p className="small mb-0">{changes.isError ? changes.error.message : 'Looking ahead …'}</p>
      </section>
    );
  const { pots, before, after, weeks } = changes.data;
  const remarks = [...new Set(pots.flatMap((pot) => pot.remarks))];
  return (
    <section className="what-changes" aria-label="What would change" tabIndex={0}>
      <h3>The next {weeks} weeks</h3>
      <p className="small mb-1">
        Not sure it helps?{' '}
        <Link to={`/book/trials/new?regimen=${regimenId}&pots=${potIds.join()}`}>Try it on half of them</Link> first: a
        trial says what so many pots can show.
      </p>
      <p className="small mb-1">
        {after.visits} watering{after.visits === 1 ? '' : 's'} (now {before.visits}), {after.soaks} with a soak or spray
        (now {before.soaks}), {litres(after.mixL)} of mix (now {litres(before.mixL)}), flush about{' '}
        {litres(after.flushL)} (now {litres(before.flushL)}).
      </p>
      {remarks.map((words) => (
        <p key={words} className="small mb-1">
          {words}
        </p>
      ))}
      <div className="table-scroll">
        <table className="table table-sm">
          <thead>
            <tr>
              <th>Pot</th>
              <th>Next visits</th>
            </tr>
          </thead>
          <tbody>
            {pots.slice(0, 12).map((pot) => (
              <tr key={pot.id}>
                <th scope="row" className="nowrap">
                  {pot.code}
                </th>
                <td>
                  <ComingLine visits={pot.visits} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {pots.length > 12 && <p className="small mb-0">and {pots.length - 12} more alike.</p>}
    </section>
  );
}

function ComingLine({ visits }: { visits: readonly ComingView[] }) {
  return (
    <span className="coming-line">
      {visits.map((v) => (
        <span
          key={v.on}
          className={v.soaks.length > 0 ? 'soak' : ''}
          title={[v.words, ...v.soaks, ...v.because].join('; ')}
        >
          <b>{dayMonth(v.on)}</b> {[...v.soaks, v.words].join(', then ')}
        </span>
      ))}
    </span>
  );
}

/** A pot's own weeks ahead. */
export function ComingList({ visits }: { visits: readonly ComingView[] }) {
  return (
    <ol className="coming-list">
      {visits.map((v) => (
        <li key={v.on}>
          <b className="nowrap">{weekdayDayMonth(v.on)}</b>
          <span>
            {[...v.soaks, v.words].join(', then ')}
            {v.because.length > 0 && <span className="small"> · {v.because.join('; ')}</span>}
          </span>
        </li>
      ))}
    </ol>
  );
}
