import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { TableForm, TableName } from '../../contract/tables.ts';
import { TABLES } from '../../contract/tables.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { BringIn } from './bring-in.tsx';
import { ShareOut } from './share/share-out.tsx';
import { useShareables } from './share/use-shareables.ts';
import { BookTabs } from './book-tabs.tsx';

const WHAT: Readonly<Record<TableName, { readonly title: string; readonly words: string }>> = {
  fillings: {
    title: 'Fillings',
    words: 'Each watering of each pot: what it got, what the old reservoir read, what was left, what ran off.',
  },
  readings: {
    title: 'Readings',
    words:
      'Every reading by itself, as it was shown: reservoirs, run-off, mixes, waters, new clay, holds and soak tests, with its pen.',
  },
  mixes: { title: 'Mixes', words: 'Each mix: its water, its aim, what it was made of, what it was poured at.' },
  waters: { title: 'Waters', words: 'Each reading of a water by itself, and what stood in its tank.' },
  clay: { title: 'New clay', words: 'What was done with each batch of new clay, and what it read.' },
  looks: { title: 'Looks', words: 'Each look at a pot, every cue with its grade.' },
  measures: { title: 'Measures', words: 'Leaves, flowers, weights: what was measured of each plant.' },
  trials: { title: 'Trials', words: 'Which pot was in which trial, in which arm, from when to when.' },
  soaks: { title: 'Soaks and sprays', words: 'Each supplement: what, how much, how long, at which strength.' },
};

type Choice = Pick<TableForm, 'mark' | 'separator'> & { readonly scale: string };

/** What a table’s address says of its form. */
const addressOf = (name: TableName, { scale, mark, separator }: Choice): string => {
  const form = new URLSearchParams({ mark, separator, ...(scale === '' ? {} : { scale }) });
  return `/api/book/tables/${name}.csv?${form.toString()}`;
};

const WHOLE = [
  {
    title: 'One JSON',
    words: 'Every record and every line of the log. It can be brought in again, here or elsewhere.',
    href: '/api/book/whole.json',
    save: 'Save the JSON',
  },
  {
    title: 'A ZIP with the photos',
    words: 'The same JSON, the tables below, and every photo under a name that says what it is of.',
    href: '/api/book/whole.zip',
    save: 'Save the ZIP',
  },
  {
    title: 'The log, a line each',
    words: 'As JSON Lines, for programs of your own.',
    href: '/api/book/log.jsonl',
    save: 'Save the log',
  },
] as const;

/** Everything out of the collection and into it, in open forms; and tables that a spreadsheet opens. */
export function OutPage() {
  const has = useShareables();
  const [choice, setChoice] = useState<Choice>({ scale: '', mark: 'point', separator: 'comma' });
  const set = (change: Partial<Choice>) => setChoice({ ...choice, ...change });
  return (
    <div className="page tables-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Take it with you, all of it or as tables; and bring something in</div>
        </div>
        <BookTabs />
      </header>
      <section className="sheet" aria-labelledby="everything">
        <h2 id="everything">Everything</h2>
        {WHOLE.map(({ title, words, href, save }) => (
          <div key={href} className="table-out">
            <div>
              <b>{title}</b>
              <div className="small">{words}</div>
            </div>
            <a className="btn btn-outline-secondary btn-sm" href={href} download>
              {save}
            </a>
          </div>
        ))}
        <p className="small mb-0">
          What may stand in it: <a href="/api/book/whole.schema.json">JSON Schema</a>, form 1. Everything as it stands,
          to put back one day, is a <Link to="/book/backups">backup</Link>.
        </p>
      </section>
      <BringIn has={has} />
      {has && <ShareOut {...has} />}
      <section className="sheet" aria-labelledby="tables">
        <h2 id="tables">Tables for a spreadsheet</h2>
        <div className="table-form" role="group" aria-label="How figures are written">
          <LabelledField label="Strength on the scale" error={undefined} hint="Conductivity in µS/cm stands beside it.">
            {(a) => (
              <Form.Select {...a} value={choice.scale} onChange={(e) => set({ scale: e.target.value })}>
                <option value="">of my own pen</option>
                <option value="0.5">0.5</option>
                <option value="0.64">0.64</option>
                <option value="0.7">0.7</option>
              </Form.Select>
            )}
          </LabelledField>
          <LabelledField label="Decimal mark" error={undefined}>
            {(a) => (
              <Form.Select
                {...a}
                value={choice.mark}
                // Where the comma marks decimals, spreadsheets part columns by the semicolon.
                onChange={(e) =>
                  set(
                    e.target.value === 'comma'
                      ? { mark: 'comma', separator: 'semicolon' }
                      : { mark: 'point', separator: 'comma' },
                  )
                }
              >
                <option value="point">Point, 5.8</option>
                <option value="comma">Comma, 5,8</option>
              </Form.Select>
            )}
          </LabelledField>
          <LabelledField label="Between columns" error={undefined}>
            {(a) => (
              <Form.Select
                {...a}
                value={choice.separator}
                onChange={(e) => set({ separator: e.target.value as Choice['separator'] })}
              >
                <option value="comma">Comma</option>
                <option value="semicolon">Semicolon</option>
                <option value="tab">Tab</option>
              </Form.Select>
            )}
          </LabelledField>
        </div>
        {TABLES.map((name) => (
          <div key={name} className="table-out">
            <div>
              <b>{WHAT[name].title}</b>
              <div className="small">{WHAT[name].words}</div>
            </div>
            <a className="btn btn-outline-secondary btn-sm" href={addressOf(name, choice)} download>
              Save the table
            </a>
          </div>
        ))}
      </section>
      <p className="small mb-0">
        A field left empty was not measured. What a pen read that was later found off is marked.
      </p>
    </div>
  );
}
