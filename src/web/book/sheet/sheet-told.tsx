import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { SheetReport, SheetState } from '../../../contract/sheet.ts';
import type { Sample, SheetDraft } from './sheet-draft.ts';
import type { PotNamed } from './sheet-words.ts';
import { comesWords, staysWords } from './sheet-words.ts';

const WRONG_SHOWN = 50;

type Props = {
  state: SheetState;
  sample: Sample;
  draft: SheetDraft;
  pots: readonly PotNamed[];
  busy: boolean;
  keeping: boolean;
  /** Reads it again, with what was said of it since. */
  look(to: Partial<SheetDraft>): void;
  keep(): void;
};

/** What would come of the table, what would not and why; pots it calls otherwise, and wrong lines, put right where they stand. */
export function SheetTold({ state, sample, draft, pots, busy, keeping, look, keep }: Props) {
  const { report, words } = state;
  const [named, setNamed] = useState<Readonly<Record<string, string>>>({});
  const [mended, setMended] = useState<Readonly<Record<string, readonly string[]>>>({});
  const said = Object.entries(named).filter(([, to]) => to !== '');
  const again = () =>
    look({
      pots: { ...draft.pots, ...Object.fromEntries(said.map(([name, to]) => [name, to === 'out' ? null : to])) },
      mended: {
        ...draft.mended,
        ...Object.fromEntries(Object.entries(mended).map(([line, cells]) => [line, [...cells]])),
      },
    });
  return (
    <section className="sheet sheet-told" aria-labelledby="told" role="status">
      <h2 id="told">{state.state === 'ready' ? 'What would come' : 'Nothing of it can come yet'}</h2>
      {words && <p>{words}</p>}
      {report && (
        <>
          {report.pots > 0 && report.from && (
            <p className="comes">
              <b>{comesWords(report)}.</b>
            </p>
          )}
          {staysWords(report).map((line) => (
            <p key={line} className="small mb-1">
              {line}
            </p>
          ))}
          <Strangers report={report} pots={pots} named={named} set={setNamed} />
          <Wrong report={report} sample={sample} mended={mended} set={setMended} />
          {(said.length > 0 || Object.keys(mended).length > 0) && (
            <Button variant="outline-secondary" disabled={busy} onClick={again}>
              Look through it with that
            </Button>
          )}
        </>
      )}
      {state.state === 'ready' && (
        <div className="mt-3">
          <Button disabled={busy} onClick={keep}>
            {keeping ? 'Bringing it in …' : 'Bring it in'}
          </Button>
        </div>
      )}
    </section>
  );
}

function Strangers({
  report,
  pots,
  named,
  set,
}: {
  report: SheetReport;
  pots: readonly PotNamed[];
  named: Readonly<Record<string, string>>;
  set(named: Readonly<Record<string, string>>): void;
}) {
  if (report.strangers.length === 0) return null;
  return (
    <fieldset className="strangers">
      <legend>Which pots are these?</legend>
      {report.strangers.map(({ name, lines }) => (
        <label key={name}>
          <span>
            <b>{name || 'no name'}</b> <span className="small">{lines.toLocaleString('en-GB')} lines</span>
          </span>
          <Form.Select
            size="sm"
            value={named[name.toLowerCase()] ?? ''}
            onChange={(e) => set({ ...named, [name.toLowerCase()]: e.target.value })}
          >
            <option value="">not said: its lines stay out</option>
            <option value="out">leave its lines out</option>
            {pots.map(({ id, code, plant }) => (
              <option key={id} value={id}>
                {plant ? `${code}, ${plant}` : code}
              </option>
            ))}
          </Form.Select>
        </label>
      ))}
    </fieldset>
  );
}

function Wrong({
  report,
  sample,
  mended,
  set,
}: {
  report: SheetReport;
  sample: Sample;
  mended: Readonly<Record<string, readonly string[]>>;
  set(mended: Readonly<Record<string, readonly string[]>>): void;
}) {
  const shown = report.wrongLines.slice(0, WRONG_SHOWN);
  if (shown.length === 0) return null;
  const more = report.wrong - shown.length;
  return (
    <div className="wrong-lines" tabIndex={0} role="group" aria-label="Lines that cannot be read">
      <table>
        <tbody>
          {shown.map(({ line, cells, problems }) => {
            const now = mended[line] ?? cells;
            return (
              <tr key={line}>
                <th scope="row" className="num">
                  {line}
                </th>
                {now.slice(0, sample.width).map((cell, i) => {
                  const wrong = problems.some(({ column }) => column === i);
                  return (
                    <td key={i}>
                      <Form.Control
                        size="sm"
                        value={cell}
                        isInvalid={wrong && !mended[line]}
                        aria-label={`Line ${line}, ${sample.head?.[i] || `column ${i + 1}`}`}
                        onChange={(e) =>
                          set({ ...mended, [line]: now.map((was, j) => (j === i ? e.target.value : was)) })
                        }
                      />
                    </td>
                  );
                })}
                <td className="why">{problems.map(({ message }) => message).join('; ')}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {more > 0 && <p className="small mb-0">and {more.toLocaleString('en-GB')} more.</p>}
    </div>
  );
}
