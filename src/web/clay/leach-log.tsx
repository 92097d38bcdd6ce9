import { useState } from 'react';
import type { ClayBatchView } from '../../contract/clay.ts';
import type { LeachForecast } from '../../core/clay/index.ts';
import { CorrectDialog } from '../book/index.ts';
import { useActs } from '../shell/acts.tsx';
import { phText, ppmText, weekdayDayMonth } from '../shell/format.ts';
import { Hollow } from '../shell/hollow.tsx';
import { ToldNote } from './told-note.tsx';

/** Everything logged of a batch and what is foreseen of it, as a table: each line put right or taken back. */
export function LeachLog({
  batch,
  forecast,
  shown,
  startMs,
  zone,
}: {
  batch: ClayBatchView;
  forecast: LeachForecast;
  shown(half: number): number;
  startMs: number;
  zone: string;
}) {
  const { undo } = useActs();
  const [correcting, setCorrecting] = useState<string>();
  const when = (hours: number) =>
    new Date(startMs + hours * 3_600_000).toLocaleString('en-GB', {
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      hour: '2-digit',
      minute: '2-digit',
      timeZone: zone,
    });
  return (
    <div className="soak-log" tabIndex={0} role="region" aria-label={`Log of ${batch.values.name}`}>
      <ToldNote batch={batch} />
      <table className="facts">
        <thead>
          <tr>
            <th scope="col">When</th>
            <th scope="col">What</th>
            <th scope="col">ppm</th>
            <th scope="col">pH</th>
            <th scope="col">
              <span className="visually-hidden">Put right or take back</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {[...forecast.coming].reverse().map((leach) => {
            const end = leach.points.at(-1)!;
            return (
              <tr key={leach.toHours} className="foreseen">
                <td className="nowrap">{when(leach.toHours)}</td>
                <td>foreseen, if changed as planned</td>
                <td className="num">
                  {ppmText(shown(end.mean))} ({ppmText(shown(end.low))} to {ppmText(shown(end.high))})
                </td>
                <td />
                <td />
              </tr>
            );
          })}
          {batch.log.map((line) => (
            <tr key={line.eventId}>
              <td className="nowrap">
                {weekdayDayMonth(line.on)} {line.time}
              </td>
              <td>{line.words}</td>
              <td className="num">
                {line.ppm !== null && <Hollow tainted={line.tainted}>{ppmText(line.ppm)}</Hollow>}
              </td>
              <td className="num">{line.ph !== null && phText(line.ph)}</td>
              <td className="nowrap text-end">
                {line.correctable && (
                  <button
                    type="button"
                    className="btn btn-link btn-sm p-0 me-2"
                    aria-label={`Put right: ${line.words}, ${line.time}`}
                    onClick={() => setCorrecting(line.eventId)}
                  >
                    Put right
                  </button>
                )}
                {line.undoable && (
                  <button
                    type="button"
                    className="btn btn-link btn-sm p-0"
                    aria-label={`Undo: ${line.words}, ${line.time}`}
                    onClick={() => void undo(line.eventId)}
                  >
                    Undo
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {correcting && <CorrectDialog eventId={correcting} onClose={() => setCorrecting(undefined)} />}
    </div>
  );
}
