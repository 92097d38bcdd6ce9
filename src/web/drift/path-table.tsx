import { phText } from '../shell/format.ts';
import type { PourAnswer } from './model.ts';

/** The chart as a table: a row a day of the chosen pour, and the days inside of each pour beside it. */
export function PathTable({ answer, days }: { answer: PourAnswer; days: number }) {
  return (
    <div className="path-tables" tabIndex={0} role="group" aria-label="The chart as tables">
      <table className="table table-sm">
        <caption>Poured at pH {phText(answer.ph)}</caption>
        <thead>
          <tr>
            <th scope="col">Day</th>
            <th scope="col">pH</th>
            <th scope="col">90 % range</th>
          </tr>
        </thead>
        <tbody>
          {answer.bands.map((b) => (
            <tr key={b.day} className={b.day === days ? 'fw-bold' : ''}>
              <th scope="row">{b.day === days ? `${b.day}, round after` : b.day}</th>
              <td>{phText(b.ph.middle)}</td>
              <td>
                {phText(b.ph.low)} to {phText(b.ph.high)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className="table table-sm">
        <caption>Days of {days}</caption>
        <thead>
          <tr>
            <th scope="col">Poured at</th>
            <th scope="col">under</th>
            <th scope="col">inside</th>
            <th scope="col">over</th>
          </tr>
        </thead>
        <tbody>
          {answer.advice.outcomes.map((o) => (
            <tr key={o.pourPh} className={Math.abs(o.pourPh - answer.ph) < 0.05 ? 'fw-bold' : ''}>
              <th scope="row">{phText(o.pourPh)}</th>
              <td>{o.under.toFixed(1)}</td>
              <td>{o.inside.toFixed(1)}</td>
              <td>{o.over.toFixed(1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
