import type { BatchView } from '../../contract/bench.ts';
import { Hollow } from '../shell/hollow.tsx';
import { doseMl, ppmText } from '../shell/format.ts';
import { amountWords } from './bench-words.ts';

/** Every portion with its reading: the chart's figures as a table. */
export function PortionTable({ view }: { view: BatchView }) {
  const { advice } = view;
  const part = advice.kind === 'add' ? view.parts[advice.part] : undefined;
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
            <th scope="row">{labelOf(view, r)}</th>
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
            <th scope="row">{view.parts.length > 1 && part ? part.short : 'next'}</th>
            <td>{advice.toolKind === 'granules' ? amountWords(advice, 'granules') : doseMl(advice.doseMl)}</td>
            <td>≈ {ppmText(advice.expected.ppm)}</td>
            <td>≈ {ppmText(advice.expected.ppm - (view.basePpm ?? 0))}</td>
            <td>
              {part ? `${part.strength.ppmPerMlL.toFixed(0)} ± ${Math.max(1, Math.round(part.strength.sd))}` : ''}
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

/** With several parts each row names its product: "cal-mag 2". */
function labelOf(view: BatchView, row: BatchView['rows'][number]): string {
  if (view.parts.length < 2 || row.kind !== 'portion') return row.label;
  const portions = view.rows.filter((r) => r.part === row.part && r.kind === 'portion');
  const name = view.parts[row.part]?.short ?? '';
  return portions.length > 1 ? `${name} ${portions.indexOf(row) + 1}` : name;
}
