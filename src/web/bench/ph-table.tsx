import type { BatchView } from '../../contract/bench.ts';
import { Hollow } from '../shell/hollow.tsx';
import { phText } from '../shell/format.ts';
import { PhotosBeside } from './photos-beside.tsx';

/** What was done about the pH, and what it read after each. */
export function PhTable({ view }: { view: BatchView }) {
  return (
    <table className="portions mb-2">
      <caption className="visually-hidden">pH readings and corrections</caption>
      <thead>
        <tr>
          <th scope="col">pH</th>
          <th scope="col">In</th>
          <th scope="col">Reads</th>
        </tr>
      </thead>
      <tbody>
        {view.expected.known && (
          <tr className="next">
            <th scope="row">expected</th>
            <td>as mixed</td>
            <td>≈ {phText(view.expected.before.ph)}</td>
          </tr>
        )}
        {view.ph.readings.map((r) => (
          <tr key={r.eventId}>
            <th scope="row">
              {r.label}
              {r.ph !== null && <PhotosBeside batchId={view.id} reading={r} />}
            </th>
            <td>{r.after}</td>
            <td>
              <Hollow tainted={r.tainted}>{r.ph === null ? '—' : phText(r.ph)}</Hollow>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
