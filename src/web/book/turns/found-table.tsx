import Table from 'react-bootstrap/Table';
import type { TurnCompared } from '../../../contract/turns.ts';
import { intervalWords, MEASURE, verdictOf } from './turn-words.ts';

/** Every measure before and after a turn, with what it is set against. */
export function FoundTable({ compared }: { compared: TurnCompared }) {
  if (compared.found.length === 0) return null;
  return (
    <>
      <Table responsive className="found-table mb-0">
        <thead>
          <tr>
            <th scope="col">Measure</th>
            <th scope="col">Before</th>
            <th scope="col">After</th>
            <th scope="col">Pots</th>
            <th scope="col">What may be said</th>
            <th scope="col">Difference, with the range it lies in 95 times in 100</th>
          </tr>
        </thead>
        <tbody>
          {compared.found.map((found) => {
            const { name, text, unit } = MEASURE[found.key];
            const { words, tone } = verdictOf(found);
            return (
              <tr key={found.key}>
                <th scope="row">{name}</th>
                <td className="num">
                  {text(found.before)} {unit()}
                </td>
                <td className="num">
                  {text(found.after)} {unit()}
                </td>
                <td className="num">{found.pots}</td>
                <td>
                  <span className={`said ${tone}`}>{words}</span>
                </td>
                <td>{intervalWords(found) || '—'}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <p className="small mb-0 mt-1">
        Cost is by today’s prices of waters and bottles. What a pen that was off read is left out, or put right by what
        it is known to be off.
      </p>
    </>
  );
}
