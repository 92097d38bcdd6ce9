import { useRef } from 'react';
import Button from 'react-bootstrap/Button';
import ProgressBar from 'react-bootstrap/ProgressBar';
import { Link } from 'react-router';
import type { BringReport, BringState } from '../../contract/whole.ts';
import { dayMonthYear } from '../shell/format.ts';
import type { Has } from './share/share-file.ts';
import { ShareIn } from './share/share-in.tsx';
import { useBringing } from './use-bringing.ts';

/** A collection saved here or elsewhere, brought in: read first, told, and only then put in place. */
export function BringIn({ has }: { has: Has | undefined }) {
  const { state, lost, busy, send, stop, keep } = useBringing<BringState>('/api/book/bring');
  const file = useRef<HTMLInputElement>(null);
  return (
    <section className="sheet bring-in" aria-labelledby="bring-in">
      <h2 id="bring-in">Bring something in</h2>
      <div className="table-out">
        <div>
          <b>A collection saved before</b>
          <div className="small">
            The JSON or the ZIP from above, of this collection or of another. What is here already stays as it is here,
            and nothing is doubled. You are told what would come before anything is changed.
          </div>
        </div>
        <input
          ref={file}
          type="file"
          accept=".json,.zip,application/json,application/zip"
          hidden
          aria-label="The file to bring in"
          onChange={(e) => {
            const [chosen] = e.target.files ?? [];
            e.target.value = '';
            if (chosen) send.mutate(chosen);
          }}
        />
        <Button size="sm" variant="outline-secondary" disabled={busy} onClick={() => file.current?.click()}>
          {send.isPending ? 'Sending it …' : 'Choose the file'}
        </Button>
      </div>
      <div className="table-out">
        <div>
          <b>Old records, out of a spreadsheet or a logger</b>
          <div className="small">
            Waterings or readings, a line each, in whatever form they are. You say what the columns are, and what they
            would bring is told first. Forecasts stand on them from then on.
          </div>
        </div>
        <Link className="btn btn-outline-secondary btn-sm" to="/book/old-records">
          Bring in old records
        </Link>
      </div>
      {has && <ShareIn {...has} />}
      {lost && (
        <p className="brought mb-0" role="alert">
          {lost}
        </p>
      )}
      {state && !lost && (
        <div className="brought" role="status">
          <Brought state={state} />
          <Choice state={state} busy={busy} keeping={keep.isPending} keep={keep.mutate} stop={stop.mutate} />
        </div>
      )}
    </section>
  );
}

type ChoiceProps = { state: BringState; busy: boolean; keeping: boolean; keep(): void; stop(): void };

/** What can be done with a file that is being read, or was. */
function Choice({ state: { state }, busy, keeping, keep, stop }: ChoiceProps) {
  if (state !== 'ready' && state !== 'reading') return null;
  return (
    <div className="d-flex gap-2">
      {state === 'ready' && (
        <Button disabled={busy} onClick={() => keep()}>
          {keeping ? 'Bringing it in …' : 'Bring it in'}
        </Button>
      )}
      <Button variant="outline-secondary" disabled={keeping} onClick={() => stop()}>
        {state === 'ready' ? 'Leave it' : 'Stop'}
      </Button>
    </div>
  );
}

function Brought({ state }: { state: BringState }) {
  const { name, done, report, words, backup } = state;
  switch (state.state) {
    case 'reading':
      return (
        <>
          <div>Reading {name}. Nothing is changed by that.</div>
          <ProgressBar now={Math.round(100 * done)} aria-label="Read so far" className="my-2" />
        </>
      );
    case 'stopped':
      return <div>{name} was left: nothing was changed.</div>;
    case 'kept':
      return (
        <div>
          <b>{name} is in.</b> What was here before is kept as a backup
          {backup ? `, ${backup}` : ''}: <Link to="/book/backups">Backups</Link> puts it back.
        </div>
      );
    case 'refused':
      return (
        <div>
          <b>{name} cannot be brought in. Nothing was changed.</b>
          {words && <div>{words}</div>}
          {report && <Problems report={report} />}
        </div>
      );
    case 'ready':
      return report && <Report name={name} report={report} />;
  }
}

/** What the tables of a collection are to a grower. */
const THINGS: readonly { readonly one: string; readonly many: string; readonly tables: readonly string[] }[] = [
  { one: 'pot', many: 'pots', tables: ['pot'] },
  { one: 'place', many: 'places', tables: ['place'] },
  { one: 'regimen', many: 'regimens', tables: ['regimen'] },
  {
    one: 'thing on the Shelf',
    many: 'things on the Shelf',
    tables: ['water', 'meter', 'tool', 'vessel', 'product', 'bottle'],
  },
  { one: 'bag of clay', many: 'bags of clay', tables: ['clay_batch'] },
  { one: 'recipe', many: 'recipes', tables: ['recipe'] },
  { one: 'mix', many: 'mixes', tables: ['batch'] },
];
const counted = (n: number, one: string, many: string) => `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;

/** "42 pots, 5,099 lines of the log since 2 Dec 2025": of what comes, or of what is here already. */
export function reportWords(report: BringReport, what: 'comes' | 'here'): string {
  const things = THINGS.flatMap(({ one, many, tables }) => {
    const n = report.tables.filter(({ table }) => tables.includes(table)).reduce((sum, of) => sum + of[what], 0);
    return n > 0 ? [counted(n, one, many)] : [];
  });
  const lines = report.lines[what];
  const photos = report.photos[what];
  return [
    ...things,
    ...(lines > 0
      ? [
          `${counted(lines, 'line', 'lines')} of the log${what === 'comes' && report.lines.since ? ` since ${dayMonthYear(report.lines.since)}` : ''}`,
        ]
      : []),
    ...(photos > 0 ? [counted(photos, 'photo', 'photos')] : []),
  ].join(', ');
}

function Report({ name, report }: { name: string; report: BringReport }) {
  const comes = reportWords(report, 'comes');
  const here = reportWords(report, 'here');
  const differs = report.tables.reduce((sum, of) => sum + of.differs, 0);
  return (
    <>
      <div>
        <b>{name}</b>
        {report.madeAt && `, saved on ${dayMonthYear(report.madeAt.slice(0, 10))}`}
      </div>
      <div>{comes ? `Would come: ${comes}.` : 'Nothing in it is new here.'}</div>
      {here && <div className="small">Here already, and not doubled: {here}.</div>}
      {differs > 0 && (
        <div className="small">
          {counted(differs, 'record of those differs', 'records of those differ')} from the file: what stands here
          stays.
        </div>
      )}
      {report.lines.odd > 0 && (
        <div className="small">
          {counted(report.lines.odd, 'line', 'lines')} cannot be understood. They come along and are left out of every
          reckoning.
        </div>
      )}
    </>
  );
}

function Problems({ report }: { report: BringReport }) {
  return (
    <ul className="problems">
      {report.problems.map(({ line, what, message }, i) => (
        <li key={i}>
          {line === null ? '' : `Line ${line}, `}
          {what}: {message}
        </li>
      ))}
      {report.moreProblems > 0 && <li>and {report.moreProblems.toLocaleString('en-GB')} more.</li>}
    </ul>
  );
}
