import Form from 'react-bootstrap/Form';
import type { ColumnRole } from '../../../core/records/index.ts';
import type { Sample, SheetDraft } from './sheet-draft.ts';
import { ROLE_WORDS } from './sheet-words.ts';

const LINES_SHOWN = 5;

/** The first lines as they stand, and over each column what it is. */
export function SheetColumns({
  sample,
  draft,
  change,
  error,
}: {
  sample: Sample;
  draft: SheetDraft;
  change(to: Partial<SheetDraft>): void;
  error: string | undefined;
}) {
  const set = (i: number, role: ColumnRole) =>
    change({
      columns: draft.columns.map((was, j) => (j === i ? role : was === role && role !== 'skip' ? 'skip' : was)),
    });
  const columns = Array.from({ length: sample.width }, (_, i) => i);
  return (
    <>
      <div className="sheet-columns" tabIndex={0} role="group" aria-label="The first lines of the table">
        <table>
          <thead>
            <tr>
              {columns.map((i) => (
                <th key={i} scope="col">
                  <Form.Select
                    size="sm"
                    aria-label={`Column ${i + 1}${sample.head?.[i] ? `, ${sample.head[i]}` : ''}, is`}
                    className={draft.columns[i] === 'skip' ? '' : 'chosen'}
                    value={draft.columns[i]}
                    onChange={(e) => set(i, e.target.value as ColumnRole)}
                  >
                    {ROLE_WORDS[draft.what].map(([role, words]) => (
                      <option key={role} value={role}>
                        {words}
                      </option>
                    ))}
                  </Form.Select>
                  {sample.head && <div className="head">{sample.head[i]}</div>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.lines.slice(0, LINES_SHOWN).map((cells, line) => (
              <tr key={line}>
                {columns.map((i) => (
                  <td key={i} className={draft.columns[i] === 'skip' ? 'skipped' : ''}>
                    {cells[i]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {error && (
        <div className="field-error" role="alert">
          {error}
        </div>
      )}
    </>
  );
}
