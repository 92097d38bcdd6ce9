import type { BatchView } from '../../contract/bench.ts';
import { Hollow } from '../shell/hollow.tsx';
import { ppmText } from '../shell/format.ts';

/** Every portion with its reading: the chart's figures as a table. */
export function PortionTable({ view }: { view: BatchView }) {
  const { advice } = view;
  return (
    <table className="portions">
      <caption className="visually-hidden">Portions and readings</caption>
      <thead>
        <tr>
          <th scope="col">Portion</th>
          <th scope="col">In</th>
          <th scope="col">Reads</th>
          <th scope="col">Over base</th>
          <th scope="col">per mL/L</th>
        </tr>
      </thead>
      <tbody>
        {view.rows.map((r) => (
          <tr key={r.eventId}>
            <th scope="row">{r.label}</th>
            <td>{r.doseWords}</td>
            <td>
              <Hollow tainted={r.tainted}>{r.readsPpm === null ? '—' : ppmText(r.readsPpm)}</Hollow>
            </td>
            <td>{r.netPpm === null ? '—' : ppmText(r.netPpm)}</td>
            <td>{r.ppmPerMlL === null ? '' : r.ppmPerMlL.toFixed(0)}</td>
          </tr>
        ))}
        {advice.kind === 'add' && (
          <tr className="next">
            <th scope="row">next</th>
            <td>{`${Number(advice.doseMl.toFixed(2))} mL`}</td>
            <td>≈ {ppmText(advice.expected.ppm)}</td>
            <td>≈ {ppmText(advice.expected.ppm - (view.basePpm ?? 0))}</td>
            <td>
              {view.strength.ppmPerMlL.toFixed(0)} ± {Math.max(1, Math.round(view.strength.sd))}
            </td>
          </tr>
        )}
        {view.rows.length === 0 && (
          <tr className="next">
            <td colSpan={5}>Nothing read yet.</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
